"""Whose work a transaction is, and so for whom it waits.

Everything in the domains may rely on this: while a transaction of a school's staff is under way, nobody else changes
anything of that school; while one of a student's seat is, nobody else changes that seat, and students of other seats
go on. On SQLite one writer at a time makes it so. On PostgreSQL a transaction takes locks as it begins
(`versomark.site.postgresql`), in one order, so that nobody waits in a circle. Work that has not said whose it is waits
for everybody, which is slow and never wrong.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import NamedTuple


class Area(NamedTuple):
    """What a transaction may change: of one seat, of one school, or anything."""

    school: int | None = None
    seat: int | None = None


EVERYTHING = Area()
_area: ContextVar[Area] = ContextVar("area", default=EVERYTHING)


def area() -> Area:
    """Of the work that is done now."""
    return _area.get()


def begin(of: Area) -> None:
    """From now on, until `begin` or the end of the block around it says otherwise."""
    _area.set(of)


@contextmanager
def working_on(of: Area) -> Iterator[None]:
    """Transactions that begin inside are of this area; one that is under way keeps its own."""
    token = _area.set(of)
    try:
        yield
    finally:
        _area.reset(token)
