"""Kestrel Bay School: made up, with real questions, sat by simulated students through the students' own door."""

import tomllib
from datetime import datetime, timedelta
from pathlib import Path
from string import ascii_uppercase
from typing import Any
from uuid import UUID

import numpy as np
from django.db import transaction
from django.utils import timezone

from versomark.core.items import ItemContent, Option, SingleChoice, TrueFalse, read_response
from versomark.school.accounts.public import Role, School, Teacher
from versomark.school.bank.public import Details, Item, make_item
from versomark.school.classes.public import SchoolClass, add_students, make_class
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, SeatState, Sitting, SittingState
from versomark.school.editions.public import Edition, Test, freeze, keep_items, make_test
from versomark.school.findings.public import record_history
from versomark.school.records.public import TermDates, keep_terms
from versomark.school.responses.public import Change, TimeSpentOnItem, keep_answers, sign_of_life
from versomark.school.timetable.public import PeriodWanted, keep_periods
from versomark.stand_ins import class_of_students as simulated

from . import every_kind, marks_only, rhythm_cards
from .sign_in import NAME, PASSWORD, SCHOOL, USERNAME

SEED = 8
LASTS = timedelta(minutes=35)
DATA = Path(__file__).with_name("circuits.toml")


class _Draws:
    """Everything random in the demo, from one seed: ids too, so that two loads make the same school."""

    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng(seed)
        self.clock = np.random.default_rng([seed, 1])

    def uuid(self) -> UUID:
        return UUID(bytes=self.rng.bytes(16), version=4)

    def time(
        self,
        student: simulated.SimulatedStudent,
        refs: list[str],
        behind: dict[str, simulated.SimulatedItem],
    ) -> list[TimeSpentOnItem]:
        """On each of the questions, from a generator of its own, so that what they answer does not hang on it."""
        return [
            TimeSpentOnItem(
                UUID(bytes=self.clock.bytes(16), version=4), ref, simulated.seconds_on(student, behind[ref], self.clock)
            )
            for ref in refs
        ]

    def option_id(self) -> str:
        return self.rng.bytes(4).hex()


@transaction.atomic
def load() -> Teacher:
    """Make the demo school, or return its teacher when it is there already."""
    known = Teacher.objects.filter(username=USERNAME).first()
    if known is not None:
        return known
    data = tomllib.loads(DATA.read_text(encoding="utf-8"))
    draws = _Draws(SEED)
    school = School.objects.create(name=SCHOOL, is_demo=True)
    teacher = Teacher.objects.create_teacher(school, NAME, USERNAME, PASSWORD, Role.ADMIN)
    items = [_make_item(teacher, spec, data["ideas"], draws) for spec in data["item"]]
    tests = {spec["title"]: _make_test(teacher, spec, items) for spec in data["test"]}
    classes = {spec["name"]: _make_class(teacher, spec) for spec in data["class"]}
    held_by = {name: idea["held_by"] for name, idea in data["ideas"].items()}
    pupils = {
        name: dict(
            zip(_desks(school_class), simulated.make_class(len(_desks(school_class)), held_by, draws.rng), strict=True)
        )
        for name, school_class in classes.items()
    }
    behind = {str(item.pk): _behind(spec, item) for spec, item in zip(data["item"], items, strict=True)}
    rhythm_cards.load(teacher, classes["Rhythm Club"], np.random.default_rng([SEED, 2]))
    for spec in data["sitting"]:
        # Frozen when it is given, so that what is foretold of it knows what was sat before.
        edition = freeze(tests[spec["test"]])
        _hold(teacher, spec, edition, classes[spec["class"]], pupils[spec["class"]], behind, draws)
    begun = timezone.localdate() - timedelta(days=80)
    halves = [("First half-term", begun, begun + timedelta(days=55))]
    halves.append(("Second half-term", begun + timedelta(days=56), begun + timedelta(days=115)))
    keep_terms(teacher, [TermDates(None, *half) for half in halves])
    keep_periods(teacher, [PeriodWanted(**period) for period in data["period"]])
    every_kind.load(teacher, classes, items, draws.rng)
    marks_only.load(teacher, classes["8 Heron"], draws.rng)
    for sitting in Sitting.objects.filter(state=SittingState.CLOSED):
        record_history(sitting)
    return teacher


def _make_item(teacher: Teacher, spec: dict[str, Any], ideas: dict[str, Any], draws: _Draws) -> Item:
    def note(idea: str | None) -> str:
        return str(ideas[idea]["note"]) if idea else ""

    content: ItemContent
    if spec.get("kind") == "true_false":
        content = TrueFalse(stem=spec["stem"], key=spec["key"], idea_note=note(spec.get("idea")))
    else:
        held = spec.get("ideas", {})
        options = [
            Option(id=draws.option_id(), text=text, idea_note=note(held.get(letter)))
            for letter, text in zip(ascii_uppercase, spec["options"], strict=False)
        ]
        content = SingleChoice(stem=spec["stem"], options=options, key=options[ascii_uppercase.index(spec["key"])].id)
    return make_item(teacher, content, Details([spec["skill"]]))


