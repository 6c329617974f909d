"""Response pads: whose answer a press is, what a receiver is told, and the port itself, over TCP."""

import asyncio
import socket
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import timedelta
from threading import Event, Thread
from typing import Any

import pytest
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import Staffroom, two_questions
from tests.school.test_room import act, choose, joined, lesson
from tests.school.test_teacher_side import send
from versomark.core.formats.pad_lines import Asking, Heard, Kept, Press, Refused, Waiting, read_reply
from versomark.core.items import Option
from versomark.core.items.numeric import Numeric
from versomark.core.items.several_answers import SeveralAnswers
from versomark.school.delivery.models import SittingState
from versomark.school.errors import DomainError
from versomark.school.room import pad_port, pads, services
from versomark.school.room.models import Pad, Room, RoundAnswer
from versomark.stand_ins.pads import PadPress, Receiver, by_chance

pytestmark = pytest.mark.django_db


def key_of(school: Staffroom) -> str:
    return pads.receiver_of(school.teacher).key


def press(school: Staffroom, pad: int, answer: str, **more: Any) -> Kept | Refused:
    reply = pads.hear(key_of(school), Press(pad=pad, answer=answer, **more))
    assert isinstance(reply, Kept | Refused)
    return reply


def asked(school: Staffroom) -> Asking | Waiting:
    return pads.asked(pads.lesson_for(pads.receiver_of(school.teacher)))


def console(school: Staffroom, room: Room) -> Any:
    return school.client.get(f"/api/v1/sittings/{room.sitting_id}/room").json()


def test_a_press_is_the_answer_of_the_desk_of_that_number(school: Staffroom) -> None:
    room = lesson(school)
    assert press(school, 1, "B") == Refused(why="Nothing has been asked yet.", pad=1)
    act(school, room, "go")
    assert press(school, 1, " b ", id="one") == Kept(pad=1, id="one")
    assert press(school, 1, "b", id="one") == Kept(pad=1, id="one")
    assert RoundAnswer.objects.count() == 1  # sent again, kept once
    press(school, 2, "A")
    press(school, 2, "C")
    page = console(school, room)
    assert [(line["desk"], line["said"], line["source"]) for line in page["inside"]] == [
        (1, "B", "pad"),
        (2, "C", "pad"),
    ]
    assert [line["desk"] for line in page["waiting"]] == [3]
    assert isinstance(press(school, 2, ""), Kept)  # taken back
    assert [line["desk"] for line in console(school, room)["inside"]] == [1]
    assert press(school, 1, "E") == Refused(why="There is no E here.", pad=1)
    assert press(school, 41, "A") == Refused(why="Pad 41 is at nobody's desk.", pad=41)
    on = asked(school).round  # type: ignore[union-attr]
    assert isinstance(press(school, 3, "A", round=on), Kept)
    assert press(school, 3, "A", round=on + 1) == Refused(why="Another question is on by now.", pad=3)
    act(school, room, "stop")
    assert press(school, 3, "B") == Refused(why="Your teacher has stopped collecting.", pad=3)
    # A student who has a device as well: what came last stands, and the console says from where.
    act(school, room, "reopen")
    device = joined(room)[0]
    assert choose(device, "d").status_code == 200
    assert [(line["said"], line["source"]) for line in console(school, room)["inside"][:1]] == [("D", "device")]
    act(school, room, "end")
    assert press(school, 1, "B") == Refused(why="No lesson is on.", pad=1)
    findings = school.client.get(f"/api/v1/sittings/{room.sitting_id}/findings").json()
    assert findings["body"]["test"]["students"] == 3  # desk 2 took its answer back, and was here


def test_several_letters_and_numbers(school: Staffroom) -> None:
    options = [Option(id=letter, text=letter) for letter in "abc"]
    several = SeveralAnswers(stem="Which?", options=options, keys=["a", "c"])
    room = lesson(school, contents=[several, Numeric(stem="How many?", value=3.5)])
    act(school, room, "go")
    line = asked(school)
    assert isinstance(line, Asking)
    assert (line.answers, line.several) == (["A", "B", "C"], True)
    assert isinstance(press(school, 1, "a+c"), Kept)
    assert isinstance(press(school, 2, "A+X"), Refused)
    assert [line["right"] for line in console(school, room)["inside"]] == [True]
    act(school, room, "go")
    assert asked(school).answers == []  # type: ignore[union-attr]
    assert isinstance(press(school, 1, "3.5"), Kept)
    assert [line["right"] for line in console(school, room)["inside"]] == [True]


