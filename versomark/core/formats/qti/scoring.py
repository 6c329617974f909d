"""Whether an item of another system is scored as ours would be: both score the same responses, and are compared.

Nobody reads a rule's shape to guess what it means. The item's own rules give the points of every option, of each
accepted and each wrong word, of values at and beyond each tolerance, of pairs and orders changed one at a time; the
way of scoring of ours that gives the same shares is taken. Where none does, the question arrives without a key.
"""

import itertools
import math
from collections.abc import Callable, Iterator
from typing import Any

from pydantic import ValidationError

from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.items import ItemResponse, read_content, read_response
from versomark.core.language import _, in_figures

from .processing import NotUnderstood, Value
from .source import Source

Stored = dict[str, Any]
Probe = tuple[ItemResponse, dict[str, Value]]
"""One response: as ours is stored, and as the variables of the item hold it."""
UNKNOWN = "zqx qzx"
"""A word that no key accepts."""
MOST_PROBES = 600


def with_its_scoring(source: Source, stored: Stored) -> Stored:
    """The question with a way of scoring that gives what the item's rules give, or without a key.

    Raises
    ------
    Refused
        When the rules cannot be had and the kind of question cannot stand without a key.
    """
    kind = stored["kind"]
    if kind not in _PROBES:
        if source.rules.own:
            source.lost.append(_("a rule of scoring of its own: here a person marks it"))
        return stored
    if not source.declares_a_key() and not source.rules.own:
        return stored
    try:
        probes = list(itertools.islice(_PROBES[kind](source, stored), MOST_PROBES))
        theirs = [source.rules.score(values) for _, values in probes]
    except NotUnderstood as reason:
        return _without_key(
            source, stored, _("its rule of scoring uses what is not known here ({reason})", reason=reason)
        )
    best = max(theirs, default=0.0)
    if not math.isfinite(best) or best <= 0:
        return _without_key(source, stored, _("by its own rules no answer earns anything"))
    worth = min(100.0, max(0.5, round(best * 2) / 2))
    for candidate in _candidates(source, stored, probes, theirs):
        ours = read_content(candidate | {"marks": worth})
        if all(
            abs((ours.score(response) or 0.0) / worth - points / best) < 1e-6
            for (response, _), points in zip(probes, theirs, strict=True)
        ):
            if abs(worth - best) > 1e-9:
                source.lost.append(
                    _(
                        "its worth of {best}: it is worth {worth} here",
                        best=in_figures(best, "g"),
                        worth=in_figures(worth, "g"),
                    )
                )
            return candidate | {"marks": worth}
    return _without_key(source, stored, _("its rule of scoring is not one of those here"))


def _without_key(source: Source, stored: Stored, reason: str) -> Stored:
    try:
        key = read_content(stored | {"marks": 1}).key_words()
    except ValidationError:
        key = ""
    if stored["kind"] == "ordering":
        raise UnreadableFileError(_("Its order cannot be scored: {reason}.", reason=reason))
    source.lost.append(
        _("its key ({key}), since {reason}", key=key[:80], reason=reason)
        if key
        else _("its key, since {reason}", reason=reason)
    )
    return _KEYLESS[stored["kind"]](stored)


def _no_wording(wording: Stored) -> Stored:
    return wording | {"accepted": [], "wrong": [entry for entry in wording["wrong"] if entry["idea_note"]]}


_KEYLESS: dict[str, Callable[[Stored], Stored]] = {
    "single_choice": lambda stored: stored | {"key": None},
    "several_answers": lambda stored: stored | {"keys": []},
    "true_false": lambda stored: stored | {"key": None},
    "numeric": lambda stored: stored | {"value": None},
    "short_text": lambda stored: stored | {"wording": _no_wording(stored["wording"])},
    "gaps": lambda stored: (
        stored
        | {
            "gaps": [
                gap | ({"key": None} if gap.get("choices") else {"wording": _no_wording(gap["wording"])})
                for gap in stored["gaps"]
            ]
        }
    ),
    "matching": lambda stored: stored | {"rows": [row | {"key": None} for row in stored["rows"]]},
    "picture_point": lambda stored: stored | {"regions": [region | {"right": False} for region in stored["regions"]]},
}


# What is asked of both


def _given(kind: str, **values: Any) -> ItemResponse:
    return read_response({"kind": kind, **values})


def _single(source: Source, stored: Stored) -> Iterator[Probe]:
    for option in stored["options"]:
        yield _given("single_choice", option=option["id"]), source.answers(option["id"])


def _several(source: Source, stored: Stored) -> Iterator[Probe]:
    ids = [option["id"] for option in stored["options"]]
    for size in range(1, len(ids) + 1):
        for some in itertools.combinations(ids, size):
            yield _given("several_answers", options=list(some)), source.answers(list(some))


def _true_false(source: Source, stored: Stored) -> Iterator[Probe]:
    for value in (True, False):
        yield _given("true_false", value=value), source.answers(str(value).lower())


def _numeric(source: Source, stored: Stored) -> Iterator[Probe]:
    value, amount = stored["value"], stored.get("amount", 0.0)
    if value is None:
        value = 0.0
    if stored.get("tolerance") == "percent":
        amount = abs(value) * amount / 100
    elif stored.get("tolerance") == "figures":
        amount = 10.0 ** (math.floor(math.log10(abs(value) or 1)) - amount + 1) / 2
    steps = [0.0] + [sign * part for part in (0.4, 0.9, 1.1, 2.5, 7) for sign in (1, -1)]
    reach = amount or max(1e-6, abs(value) * 1e-3)
    for given in {value + reach * step for step in steps} | {-value, value * 10, 0.0, 1.0}:
        yield _given("numeric", text=repr(given)), source.answers(given)


