"""Classes and students as JSON."""

from typing import Literal

from ninja import Field, Schema
from pydantic import BaseModel

from versomark.core.formats.class_lists import Column
from versomark.core.formats.mail_address import ANYWHERE
from versomark.core.formats.tables import MOST_BYTES

from .models import Group, SchoolClass, Student

ReadAloudName = Literal["", "on", "off"]


ADDRESS = rf"^$|^{ANYWHERE}$"


GroundName = Literal["", "cream", "blue", "green", "rose"]


class Needs(BaseModel):
    extra_time: int = Field(0, ge=0, le=200)
    large_print: bool = False
    quiet_start: bool = False
    break_minutes: int = Field(0, ge=0, le=120)
    alone_on_page: bool = False
    large_targets: bool = False
    ground: GroundName = ""
    read_aloud: ReadAloudName = ""
    language: Literal["", "en", "es", "ar"] = ""


class GroupMade(Schema):
    """A group that came from a finding or from a band of a skill."""

    class_id: int
    class_name: str
    name: str
    students: int


def group_made(school_class: SchoolClass, group: Group) -> GroupMade:
    return GroupMade(
        class_id=school_class.pk, class_name=school_class.name, name=group.name, students=group.students.count()
    )


def needs_of(student: Student) -> Needs:
    return Needs(
        extra_time=student.extra_time,
        large_print=student.large_print,
        quiet_start=student.quiet_start,
        break_minutes=student.break_minutes,
        alone_on_page=student.alone_on_page,
        large_targets=student.large_targets,
        ground=student.ground,
        read_aloud=student.read_aloud,
        language=student.language,
    )


class ClassLine(Schema):
    id: int
    name: str
    students: int
    archived: bool
    owner: str
    """Whose class it is, where it is a colleague's; empty for one's own."""
    practice: bool
    """Invented students, to try things on."""


class StudentLine(Needs):
    id: int
    desk: int
    given_name: str
    family_name: str
    full_name: str
    short_name: str
    pass_phrase: str
    """Empty for a colleague who neither looks after the student nor runs sittings of the class."""
    is_kept: bool
    """Whether it is this teacher who looks after the student, and may change name, pass and addresses."""
    number: str
    email: str
    guardian_email: str
    tags: list[str]
    other_classes: list[str]


class GroupLine(Schema):
    id: int
    name: str
    made_from: str
    students: list[int]


class CoTeacherLine(Schema):
    teacher: int
    name: str
    may_mark: bool
    may_run: bool


class LeftLine(Schema):
    id: int
    desk: int
    name: str


class StudentRequestLine(Schema):
    """A colleague asks for a student whom this teacher looks after."""

    id: int
    student: str
    by: str
    into: str


class StudentRequestAnswer(Schema):
    granted: bool


class ClassPage(ClassLine):
    requests: list[StudentRequestLine]
    link: str
    """Of the students’ own pages."""
    left: list[LeftLine]
    groups: list[GroupLine]
    co_teachers: list[CoTeacherLine]
    tags: list[str]
    """Every tag this teacher uses."""
    list: list[StudentLine]


class ClassName(Schema):
    name: str = Field(max_length=60)


class NewStudents(Schema):
    lines: list[str] = Field(max_length=400)


class StudentChange(Needs):
    given_name: str = Field(max_length=60)
    family_name: str = Field("", max_length=60)
    number: str = Field("", max_length=40)
    email: str = Field("", max_length=254, pattern=ADDRESS)
    guardian_email: str = Field("", max_length=254, pattern=ADDRESS)
    tags: list[str] = Field([], max_length=20)


class GroupChange(Schema):
    name: str = Field(max_length=60)
    students: list[int] = Field([], max_length=400)
    made_from: str = Field("", max_length=200)
    """Of a group that is put back after it was taken away; one that is there keeps its own."""


class ClassSharing(Schema):
    teacher: int
    may_mark: bool = False
    may_run: bool = False


class FoundStudent(Schema):
    id: int
    name: str
    class_id: int
    class_name: str
    teacher: str


class FoundStudents(Schema):
    students: list[FoundStudent]
    more: int
    """How many more there are than are shown."""


class ClassOfFound(Schema):
    name: str = Field(max_length=60)
    students: list[int] = Field(min_length=1, max_length=400)


class Division(Schema):
    ranked: list[int] = Field(min_length=1, max_length=400)
    """Students in an order: by total, by gain, by a skill."""
    groups: int = Field(ge=1, le=60)
    way: Literal["alike", "mixed"] = "alike"


class NamedGroup(Schema):
    name: str = Field(max_length=60)
    students: list[int] = Field(min_length=1, max_length=400)


class SeveralGroups(Schema):
    groups: list[NamedGroup] = Field(min_length=1, max_length=60)
    made_from: str = Field("", max_length=200)


class Brought(Schema):
    """A file or pasted text. `data` is base64."""

    name: str = Field("", max_length=255)
    data: str = Field("", max_length=MOST_BYTES * 4 // 3 + 8)
    text: str = Field("", max_length=2_000_000)


class ReadSheet(Schema):
    """A table as it was read, and what its columns seem to be."""

    name: str
    rows: list[list[str]]
    first_line: int
    header: int | None
    columns: list[Column | None]


class RowIn(Schema):
    """A student of a bundle whose columns are known."""

    line: int
    given_name: str = Field(max_length=60)
    family_name: str = Field("", max_length=60)
    number: str = Field("", max_length=40)
    email: str = Field("", max_length=254)


class WrongLine(Schema):
    line: int
    column: str
    says: str


class RosterLine(Schema):
    name: str
    students: list[RowIn]
    wrong: list[WrongLine]
    left_out: list[str]
    """Who the bundle says is not enabled, or not enrolled today."""


class ReadFile(Schema):
    sheets: list[ReadSheet]
    roster: list[RosterLine]
    """Of a OneRoster bundle: its classes."""


class ListToBring(Schema):
    """Rows with the columns as matched on screen, or the students of a bundle."""

    rows: list[list[str]] = Field([], max_length=2_000)
    first_line: int = Field(1, ge=1)
    header: int | None = Field(None, ge=0)
    columns: list[Column | None] = Field([], max_length=200)
    students: list[RowIn] = Field([], max_length=400)
    wrong: list[WrongLine] = Field([], max_length=400)
    without_wrong: bool = False


class PlannedLine(Schema):
    line: int
    name: str
    outcome: Literal["new", "joins", "changed", "same", "returns", "asked"]
    changes: list[str]
    also_in: list[str]


class Planned(Schema):
    lines: list[PlannedLine]
    wrong: list[WrongLine]
    not_listed: list[str]
