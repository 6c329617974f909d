"""The three kinds that a person marks with a rubric: an extended answer, files handed in, a performance."""

from collections.abc import Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from versomark.core.language import N_, _
from versomark.core.text import RichText, clean, plain

from .base import NOT_THIS_KIND, AnsweredOption, ContentBase, Frozen, OnSheet, ResponseBase, StudentBase
from .rubric import Rubric

MAX_WRITTEN = 60_000
FILE_KINDS = {
    "pdf": (N_("PDF"), (".pdf",)),
    "picture": (N_("picture"), (".png", ".jpg", ".jpeg", ".webp", ".heic")),
    "text": (N_("text or office document"), (".txt", ".md", ".docx", ".odt", ".rtf")),
    "sheet": (N_("spreadsheet"), (".csv", ".xlsx", ".ods")),
    "slides": (N_("presentation"), (".pptx", ".odp")),
    "sound": (N_("sound"), (".mp3", ".m4a", ".ogg", ".wav", ".weba")),
    "film": (N_("film"), (".mp4", ".webm", ".mov")),
}
FileKind = Literal["pdf", "picture", "text", "sheet", "slides", "sound", "film"]


def file_kinds_in_words(kinds: Sequence[FileKind]) -> str:
    """What may be handed in, for whoever reads it now: a paper is kept for many readers and holds no words of ours."""
    return ", ".join(_(FILE_KINDS[kind][0]) for kind in kinds)


def endings_of(kinds: Sequence[FileKind]) -> list[str]:
    """With their full stop."""
    return [ending for kind in kinds for ending in FILE_KINDS[kind][1]]


class ByRubric(ContentBase):
    """Marked by a person: `marks` is what full points of the rubric are worth in the test."""

    rubric: Rubric = Rubric()
    show_rubric: bool = False
    """Whether students see the criteria and their levels beside the task."""

    marked_by = "person"
    exclusive = False

    def missing(self) -> list[str]:
        return self.rubric.problems()

    def answers(self) -> list[AnsweredOption]:
        return []

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if response.kind != self.kind:
            raise ValueError(_(NOT_THIS_KIND))
        return ()

    def score(self, response: ResponseBase | None) -> float | None:
        return None if self.given(response) else 0.0

    def key_words(self) -> str:
        return ", ".join(f"{criterion.name} ({criterion.max:g})" for criterion in self.rubric.criteria)

    def shown_rubric(self) -> "ShownRubric | None":
        if not self.show_rubric:
            return None
        lines = [
            ShownCriterion(
                name=criterion.name,
                max=criterion.max,
                levels=[f"{level.points:g}: {level.words}" for level in criterion.levels],
            )
            for criterion in self.rubric.criteria
        ]
        return ShownRubric(criteria=lines)


class ShownCriterion(Frozen):
    name: str
    max: float
    levels: list[str]


class ShownRubric(Frozen):
    """A rubric as students may see it: without the sample answers."""

    criteria: list[ShownCriterion]


class Written(ByRubric):
    kind: Literal["written"] = "written"
    least_words: Annotated[int, Field(ge=0, le=5000)] = 0
    most_words: Annotated[int, Field(ge=0, le=10_000)] = 0
    lines: Annotated[int, Field(ge=1, le=60)] = 8
    """Ruled lines on paper."""
    formatting: bool = False
    """Whether students may use bold, lists and tables, rather than plain text."""

    @model_validator(mode="after")
    def _limits_are_in_order(self) -> Self:
        if self.most_words and self.least_words > self.most_words:
            raise ValueError(_("The least number of words is above the most."))
        return self

    def given(self, response: ResponseBase | None) -> bool:
        return isinstance(response, WrittenResponse) and bool(plain(response.text) or response.picture)

    def on_sheet(self) -> OnSheet:
        return OnSheet("written", lines=self.lines)

    def for_student(self) -> "WrittenForStudent":
        return WrittenForStudent(
            stem=self.stem,
            marks=self.marks,
            least_words=self.least_words,
            most_words=self.most_words,
            formatting=self.formatting,
            rubric=self.shown_rubric(),
        )

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        if not isinstance(response, WrittenResponse):
            return ""
        return plain(response.text) or (_("written by hand") if response.picture else "")


class WrittenResponse(ResponseBase):
    """What was typed, as rich text."""

    kind: Literal["written"] = "written"
    text: Annotated[str, StringConstraints(max_length=MAX_WRITTEN)] = ""
    picture: Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{0,36}$")] = ""
    """The page of a scan on which it was written by hand; never from a student's device."""

    @model_validator(mode="after")
    def _is_clean(self) -> Self:
        # In place of a field validator, so that the length is judged before the cleaning.
        object.__setattr__(self, "text", clean(self.text))
        return self


class WrittenForStudent(StudentBase):
    kind: Literal["written"] = "written"
    stem: RichText
    least_words: int
    most_words: int
    formatting: bool
    rubric: ShownRubric | None


class HandedIn(Frozen):
    """One file a student handed in: where it is kept, and what it was called."""

    file: Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{36}$")]
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    bytes: Annotated[int, Field(ge=0)]


class WithFiles(ResponseBase):
    """A response that files belong to."""

    files: Annotated[list[HandedIn], Field(max_length=10)] = []


class FileTask(ByRubric):
    kind: Literal["file"] = "file"
    file_kinds: Annotated[list[FileKind], Field(max_length=7)] = ["pdf", "picture", "text"]
    most_files: Annotated[int, Field(ge=1, le=10)] = 1
    most_megabytes: Annotated[int, Field(ge=1, le=50)] = 10

    def missing(self) -> list[str]:
        return [*super().missing(), *([] if self.file_kinds else [_("Say which files may be handed in.")])]

    def given(self, response: ResponseBase | None) -> bool:
        return isinstance(response, FileResponse) and bool(response.files)

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if isinstance(response, FileResponse) and len(response.files) > self.most_files:
            raise ValueError(_("At most {most_files} files can be handed in here.", most_files=self.most_files))
        return super().picks(response)

    def for_student(self) -> "FileForStudent":
        return FileForStudent(
            stem=self.stem,
            marks=self.marks,
            accepts=endings_of(self.file_kinds),
            file_kinds=self.file_kinds,
            most_files=self.most_files,
            most_megabytes=self.most_megabytes,
            rubric=self.shown_rubric(),
        )

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return ", ".join(file.name for file in response.files) if isinstance(response, FileResponse) else ""


class FileResponse(WithFiles):
    kind: Literal["file"] = "file"


class FileForStudent(StudentBase):
    kind: Literal["file"] = "file"
    accepts: list[str]
    file_kinds: list[FileKind]
    most_files: int
    most_megabytes: int
    rubric: ShownRubric | None


class Performance(ByRubric):
    """Spoken, played, shown: the teacher scores it while watching, so there is nothing to hand in."""

    kind: Literal["performance"] = "performance"
    minutes: Annotated[int, Field(ge=0, le=120)] = 0

    watched = True

    def given(self, response: ResponseBase | None) -> bool:
        return False

    def score(self, response: ResponseBase | None) -> float | None:
        return None

    def for_student(self) -> "PerformanceForStudent":
        return PerformanceForStudent(stem=self.stem, marks=self.marks, minutes=self.minutes, rubric=self.shown_rubric())

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        return ""


class PerformanceResponse(WithFiles):
    """Sound and pictures that whoever watched has kept as evidence; never from a student's device."""

    kind: Literal["performance"] = "performance"


class PerformanceForStudent(StudentBase):
    kind: Literal["performance"] = "performance"
    minutes: int
    rubric: ShownRubric | None
