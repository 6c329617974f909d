"""The part of Kestrel Bay School with one question of every kind: a test in two forms, sat, and a lesson."""

import tomllib
from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any
from uuid import UUID

import numpy as np
from django.utils import timezone
from PIL import Image, ImageDraw

from versomark.core.editions import DraftSection, DrawRule, Layout, PlacedItem, PlacedPage, PlanRow, TeachingPage
from versomark.core.items import read_content
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Details, Item, Skill, keep_picture, make_item, make_stimulus
from versomark.school.classes.public import Enrolment, SchoolClass, keep_group, share_class, tag_students
from versomark.school.delivery import public as delivery
from versomark.school.editions.public import Test, freeze, keep_test, make_test, share_test
from versomark.school.findings.public import record_history
from versomark.school.responses.public import Change, keep_answers
from versomark.stand_ins.answers_of_any_kind import respond

from .sat import move_to_the_past

DATA = Path(__file__).with_name("every_kind.toml")
TITLE = "Circuits, a bit of everything"
DAYS_AGO = 9
AWAY = (7, 19)


def load(teacher: Teacher, classes: dict[str, SchoolClass], items: list[Item], rng: np.random.Generator) -> None:
    data = tomllib.loads(DATA.read_text(encoding="utf-8"))
    item_of_kind = {item.kind: item for item in items}
    questions = _questions(teacher, data)
    difficulty = {str(item.pk): spec["difficulty"] for item, spec in zip(questions, data["question"], strict=True)}
    _skill_tree(teacher)
    test = _test(teacher, [item_of_kind["single_choice"], item_of_kind["true_false"], *questions])
    _sit(teacher, test, classes["8 Tern"], difficulty, rng)
    _lesson(teacher, data["lesson"], items)
    _people(teacher, classes)


def _questions(teacher: Teacher, data: dict[str, Any]) -> list[Item]:
    stimuli = {name: make_stimulus(teacher, spec["title"], spec["body"]) for name, spec in data["stimulus"].items()}
    items = []
    for spec in data["question"]:
        content = dict(spec["content"])
        if "picture" in spec:
            picture = keep_picture(teacher, "circuit.png", circuit_picture())
            content |= {"picture": str(picture.pk), "ratio": picture.width / picture.height}
        stimulus = stimuli[spec["stimulus"]].pk if "stimulus" in spec else None
        details = Details(spec["skills"], spec.get("keywords", []), spec.get("source", ""), "O. Brandt", stimulus)
        items.append(make_item(teacher, read_content(content), details))
    return items


def circuit_picture() -> bytes:
    """A battery at the bottom, two branches with a lamp each at the top: drawn here, line by line."""
    image = Image.new("RGB", (1000, 660), "white")
    draw = ImageDraw.Draw(image)
    ink, line = "#1b2330", 7

    def wire(*points: tuple[int, int]) -> None:
        draw.line(points, fill=ink, width=line, joint="curve")

    wire((450, 560), (160, 560), (160, 270), (300, 270))
    wire((550, 560), (840, 560), (840, 270), (700, 270))
    for y in (110, 270):
        wire((300, 270), (300, y), (450, y))
        wire((700, 270), (700, y), (550, y))
        draw.ellipse((450, y - 50, 550, y + 50), outline=ink, width=line)
        draw.line((465, y - 35, 535, y + 35), fill=ink, width=line)
        draw.line((465, y + 35, 535, y - 35), fill=ink, width=line)
    draw.line((450, 490, 450, 630), fill=ink, width=line)
    draw.line((550, 525, 550, 595), fill=ink, width=3 * line)
    wire((450, 560), (450, 560))
    out = BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def _skill_tree(teacher: Teacher) -> None:
    top = Skill.objects.create(owner=teacher, name="Electricity", code="8.E")
    Skill.objects.filter(owner=teacher, parent=None).exclude(pk=top.pk).update(parent=top)


