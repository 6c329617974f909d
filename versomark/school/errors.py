"""The one way a use case says no, and how a refusal leaves: as problem details (RFC 9457)."""

from collections.abc import Iterable, Sequence
from http import HTTPStatus
from typing import NamedTuple

from versomark.core.language import Text, _

CODES = {
    400: "bad_request",
    401: "signed_out",
    403: "not_allowed",
    404: "not_found",
    409: "not_now",
    410: "over",
    413: "too_large",
    415: "wrong_type",
    422: "not_valid",
    423: "locked",
    429: "too_many_tries",
    507: "disk_full",
}
"""What a program may go by where a use case names nothing closer."""
PROBLEM_TYPE = "application/problem+json"


class Detail(NamedTuple):
    """One of several things that are wrong. `pointer` is where in what was sent (RFC 6901), if at one place."""

    detail: str
    pointer: str = ""


class DomainError(Exception):
    """A request that cannot be carried out.

    `message` is shown as it stands, `problems` lists details, `code` is for programs.
    """

    def __init__(self, message: str, status: int = 409, problems: Sequence[str] = (), code: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.status = status
        self.problems = list(problems)
        self.code = code or CODES.get(status, "refused")
        self.params = facts_of(message)


class NotFound(DomainError):
    """Nothing there, or not this person's: the two are not told apart."""

    def __init__(self, what: str) -> None:
        super().__init__(_("There is no such {what}. It may have been removed.", what=what), status=404)


def facts_of(message: str) -> dict[str, str | float]:
    """What a refusal says, apart from its words: its numbers and names by what they are."""
    facts = message.facts if isinstance(message, Text) else {}
    return {name: value for name, value in facts.items() if isinstance(value, (str, int, float))}


def problem_details(status: int, message: str, errors: Iterable[Detail] = (), code: str = "") -> dict[str, object]:
    """The body of every refusal, whichever door it leaves by."""
    return {
        "type": "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "detail": message,
        "code": code or CODES.get(status, "refused"),
        "params": facts_of(message),
        "errors": [{"detail": error.detail, "pointer": error.pointer} for error in errors],
    }
