"""What every kind of item shares: its stem, its marks, and what the rest of the product may ask of it.

A kind of item is one module beside this one. It defines a content model (what the teacher writes) and a response
model (what a student gives), both told apart by `kind`, and registers them in `registry.py`. Nothing outside this
package looks at `kind`: scoring, analysis and the student's paper ask the content model.
"""

from abc import abstractmethod
from typing import Annotated, Self

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

MAX_STEM = 4000
MAX_OPTION = 1000
MAX_NOTE = 500

Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=MAX_STEM)]
OptionText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=MAX_OPTION)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=MAX_NOTE)]
OptionId = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
Marks = Annotated[float, Field(ge=0.5, le=100, multiple_of=0.5)]


class Frozen(BaseModel):
    """A value: compared by content, never changed in place, and refusing fields it does not know."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class ShownOption(Frozen):
    """One answer a student can pick, as it is printed: the letter beside it and its words."""

    id: OptionId
    letter: str
    text: OptionText


class StudentItem(Frozen):
    """An item as a student may see it. Built from what may be shown; it has no field for a key or a note."""

    kind: str
    stem: Text
    marks: Marks
    options: list[ShownOption]


class AnsweredOption(Frozen):
    """One answer a student can pick, as analysis needs it."""

    id: OptionId
    letter: str
    text: OptionText
    points: float
    idea_note: Note = ""

    @property
    def key(self) -> bool:
        return self.points > 0


class ResponseBase(Frozen):
    """What a student gave to one item."""

    kind: str


class ContentBase(Frozen):
    """What a teacher writes for one item. May be unfinished: `problems` says what is still missing."""

    kind: str
    stem: Text = ""
    marks: Marks = 1

    @abstractmethod
    def problems(self) -> list[str]:
        """What keeps this item from being used in a test, as sentences for the teacher; empty when it is ready."""

    @abstractmethod
    def answers(self) -> list[AnsweredOption]:
        """The answers that can be picked, in printed order, with the points each earns."""

    @abstractmethod
    def chosen(self, response: ResponseBase) -> str | None:
        """The id of the picked answer, or None when nothing was given. Raises ValueError for a foreign response."""

    def score(self, response: ResponseBase | None) -> float:
        """Points for a response, from 0 to `marks`; no response earns 0."""
        picked = self.chosen(response) if response is not None else None
        return next((answer.points for answer in self.answers() if answer.id == picked), 0.0)

    def for_student(self) -> StudentItem:
        """The part of this item that a student may see."""
        shown = [ShownOption(id=a.id, letter=a.letter, text=a.text) for a in self.answers()]
        return StudentItem(kind=self.kind, stem=self.stem, marks=self.marks, options=shown)

    def with_marks(self, marks: float) -> Self:
        return self.model_copy(update={"marks": marks})
