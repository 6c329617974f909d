"""How an invented student answers: by ability, and by the wrong ideas they hold.

An idea is what the teacher wrote beside a wrong answer. Each student holds each idea of a test or does not, by the
model of `stand_ins.class_of_students`; where a question offers the answer of an idea they hold, they give it four times
out of five. Everything else is `stand_ins.answers_of_any_kind`. One idea of each question is common, the others are
rare, as classes have it; which one, how common, and how hard a question is, is drawn anew for each sitting, so that
nothing is arranged to be found.
"""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from versomark.core.editions import EditionItem
from versomark.core.items import ItemResponse, read_response
from versomark.core.items.numbers import in_words
from versomark.core.language import _
from versomark.stand_ins.answers_of_any_kind import respond
from versomark.stand_ins.class_of_students import IDEA_WINS, SimulatedStudent, make_class

COMMON, RARE = (0.05, 0.5), (0.01, 0.08)
"""Between these shares of a class an idea is held."""
DIFFICULTY = (-0.5, 0.8)
"""Mean and standard deviation of how hard a question is, on the scale of the students' ability."""


def answers_of_class(
    items: Sequence[EditionItem], students: int, rng: np.random.Generator
) -> list[dict[str, ItemResponse]]:
    """One entry a student: what they give, by the question's ref; what they leave out is not in it."""
    offered = {item.ref: _wrong_by_idea(item.content) for item in items}
    held_by: dict[str, float] = {}
    for wrong in offered.values():
        for place, idea in enumerate(rng.permutation(list(wrong))):
            held_by.setdefault(str(idea), float(rng.uniform(*(RARE if place else COMMON))))
    hardness = {item.ref: float(rng.normal(*DIFFICULTY)) for item in items}
    given = []
    for student in make_class(students, held_by, rng):
        reached = items[: int(np.ceil(student.reaches * len(items)))]
        answers = {item.ref: _answer(item, student, offered[item.ref], hardness[item.ref], rng) for item in reached}
        given.append({ref: answer for ref, answer in answers.items() if answer is not None})
    return given


def _answer(
    item: EditionItem,
    student: SimulatedStudent,
    wrong: Mapping[str, dict[str, Any]],
    hardness: float,
    rng: np.random.Generator,
) -> ItemResponse | None:
    drawn_to = [answer for idea, answer in wrong.items() if idea in student.ideas]
    if drawn_to and rng.random() < IDEA_WINS:
        return read_response({"kind": item.content.kind, **drawn_to[int(rng.integers(len(drawn_to)))]})
    response = respond(item.content, student.ability, hardness, rng)
    if response is not None and item.content.kind == "written":
        return read_response({"kind": "written", "text": _sentence(student.ability)})
    return response


def _wrong_by_idea(content: Any) -> dict[str, dict[str, Any]]:
    """idea -> the wrong answer that shows it, for kinds in which one answer does."""
    match content.kind:
        case "single_choice":
            return {o.idea_note: {"option": o.id} for o in content.options if o.idea_note and o.id != content.key}
        case "true_false":
            return {content.idea_note: {"value": not content.key}} if content.idea_note else {}
        case "numeric":
            return {
                idea.idea_note: {"text": f"{in_words(idea.low if idea.low is not None else idea.high)}"}
                for idea in content.ideas
                if idea.idea_note
            }
        case _:
            return {}


def _sentence(ability: float) -> str:
    """Three to choose from: a person has to mark them, and no program pretends to have thought about the question."""
    if ability < -0.5:
        return _("(Invented answer.) I am not sure.")
    if ability < 0.5:
        return _("(Invented answer.) It is so because we did it like this in class.")
    return _("(Invented answer.) First I looked at what is given, then at what is asked, and went on step by step.")
