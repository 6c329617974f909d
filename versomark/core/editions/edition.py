"""An edition: a test frozen for use. It carries everything a sitting needs and never changes."""

from collections.abc import Iterator
from hashlib import sha256
from typing import Annotated

from pydantic import Field, StringConstraints

from versomark.core.items import ContentBase, ItemContent, StudentItem
from versomark.core.items.base import Frozen, Text

Title = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]
ItemRef = Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{1,36}$")]
MAX_ITEMS = 300


class NotReady(Exception):
    """A test cannot be frozen. `problems` lists why, in words for the teacher."""

    def __init__(self, problems: list[str]) -> None:
        super().__init__(" ".join(problems))
        self.problems = problems


class EditionItem(Frozen):
    ref: ItemRef
    content: ItemContent
    skills: list[str] = []


class Section(Frozen):
    title: Title = ""
    items: list[EditionItem]


class Edition(Frozen):
    title: Title
    instructions: Text = ""
    sections: list[Section]

    def items(self) -> Iterator[EditionItem]:
        """Items in printed order, over all sections; an item's number is its place here, from 1."""
        for section in self.sections:
            yield from section.items

    @property
    def total_marks(self) -> float:
        return sum(item.content.marks for item in self.items())

    def fingerprint(self) -> str:
        """A hash of the whole content, so that anything derived from an edition can be cached by it."""
        return sha256(self.model_dump_json().encode()).hexdigest()


class PaperItem(Frozen):
    """One numbered question on a student's paper."""

    ref: ItemRef
    number: int
    item: StudentItem


class StudentPaper(Frozen):
    """An edition as a student may see it: built from what may be shown, not by taking away what may not."""

    title: Title
    instructions: Text
    total_marks: float
    items: Annotated[list[PaperItem], Field(max_length=MAX_ITEMS)]


def problems_of(title: str, items: list[ContentBase]) -> list[str]:
    """What keeps these items from being frozen as a test, as sentences for the teacher."""
    found = [] if title.strip() else ["The test has no title yet."]
    if not items:
        found.append("The test has no questions yet.")
    if len(items) > MAX_ITEMS:
        found.append(f"A test holds at most {MAX_ITEMS} questions; this one has {len(items)}.")
    for number, content in enumerate(items, start=1):
        found.extend(f"Question {number}: {problem}" for problem in content.problems())
    return found


def freeze(title: str, instructions: str, items: list[EditionItem]) -> Edition:
    """An edition of these items in this order. Raises NotReady with every problem at once."""
    problems = problems_of(title, [item.content for item in items])
    refs = [item.ref for item in items]
    if len(set(refs)) != len(refs):
        problems.append("The same question stands in the test twice.")
    if problems:
        raise NotReady(problems)
    return Edition(title=title, instructions=instructions, sections=[Section(items=items)])


def student_paper(edition: Edition) -> StudentPaper:
    """What students receive of an edition."""
    return StudentPaper(
        title=edition.title,
        instructions=edition.instructions,
        total_marks=edition.total_marks,
        items=[
            PaperItem(ref=item.ref, number=number, item=item.content.for_student())
            for number, item in enumerate(edition.items(), start=1)
        ],
    )