def test_a_pad_that_is_on_says_that_its_student_is_here(school: Staffroom) -> None:
    room = lesson(school)
    act(school, room, "go")
    for pad, battery in ((1, 62), (2, 12), (40, None)):
        assert pads.hear(key_of(school), Heard(pad=pad, battery=battery)) is None
    Pad.objects.filter(number=1).update(last_heard=timezone.now() - timedelta(seconds=30))
    where = {line["desk"]: (line["where"], line["trouble"]) for line in console(school, room)["waiting"]}
    assert where == {1: ("pad 1", False), 2: ("pad 2, battery 12%", True), 3: ("not joined", False)}
    Pad.objects.filter(number=1).update(last_heard=timezone.now() - timedelta(minutes=7))
    where = {line["desk"]: (line["where"], line["trouble"]) for line in console(school, room)["waiting"]}
    assert where[1] == ("pad 1, last heard 7 min ago", True)
    page = school.client.get(f"/api/v1/sittings/{room.sitting_id}/room/pads").json()
    assert [(pad["pad"], pad["desk"], pad["name"], pad["low"], pad["heard"], pad["on"]) for pad in page["pads"]] == [
        (2, 2, "Student2 F.", True, "now", True),
        (40, 40, "", False, "now", True),
        (1, 1, "Student1 F.", False, "7 min ago", False),
    ]
    assert [(free_desk["desk"], free_desk["name"]) for free_desk in page["free_desks"]] == [
        (1, "Student1 F."),
        (3, "Student3 F."),
    ]
    # The spare pad goes to who has none, in this lesson and the next one of the class.
    send(school.client, "put", f"sittings/{room.sitting_id}/room/pads/40", {"desk": 3})
    assert isinstance(press(school, 40, "A"), Kept)
    assert isinstance(press(school, 3, "A"), Refused)
    assert [line["desk"] for line in console(school, room)["inside"]] == [3]
    assert send(school.client, "put", f"sittings/{room.sitting_id}/room/pads/40", {"desk": 9}).status_code == 422


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(ties=st.lists(st.tuples(st.integers(1, 6), st.integers(1, 4)), max_size=8))
def test_a_desk_has_one_pad_and_a_pad_one_desk(school: Staffroom, ties: list[tuple[int, int]]) -> None:
    """Whatever is swapped: the last tie stands, and no press can be two students' or the wrong one's."""
    room = lesson(school, students=4)
    model: dict[int, int] = {}
    for pad, desk in ties:
        pads.tie(room, pad, desk)
        desks = pads.desks_of(room)
        at = [desks(entry) for entry in range(1, 9) if desks(entry) is not None]
        assert len(at) == len(set(at))
        assert desks(pad) == desk
        model = {one: at for one, at in model.items() if one != pad and at != desk} | {pad: desk}
        assert all(desks(one) == at for one, at in model.items())


def test_pads_answer_in_the_lesson_started_last_and_in_nobody_elses(school: Staffroom, staffroom: Any) -> None:
    first, second = lesson(school), lesson(school)
    other = lesson(staffroom("other"))
    for room in (first, second, other):
        services.go_to(room, 1)
    assert isinstance(press(school, 1, "A"), Kept)
    assert [answer.round.room_id for answer in RoundAnswer.objects.select_related("round")] == [second.pk]
    services.end(second)
    press(school, 2, "A")
    assert [answer.round.room_id for answer in RoundAnswer.objects.select_related("round")] == [second.pk, first.pk]
    first.sitting.refresh_from_db()
    type(first.sitting).objects.filter(pk=first.sitting_id).update(state=SittingState.PAUSED)
    assert press(school, 2, "B") == Refused(why="No lesson is on.", pad=2)
    with pytest.raises(DomainError):
        pads.hear("not-a-key", Press(pad=1, answer="A"))
    # Who may only look at the lesson is not shown the key.
    page = school.client.get(f"/api/v1/sittings/{second.sitting_id}/room/pads").json()
    assert page["key"] == key_of(school)
    assert page["answers_here"] is False


