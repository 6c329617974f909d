"""Shared piles: nothing is handed out twice, nobody marks whom they may not, checks are unseen, every mark counts."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.db import IntegrityError
from django.test import Client
from django.utils import timezone
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test

from tests.conftest import PASSWORD, Staffroom, devices, refs, two_questions
from tests.school.test_marking import RUBRIC
from versomark.core.items.by_rubric import Written
from versomark.core.scoring import Way
from versomark.school.accounts.models import School, Teacher
from versomark.school.accounts.signals import work_handed_over
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.errors import DomainError
from versomark.school.feedback.student_result import student_result
from versomark.school.grading import piles
from versomark.school.grading.models import Mark, MarkingPass, Pile, PileHold
from versomark.school.grading.piles import MarkerPlan, PilePlan
from versomark.school.grading.queries import marks_of
from versomark.school.grading.release import Shown
from versomark.school.grading.services import MarkGiven
from versomark.school.grading.services import give as give_mark

STUDENTS = 12


def sat_by(school: Staffroom, students: int = STUDENTS) -> Sitting:
    sitting = school.open_sitting(
        contents=[*two_questions(), *(Written(stem=stem, marks=4, rubric=RUBRIC) for stem in ("Explain.", "Why?"))],
        students=students,
    )
    *_, explain, why = refs(sitting)
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(explain, {"kind": "written", "text": f"Because {at}."}, 1)
        device.answer(why, {"kind": "written", "text": f"Therefore {at}."}, 2)
        device.post("hand-in")
    return services.close_sitting(sitting)


def signed_in(teacher: Teacher) -> Client:
    client = Client()
    client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
    return client


def colleague(school: Staffroom, name: str) -> Teacher:
    return Teacher.objects.create_teacher(school.teacher.school, name, f"{name} {uuid4().hex}", PASSWORD)


def ask(client: Client, path: str, body: dict[str, Any] | None = None, method: str = "") -> Any:
    call = getattr(client, method or ("get" if body is None else "post"))
    response = call(f"/api/v1/{path}", *([] if body is None else [body]), content_type="application/json")
    assert response.status_code == 200, (response.status_code, response.content)
    return response.json()


def give(client: Client, entry: dict[str, Any], idea: float, comment: str = "") -> Any:
    number = entry["entry"]["number"]
    return client.put(
        f"/api/v1/sittings/{entry['sitting']}/marking/{entry['item']}/{number}",
        {"points": {"idea": idea, "words": 1}, "comment": comment, "turn": "pile"},
        content_type="application/json",
    )


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    return sat_by(school)


def test_three_share_a_pile_and_each_sees_and_marks_only_what_is_theirs(school: Staffroom, sat: Sitting) -> None:
    ann, kavi = colleague(school, "Ann"), colleague(school, "கவிதா")
    markers = [{"teacher": ann.pk}, {"teacher": kavi.pk, "share": 2}]
    body = {"way": "question", "sittings": [sat.pk], "names": "markers", "markers": markers}
    page = ask(school.client, "piles", body)
    pile = page["id"]
    # Nobody who is not in it knows of it; a marker is not its head.
    strange = colleague(school, "Strange")
    stranger = signed_in(strange)
    assert stranger.get(f"/api/v1/piles/{pile}").status_code == 404
    assert signed_in(ann).get(f"/api/v1/piles/{pile}").status_code == 403
    hers, his = (ask(signed_in(who), f"piles/{pile}/desk") for who in (ann, kavi))
    places = [{(one["item"], one["entry"]["number"]) for one in desk["entries"]} for desk in (hers, his)]
    assert not places[0] & places[1]
    assert len(places[0] | places[1]) == 2 * STUDENTS
    assert [len(some) for some in places] == [8, 16]  # one share and two
    assert all(one["name"] == "" for one in hers["entries"])
    # By her numbers she reads her answers, and nobody else's; the class itself stays closed to her.
    mine, other = hers["entries"][0], his["entries"][0]
    work = f"sittings/{sat.pk}/marking/{mine['item']}/{mine['entry']['number']}?turn=pile"
    assert "Because" in ask(signed_in(ann), work)["text"]
    address = f"/api/v1/sittings/{sat.pk}/marking/{other['item']}/{other['entry']['number']}"
    assert signed_in(ann).get(f"{address}?turn=pile").status_code == 403
    assert give(signed_in(ann), other, 1).status_code == 403
    assert signed_in(ann).get(f"{address}?turn=first").status_code in (403, 404)
    assert not any(name.encode() in signed_in(ann).get(f"/api/v1/{work}").content for name in names_of(sat))
    # A colleague who may mark the class finds it in the pile, and not in two places.
    share_class(sat.school_class, strange.pk, may_mark=True, may_run=False)
    desk = sat.seats.order_by("desk")[0].desk
    refused = stranger.put(
        f"/api/v1/sittings/{sat.pk}/marking/{mine['item']}/{desk}",
        {"points": {"idea": 1, "words": 1}},
        content_type="application/json",
    )
    assert "pile" in refused.json()["detail"]
    for who, desk_page in ((ann, hers), (kavi, his)):
        for entry in desk_page["entries"]:
            assert give(signed_in(who), entry, 2).status_code == 200
    assert sum(len(items) for items in marks_of(sat).values()) == 2 * STUDENTS
    after = ask(school.client, f"piles/{pile}")
    assert [line["marked"] for line in after["markers"]] == [8, 16]


def names_of(sitting: Sitting) -> list[str]:
    return [seat.student.family_name for seat in sitting.seats.all() if len(seat.student.family_name) > 3]


def test_next_free_answers_come_back_when_their_marker_is_gone_and_a_late_mark_is_not_lost(
    school: Staffroom, sat: Sitting
) -> None:
    ann, ben = colleague(school, "Ann"), colleague(school, "Ben")
    plan = PilePlan(Way.NEXT, [sat.pk], [MarkerPlan(ann.pk), MarkerPlan(ben.pk)])
    pile = piles.make_pile(school.teacher, plan)
    first = ask(signed_in(ann), f"piles/{pile.pk}/desk", {})["entries"]
    second = ask(signed_in(ben), f"piles/{pile.pk}/desk", {})["entries"]
    keys = [{(one["item"], one["entry"]["number"]) for one in entries} for entries in (first, second)]
    assert [len(some) for some in keys] == [piles.IN_HAND, piles.IN_HAND]
    assert not keys[0] & keys[1]
    # Ann's connection goes; an hour later Ben gets hers, and then Ann's comes back with what she had marked.
    PileHold.objects.filter(marker__teacher=ann).update(until=timezone.now() - timedelta(minutes=1))
    for entry in second:
        assert give(signed_in(ben), entry, 1).status_code == 200
    third = ask(signed_in(ben), f"piles/{pile.pk}/desk", {})["entries"]
    taken = [one for one in third if (one["item"], one["entry"]["number"]) in keys[0]]
    assert taken
    assert give(signed_in(ben), taken[0], 1).json()["stands"]
    late = give(signed_in(ann), taken[0], 3)
    assert late.status_code == 200
    assert late.json()["stands"] is False  # kept beside Ben's, and a person chooses
    hold = PileHold.objects.filter(given_up=False)[0]
    with pytest.raises(IntegrityError):
        PileHold.objects.create(marker=hold.marker, seat=hold.seat, item=hold.item)


def test_whom_somebody_may_not_mark_goes_to_another_and_what_nobody_may_is_named(
    school: Staffroom, sat: Sitting
) -> None:
    ann, ben = colleague(school, "Ann"), colleague(school, "Ben")
    seat = sat.seats.order_by("desk")[0]
    plan = PilePlan(Way.STUDENT, [sat.pk], [MarkerPlan(ann.pk, barred=[seat.pk]), MarkerPlan(ben.pk)])
    pile = piles.make_pile(school.teacher, plan)
    held = piles.held_in(pile)
    by_student: dict[int, set[int]] = {}
    for (student, _item), hold in held.items():
        by_student.setdefault(student, set()).add(hold.marker.teacher_id)
    assert by_student[seat.pk] == {ben.pk}
    assert all(len(who) == 1 for who in by_student.values())
    assert sorted(sum(who == {teacher.pk} for who in by_student.values()) for teacher in (ann, ben)) == [6, 6]
    # Ben leaves: the student whom Ann may not mark is nobody's, and its head is told.
    marker = pile.markers.get(teacher=ben)
    page = ask(school.client, f"piles/{pile.pk}/markers/{marker.pk}", {}, "delete")
    assert page["nobody"] == 2
    share_class(sat.school_class, ann.pk, may_mark=True, may_run=False)
    changed = piles.change_pile(school.teacher, pile.pk, plan._replace(not_own=True))
    assert {hold.marker.teacher_id for hold in piles.held_in(changed).values()} == {ben.pk}


def agreed_pile(school: Staffroom, sat: Sitting, agreed: int, every: int = 1) -> tuple[Pile, Teacher]:
    """The head marks so many answers to the last question, and they check Ann, who marks the rest."""
    ann = colleague(school, "Ann")
    why = refs(sat)[-1]
    pile = piles.make_pile(
        school.teacher, PilePlan(Way.QUESTION, [sat.pk], [MarkerPlan(ann.pk, items=[why])], check_every=every)
    )
    for at, seat in enumerate(sat.seats.order_by("desk")[:agreed]):
        give_mark(school.teacher, seat, why, MarkGiven({"idea": at % 3 + 0.5, "words": 1}, "", False, None))
        body = {"sitting": sat.pk, "item": why, "number": seat.desk, "reason": "Says why."}
        ask(school.client, f"piles/{pile.pk}/agreed", body)
    piles.change_pile(
        school.teacher, pile.pk, PilePlan(Way.QUESTION, [sat.pk], [MarkerPlan(ann.pk, items=[why])], check_every=every)
    )
    return pile, ann


def test_agreed_answers_are_unseen_among_a_markers_own_and_show_how_harsh_they_are(
    school: Staffroom, sat: Sitting
) -> None:
    pile, ann = agreed_pile(school, sat, 6)
    client, why = signed_in(ann), refs(sat)[-1]
    entries = ask(client, f"piles/{pile.pk}/desk", {})["entries"]
    checked = {number.number for number in pile.numbers.filter(seat__in=pile.agreed.values("seat"))}
    assert len(entries) == 12
    assert [one["entry"]["number"] in checked for one in entries] == [False, True] * 6
    # In no byte does one differ from the other before it is marked, but for what their students wrote.
    pages = [ask(client, f"sittings/{sat.pk}/marking/{why}/{one['entry']['number']}?turn=pile") for one in entries]
    assert (
        len({tuple((k, str(v)) for k, v in page.items() if k not in ("text", "number", "work")) for page in pages}) == 1
    )
    assert len({tuple((k, v) for k, v in one["entry"].items() if k != "number") for one in entries}) == 1
    before = marks_of(sat)
    truth = {row.seat_id: sum(row.points.values()) for row in pile.agreed.all()}
    numbered = {number.number: number.seat_id for number in pile.numbers.all()}
    for one in entries:
        seat = numbered[one["entry"]["number"]]
        kept = give(client, one, max(0.0, truth.get(seat, 1) - 1.5), "Too short.")
        assert kept.json()["entry"]["state"] == "kept"
    assert Mark.objects.filter(turn=MarkingPass.CHECK).count() == 6
    # What the head gave stands; a check counts for nothing, and its comment reaches nobody.
    after = marks_of(sat)
    assert all(after[seat] == before[seat] for seat in before)
    line = ask(client, f"piles/{pile.pk}/desk")["close"][0]
    assert line["checks"] == 6
    assert line["severity"] == 0.5  # a point and a half less of the idea, with the point for words that all have
    assert line["low"] < line["severity"] < line["high"]

    # Used no more and then after all, as by Undo: what was given to it counts again.
    agreed = ask(school.client, f"piles/{pile.pk}")["agreed"][0]
    path = f"/api/v1/piles/{pile.pk}/agreed/{agreed['id']}"
    assert school.client.delete(path).json()["agreed"][0]["id"] != agreed["id"]
    assert ask(client, f"piles/{pile.pk}/desk")["close"][0]["checks"] == 5
    again = {"sitting": agreed["sitting"], "item": agreed["item"], "number": agreed["desk"], "reason": agreed["reason"]}
    back = ask(school.client, f"piles/{pile.pk}/agreed", again)["agreed"]
    assert [{**one, "id": 0} for one in back if one["desk"] == agreed["desk"]] == [{**agreed, "id": 0}]
    assert ask(client, f"piles/{pile.pk}/desk")["close"][0] == line


def test_a_severity_is_taken_out_of_marks_in_sight_and_on_record_and_can_be_put_back(
    school: Staffroom, sat: Sitting
) -> None:
    pile, ann = agreed_pile(school, sat, 6)
    client, why = signed_in(ann), refs(sat)[-1]
    truth = {row.seat_id: row.points["idea"] for row in pile.agreed.all()}
    numbered = {number.number: number.seat_id for number in pile.numbers.all()}
    for one in ask(client, f"piles/{pile.pk}/desk", {})["entries"]:
        seat = numbered[one["entry"]["number"]]
        give(client, one, max(0, truth[seat] - 0.5) if seat in truth else seat % 4)
    marker = pile.markers.get(teacher=ann)
    target = {"marker": marker.pk, "item": why}
    before = marks_of(sat)
    effect = ask(school.client, f"piles/{pile.pk}/adjustments/effect", target)
    assert marks_of(sat) == before  # looked at first, and nothing is changed
    ask(school.client, f"piles/{pile.pk}/adjustments", target)
    moved = marks_of(sat)
    changed = {seat for seat in before if moved[seat] != before[seat]}
    assert len(changed) == effect["answers"]
    assert changed.isdisjoint(map(str, truth))
    for seat in changed:
        assert moved[seat][why] == pytest.approx(min(4, before[seat][why] + effect["points"]))
        shown = student_result(Seat.objects.get(pk=seat), Shown(True, False))
        question = next(entry for entry in shown.questions if entry.moved)
        assert question.marks == pytest.approx(moved[seat][why])
        assert question.moved == pytest.approx(moved[seat][why] - before[seat][why])
    assert "for how strictly they mark" in event_words(sat.events.all()[0])
    ask(school.client, f"piles/{pile.pk}/adjustments/end", target)
    assert marks_of(sat) == before


def test_marks_that_are_sent_back_wait_for_their_marker_and_count_until_then(school: Staffroom, sat: Sitting) -> None:
    pile, ann = agreed_pile(school, sat, 0)
    client = signed_in(ann)
    entries = ask(client, f"piles/{pile.pk}/desk", {})["entries"]
    for one in entries:
        give(client, one, 1)
    before = marks_of(sat)
    marker = pile.markers.get(teacher=ann)
    body = {"marker": marker.pk, "reason": "Units count here."}
    assert ask(school.client, f"piles/{pile.pk}/again", body)["answers"] == STUDENTS
    again = ask(client, f"piles/{pile.pk}/desk")["entries"]
    assert {one["again"] for one in again} == {"Units count here."}
    assert {one["entry"]["state"] for one in again} == {"waiting"}
    assert marks_of(sat) == before
    give(client, again[0], 1)  # looked at, and left as it was
    give(client, again[1], 2)
    left = [one for one in ask(client, f"piles/{pile.pk}/desk")["entries"] if one["again"]]
    assert len(left) == STUDENTS - 2


def test_a_pile_begins_when_it_may_after_the_samples_and_ends_for_all(school: Staffroom, sat: Sitting) -> None:
    ann = colleague(school, "Ann")
    later = timezone.now() + timedelta(days=1)
    plan = PilePlan(Way.NEXT, [sat.pk], [MarkerPlan(ann.pk)], begins=later)
    pile = piles.make_pile(school.teacher, plan)
    desk = ask(signed_in(ann), f"piles/{pile.pk}/desk", {})
    assert desk["waits_to_begin"]
    assert desk["entries"] == []
    number = piles.numbers_in(pile, [seat.pk for seat in sat.seats.all()])[sat.seats.all()[0].pk]
    too_early = {"sitting": sat.pk, "item": refs(sat)[-1], "entry": {"number": number}}
    assert give(signed_in(ann), too_early, 1).status_code == 409
    piles.change_pile(school.teacher, pile.pk, plan._replace(begins=None))
    entry = ask(signed_in(ann), f"piles/{pile.pk}/desk", {})["entries"][0]
    give(signed_in(ann), entry, 2)
    with pytest.raises(DomainError, match="already"):
        piles.make_pile(school.teacher, plan)
    ask(school.client, f"piles/{pile.pk}", {}, "delete")
    assert give(signed_in(ann), entry, 1).status_code == 404
    assert sum(map(len, marks_of(sat).values())) == 1
    for way in Way:  # what is left may be shared again, whichever way
        again = piles.make_pile(school.teacher, plan._replace(way=way, begins=None))
        desk = ask(signed_in(ann), f"piles/{again.pk}/desk", {})
        assert len(desk["entries"]) == (piles.IN_HAND if way == Way.NEXT else 2 * STUDENTS - 1)
        piles.end_pile(school.teacher, again.pk)


def test_what_a_colleague_leaves_goes_on_in_other_hands(school: Staffroom, sat: Sitting) -> None:
    ann, ben, cy = (colleague(school, name) for name in ("Ann", "Ben", "Cy"))
    pile = piles.make_pile(school.teacher, PilePlan(Way.QUESTION, [sat.pk], [MarkerPlan(ann.pk), MarkerPlan(ben.pk)]))
    entries = ask(signed_in(ann), f"piles/{pile.pk}/desk", {})["entries"]
    give(signed_in(ann), entries[0], 2)
    work_handed_over.send(Teacher, owner=ann, to=cy)
    assert {hold.marker.teacher_id for hold in piles.held_in(pile).values()} == {ann.pk, ben.pk}
    assert len(ask(signed_in(ben), f"piles/{pile.pk}/desk", {})["entries"]) == 2 * STUDENTS - 1
    work_handed_over.send(Teacher, owner=ben, to=cy)
    assert len(ask(signed_in(cy), f"piles/{pile.pk}/desk", {})["entries"]) == 2 * STUDENTS - 1
    work_handed_over.send(Teacher, owner=school.teacher, to=cy)
    assert ask(signed_in(cy), f"piles/{pile.pk}")["nobody"] == 0
    assert sum(map(len, marks_of(sat).values())) == 1


def test_a_mark_for_a_number_that_means_somebody_else_now_is_not_taken(school: Staffroom, sat: Sitting) -> None:
    why, desks = refs(sat)[-1], [seat.desk for seat in sat.seats.order_by("desk")]
    page = ask(school.client, f"sittings/{sat.pk}/marking/{why}/{desks[0]}")
    body = {"points": {"idea": 1, "words": 1}, "work": page["work"]}
    address = f"/api/v1/sittings/{sat.pk}/marking/{why}"
    assert school.client.put(f"{address}/{desks[1]}", body, content_type="application/json").status_code == 409
    assert school.client.put(f"{address}/{desks[0]}", body, content_type="application/json").status_code == 200


class PileMachine(RuleBasedStateMachine):
    """Three markers who take, mark, lose their holds and leave, in any order."""

    @initialize(way=st.sampled_from(list(Way)))
    def begin(self, way: Way) -> None:
        staff = Teacher.objects.create_teacher(School.objects.create(name="S"), "Head", uuid4().hex, PASSWORD)
        self.room = Staffroom(client=signed_in(staff), teacher=staff)
        self.sitting = sat_by(self.room, 4)
        self.who = [colleague(self.room, name) for name in ("Ann", "Ben", "Cy")]
        self.plan = PilePlan(way, [self.sitting.pk], [MarkerPlan(teacher.pk) for teacher in self.who])
        self.pile = piles.make_pile(staff, self.plan)
        self.kept: dict[tuple[int, str], int] = {}

    @rule(who=st.integers(0, 2))
    def take(self, who: int) -> None:
        marker = self.pile.markers.get(teacher=self.who[who])
        if marker.left_at is None:
            piles.take(marker)

    @rule(who=st.integers(0, 2), which=st.integers(0, 7), idea=st.integers(0, 3))
    def mark(self, who: int, which: int, idea: int) -> None:
        mine = [place for place, hold in piles.held_in(self.pile).items() if hold.marker.teacher_id == self.who[who].pk]
        if mine:
            seat, item = sorted(mine)[which % len(mine)]
            given = MarkGiven({"idea": idea, "words": 1}, "", False, None)
            if give_mark(self.who[who], Seat.objects.get(pk=seat), item, given).stands:
                self.kept[seat, item] = self.who[who].pk

    @rule(who=st.integers(0, 2))
    def time_passes(self, who: int) -> None:
        past = timezone.now() - timedelta(minutes=1)
        PileHold.objects.filter(marker__teacher=self.who[who]).exclude(until=None).update(until=past)

    @rule(who=st.integers(0, 2))
    def leave(self, who: int) -> None:
        marker = self.pile.markers.get(teacher=self.who[who])
        if marker.left_at is None and self.pile.markers.filter(left_at=None).count() > 1:
            piles.hand_over(self.room.teacher, self.pile.pk, marker.pk)

    @rule()
    def come_back(self) -> None:
        piles.change_pile(self.room.teacher, self.pile.pk, self.plan)

    @invariant()
    def every_answer_is_somewhere_once(self) -> None:
        if not hasattr(self, "pile"):
            return
        held, needed = piles.held_in(self.pile), set(piles.needed_in(self.pile))
        marked = {place: mark.by_id for place, mark in piles.marked_in(self.pile).items()}
        assert marked == self.kept  # nothing that was kept goes, and nothing comes of itself
        assert set(held) <= needed
        if self.pile.way != Way.NEXT:
            assert set(held) | set(marked) == needed
        assert set(piles.free_in(self.pile, held)) == needed - set(held) - set(marked)


class TestAnyOrder(TestCase):
    def test_an_answer_is_in_one_pair_of_hands_and_what_was_kept_stays(self) -> None:
        run_state_machine_as_test(PileMachine, settings=settings(max_examples=8, stateful_step_count=12, deadline=None))
