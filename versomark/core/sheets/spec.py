"""What a batch of answer sheets is for: its questions, its students, its paper."""

from hashlib import sha256
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from versomark.core.items.base import Frozen

Kind = Literal["choice", "multiple", "true-false", "numeric", "matching", "written"]
Paper = Literal["A4", "Letter"]
SIZES_MM: dict[Paper, tuple[float, float]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
"""ISO 216; 8.5 × 11 in."""


def sheet_mm(paper: Paper, halves: bool = False) -> tuple[float, float]:
    """Width and height of one sheet: the paper, or half of it, cut across its longer side."""
    width, height = SIZES_MM[paper]
    return (height / 2, width) if halves else (width, height)


SHEETS_MM = [sheet_mm(paper, halves) for halves in (False, True) for paper in SIZES_MM]
"""Every size a sheet may have, width and height."""
CODE_LETTERS = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"
"""Letters of a batch's code: those of QR's short alphabet that nobody mistakes for another."""
CODE_LENGTH = 6
NUMBER = "#number"
"""The item of a spare sheet's own number grid."""
MAX_SHEETS = 2000

ItemId = Annotated[str, StringConstraints(min_length=1, max_length=80)]
Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class SheetCriterion(Frozen):
    """A scale of a rubric, as a row of points that only the teacher fills."""

    id: Annotated[str, StringConstraints(pattern=r"^[^:]{1,36}$")]
    name: Line = ""
    max: Annotated[float, Field(gt=0, le=30, multiple_of=0.5)]
    halves: bool = False
    """Whether a circle for a half goes with the whole points."""


class SheetItem(Frozen):
    id: ItemId
    kind: Kind
    options: Annotated[int, Field(ge=2, le=15)] = 4
    """Lettered bubbles, A first: up to 8; the choices of a matching item up to 15."""
    max: Annotated[float, Field(gt=0, le=1000)] = 1
    label: Annotated[str, StringConstraints(max_length=8)] = ""
    """What the question is called on the sheet; its number by default."""
    rows: Annotated[int, Field(ge=1, le=15)] = 3
    digits: Annotated[int, Field(ge=1, le=8)] = 5
    lines: Annotated[int, Field(ge=1, le=60)] = 5
    criteria: Annotated[list[SheetCriterion], Field(max_length=12)] = []
    scored: bool = True
    """Whether a written answer has circles for its points, which only the teacher fills."""
    letters: Annotated[str, StringConstraints(max_length=15)] = ""
    """The letters printed, where they are not A, B, C…"""

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        if self.kind in ("choice", "multiple") and self.options > 8:
            raise ValueError(f"Item {self.id} has {self.options} options; a sheet has room for 8.")
        if self.letters and len(set(self.letters)) != self.options:
            raise ValueError(f"Item {self.id} has {self.options} options and the letters “{self.letters}”.")
        return self


class SheetStudent(Frozen):
    number: Annotated[int, Field(ge=0, le=99_999_999)] | Annotated[str, StringConstraints(pattern=r"^\d{1,8}$")]
    name: Line = ""
    form: Annotated[str, StringConstraints(pattern=r"^[A-H]$")] = "A"
    points: Literal[0, 18, 24] = 0
    """Size of the type in large print; 0 for the usual size."""


class SheetSpec(Frozen):
    title: Line
    paper: Paper = "A4"
    halves: bool = False
    """Two sheets on a page, to be cut along a line between them."""
    items: Annotated[list[SheetItem], Field(min_length=1, max_length=300)]
    students: Annotated[list[SheetStudent], Field(max_length=MAX_SHEETS)] = []
    subtitle: Line = ""
    """Whose sheets these are: class, teacher, date."""
    forms: dict[str, list[ItemId]] = {}
    """The order of the items in forms besides A."""
    numbers: dict[str, dict[ItemId, str]] = {}
    """What the questions are called in a form, where it is not their place on the sheet."""
    spare: Annotated[int, Field(ge=0, le=500)] = 0
    """Sheets of each form without a name, with a grid for the student's number."""
    cover: bool = False
    right_to_left: bool = False
    """Mirrored, for a language that is read from the right: A stands at the right end of its row."""
    code: Annotated[str, StringConstraints(pattern=rf"^[{CODE_LETTERS}]{{{CODE_LENGTH}}}$")] | None = None
    """The batch's code; made from the content where none is given, so that the same spec gives the same sheets."""

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        ids = [item.id for item in self.items]
        if len(set(ids)) != len(ids):
            raise ValueError("Two items have the same id.")
        if NUMBER in ids:
            raise ValueError(f"An item cannot be called {NUMBER}.")
        for name, order in self.forms.items():
            if sorted(order) != sorted(ids):
                raise ValueError(f"Form {name} does not have the same items as form A.")
        numbers = [str(student.number) for student in self.students]
        if len(set(numbers)) != len(numbers):
            raise ValueError("Two students have the same number.")
        unknown = {student.form for student in self.students} - {"A", *self.forms}
        if unknown:
            raise ValueError(f"There is no form {min(unknown)}.")
        if not self.students and not self.spare:
            raise ValueError("No students and no spare sheets: there is nothing to print.")
        return self

    def batch_code(self) -> str:
        if self.code:
            return self.code
        # A sheet read from the left keeps the code it always had.
        mirrored = set() if self.right_to_left else {"right_to_left"}
        digest = int.from_bytes(sha256(self.model_dump_json(exclude=mirrored).encode()).digest()[:8])
        return "".join(CODE_LETTERS[digest >> (5 * at) & 31] for at in range(CODE_LENGTH))

    def number_digits(self) -> int:
        """How many digits a spare sheet asks for."""
        return max([2, *(len(str(student.number)) for student in self.students)])

    def in_form(self, form: str) -> list[SheetItem]:
        by_id = {item.id: item for item in self.items}
        return [by_id[id] for id in self.forms[form]] if form in self.forms else self.items