def test_a_receiver_learns_nothing_of_the_key(school: Staffroom, staffroom: Any) -> None:
    """Two lessons that differ in their keys alone: what receivers are told of them is the same, line by line."""
    told = []
    for name, key in (("one", "a"), ("two", "c")):
        own = staffroom(name)
        room = lesson(own, contents=[two_questions(key=key)[0]])
        lines: list[Any] = []
        for what in ("go", "stop", "reopen", "spread", "answer", "again", "end"):
            act(own, room, what)
            lines.append(asked(own))
            lines.append(pads.hear(key_of(own), Press(pad=1, answer="A", id=what)))
        told.append([line.model_copy(update={"round": 0}) if isinstance(line, Asking) else line for line in lines])
    assert told[0] == told[1]


# The port


@contextmanager
def port() -> Iterator[tuple[str, int]]:
    """The port, open, in a loop of its own."""
    loop, ready, done = asyncio.new_event_loop(), Event(), asyncio.Event()
    results: list[tuple[str, int]] = []

    async def serve() -> None:
        server = await pad_port.listen("127.0.0.1", 0)
        results.append(server.sockets[0].getsockname())
        ready.set()
        await done.wait()
        server.close()
        left = asyncio.all_tasks() - {asyncio.current_task()}
        for task in left:
            task.cancel()
        await asyncio.gather(*left, return_exceptions=True)

    thread = Thread(target=lambda: loop.run_until_complete(serve()), daemon=True)
    thread.start()
    assert ready.wait(10)
    try:
        yield results[0][0], results[0][1]
    finally:
        loop.call_soon_threadsafe(done.set)
        thread.join(10)


@pytest.mark.django_db(transaction=True)
def test_a_lesson_by_pads_over_the_port(school: Staffroom) -> None:
    room = lesson(school, students=12)
    with port() as (host, number):
        receiver = Receiver(host, number, key_of(school), list(range(1, 13)), "Lab 2", seed=3)
        assert [type(line) for line in receiver.wait_for(Waiting)] == [Waiting]
        receiver.switch_on()
        services.go_to(room, 1)
        asked = receiver.wait_for(Asking)[0]
        assert isinstance(asked, Asking)
        assert asked.answers == ["A", "B", "C", "D"]
        assert pad_port.connected(school.teacher.pk) == ["Lab 2"]
        presses = list(by_chance(receiver.pads, 3)(asked))
        ids = [receiver.press(one.pad, one.answer, asked.round) for one in presses]
        wait = receiver.wait_for(Kept, 12)
        assert sorted(line.id for line in wait) == sorted(ids)  # type: ignore[union-attr]
        # What was acknowledged is on disk.
        given = dict(RoundAnswer.objects.values_list("seat__desk", "response__option"))
        assert given == {one.pad: one.answer.lower() for one in presses}
        services.stop(room)
        receiver.wait_for(Waiting, 2)
        receiver.press(1, "A", asked.round)
        assert [line.why for line in receiver.wait_for(Refused)] == ["Your teacher has stopped collecting."]  # type: ignore[union-attr]
        # Half a line, another line, two in one go, and rubbish: each is answered for itself.
        raw = socket.create_connection((host, number), timeout=10)
        raw.sendall(f'{{"say":"hello","key":"{key_of(school)}"}}\nrubbish\n\n{{"say":"pre'.encode())
        raw.sendall(b'ss","pad":1,"answer":"A","id":"x"}\n{"say":"hello","key":"again"}\n')
        lines = raw.makefile("rb")
        replies = [read_reply(lines.readline()) for _ in range(4)]
        assert [line.say for line in replies] == ["welcome", "waiting", "refused", "refused"]
        # Another key: who still has the old one is cut off at their next word, and told why.
        pads.change_key(school.teacher)
        raw.sendall(b'{"say":"heard","pad":1}\n')
        last = read_reply(lines.readline())
        assert isinstance(last, Refused)
        assert "No teacher has this key" in last.why
        assert lines.readline() == b""
        with pytest.raises(ConnectionError, match="No teacher has this key"):
            Receiver(host, number, "0000-0000", [1])
        long = socket.create_connection((host, number), timeout=10)
        long.sendall(b"x" * 70_000)
        with long, suppress(ConnectionError):  # cut off while it still spoke
            assert long.makefile("rb").read() == b""
        receiver.close()
        raw.close()


