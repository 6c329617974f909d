"""What goes in and comes out as JSON."""

from typing import Annotated, Literal

from ninja import Field, Schema
from pydantic import StringConstraints


class Me(Schema):
    """Who is looking. An empty school has no teacher yet, and its first page makes one."""

    empty: bool
    id: int | None = None
    name: str | None = None
    school: str | None = None
    email: str = ""
    demo: bool = False
    address: str = ""
    """Under which students' devices reach this; empty where none does."""
    language: str = ""
    """The teacher's own; empty where it is the school's."""
    school_language: str = ""


class Languages(Schema):
    """own: empty for the school's."""

    own: Literal["", "en", "es"]
    school: Literal["en", "es", "ar"]


class SignIn(Schema):
    username: str = Field(max_length=60)
    password: str = Field(max_length=200)


class FirstAccount(SignIn):
    school: str = Field(min_length=1, max_length=120)
    name: str = Field(min_length=1, max_length=80)
    username: str = Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")
    code: str = Field(max_length=40)
    """Printed where the service was started."""


class Colleague(Schema):
    id: int
    name: str
    username: str


class NewColleague(Schema):
    name: str = Field(min_length=1, max_length=80)
    username: str = Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")


class ColleagueWithPassword(Colleague):
    password: str
    """Shown once; they change it after signing in."""


class NewEmail(Schema):
    email: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200, pattern=r"^$|^[^@\s]+@[^@\s]+$")]


class NewPassword(Schema):
    now: str = Field(max_length=200)
    new: str = Field(max_length=200)