def _behind(spec: dict[str, Any], item: Item) -> simulated.SimulatedItem:
    """The item as the simulated students meet it: by what is true, not by what the teacher keyed."""
    answers = {answer.letter: answer.id for answer in item.read().answers()}
    if spec.get("kind") == "true_false":
        truth, wrong = ("T", "F") if spec["key"] else ("F", "T")
        ideas = {answers[wrong]: spec["idea"]}
    else:
        truth = spec.get("truth", spec["key"])
        ideas = {answers[letter]: idea for letter, idea in spec.get("ideas", {}).items()}
    return simulated.SimulatedItem(tuple(answers.values()), answers[truth], spec["difficulty"], ideas)


def _make_test(teacher: Teacher, spec: dict[str, Any], items: list[Item]) -> Test:
    """One that no class has sat stays unfinished on the desk."""
    test = make_test(teacher, spec["title"])
    return keep_items(test, spec["title"], spec["instructions"], [items[number - 1].pk for number in spec["items"]])


def _make_class(teacher: Teacher, spec: dict[str, Any]) -> SchoolClass:
    school_class = make_class(teacher, spec["name"])
    add_students(school_class, [name.strip() for name in spec["students"].split(", ")])
    return school_class


def _desks(school_class: SchoolClass) -> list[int]:
    return list(school_class.places.order_by("desk").values_list("desk", flat=True))


def _hold(
    teacher: Teacher,
    spec: dict[str, Any],
    edition: Edition,
    school_class: SchoolClass,
    pupils: dict[int, simulated.SimulatedStudent],
    behind: dict[str, simulated.SimulatedItem],
    draws: _Draws,
) -> None:
    """One sitting: planned ahead, running now, or sat on a day in the past."""
    today = timezone.localtime().replace(hour=9, minute=40, second=0, microsecond=0)
    when = today + timedelta(days=spec["days"])
    sitting = delivery.plan(teacher, edition, school_class, when)
    if spec["days"] > 0:
        return
    delivery.open_sitting(sitting)
    running = spec.get("open")
    refs = [item.ref for item in edition.read().items()]
    for place, seat in enumerate(sitting.seats.select_related("sitting__edition", "student").order_by("desk")):
        if seat.desk in spec.get("away", []) or (running and place >= running["handed_in"] + running["working"]):
            continue
        delivery.begin(seat)
        unfinished = running and place >= running["handed_in"]
        given = simulated.answer_paper(pupils[seat.desk], [behind[ref] for ref in refs], draws.rng)
        count = int(draws.rng.integers(1, len(refs))) if unfinished else len(refs)
        _sit(seat, refs[:count], given[:count], draws)
        if not unfinished:
            reached = [ref for at, ref in enumerate(refs) if at < pupils[seat.desk].reaches * len(refs)]
            # Time with a question is time since they began.
            sitting.seats.filter(pk=seat.pk).update(started_at=timezone.now() - LASTS)
            sign_of_life(seat.pk, "", [], draws.time(pupils[seat.desk], reached, behind))
            delivery.hand_in(seat.pk)
    if running:
        return
    delivery.close_sitting(sitting)
    _move_to_the_past(sitting, when)
    record_history(sitting)


def _sit(seat: Seat, refs: list[str], given: list[str | None], draws: _Draws) -> None:
    kinds = {item.ref: item.content.kind for item in seat.sitting.edition.read().items()}
    changes = [
        Change(draws.uuid(), sequence, ref, read_response(_response(kinds[ref], option)), come_back=False)
        for sequence, (ref, option) in enumerate(zip(refs, given, strict=True), start=1)
        if option is not None
    ]
    if changes:
        keep_answers(seat.pk, changes)


def _response(kind: str, option: str) -> dict[str, object]:
    return {"kind": kind, "value": option == "true"} if kind == "true_false" else {"kind": kind, "option": option}


def _move_to_the_past(sitting: Sitting, when: datetime) -> None:
    """The services stamp what happens with the clock; the demo's past happened some weeks ago."""
    end = when + LASTS
    Sitting.objects.filter(pk=sitting.pk).update(made_at=when - timedelta(days=1), opened_at=when, closed_at=end)
    sitting.seats.filter(state=SeatState.HANDED_IN).update(started_at=when, handed_in_at=end, last_seen=end)
