"""What lies behind Kestrel Bay School: two terms of other topics, and last year's class.

Ideas that many held were taught against and asked about again; the ends of topics were marked, one of them by two
teachers, and given back.
"""

import tomllib
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np

from versomark.core.items import read_content
from versomark.core.items.by_rubric import WrittenResponse
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Details, Item, Skill, make_item
from versomark.school.classes.public import SchoolClass, add_students, archive_class, make_class
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.editions.public import Test, freeze, keep_items, make_test
from versomark.school.findings.public import record_history
from versomark.school.grading.public import MarkGiven, MarkingPass, SecondPlan, Shown, give, plan_second, release
from versomark.school.responses.public import responses_of
from versomark.stand_ins import class_of_students as simulated

from .questions import Draws, behind_item, make_item_of
from .sat import LASTS, hold

TOPICS = ("particles", "forces")
LAST_YEAR = "8 Heron, last year"
STUDENTS = """Aaron Pike, Bea Lindqvist, Caleb Osei, Daphne Roux, Ezra Stein, Flora Madden, Gus Petersen, Hafsa Malik,
Igor Zelenka, Juno Abara, Kit Rowan, Lila Moreau, Marek Dudek, Nina Castellano, Omar Sayed, Phoebe Lang, Rui Tavares,
Signe Holm, Theo Baxter, Ulla Keller, Vera Popova, Wim Jansen"""
SECOND_TAKES_OFF, SLIPS = 0.3, 0.08
HANDED_BACK_AFTER, FROM_HOME = timedelta(days=4), timedelta(hours=8)
Pupils = dict[int, simulated.SimulatedStudent]


def load(teacher: Teacher, classes: dict[str, SchoolClass], pupils: dict[str, Pupils]) -> None:
    """The students are those of this term, with the abilities they have there; what they believe of each topic is drawn
    for it. Everything comes from a generator of its own, so that this term's answers do not hang on it."""
    draws = Draws((8, 3))
    last_year = make_class(teacher, LAST_YEAR)
    places = add_students(last_year, [name.strip() for name in STUDENTS.split(",")])
    before = simulated.make_class(len(places), {}, draws.rng)
    everyone = {**classes, "last year": last_year}
    able = {**pupils, "last year": dict(zip((place.desk for place in places), before, strict=True))}
    for name in TOPICS:
        _topic(
            teacher, tomllib.loads(Path(__file__).with_name(f"{name}.toml").read_text("utf-8")), everyone, able, draws
        )
    archive_class(last_year, archived=True)


def _topic(
    teacher: Teacher,
    data: dict[str, Any],
    classes: dict[str, SchoolClass],
    able: dict[str, Pupils],
    draws: Draws,
) -> None:
    items = [make_item_of(teacher, spec, data["ideas"], draws) for spec in data["item"]]
    in_words = {str(_written(teacher, spec).pk): spec for spec in data.get("written", [])}
    _group_skills(teacher, data)
    behind = {str(item.pk): behind_item(spec, item) for spec, item in zip(data["item"], items, strict=True)}
    tests = {spec["title"]: _test(teacher, spec, items, list(in_words)) for spec in data["test"]}
    held_by = {name: idea["held_by"] for name, idea in data["ideas"].items()}
    believing = {
        name: {
            desk: simulated.SimulatedStudent(
                student.ability, simulated.draw_ideas(student.ability, held_by, draws.rng), student.reaches
            )
            for desk, student in pupils.items()
        }
        for name, pupils in able.items()
    }
    for spec in sorted(data["sitting"], key=lambda spec: spec["days"]):
        pupils = believing[spec["class"]]
        for desk, student in pupils.items():
            pupils[desk] = simulated.after_teaching(student, spec.get("taught", []), draws.rng)
        edition = freeze(tests[spec["test"]])
        asked = {item.ref for item in edition.read().items()}
        texts = {
            ref: [answer["text"] for answer in question["answers"]]
            for ref, question in in_words.items()
            if ref in asked
        }
        sitting = hold(teacher, spec, edition, classes[spec["class"]], pupils, behind, draws, texts)
        _taken_home(sitting, spec.get("home_days", 0), draws)
        _marked(teacher, sitting, {ref: in_words[ref] for ref in texts}, spec.get("second_marker", False), draws)
        if spec.get("shown"):
            release(teacher, sitting, Shown(marks=True, answers=True))
        _on_its_day(sitting)