@pytest.mark.django_db(transaction=True)
def test_a_pad_that_floods_its_receiver_delays_only_itself_and_is_told(school: Staffroom) -> None:
    room = lesson(school, students=6)
    services.go_to(room, 1)
    with port() as (host, number):
        raw = socket.create_connection((host, number), timeout=30)
        raw.sendall(f'{{"say":"hello","key":"{key_of(school)}"}}\n'.encode())
        lines = raw.makefile("rb")
        assert [read_reply(lines.readline()).say for _ in range(2)] == ["welcome", "asking"]
        press = '{{"say":"press","pad":{},"answer":"{}","id":"{}"}}\n'
        flood = "".join(press.format(6, "ABCD"[at % 4], f"f{at}") for at in range(400))
        raw.sendall((flood + "".join(press.format(pad, "B", f"p{pad}") for pad in range(1, 6))).encode())
        kept, refused = list[str](), list[str]()
        while not {f"p{pad}" for pad in range(1, 6)} <= set(kept):
            reply = read_reply(lines.readline())
            (kept if isinstance(reply, Kept) else refused).append(reply.id)  # type: ignore[union-attr]
        assert sum(entry.startswith("f") for entry in kept) < 20
        assert len(refused) > 300
        # Its last press is the one that stands.
        while "f399" not in kept:
            kept.append(read_reply(lines.readline()).id)  # type: ignore[union-attr]
        raw.close()
    given = dict(RoundAnswer.objects.order_by("pk").values_list("seat__desk", "response__option"))
    assert given == {**dict.fromkeys(range(1, 6), "b"), 6: "d"}


@pytest.mark.django_db(transaction=True)
def test_no_more_receivers_are_taken_than_there_is_room_for_however_many_come_at_once(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(pad_port, "MOST_CONNECTIONS", 3)
    with port() as (host, number):
        several = [socket.create_connection((host, number), timeout=30) for _ in range(8)]
        for entry in several:
            entry.sendall(f'{{"say":"hello","key":"{key_of(school)}"}}\n'.encode())
        sentences = [read_reply(entry.makefile("rb").readline()).say for entry in several]
        assert sorted(sentences) == ["refused"] * 5 + ["welcome"] * 3
        for entry in several:
            entry.close()


def test_pads_of_other_lessons_and_of_nobody_are_no_trouble_here(school: Staffroom) -> None:
    room = lesson(school, students=2)
    receiver = pads.receiver_of(school.teacher)
    now = timezone.now()
    for number, ago in ((1, 10), (2, 3600), (30, 10), (31, 3600)):
        Pad.objects.create(receiver=receiver, number=number, last_heard=now - timedelta(seconds=ago), battery=9)
    page = school.client.get(f"/api/v1/sittings/{room.sitting_id}/room/pads").json()
    shown = {line["pad"]: (line["name"] != "", line["lost"]) for line in page["pads"]}
    # Desk 2 fell silent; 30 is a spare that is on and may be given to a desk; 31 belongs to nobody here.
    assert shown == {1: (True, False), 2: (True, True), 30: (False, False)}


@pytest.mark.django_db(transaction=True)
def test_simulated_holders_press_what_is_asked_and_stop_when_told(school: Staffroom) -> None:
    room = lesson(school, students=4)
    with port() as (host, number):
        receiver = Receiver(host, number, key_of(school), [1, 2, 3, 4])
        going = Event()

        def holder(asking: Asking) -> list[PadPress]:
            return [PadPress(0.01 * pad, pad, asking.answers[0]) for pad in receiver.pads] + [PadPress(60, 1, "D")]

        thread = Thread(target=receiver.run, args=(holder, lambda: not going.is_set()), daemon=True)
        thread.start()
        for question in (1, 2):
            act(school, room, "go")
            receiver_has(receiver, 4 * question)
        going.set()
        thread.join(10)
        assert RoundAnswer.objects.count() == 8  # the slow press of the first question was not made in the second
        receiver.close()


def receiver_has(receiver: Receiver, kept: int) -> None:
    for _ in range(200):
        if sum(isinstance(line, Kept) for line in receiver.said) == kept:
            return
        Event().wait(0.05)
    raise AssertionError(f"not {kept} answers were acknowledged")
