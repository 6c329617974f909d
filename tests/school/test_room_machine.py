"""A lesson in the room against a plain model (Hypothesis, stateful): whatever is pressed, given and sent late."""

from typing import Any
from uuid import uuid4

from django.db import connection
from django.test import Client
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from tests.conftest import PASSWORD, Staffroom, two_questions
from tests.school.test_room import act, joined, lesson, now
from tests.school.test_teacher_side import send
from versomark.core.items import ItemContent
from versomark.school.accounts.models import School, Teacher
from versomark.school.responses.models import CurrentAnswer
from versomark.school.room.models import RoundAnswer, RoundEvent

STUDENTS = 2
OPTION = st.sampled_from(["a", "b", "c", "d", None])


def three_choices() -> list[ItemContent]:
    return [two_questions(key=key)[0] for key in "bcd"]


def _put(kept: dict[Any, str], key: Any, option: str | None) -> None:
    if option:
        kept[key] = option
    else:
        kept.pop(key, None)


class RoomMachine(RuleBasedStateMachine):
    """The model: where the class is, which rounds each question had, and what each student said in each."""

    @initialize()
    def start_a_lesson(self) -> None:
        name = uuid4().hex
        teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        client = Client()
        client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
        self.school = Staffroom(teacher, client)
        self.room = lesson(self.school, students=STUDENTS, contents=three_choices())
        self.devices = joined(self.room)
        self.place, self.shows, self.over, self.alone = 0, "joining", False, False
        self.refs = [step["ref"] for step in self.room.steps]
        self.log: dict[tuple[int, int], str] = {}
        """(student, question) -> what stands for the figures: first rounds, and what was answered at one's own pace."""
        self.rounds: dict[int, list[dict[int, str]]] = {}
        """question -> its rounds -> student -> what stands."""
        self.revealed: set[int] = set()
        self.collecting: int | None = None
        self.ids: list[tuple[int, dict[str, Any]]] = []
        self.acknowledged = 0

    @property
    def together(self) -> bool:
        return not self.over and not self.alone

    def press(self, what: str, place: int | None = None) -> bool:
        reply = act(self.school, self.room, what, place)
        assert reply.status_code in (200, 409, 422), reply.content
        return bool(reply.status_code == 200)

    @rule(place=st.integers(0, 4))
    def go(self, place: int) -> None:
        done = self.press("go", place)
        assert done == (self.together and place <= 3)
        if not done:
            return
        self.place, self.collecting = place, None
        if place == 0:
            self.shows = "joining"
        elif place in self.rounds:
            self.shows = "answer" if place in self.revealed and not self.fresh(place) else "question"
        else:
            self.rounds[place], self.collecting, self.shows = [{}], place, "question"

    def fresh(self, place: int) -> bool:
        """Whether its last round was asked after the answer had been shown."""
        return place in self.asked_after

    asked_after: set[int] = set()

    @rule()
    def again(self) -> None:
        done = self.press("again")
        assert done == (self.together and self.place > 0)
        if done:
            self.rounds[self.place].append({})
            self.collecting, self.shows = self.place, "question"
            self.asked_after = self.asked_after | {self.place}

    @rule()
    def stop(self) -> None:
        if self.press("stop"):
            self.collecting = None

    @rule()
    def reopen(self) -> None:
        done = self.press("reopen")
        shown = self.place in self.revealed and self.place not in self.asked_after
        assert done == (self.together and self.place > 0 and not shown)
        if done and self.collecting is None:
            self.collecting, self.shows = self.place, "question"

    @rule(what=st.sampled_from(["question", "spread", "answer"]))
    def show(self, what: str) -> None:
        done = self.press(what)
        assert done == (self.together and self.place > 0)
        if not done:
            return
        self.shows = what
        if what != "question":
            self.collecting = None
        if what == "answer":
            self.revealed.add(self.place)
            self.asked_after = self.asked_after - {self.place}

    @rule(student=st.integers(0, STUDENTS - 1), option=OPTION)
    def a_student_chooses(self, student: int, option: str | None) -> None:
        on = now(self.devices[student])
        if on["round_id"] is None:
            return
        body = {"client_id": str(uuid4()), "round": on["round_id"], "response": None}
        if option:
            body["response"] = {"kind": "single_choice", "option": option}
        reply = self.devices[student].post("room/answers", body)
        assert (reply.status_code == 200) == (self.collecting is not None and not self.over), reply.content
        if reply.status_code != 200:
            assert reply.json()["detail"]
            return
        self.acknowledged += 1
        self.ids.append((student, body))
        self.stands(student, option)

    @rule(data=st.data())
    def the_network_sends_again(self, data: st.DataObject) -> None:
        if not self.ids:
            return
        student, body = data.draw(st.sampled_from(self.ids))
        assert self.devices[student].post("room/answers", body).status_code == 200

    @rule(student=st.integers(0, STUDENTS - 1))
    def the_teacher_answers_for(self, student: int) -> None:
        seat = list(self.room.sitting.seats.order_by("desk"))[student]
        path = f"sittings/{self.room.sitting_id}/room/answers"
        reply = send(self.school.client, "post", path, {"seat": seat.pk, "letter": "A"})
        assert (reply.status_code == 200) == (self.collecting is not None), reply.content
        if reply.status_code == 200:
            self.acknowledged += 1
            self.stands(student, "a")

    def stands(self, student: int, option: str | None) -> None:
        """In the round that is on; and in the log, where that is the first round of its question."""
        rounds = self.rounds[self.place]
        _put(rounds[-1], student, option)
        if len(rounds) == 1:
            _put(self.log, (student, self.place), option)

    @rule()
    def let_go(self) -> None:
        if self.press("let go"):
            self.alone, self.collecting = True, None

    @rule()
    def gather(self) -> None:
        if self.press("gather"):
            self.alone = False

    @rule(student=st.integers(0, STUDENTS - 1), place=st.integers(1, 3), option=st.sampled_from("abcd"))
    def a_student_goes_on_alone(self, student: int, place: int, option: str) -> None:
        device = self.devices[student]
        ref, number = self.refs[place - 1], device.seat().json()["sequence"] + 1
        reply = device.answer(ref, {"kind": "single_choice", "option": option}, number)
        assert (reply.status_code == 200) == (self.alone and not self.over), reply.content
        if reply.status_code == 200:
            self.log[student, place] = option

    @rule(early=st.booleans())
    def end(self, early: bool) -> None:
        if early and not self.over and len(self.rounds) == 3:
            assert self.press("end")
            self.over, self.collecting = True, None

    @invariant()
    def everybody_is_told_the_same(self) -> None:
        if not hasattr(self, "devices"):
            return
        wall = self.school.client.get(f"/api/v1/sittings/{self.room.sitting_id}/wall").json()
        assert wall["stage"] == ("over" if self.over else "alone" if self.alone else self.shows)
        if self.alone and not self.over:
            assert (wall["question"], wall["spread"], wall["right"], wall["collecting"]) == (None, None, "", False)
            assert all(device.seat().json()["paper"] for device in self.devices)
            return
        assert wall["collecting"] == (self.collecting is not None)
        standing = self.rounds[self.place][-1] if self.place else {}
        assert wall["inside"] == len(standing)
        for student, device in enumerate(self.devices):
            on = now(device)
            assert (on["response"] or {}).get("option") == standing.get(student)
            shown = self.shows == "answer" and not self.over
            right = standing.get(student) == "bcd"[self.place - 1] if student in standing else None
            assert on["right"] == (right if shown else None)
            assert bool(on["key"]) == shown
            assert (on["stage"] == "asking") == (self.collecting is not None)

    @invariant()
    def nothing_acknowledged_is_lost_and_first_answers_are_the_sittings(self) -> None:
        if not hasattr(self, "devices"):
            return
        assert RoundAnswer.objects.filter(round__room=self.room).count() == self.acknowledged
        asked = RoundEvent.objects.filter(round__room=self.room, what="asked").count()
        assert asked == sum(map(len, self.rounds.values()))
        current_answers = CurrentAnswer.objects.filter(seat__sitting=self.room.sitting_id).exclude(
            answer__response=None
        )
        rows = current_answers.values_list("seat__desk", "item", "answer__response")
        assert {(desk - 1, self.refs.index(item) + 1): said["option"] for desk, item, said in rows} == self.log

    def teardown(self) -> None:
        connection.needs_rollback = False


class TestRoom(TestCase, RoomMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=12, stateful_step_count=16, deadline=None, suppress_health_check=list(HealthCheck))
