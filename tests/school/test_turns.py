"""On PostgreSQL a transaction waits for those that it could get in the way of, and for no others."""

import threading
import time
from collections.abc import Callable

import pytest
from django.db import connection, transaction

from versomark.school.delivery import presence
from versomark.school.shared import shared
from versomark.school.turns import EVERYTHING, Area, area, working_on
from versomark.site.postgresql.base import key, statement

on_postgresql = pytest.mark.skipif("connection.vendor != 'postgresql'")


def goes_on_beside(held: Area, other: Area) -> bool:
    """Whether a transaction of one area begins while one of another is under way."""
    begun, end = threading.Event(), threading.Event()

    def hold(of: Area, then: Callable[[], object]) -> None:
        try:
            with working_on(of), transaction.atomic():
                then()
        finally:
            connection.close()

    inside = threading.Event()
    first = threading.Thread(target=hold, args=(held, lambda: (begun.set(), end.wait(20))))
    second = threading.Thread(target=hold, args=(other, inside.set))
    first.start()
    assert begun.wait(10)
    second.start()
    # A busy machine is slow to connect, so time says nothing: either it is inside, or the database says that it waits.
    until = time.monotonic() + 20
    while not inside.wait(0.02) and not someone_waits():
        assert time.monotonic() < until, "it neither begins nor waits"
    beside = inside.is_set()
    end.set()
    first.join(20)
    second.join(20)
    assert inside.is_set()  # whoever had to wait goes on afterwards
    return beside


def someone_waits() -> bool:
    with connection.cursor() as cursor:
        cursor.execute(
            "select exists (select from pg_locks join pg_database on pg_database.oid = pg_locks.database"
            " where datname = current_database() and not granted)"
        )
        return bool(cursor.fetchone()[0])


@on_postgresql
@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize(
    ("held", "other", "beside"),
    [
        (Area(1, 10), Area(1, 11), True),
        (Area(1, 10), Area(1, 10), False),
        (Area(1), Area(1), False),
        (Area(1), Area(1, 10), False),
        (Area(1, 10), Area(1), False),
        (Area(1), Area(2), True),
        (Area(1), Area(2, 10), True),
        (EVERYTHING, Area(2, 10), False),
        (Area(2), EVERYTHING, False),
    ],
)
def test_who_waits_for_whom(held: Area, other: Area, beside: bool) -> None:
    assert goes_on_beside(held, other) is beside


def test_locks_are_asked_for_from_the_outside_in() -> None:
    asked = statement(Area(3, 4))
    places = [asked.index(str(number)) for number in (key(1), key(2, 3), key(3, 4))]
    assert places == sorted(places)
    assert asked.count("shared") == 2
    # No two kinds share a number, and all fit PostgreSQL's eight bytes.
    numbers = {key(kind, number) for kind in range(1, 5) for number in (0, 1, 2**40)}
    assert len(numbers) == 12
    assert max(numbers) < 2**63


def test_a_block_gives_back_what_was_there_before() -> None:
    before = area()
    with working_on(Area(1)):
        with working_on(Area(1, 2)):
            assert area() == Area(1, 2)
        assert area() == Area(1)
    assert area() == before


def test_devices_of_a_process_that_died_are_lost_when_it_fell_silent(monkeypatch: pytest.MonkeyPatch) -> None:
    now = 1_000_000.0
    monkeypatch.setattr(presence, "time", lambda: now)
    monkeypatch.setattr("versomark.school.shared.time", lambda: now)
    shared().put("present", {"7 other-process": now}, presence.REMEMBERED)
    presence.came(8)
    presence._look_again()
    assert (presence.holds(7), presence.holds(8)) == (True, True)
    now += presence.GONE_AFTER + 1
    presence.renew()
    presence._look_again()
    assert (presence.holds(7), presence.lost_since(7)) == (False, 1_000_000.0)
    assert presence.holds(8)
    # They come back to this process.
    presence.came(7)
    assert (presence.holds(7), presence.lost_since(7)) == (True, None)
    presence.went(7)
    assert presence.lost_since(7) == now