def _written(teacher: Teacher, spec: dict[str, Any]) -> Item:
    rubric = {"criteria": spec["criteria"]}
    content = {"kind": "written", "stem": spec["stem"], "marks": spec["marks"], "rubric": rubric, "lines": 6}
    return make_item(teacher, read_content(content), Details([spec["skill"]]))


def _group_skills(teacher: Teacher, data: dict[str, Any]) -> None:
    """The skills of the topic below one name, as a curriculum has them."""
    names = {spec["skill"] for spec in [*data["item"], *data.get("written", [])]}
    top = Skill.objects.create(owner=teacher, **data["skills"])
    Skill.objects.filter(owner=teacher, name__in=names).update(parent=top)


def _test(teacher: Teacher, spec: dict[str, Any], items: list[Item], in_words: list[str]) -> Test:
    chosen = [items[number - 1].pk for number in spec["items"]]
    chosen += [Item.objects.get(pk=in_words[number - 1]).pk for number in spec.get("written", [])]
    return keep_items(make_test(teacher, spec["title"]), spec["title"], spec["instructions"], chosen)


def _taken_home(sitting: Sitting, days: int, draws: Draws) -> None:
    """Open for some days; each sat it on one of the evenings."""
    if not days:
        return
    sitting.refresh_from_db()
    assert sitting.opened_at is not None
    ends = sitting.opened_at + timedelta(days=days)
    Sitting.objects.filter(pk=sitting.pk).update(opens_itself=True, closes_at=ends, closed_at=ends)
    for seat in sitting.seats.filter(state="handed in"):
        began = sitting.opened_at + FROM_HOME + timedelta(days=int(draws.rng.integers(days)))
        began += timedelta(minutes=int(draws.rng.integers(90)))
        Seat.objects.filter(pk=seat.pk).update(started_at=began, handed_in_at=began + LASTS / 2, last_seen=began)


def _marked(teacher: Teacher, sitting: Sitting, in_words: dict[str, dict[str, Any]], twice: bool, draws: Draws) -> None:
    """The teacher gives what the rubric says, with a slip now and then; the colleague is a little harder."""
    if not in_words:
        return
    if twice:
        plan_second(teacher, sitting, SecondPlan("all"))
    colleague = Teacher.objects.get(school=teacher.school, username="varga")
    seats = sitting.seats.select_related("sitting__edition").filter(state="handed in").order_by("desk")
    given = responses_of([seat.pk for seat in seats])
    for seat in seats:
        for ref, question in in_words.items():
            response = given[str(seat.pk)].get(ref)
            if not isinstance(response, WrittenResponse):
                continue
            answer = next(answer for answer in question["answers"] if answer["text"] == response.text)
            first = _less(answer["points"], SLIPS, draws.rng)
            give(teacher, seat, ref, MarkGiven(first, answer.get("comment", ""), False, None))
            if twice:
                second = _less(answer["points"], SECOND_TAKES_OFF, draws.rng)
                give(colleague, seat, ref, MarkGiven(second, "", False, None, MarkingPass.SECOND))
                if abs(sum(first.values()) - sum(second.values())) > SecondPlan("all").tolerance:
                    # What they did not agree on they looked at again, and the rubric decided.
                    give(teacher, seat, ref, MarkGiven(answer["points"], "", False, None, MarkingPass.AGREED))
    record_history(sitting)


def _less(points: dict[str, float], chance: float, rng: np.random.Generator) -> dict[str, float]:
    """Now and then a point less for a criterion."""
    return {name: max(most - (rng.random() < chance), 0) for name, most in points.items()}


def _on_its_day(sitting: Sitting) -> None:
    """What was done with it was done then."""
    sitting.refresh_from_db()
    assert sitting.closed_at is not None
    back = sitting.closed_at + HANDED_BACK_AFTER
    sitting.releases.update(at=back)
    sitting.events.update(at=back)
    for seat in sitting.seats.all():
        seat.answers.update(kept_at=seat.handed_in_at or sitting.closed_at)
        seat.marks.update(at=back)
