"""A seat under any order of events (Hypothesis, stateful): what was acknowledged stands, whatever comes next."""

from typing import Any
from uuid import uuid4

from django.db import connection
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, precondition, rule

from tests.conftest import PASSWORD, Device, Staffroom, devices, refs
from versomark.school.accounts.models import School, Teacher
from versomark.school.delivery import services
from versomark.school.delivery.models import Seat
from versomark.school.delivery.queries import sitting_of

OPTIONS = st.sampled_from(["a", "b", "c", "d", None])


class SeatMachine(RuleBasedStateMachine):
    """The model: what one student's device was told is kept, by item, beside the real API."""

    device: Device

    @initialize()
    def hold_a_sitting(self) -> None:
        name = uuid4().hex
        teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        self.sitting = Staffroom(teacher, None).sitting(students=1)  # type: ignore[arg-type]
        self.device = devices(self.sitting)[0]
        self.item = refs(self.sitting)[0]
        self.device.join()
        self.state, self.handed_in = "ready", False
        self.kept: dict[int, str | None] = {}
        self.sent: list[dict[str, Any]] = []
        self.sequence = 0

    def may_answer(self) -> bool:
        return self.state == "open" and not self.handed_in

    @rule()
    def open_it(self) -> None:
        self.sitting = services.open_sitting(sitting_of(self.sitting.owner, self.sitting.pk))
        if self.state == "closed" and self.ended_by_closing:
            self.handed_in = False
        self.state = "open"
        self.device.seat()

    @precondition(lambda self: self.state == "open")
    @rule()
    def pause_it(self) -> None:
        services.pause_sitting(sitting_of(self.sitting.owner, self.sitting.pk))
        self.state = "paused"

    @precondition(lambda self: self.state in ("open", "paused"))
    @rule()
    def close_it(self) -> None:
        services.close_sitting(sitting_of(self.sitting.owner, self.sitting.pk))
        self.ended_by_closing = not self.handed_in
        self.state, self.handed_in = "closed", True

    @rule(option=OPTIONS, late=st.integers(0, 3))
    def answer(self, option: str | None, late: int) -> None:
        """A change, perhaps one that the network delivers after newer ones."""
        self.sequence += 1
        sequence = max(1, self.sequence - late)
        response = {"kind": "single_choice", "option": option} if option else None
        change = {"client_id": str(uuid4()), "sequence": sequence, "item": self.item, "response": response}
        reply = self.device.post("answers", {"changes": [change]})
        assert (reply.status_code == 200) == self.may_answer()
        if reply.status_code == 200:
            self.kept[sequence] = option
            self.sent.append(change)
        else:
            assert reply.json()["detail"]

    @precondition(lambda self: self.sent)
    @rule(data=st.data())
    def send_again(self, data: st.DataObject) -> None:
        change = data.draw(st.sampled_from(self.sent))
        reply = self.device.post("answers", {"changes": [change]})
        assert reply.json()["kept"] == [change["client_id"]]

    @precondition(lambda self: self.may_answer())
    @rule()
    def hand_in(self) -> None:
        assert self.device.post("hand-in").json()["stage"] == "handed in"
        self.handed_in, self.ended_by_closing = True, False

    @rule()
    def what_was_acknowledged_stands(self) -> None:
        seat = Seat.objects.get(sitting=self.sitting)
        assert seat.answers.count() == len(self.sent)
        current = seat.current.select_related("answer").first()
        if self.kept:
            assert current is not None
            stored = current.answer.response
            assert (stored or {}).get("option") == self.kept[max(self.kept)]
        page = self.device.seat().json()
        assert (page["paper"] is not None) == self.may_answer()

    def teardown(self) -> None:
        connection.needs_rollback = False


class TestSeat(TestCase, SeatMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=15, stateful_step_count=20, deadline=None, suppress_health_check=list(HealthCheck))