def _typed(wording: Stored) -> list[str]:
    accepted = [text for text in wording["accepted"] if text]
    wrong = [entry["text"] for entry in wording["wrong"] if entry["text"]]
    return list(dict.fromkeys([*accepted, *(text.swapcase() for text in accepted), *wrong, UNKNOWN]))


def _short_text(source: Source, stored: Stored) -> Iterator[Probe]:
    for text in _typed(stored["wording"]):
        yield _given("short_text", text=text), source.answers(text)


def _gaps(source: Source, stored: Stored) -> Iterator[Probe]:
    values, right, wrong = dict[str, list[str]](), dict[str, str](), dict[str, str]()
    for gap in stored["gaps"]:
        name = gap["name"]
        if gap.get("choices"):
            values[name] = [choice["id"] for choice in gap["choices"]]
            right[name] = gap["key"] or values[name][0]
            wrong[name] = next((entry for entry in values[name] if entry != right[name]), right[name])
        else:
            values[name] = _typed(gap["wording"])
            right[name], wrong[name] = values[name][0], UNKNOWN
    for others in (right, wrong):
        for name, possible in values.items():
            for value in possible:
                given = others | {name: value}
                yield _given("gaps", gaps=given), source.gap_answers(given)


def _matching(source: Source, stored: Stored) -> Iterator[Probe]:
    rows, choices = [row["id"] for row in stored["rows"]], [choice["id"] for choice in stored["choices"]]
    right = {row["id"]: row["key"] or choices[0] for row in stored["rows"]}
    wrong = {row: next((choice for choice in choices if choice != right[row]), right[row]) for row in rows}
    for others in (right, wrong):
        for row, choice in itertools.product(rows, choices):
            pairs = others | {row: choice}
            yield _given("matching", pairs=pairs), source.pair_answers(pairs)
    for row in rows:
        yield _given("matching", pairs={row: right[row]}), source.pair_answers({row: right[row]})


def _ordering(source: Source, stored: Stored) -> Iterator[Probe]:
    ids = [entry["id"] for entry in stored["entries"]]
    orders = itertools.permutations(ids) if len(ids) <= 5 else _moved(ids)
    for order in orders:
        yield _given("ordering", order=list(order)), source.answers(list(order))


def _moved(ids: list[str]) -> Iterator[tuple[str, ...]]:
    yield tuple(ids)
    yield tuple(reversed(ids))
    for at, to in itertools.combinations(range(len(ids)), 2):
        swapped = list(ids)
        swapped[at], swapped[to] = swapped[to], swapped[at]
        yield tuple(swapped)
        yield tuple(ids[:at] + ids[at + 1 : to + 1] + [ids[at]] + ids[to + 1 :])


def _point(source: Source, stored: Stored) -> Iterator[Probe]:
    places = set[tuple[float, float]]()
    for region in stored["regions"]:
        x, y, width, height = region["x"], region["y"], region["width"], region["height"]
        # Inside, near the edges inside and outside, and in the corners, which a circle does not fill.
        for across, down in itertools.product((-0.05, 0.02, 0.2, 0.5, 0.8, 0.98, 1.05), repeat=2):
            places.add((round(x + across * width, 4), round(y + down * height, 4)))
    places |= {(0.001, 0.001), (0.999, 0.999), (0.001, 0.999), (0.999, 0.001), (0.5, 0.5)}
    for x, y in sorted(places):
        if 0 <= x <= 1 and 0 <= y <= 1:
            yield _given("picture_point", x=x, y=y), source.answers((x * source.canvas[0], y * source.canvas[1]))


_PROBES: dict[str, Callable[[Source, Stored], Iterator[Probe]]] = {
    "single_choice": _single,
    "several_answers": _several,
    "true_false": _true_false,
    "numeric": _numeric,
    "short_text": _short_text,
    "gaps": _gaps,
    "matching": _matching,
    "ordering": _ordering,
    "picture_point": _point,
}


# Ways of scoring of ours


def _candidates(source: Source, stored: Stored, probes: list[Probe], theirs: list[float]) -> Iterator[Stored]:
    """The question as declared, then with every other way of scoring its kind has; keys as the rules give them."""
    best = [probe for (probe, _), points in zip(probes, theirs, strict=True) if points == max(theirs)]
    keyed = [stored]
    if len(best) == 1 and stored["kind"] == "single_choice":
        keyed.append(stored | {"key": best[0].option})  # type: ignore[union-attr]
    if len(best) == 1 and stored["kind"] == "several_answers":
        keyed.append(stored | {"keys": best[0].options})  # type: ignore[union-attr]
    if len(best) == 1 and stored["kind"] == "true_false":
        keyed.append(stored | {"key": best[0].value})  # type: ignore[union-attr]
    credits = {"ordering": ("all", "places", "pairs")}.get(stored["kind"], ("all", "each", "right_minus_wrong"))
    for entry in keyed:
        yield entry
        if "credit" in entry:
            for credit in credits:
                yield from _cases(entry | {"credit": credit})
        else:
            yield from _cases(entry)


def _cases(stored: Stored) -> Iterator[Stored]:
    yield stored
    for case in (True, False):
        if stored["kind"] == "short_text":
            yield stored | {"wording": stored["wording"] | {"case_matters": case}}
        if stored["kind"] == "gaps":
            yield stored | {
                "gaps": [
                    gap | ({"wording": gap["wording"] | {"case_matters": case}} if "wording" in gap else {})
                    for gap in stored["gaps"]
                ]
            }
