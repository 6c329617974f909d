"""Many threads that write at once: each gets its turn in the order in which it asked, and none is told that the
database is locked. Also what is gathered before it goes to the sockets."""

import asyncio
import threading
import time
from typing import Any
from uuid import uuid4

import pytest
from channels.layers import get_channel_layer
from django.db import DatabaseError, connection, transaction
from django.forms.models import model_to_dict
from django.utils import timezone

from tests.conftest import Staffroom
from versomark.school.classes.models import Student
from versomark.school.compiled_query import CompiledQuery
from versomark.school.delivery import nudges
from versomark.school.delivery.queries import WITH_ALL, seat_with_all
from versomark.school.errors import DomainError
from versomark.school.group_commit import GroupCommit
from versomark.site.database.base import Queue, queue_of
from versomark.site.layer import Layer


def in_threads(count: int, work: Any) -> list[BaseException]:
    """What went wrong in any of them."""
    wrong: list[BaseException] = []

    def guarded(at: int) -> None:
        try:
            work(at)
        except BaseException as error:
            wrong.append(error)
        finally:
            connection.close()

    threads = [threading.Thread(target=guarded, args=(at,)) for at in range(count)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    return wrong


def test_a_queue_is_first_come_first_served() -> None:
    queue, order = Queue(), list[int]()

    def wait(at: int) -> None:
        with queue:
            order.append(at)
            time.sleep(0.002)

    with queue:
        threads = []
        for at in range(12):
            thread = threading.Thread(target=wait, args=(at,))
            thread.start()
            threads.append(thread)
            while len(queue._waiting) <= at:  # it stands in the queue before the next one comes
                time.sleep(0.001)
    for thread in threads:
        thread.join(10)
    assert order == list(range(12))
    assert not queue._busy


@pytest.mark.django_db(transaction=True)
def test_writers_wait_for_each_other_and_nothing_is_lost(school: Staffroom) -> None:
    """Read, think, write: without taking turns some of the additions would be lost, or refused as locked."""
    student = Student.objects.create(school=school.teacher.school, given_name="A", pass_phrase="kelp-1", extra_time=0)

    def add(at: int) -> None:
        for _ in range(5):
            with transaction.atomic():
                one = Student.objects.get(pk=student.pk)
                time.sleep(0.001)
                Student.objects.filter(pk=student.pk).update(extra_time=one.extra_time + 1)

    assert in_threads(24, add) == []
    student.refresh_from_db()
    assert student.extra_time == 120


@pytest.mark.django_db(transaction=True)
def test_whoever_fails_leaves_the_queue(school: Staffroom) -> None:
    """A transaction that breaks, one that is rolled back and a connection that is closed all give their place up."""

    def fail(at: int) -> None:
        if at % 3 == 0:
            with pytest.raises(DatabaseError), transaction.atomic():
                connection.cursor().execute("SELECT * FROM nowhere")
        elif at % 3 == 1:
            with pytest.raises(ZeroDivisionError), transaction.atomic():
                Student.objects.update(extra_time=1 // 0)
        else:
            connection.set_autocommit(True)
            atomic = transaction.atomic()
            atomic.__enter__()
            connection.close()

    assert in_threads(12, fail) == []
    queue = queue_of(str(connection.settings_dict["NAME"]))
    assert not queue._busy
    with transaction.atomic():
        Student.objects.create(school=school.teacher.school, given_name="B", pass_phrase="kelp-2")
    assert not queue._busy


async def test_many_nudges_of_a_moment_are_one_and_what_is_shown_is_not_held_back() -> None:
    layer = get_channel_layer()
    assert isinstance(layer, Layer)
    channel = await layer.new_channel()
    await layer.group_add("g", channel)
    nudges.listening()
    for _ in range(50):
        nudges._send("g", nudges.CHANGED)
    nudges._send("g", {**nudges.CHANGED, "shown": {"number": 1}})
    first = await asyncio.wait_for(layer.receive(channel), 2)
    assert first["shown"] == {"number": 1}
    assert "shown" not in await asyncio.wait_for(layer.receive(channel), 2)
    await asyncio.sleep(3 * nudges.TOGETHER)
    with pytest.raises(TimeoutError):
        await asyncio.wait_for(layer.receive(channel), 0.05)
    await layer.group_discard("g", channel)


async def test_a_channel_that_nobody_reads_is_still_tidied_away() -> None:
    layer = Layer(expiry=0)
    channel = await layer.new_channel()
    await layer.group_add("g", channel)
    await layer.group_send("g", {"type": "changed"})
    layer.tidied = 0.0
    await asyncio.sleep(0.01)
    layer._clean_expired()
    assert channel not in layer.channels or layer.channels[channel].empty()


@pytest.mark.django_db(transaction=True)
def test_work_of_many_is_written_together_and_what_one_does_wrong_is_theirs_alone(school: Staffroom) -> None:
    """Thirty at once: five are refused, one breaks the transaction it stands in. The others' work is on the disk, each
    heard of their own, and most of it needed fewer commits than there were pieces."""
    commits = list[int]()
    begun = threading.Event()

    def write(at: int) -> int:
        begun.wait(10)  # whoever is first, until the others stand behind it
        if at % 6 == 1:
            raise DomainError(f"not {at}")
        Student.objects.create(school=school.teacher.school, given_name=f"S{at}", pass_phrase=f"p-{at}")
        if at == 8:
            raise RuntimeError("broken")
        transaction.on_commit(lambda: commits.append(at))
        return at

    together, heard = GroupCommit(write), dict[int, str]()

    def ask(at: int) -> None:
        try:
            heard[at] = str(together.do(at))
        except (DomainError, RuntimeError) as error:
            heard[at] = str(error)

    def with_the_first_held_back(at: int) -> None:
        if at == 29:
            until = time.monotonic() + 2
            while len(together._waiting) < 28 and time.monotonic() < until:
                time.sleep(0.001)
            begun.set()
        ask(at)

    in_threads(30, with_the_first_held_back)
    refused = {at for at in range(30) if at % 6 == 1}
    assert heard == {at: f"not {at}" if at in refused else "broken" if at == 8 else str(at) for at in range(30)}
    kept = {
        int(name[1:])
        for name in Student.objects.filter(pass_phrase__startswith="p-").values_list("given_name", flat=True)
    }
    assert kept == set(range(30)) - refused - {8}
    assert sorted(commits) == sorted(kept)


@pytest.mark.django_db
def test_a_query_that_is_composed_once_finds_what_the_orm_finds_every_time(school: Staffroom) -> None:
    """Reference: the same query asked anew through Django, after every change."""
    sitting = school.open_sitting(students=3)
    ids = list(sitting.seats.values_list("pk", flat=True))
    for state in ("working", "handed in", "working"):
        sitting.seats.filter(pk=ids[1]).update(state=state, last_seen=timezone.now(), device=uuid4(), form="B")
        for seat_id in ids:
            seat, asked = seat_with_all(seat_id), WITH_ALL.get(pk=seat_id)
            assert seat is not None
            for one, other in ((seat, asked), (seat.sitting, asked.sitting), (seat.student, asked.student)):
                assert model_to_dict(one) == model_to_dict(other)
            assert seat.get_deferred_fields() == asked.get_deferred_fields()
            assert seat.sitting.edition.get_deferred_fields() == {"content"}
            assert seat.sitting.edition.content == asked.sitting.edition.content
    assert seat_with_all(0) is None


@pytest.mark.django_db
def test_what_is_prepared_by_several_values_is_what_django_finds(school: Staffroom) -> None:
    sitting = school.open_sitting(students=3)
    named = CompiledQuery(lambda pk, word: Student.objects.filter(seats__sitting=pk, pass_phrase=word), (int, str))
    backwards = CompiledQuery(lambda word, pk: Student.objects.filter(pass_phrase=word, seats__sitting=pk), (str, int))
    for seat in sitting.seats.select_related("student"):
        word = seat.student.pass_phrase
        assert named.all(sitting.pk, word) == backwards.all(word, sitting.pk) == [seat.student]
        assert named.first(sitting.pk + 1, word) is None
        assert named.first(sitting.pk, f"{word}' OR 1=1 --") is None
    assert named.first(sitting.pk, "") is None
    with pytest.raises(ValueError, match="shorter"):
        named.all(sitting.pk)
