"""A question given and marked elsewhere: nothing is known of it but its label, its maximum and the mark earned.

It stands in an edition whose test was described rather than built (`core.editions.described`), never in the bank. What
a student "gives" is the mark itself, entered by the teacher or, from the marked paper, by the student.
"""

from typing import Annotated, Literal

from pydantic import Field

from versomark.core.language import _, in_figures
from versomark.core.text import plain

from .base import NOT_THIS_KIND, AnsweredOption, ContentBase, ResponseBase, StudentBase, Words

EarnedPoints = Annotated[float, Field(ge=0, le=100, multiple_of=0.5)]


class MarksOnly(ContentBase):
    """`stem` says what it asks, where the teacher cares to; `label` is what stands on the paper, such as 1–2a."""

    kind: Literal["marks_only"] = "marks_only"
    label: Words = ""
    half_marks: bool = False
    follow_up: Words = ""
    """What to ask again of students who did not earn these marks."""

    exclusive = False
    in_bank = False

    @property
    def own_label(self) -> str:
        return self.label

    @property
    def to_ask_again(self) -> str:
        return self.follow_up

    def missing(self) -> list[str]:
        return []

    def problems(self) -> list[str]:
        """A label is all it needs: the question itself is on a paper that is not here."""
        results = [] if self.label else [_("It has no label.")]
        return [*results, *([] if self.half_marks or self.marks.is_integer() else [_("Its maximum is no whole mark.")])]

    def answers(self) -> list[AnsweredOption]:
        return []

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, MarksOnlyResponse):
            raise ValueError(_(NOT_THIS_KIND))
        if response.points > self.marks:
            raise ValueError(_("{label} has at most {marks}.", label=self.label, marks=in_figures(self.marks, "g")))
        if not self.half_marks and not response.points.is_integer():
            raise ValueError(_("{label} is marked in whole marks.", label=self.label))
        return ()

    def given(self, response: ResponseBase | None) -> bool:
        return isinstance(response, MarksOnlyResponse)

    def score(self, response: ResponseBase | None) -> float:
        if response is None:
            return 0.0
        self.picks(response)
        return response.points if isinstance(response, MarksOnlyResponse) else 0.0

    def for_student(self) -> "MarksOnlyForStudent":
        return MarksOnlyForStudent(
            stem=plain(self.stem), marks=self.marks, label=self.label, half_marks=self.half_marks
        )

    def key_words(self) -> str:
        return f"{self.marks:g}"

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return f"{response.points:g}" if isinstance(response, MarksOnlyResponse) else ""


class MarksOnlyResponse(ResponseBase):
    kind: Literal["marks_only"] = "marks_only"
    points: EarnedPoints


class MarksOnlyForStudent(StudentBase):
    kind: Literal["marks_only"] = "marks_only"
    label: str
    half_marks: bool
