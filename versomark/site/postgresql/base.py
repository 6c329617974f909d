"""PostgreSQL as Django has it, but for one thing: a transaction takes its turn before it begins.

It locks what it is about (`versomark.school.turns`) with PostgreSQL's advisory locks, which every process on the
database sees, which queue up fairly, and which end with the transaction however that ends. Whoever works on a part
holds the whole around it in common with others: a seat's transaction shares the school, a school's shares everything.
"""

from django.db.backends.postgresql import base

from versomark.school import turns

ALL, SCHOOL, SEAT = 1, 2, 3
_BITS = 56


def key(kind: int, number: int = 0) -> int:
    """The number by which PostgreSQL knows a lock: its kind in the first byte of eight."""
    return (kind << _BITS) + number % (1 << _BITS)


WORK = key(4)
"""Held, for as long as its session lasts, by the process that does the work in the background."""

MIGRATION = key(5)
"""Held while tables are changed."""


def statement(area: turns.Area) -> str:
    """What a transaction of this area asks for, from the outside in."""
    share, hold = "pg_advisory_xact_lock_shared({})", "pg_advisory_xact_lock({})"
    if area.school is None:
        return f"SELECT {hold.format(key(ALL))}"
    locks = [share.format(key(ALL))]
    if area.seat is None:
        locks.append(hold.format(key(SCHOOL, area.school)))
    else:
        locks += [share.format(key(SCHOOL, area.school)), hold.format(key(SEAT, area.seat))]
    return f"SELECT {', '.join(locks)}"


class DatabaseWrapper(base.DatabaseWrapper):
    """Takes its locks as the first thing in a transaction; PostgreSQL gives them back at its end."""

    def set_autocommit(self, autocommit: bool, force_begin_transaction_with_broken_autocommit: bool = False) -> None:
        begins = not autocommit and self.autocommit
        super().set_autocommit(autocommit, force_begin_transaction_with_broken_autocommit)
        if not begins:
            return
        try:
            with self.wrap_database_errors, self.connection.cursor() as cursor:
                cursor.execute(statement(turns.area()))
        except BaseException:
            self.close()
            raise
