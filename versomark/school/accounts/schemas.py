"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Field, Schema
from pydantic import StringConstraints

from versomark.core.formats.mail_address import ON_THIS_NETWORK

MailAddress = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=200, pattern=rf"^$|^{ON_THIS_NETWORK}$")
]


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
    is_admin: bool = False
    has_second_factor: bool = False
    mails: bool = False
    """Whether a mail server is named, so that a forgotten password can be asked for by mail."""
    disk: Literal["fine", "low", "full"] = "fine"


class Languages(Schema):
    """own: empty for the school's."""

    own: Literal["", "en", "es"]
    school: Literal["en", "es", "ar"]


class Credentials(Schema):
    username: str = Field(max_length=60)
    password: str = Field(max_length=200)


class SignIn(Credentials):
    figures: str = Field("", max_length=40)
    """Of an authenticator, or a spare code; asked for where it is wanted."""
    is_shared: bool = False
    """A device that others use too."""


class FirstAccount(Credentials):
    school: str = Field(min_length=1, max_length=120)
    name: str = Field(min_length=1, max_length=80)
    username: str = Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")
    code: str = Field(max_length=40)
    """Printed where the service was started."""


class Colleague(Schema):
    id: int
    name: str
    username: str


class NewPerson(Schema):
    name: str = Field(min_length=1, max_length=80)
    username: str = Field(min_length=2, max_length=60, pattern=r"^[\w.@+-]+$")
    email: MailAddress = ""
    role: Literal["teacher", "admin"] = "teacher"


class PersonLine(Schema):
    """An account, as an administrator sees it."""

    id: int
    name: str
    username: str
    email: str
    role: Literal["teacher", "admin"]
    is_active: bool
    is_invited: bool
    """Whether a first password is still to be chosen."""
    has_second_factor: bool
    seen_at: datetime | None


class PersonWithCode(Schema):
    person: PersonLine
    code: str
    """Shown once."""
    mailed: bool


class RoleBody(Schema):
    role: Literal["teacher", "admin"]


class DeactivateBody(Schema):
    hand_to: int | None = None
    """The colleague who gets what is theirs; where nobody is named it stays."""


class CodeBody(Schema):
    username: str = Field(max_length=60)
    code: str = Field(max_length=60)
    password: str = Field(max_length=200)


class UsernameBody(Schema):
    username: str = Field(max_length=60)


class SignInLine(Schema):
    id: int
    device: str
    is_shared: bool
    began_at: datetime
    seen_at: datetime
    is_this: bool


class FactorOffer(Schema):
    secret: str
    picture: str
    """SVG."""


class FactorBody(Schema):
    secret: str = Field(min_length=16, max_length=64, pattern=r"^[A-Z2-7]+$")
    figures: str = Field(max_length=20)


class PasskeyAsked(Schema):
    """What the browser's own interface for passkeys is given, as the standard has it in JSON."""

    options: dict[str, Any]


class PasskeyAnswer(Schema):
    """What that interface gave back, as the standard has it in JSON."""

    response: dict[str, Any]
    is_shared: bool = False


class PasskeyLine(Schema):
    id: int
    device: str
    """On which it was made."""
    made_at: datetime
    used_at: datetime | None


class SpareCodes(Schema):
    codes: list[str]
    """Shown once."""


class DepartmentBody(Schema):
    name: str = Field(min_length=1, max_length=80)
    members: list[int] = Field(max_length=500)


class DepartmentLine(Schema):
    id: int
    name: str
    members: list[Colleague]


class OwnDepartment(Schema):
    """One that one belongs to."""

    id: int
    name: str


class PasswordBody(Schema):
    password: str = Field(max_length=200)


class SecurityEventLine(Schema):
    id: int
    at: datetime
    kind: str
    actor: str
    subject: str
    about: str
    """The name of the account that it is about; empty where it is about something else."""
    detail: str


class NewEmail(Schema):
    email: MailAddress


class NewPassword(Schema):
    now: str = Field(max_length=200)
    new: str = Field(max_length=200)
