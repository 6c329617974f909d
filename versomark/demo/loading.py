"""Kestrel Bay School: made up, with real questions, sat by simulated students through the students' own door."""

import tomllib
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from versomark.school.accounts.public import Role, School, Teacher
from versomark.school.bank.public import items_of
from versomark.school.classes.public import SchoolClass, add_students, make_class
from versomark.school.editions.public import freeze
from versomark.school.records.public import TermDates, keep_terms
from versomark.school.timetable.public import PeriodWanted, keep_periods
from versomark.stand_ins import class_of_students as simulated

from . import every_kind, large, marks_only, rhythm_cards, year
from .questions import Draws, behind_item, make_item_of, make_test_of
from .sat import hold
from .sign_in import NAME, PASSWORD, SCHOOL, USERNAME

SEED = 8
# From the day on which the term of today began.
TERMS = (("First", -190, -106), ("Second", -95, -11), ("Third", 0, 115))
DATA = Path(__file__).with_name("circuits.toml")


@transaction.atomic
def load() -> Teacher:
    """Make the demo school, or return its teacher when it is there already."""
    known = Teacher.objects.filter(username=USERNAME).first()
    if known is not None:
        return known
    data = tomllib.loads(DATA.read_text(encoding="utf-8"))
    draws = Draws(SEED)
    school = School.objects.create(name=SCHOOL, is_demo=True)
    teacher = Teacher.objects.create_teacher(school, NAME, USERNAME, PASSWORD, Role.ADMIN)
    items = [make_item_of(teacher, spec, data["ideas"], draws) for spec in data["item"]]
    tests = {spec["title"]: make_test_of(teacher, spec, items) for spec in data["test"]}
    classes = {spec["name"]: _make_class(teacher, spec) for spec in data["class"]}
    held_by = {name: idea["held_by"] for name, idea in data["ideas"].items()}
    pupils = {
        name: dict(
            zip(_desks(school_class), simulated.make_class(len(_desks(school_class)), held_by, draws.rng), strict=True)
        )
        for name, school_class in classes.items()
    }
    behind = {str(item.pk): behind_item(spec, item) for spec, item in zip(data["item"], items, strict=True)}
    rhythm_cards.load(teacher, classes["Rhythm Club"], np.random.default_rng([SEED, 2]))
    for spec in data["sitting"]:
        # Frozen when it is given, so that what is foretold of it knows what was sat before.
        edition = freeze(tests[spec["test"]])
        hold(teacher, spec, edition, classes[spec["class"]], pupils[spec["class"]], behind, draws)
    begun = timezone.localdate() - timedelta(days=80)
    terms = [
        (f"{name} term", begun + timedelta(days=first), begun + timedelta(days=last)) for name, first, last in TERMS
    ]
    keep_terms(teacher, [TermDates(None, *term) for term in terms])
    keep_periods(teacher, [PeriodWanted(**period) for period in data["period"]])
    every_kind.load(teacher, classes, items, draws.rng)
    marks_only.load(teacher, classes["8 Heron"], draws.rng)
    year.load(teacher, classes, pupils)
    return teacher


def grow(teacher: Teacher) -> None:
    """The demo school at the size of a whole school; see `large`."""
    data = tomllib.loads(DATA.read_text(encoding="utf-8"))
    titles = {spec["stem"]: spec for spec in data["item"]}
    asked = [
        (content, behind_item(titles[content.stem], item))
        for item in items_of(teacher).order_by("made_at", "pk")
        if (content := item.read()).stem in titles
    ]
    large.load(teacher, asked, {name: idea["held_by"] for name, idea in data["ideas"].items()})


def _make_class(teacher: Teacher, spec: dict[str, Any]) -> SchoolClass:
    school_class = make_class(teacher, spec["name"])
    add_students(school_class, [name.strip() for name in spec["students"].split(", ")])
    return school_class


def _desks(school_class: SchoolClass) -> list[int]:
    return list(school_class.places.order_by("desk").values_list("desk", flat=True))
