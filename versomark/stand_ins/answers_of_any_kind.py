"""A simulated student's answer to a question of any kind, for the demo and for rehearsals.

The model: each part of a question (the whole of it, where it has one part) is known with probability
1 / (1 + exp(−1.6 (θ − difficulty))), as in `class_of_students`. Who does not know a part gives one of the wrong
answers the teacher wrote an idea note for, or else another wrong one; one part in twenty is left out. Written answers
are one of three plain sentences, by ability. Everything is drawn from the generator that is passed in.
"""

from collections.abc import Callable
from typing import Any

import numpy as np

from versomark.core.items import EditionContent, ItemResponse, read_response
from versomark.core.items.numbers import exact, in_words

from .class_of_students import LEAVES_OUT, SLOPE

Draw = Callable[[], bool]
Content = Any  # each of the functions below knows its own model of core.items
WRITTEN = (
    "The first lamp takes most of the current, so the second one has less.",
    "The current is the same in both lamps because they are in one loop.",
    "The current is the same all round, like a chain. What the lamps take is energy, and they are alike, so both are "
    "equally bright.",
)


def respond(
    content: EditionContent, ability: float, difficulty: float, rng: np.random.Generator
) -> ItemResponse | None:
    """The response, or None where nothing is given. Files and performances give nothing through a device."""
    make = _KINDS.get(content.kind)
    if make is None or rng.random() < LEAVES_OUT:
        return None
    chance = 1 / (1 + np.exp(-SLOPE * (ability - difficulty)))
    parts = make(content, lambda: bool(rng.random() < chance), rng)
    if content.kind == "written":
        parts = {"text": WRITTEN[int(np.clip(np.floor(ability + 1.5), 0, 2))]}
    return read_response({"kind": content.kind, **parts}) if parts else None


def _of(choices: list[Any], rng: np.random.Generator) -> Any:
    return choices[int(rng.integers(len(choices)))]


def _wrong(options: list[Any], rng: np.random.Generator) -> Any:
    """One with an idea note two times out of three, where there is one."""
    noted = [option for option in options if option.idea_note]
    return _of(noted if noted and rng.random() < 2 / 3 else options, rng)


def _single_choice(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    wrong = [option for option in content.options if option.id != content.key]
    return {"option": content.key if knows() else _wrong(wrong, rng).id}


def _several_answers(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    picked = [o.id for o in content.options if (o.id in content.keys) == knows()]
    return {"options": picked} if picked else {}


def _true_false(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    return {"value": content.key if knows() else not content.key}


def _numeric(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    if knows():
        unit = f" {content.unit}" if content.unit_rule == "required" and rng.random() < 0.8 else ""
        return {"text": f"{in_words(float(exact(content.value)))}{unit}"}
    if content.ideas and rng.random() < 2 / 3:
        idea = _of(content.ideas, rng)
        return {"text": f"{in_words(idea.low if idea.low is not None else idea.high)} {content.unit}".strip()}
    return {"text": in_words(round(float(content.value) * float(_of([0.1, 0.5, 2, 10], rng)), 3))}


def _typed(wording: Content, knows: Draw, rng: np.random.Generator) -> str:
    if knows():
        word = str(wording.accepted[0])
        return word if rng.random() < 0.85 else word.capitalize()
    return _of([wrong.text for wrong in wording.wrong] or ["energy", "power"], rng)  # type: ignore[no-any-return]


def _short_text(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    return {"text": _typed(content.wording, knows, rng)}


def _gaps(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    given = {}
    for gap in content.gaps:
        wrong = [choice for choice in gap.choices if choice.id != gap.key]
        given[gap.name] = (
            (gap.key if knows() else _wrong(wrong, rng).id) if gap.choices else _typed(gap.wording, knows, rng)
        )
    return {"gaps": given}


def _matching(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    ids = [choice.id for choice in content.choices]
    return {"pairs": {row.id: row.key if knows() else _of(ids, rng) for row in content.rows}}


def _ordering(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    order = [entry.id for entry in content.entries]
    for at in range(len(order) - 1):
        if not knows():
            order[at], order[at + 1] = order[at + 1], order[at]
    return {"order": order}


def _expression(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    wrong = [entry.formula for entry in content.wrong] or ["1"]
    return {"text": content.key if knows() else _of(wrong, rng)}


def _picture_point(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    right = knows()
    regions = [region for region in content.regions if region.right == right]
    if not regions:
        return {"x": round(float(rng.random()), 3), "y": round(float(rng.random()), 3)}
    region = _of(regions, rng)
    return {
        "x": round(region.x + region.width * float(rng.uniform(0.3, 0.7)), 3),
        "y": round(region.y + region.height * float(rng.uniform(0.3, 0.7)), 3),
    }


def _written(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    return {"text": WRITTEN[0]}


def _marks_only(content: Content, knows: Draw, rng: np.random.Generator) -> dict[str, Any]:
    step = 0.5 if content.half_marks else 1
    return {"points": step * sum(knows() for _ in range(round(content.marks / step)))}


_KINDS: dict[str, Callable[[Content, Draw, np.random.Generator], dict[str, Any]]] = {
    "single_choice": _single_choice,
    "several_answers": _several_answers,
    "true_false": _true_false,
    "numeric": _numeric,
    "short_text": _short_text,
    "gaps": _gaps,
    "matching": _matching,
    "ordering": _ordering,
    "expression": _expression,
    "picture_point": _picture_point,
    "written": _written,
    "marks_only": _marks_only,
}
