"""The lines that a receiver of response pads and the service say to each other: one JSON object a line, UTF-8.

Described for whoever writes the small program between a receiver and the service in `docs/pads.md`.
"""

from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

MOST_BYTES = 4096
"""Of one line; a longer one is no line of ours."""
PadNumber = Annotated[int, Field(ge=1, le=99_999)]
Battery = Annotated[int | None, Field(ge=0, le=100)]


class _Line(BaseModel):
    # What a later version of a receiver adds is passed over, so that the two need not change on the same day.
    model_config = ConfigDict(frozen=True, extra="ignore")


class Hello(_Line):
    """First of all: which receiver this is, and whose."""

    say: Literal["hello"] = "hello"
    key: str = Field(max_length=80)
    receiver: str = Field("", max_length=60)


class Heard(_Line):
    """A pad is on: at its switching on, and every ten seconds or so while it stays on."""

    say: Literal["heard"] = "heard"
    pad: PadNumber
    battery: Battery = None
    """Percent."""


class Press(_Line):
    """Somebody answered."""

    say: Literal["press"] = "press"
    pad: PadNumber
    answer: str = Field(max_length=200)
    """As on an answer sheet: `B`, several as `A+C`, `T`, a number; empty takes the answer back."""
    id: str = Field("", max_length=64)
    """Of this press, so that sending it again changes nothing."""
    round: int | None = None
    """Of the `asking` line it answers; without it, it is for what is asked as it arrives."""
    battery: Battery = None


class Welcome(_Line):
    say: Literal["welcome"] = "welcome"
    teacher: str


class Asking(_Line):
    """A question collects answers from now on."""

    say: Literal["asking"] = "asking"
    round: int
    answers: list[str]
    """Letters that can be pressed; empty where the answer is typed."""
    several: bool = False
    """Whether more than one letter may be pressed."""


class Waiting(_Line):
    """Nothing is collected now."""

    say: Literal["waiting"] = "waiting"


class Kept(_Line):
    """The answer is on disk."""

    say: Literal["kept"] = "kept"
    pad: int
    id: str = ""


class Refused(_Line):
    """It was not kept, and why, in words for the class."""

    say: Literal["refused"] = "refused"
    why: str
    pad: int | None = None
    id: str = ""


FromReceiver = Hello | Heard | Press
ToReceiver = Welcome | Asking | Waiting | Kept | Refused
_from_receiver: TypeAdapter[FromReceiver] = TypeAdapter(Annotated[FromReceiver, Field(discriminator="say")])
_to_receiver: TypeAdapter[ToReceiver] = TypeAdapter(Annotated[ToReceiver, Field(discriminator="say")])


def read_line(line: bytes) -> FromReceiver:
    """Raises ValueError, in words, for what is no line of a receiver."""
    return _read(line, _from_receiver)


def read_reply(line: bytes) -> ToReceiver:
    """What the service says, for the program at the receiver. Raises ValueError for what is no line of the service."""
    return _read(line, _to_receiver)


def write_line(line: FromReceiver | ToReceiver) -> bytes:
    return line.model_dump_json(exclude_none=True).encode() + b"\n"


Read = TypeVar("Read")


def _read(line: bytes, kind: TypeAdapter[Read]) -> Read:
    try:
        return kind.validate_json(line)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"] if part not in ("hello", "heard", "press"))
        raise ValueError(f"{where}: {first['msg']}" if where else first["msg"]) from None
