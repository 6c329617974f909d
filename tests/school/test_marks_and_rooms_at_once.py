"""Many hands at the same moment on one grid and in one round: nothing doubled, nothing acknowledged lost."""

import threading
from typing import Any
from uuid import uuid4

import pytest
from django.db import connection

from tests.conftest import Device, Staffroom
from tests.school.test_at_once_and_half_way import at_once, codes
from tests.school.test_marks_only import described_sitting, grid, keep, marks
from tests.school.test_room import act, joined, lesson, now
from tests.school.test_teacher_side import send
from tests.school.whole import everything
from versomark.school.classes.models import Enrolment
from versomark.school.delivery.models import Sitting
from versomark.school.responses.models import Answer, CurrentAnswer
from versomark.school.room.models import Room, Round, RoundAnswer

pytestmark = pytest.mark.django_db(transaction=True)


def test_one_grid_keyed_in_by_several_windows(school: Staffroom) -> None:
    """Cells of their own all stand; of a cell that all write, one word stands and every word is in the log."""
    sitting = described_sitting(school, students=6)
    seats = list(sitting.seats.order_by("desk").values_list("pk", flat=True))

    def window(client: Any, at: int) -> Any:
        cells = [{"seat": seats[at], "item": "a", "points": at % 6}, {"seat": seats[0], "item": "c", "points": at}]
        return send(client, "put", f"sittings/{sitting.pk}/marks", {"marks": cells, "presence": []})

    replies = at_once(school, window)
    assert codes(replies) == [200] * 6
    page = grid(school, sitting)
    assert [marks(page, row)["a"] for row in range(6)] == [row % 6 for row in range(6)]
    logged = Answer.objects.filter(seat=seats[0], item="c").order_by("sequence")
    assert [answer.sequence for answer in logged] == list(range(1, 7))
    assert marks(page, 0)["c"] == logged.last().response["points"]  # type: ignore[index,union-attr]
    assert CurrentAnswer.objects.count() == 7


def test_one_late_student_added_by_several_windows_has_one_row(school: Staffroom) -> None:
    sitting = described_sitting(school, students=2)
    keep(school, sitting, (0, "a", 1))
    late = Enrolment.objects.get(desk=2).student
    sitting.seats.filter(student=late).delete()
    path = f"sittings/{sitting.pk}/marks/students"
    replies = at_once(school, lambda client, at: send(client, "post", path, {"student": late.pk}))
    assert codes(replies) == [200] * 6
    assert sitting.seats.count() == 2


@pytest.mark.parametrize("after", [0, 1, 3])
def test_marks_that_break_off_half_way_leave_everything_as_it_was(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch, after: int
) -> None:
    sitting = described_sitting(school, students=4)
    school.client.raise_request_exception = False
    real, before = Answer.objects.create, everything()
    calls = iter([real] * after)

    def create(**fields: Any) -> Answer:
        call = next(calls, None)
        if call is None:
            raise OSError("the disk is full")
        return call(**fields)

    with monkeypatch.context() as patched:
        patched.setattr(Answer.objects, "create", create)
        reply = keep(school, sitting, *((row, "a", row) for row in range(4)), row3="absent")
        assert reply.status_code == 500
    assert everything() == before
    assert keep(school, sitting, *((row, "a", row) for row in range(4))).status_code == 200


class Hand(threading.Thread):
    """One student's device, pressing as fast as it can until it is refused; remembers what was acknowledged."""

    def __init__(self, device: Device, round: int, start: threading.Barrier) -> None:
        super().__init__()
        self.device, self.round, self.barrier = device, round, start
        self.acknowledged: list[str] = []
        self.refused: list[int] = []

    def run(self) -> None:
        self.barrier.wait(10)
        try:
            for at in range(12):
                once = str(uuid4())
                body = {
                    "client_id": once,
                    "round": self.round,
                    "response": {"kind": "single_choice", "option": "abcd"[at % 4]},
                }
                for _ in range(2):  # the network sends everything twice
                    reply = self.device.post("room/answers", body)
                if reply.status_code == 200:
                    self.acknowledged.append(once)
                else:
                    self.refused.append(reply.status_code)
        finally:
            connection.close()


def test_a_class_presses_while_the_teacher_stops(school: Staffroom) -> None:
    """Whatever was acknowledged is in the log once; after the stop nothing is taken; the last word of each stands."""
    room = lesson(school, students=6)
    hands_of = joined(room)
    act(school, room, "go")
    round = now(hands_of[0])["round_id"]
    barrier = threading.Barrier(len(hands_of) + 1)
    hands = [Hand(device, round, barrier) for device in hands_of]
    for hand in hands:
        hand.start()
    barrier.wait(10)
    while RoundAnswer.objects.count() < 10:
        connection.close()
    assert act(school, room, "stop").status_code == 200
    stopped = Round.objects.get().stopped_at
    for hand in hands:
        hand.join(60)
    acknowledged = {once for hand in hands for once in hand.acknowledged}
    assert {str(row.client_id) for row in RoundAnswer.objects.all()} == acknowledged
    assert all(code == 410 for hand in hands for code in hand.refused)
    assert stopped is not None
    assert not RoundAnswer.objects.filter(kept_at__gt=stopped).exists()
    page = school.client.get(f"/api/v1/sittings/{room.sitting_id}/room").json()
    last = {row.seat_id: row.response["option"].upper() for row in RoundAnswer.objects.order_by("pk")}
    assert {line["seat"]: line["said"] for line in page["inside"]} == last
    # And the sitting's own log says the same of the first round.
    standing = CurrentAnswer.objects.values_list("seat_id", "answer__response")
    assert {seat: response["option"].upper() for seat, response in standing} == last


def test_several_windows_press_the_same_button(school: Staffroom) -> None:
    """Two presses of “ask again” at once are two rounds, numbered; two of “end” end it once."""
    room = lesson(school)
    act(school, room, "go")
    path = f"sittings/{room.sitting_id}/room/acts"
    replies = at_once(school, lambda client, at: send(client, "post", path, {"act": "again"}), 4)
    assert set(codes(replies)) <= {200, 409}
    numbers = list(Round.objects.order_by("number").values_list("number", flat=True))
    assert numbers == list(range(1, len(numbers) + 1))
    assert Round.objects.filter(stopped_at=None).count() == 1
    replies = at_once(school, lambda client, at: send(client, "post", path, {"act": "end"}), 4)
    assert codes(replies)[0] == 200
    assert Sitting.objects.get(pk=room.sitting_id).state == "closed"
    assert Room.objects.get().rounds.filter(stopped_at=None).count() == 0