def _test(teacher: Teacher, items: list[Item]) -> Test:
    machine = [item for item in items if item.kind not in ("written", "file", "performance")]
    by_hand = [item for item in items if item not in machine]

    def entries(items: list[Item]) -> list[PlacedItem | PlacedPage]:
        return [PlacedItem(ref=str(item.pk)) for item in items]

    layout = Layout(
        sections=[
            DraftSection(ref="1", title="Short questions", entries=entries(machine)),
            DraftSection(
                ref="2",
                title="In your own words and with your own hands",
                instructions="Take your time over these.",
                entries=entries(by_hand),
                new_page=True,
            ),
        ],
        plan=[PlanRow(skill="Ohm’s law", marks=5), PlanRow(skill="Meters", marks=8)],
        total_wanted=35,
        minutes=45,
        forms=2,
    )
    test = keep_test(make_test(teacher, TITLE), TITLE, "You may go back to any question until you hand in.", layout)
    freeze(test)
    return share_test(test, "Electric circuits", "Every kind of question once, with idea notes; 45 minutes.", True)


def _sit(
    teacher: Teacher, test: Test, school_class: SchoolClass, difficulty: dict[str, float], rng: np.random.Generator
) -> None:
    """The whole class but two, through the students' own door, nine days ago."""
    when = timezone.localtime().replace(hour=11, minute=20, second=0, microsecond=0) - timedelta(days=DAYS_AGO)
    edition = test.editions.get()
    content = edition.read()
    sitting = delivery.open_sitting(delivery.plan(teacher, edition, school_class, when))
    for seat in sitting.seats.select_related("sitting__edition", "student").order_by("desk"):
        if seat.desk in AWAY:
            continue
        delivery.begin(seat)
        ability = float(rng.standard_normal())
        changes = []
        for sequence, item in enumerate(content.items(), start=1):
            response = respond(item.content, ability, difficulty.get(item.ref, 0.0), rng)
            if response is not None:
                client_id = UUID(bytes=rng.bytes(16), version=4)
                changes.append(Change(client_id, sequence, item.ref, response, come_back=False))
        keep_answers(seat.pk, changes)
        delivery.hand_in(seat.pk)
    delivery.close_sitting(sitting)
    move_to_the_past(sitting, when)
    record_history(sitting)


def _lesson(teacher: Teacher, spec: dict[str, Any], items: list[Item]) -> None:
    pages = [TeachingPage(ref=f"a{at}", **spec[name]) for at, name in enumerate(("page_one", "page_two"))]
    layout = Layout(
        sections=[
            DraftSection(
                ref="1",
                entries=[
                    PlacedPage(page=pages[0]),
                    PlacedItem(ref=str(items[0].pk)),
                    PlacedPage(page=pages[1]),
                    PlacedItem(ref=str(items[1].pk)),
                ],
                draws=[DrawRule(skill="Current in one loop", count=2)],
            )
        ]
    )
    keep_test(make_test(teacher, spec["title"]), spec["title"], spec["instructions"], layout)


def _people(teacher: Teacher, classes: dict[str, SchoolClass]) -> None:
    """Needs, a group, tags, and a colleague who shares a class."""
    heron, tern = classes["8 Heron"], classes["8 Tern"]

    def at(school_class: SchoolClass, desk: int) -> Enrolment:
        return school_class.places.select_related("student").get(desk=desk)

    for school_class, desk, needs in (
        (heron, 4, {"extra_time": 25}),
        (heron, 9, {"large_print": True, "ground": "cream"}),
        (heron, 18, {"read_aloud": "on", "extra_time": 25}),
        (tern, 12, {"quiet_start": True}),
        (tern, 24, {"ground": "blue"}),
    ):
        student = at(school_class, desk).student
        for name, value in needs.items():
            setattr(student, name, value)
        student.save()
    tag_students(teacher, [at(heron, desk).student for desk in (2, 9, 14, 21)], ["joined this year"])
    keep_group(heron, "Window table", [at(heron, desk).student_id for desk in (1, 2, 3, 4, 5, 6)])
    colleague = Teacher.objects.create_teacher(teacher.school, "P. Varga", "varga", "kestrel-bay")
    share_class(heron, colleague.pk, may_mark=True, may_run=False)
