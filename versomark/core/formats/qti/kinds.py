"""The kinds of questions that QTI's interactions make: what each stores, from the document it stands in."""

import re
from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.language import _
from versomark.core.text import plain

from .names import all_named, attribute, children, first_named, kebab, numeral, words
from .source import Source
from .write import CANVAS

_ID = re.compile(r"[^A-Za-z0-9_-]")
Stored = dict[str, Any]
"""The fields of one of our contents, as JSON."""


def _options(source: Source, interaction: Element) -> tuple[list[dict[str, Any]], dict[str, str]]:
    ideas = source.note_words("idea")
    options: list[dict[str, Any]] = []
    ids: dict[str, str] = {}
    for choice in children(interaction, "simple-choice"):
        identifier = attribute(choice, "identifier")
        ids[identifier] = _id(identifier, ids.values())
        options.append(
            {
                "id": ids[identifier],
                "text": source.html(choice, ("feedback-inline",)),
                "idea_note": ideas.get(identifier, "")[:500],
                "stays_last": attribute(choice, "fixed") == "true",
            }
        )
    source.response = attribute(interaction, "response-identifier")
    source.theirs = {ours: identifier for identifier, ours in ids.items()}
    return options, ids


def _choice(source: Source, interaction: Element) -> Stored:
    name = attribute(interaction, "response-identifier")
    options, ids = _options(source, interaction)
    if len(options) > 8:
        raise UnreadableFileError(_("It has {count} options; at most 8 can be had here.", count=len(options)))
    right = [ids[value] for value in source.right(name) if value in ids]
    single = attribute(source.declared.get(name, interaction), "cardinality", "single") == "single"
    if single and set(ids) == {"true", "false"}:
        note = next((option["idea_note"] for option in options if option["id"] not in right), "")
        return {"kind": "true_false", "key": right[0] == "true" if right else None, "idea_note": note}
    if single:
        return {"kind": "single_choice", "options": options, "key": right[0] if right else None}
    return {"kind": "several_answers", "options": options, "keys": right, "credit": _several_credit(source, name)}


def _several_credit(source: Source, name: str) -> str:
    # A first guess by what is declared; what the rules give decides.
    if not source.worth(name):
        return "all"
    return "each" if first_named(source.root, "sum") is not None else "right_minus_wrong"


def _text_entry(source: Source, interaction: Element) -> Stored:
    name = source.response = attribute(interaction, "response-identifier")
    declared = source.declared.get(name)
    if declared is not None and attribute(declared, "base-type") in ("float", "integer"):
        return _numeric(source, name)
    return {"kind": "short_text", "wording": _wording(source, name)}


def _wording(source: Source, name: str) -> Stored:
    worth, ideas, right = source.worth(name), source.note_words("idea"), source.correct(name)
    accepted = list(dict.fromkeys([*right, *(key for key, value in worth.items() if value > 0)]))
    prefix = f"{name.removeprefix('GAP_')}:" if name.startswith("GAP_") else ""
    wrong = [key for key, value in worth.items() if value <= 0]
    return {
        "accepted": accepted,
        "case_matters": source.case_matters(name),
        "wrong": [{"text": text, "idea_note": ideas.get(f"{prefix}wrong-{at}", "")} for at, text in enumerate(wrong)],
    }


def _numeric(source: Source, name: str) -> Stored:
    right = source.right(name)
    stored: dict[str, Any] = {"kind": "numeric", "value": numeral(right[0]) if right else None}
    equal, rounded = first_named(source.root, "equal"), first_named(source.root, "equal-rounded")
    if rounded is not None:
        if attribute(rounded, "rounding-mode", "significantFigures") == "significantFigures":
            stored |= {"tolerance": "figures", "amount": numeral(attribute(rounded, "figures"))}
        else:
            half = 10.0 ** -min(max(numeral(attribute(rounded, "figures")), 0), 12) / 2
            stored |= {"tolerance": "absolute", "amount": half}
    elif equal is not None and attribute(equal, "tolerance-mode", "exact") != "exact":
        ends = [numeral(part) for part in attribute(equal, "tolerance").split()]
        mode = {"absolute": "absolute", "relative": "percent"}.get(attribute(equal, "tolerance-mode"), "exact")
        stored |= {"tolerance": mode, "amount": max(ends, default=0)} if mode != "exact" else {}
    ideas = []
    for stated, note in sorted(source.notes_for("range").items()):
        low, _sign, high = stated.split(" ")[-1].partition("..")
        ends_of = {"low": numeral(low) if low else None, "high": numeral(high) if high else None}
        ideas.append({**ends_of, "idea_note": words(note)})
    return stored | {"ideas": ideas}


def marked_gaps(source: Source) -> bool:
    return any(attribute(div, "class") == "gap-text" for div in all_named(source.body, "div"))


def gaps_of(source: Source, elements: list[Element]) -> Stored:
    if len(elements) > 26:
        raise UnreadableFileError(_("It has {count} gaps; at most 26 can be had here.", count=len(elements)))
    letters = _gap_letters(source, elements)
    ideas = source.note_words("idea")
    gaps = []
    for interaction in elements:
        name, letter = attribute(interaction, "response-identifier"), letters[id(interaction)]
        gap: dict[str, Any] = {"name": letter}
        source.theirs[letter] = name
        if kebab(interaction.tag) == "inline-choice-interaction":
            right = set(source.right(name))
            ids: dict[str, str] = {}
            for choice in children(interaction, "inline-choice"):
                ids[attribute(choice, "identifier")] = _id(attribute(choice, "identifier"), ids.values())
            gap["choices"] = [
                {
                    "id": ids[attribute(choice, "identifier")],
                    "text": words(choice),
                    "idea_note": ideas.get(f"{letter}:{attribute(choice, 'identifier')}", "")[:500],
                }
                for choice in children(interaction, "inline-choice")
            ]
            gap["key"] = next((ids[value] for value in ids if value in right), None)
            source.theirs |= {f"{letter}:{ours}": identifier for identifier, ours in ids.items()}
        else:
            gap["wording"] = _wording(source, name)
        gaps.append(gap)
        interaction.tag, interaction.text = "span", f"[{letter}]"
        for child in list(interaction):
            interaction.remove(child)
    return {"kind": "gaps", **_gap_texts(source), "gaps": gaps, "credit": _gap_credit(source)}


def _gap_letters(source: Source, elements: list[Element]) -> dict[int, str]:
    """Our own names where they are ours, else a, b, c in order."""
    own = [attribute(interaction, "response-identifier").removeprefix("GAP_") for interaction in elements]
    if all(re.fullmatch("[a-z]", name) for name in own) and len(set(own)) == len(own):
        return {id(interaction): name for interaction, name in zip(elements, own, strict=True)}
    return {id(interaction): chr(97 + at) for at, interaction in enumerate(elements)}


def _gap_texts(source: Source) -> dict[str, str]:
    """The text with the gaps, and the stem before it where the two are told apart."""
    container = next((div for div in all_named(source.body, "div") if attribute(div, "class") == "gap-text"), None)
    if container is None:
        return {"text": source.html(source.body, ("rubric-block", "stylesheet")), "stem": ""}
    text = source.html(container)
    source.body.remove(container)
    return {"text": text, "stem": source.html(source.body, ("rubric-block", "stylesheet"))}


def _gap_credit(source: Source) -> str:
    if first_named(source.root, "match") is not None:
        return "all"
    return "right_minus_wrong" if first_named(source.root, "max") is not None else "each"


def _match(source: Source, interaction: Element) -> Stored:
    name = attribute(interaction, "response-identifier")
    sets = children(interaction, "simple-match-set")
    if len(sets) != 2:
        raise UnreadableFileError(_("Its two sides cannot be told apart."))
    ids: list[dict[str, str]] = []
    for match_set in sets:
        known = dict[str, str]()
        for choice in children(match_set, "simple-associable-choice"):
            known[attribute(choice, "identifier")] = _id(attribute(choice, "identifier"), known.values())
        ids.append(known)
    source.response = name
    source.theirs = {ours: identifier for identifier, ours in ids[1].items()}
    source.theirs |= {f"row:{ours}": identifier for identifier, ours in ids[0].items()}
    pairs = [pair.split() for pair in source.right(name)]
    partner = {pair[0]: pair[1] for pair in pairs if len(pair) == 2}
    if len(partner) < len(pairs):
        raise UnreadableFileError(_("A row has several partners, which cannot be had here."))
    ideas = source.note_words("choice")
    rows, choices = (children(match_set, "simple-associable-choice") for match_set in sets)
    worth = bool(source.worth(name))
    credit = "all" if not worth else "right_minus_wrong" if source.default_worth(name) < 0 else "each"
    return {
        "kind": "matching",
        "rows": [
            {
                "id": ids[0][attribute(row, "identifier")],
                "text": source.html(row),
                "key": ids[1].get(partner.get(attribute(row, "identifier"), "")),
            }
            for row in rows
        ],
        "choices": [
            {
                "id": ids[1][attribute(choice, "identifier")],
                "text": source.html(choice),
                "idea_note": ideas.get(attribute(choice, "identifier"), "")[:500],
            }
            for choice in choices
        ],
        "credit": credit,
    }


def _order(source: Source, interaction: Element) -> Stored:
    name = attribute(interaction, "response-identifier")
    texts, ids = dict[str, str](), dict[str, str]()
    for choice in children(interaction, "simple-choice"):
        identifier = attribute(choice, "identifier")
        ids[identifier], texts[identifier] = _id(identifier, ids.values()), source.html(choice)
    source.response, source.theirs = name, {ours: identifier for identifier, ours in ids.items()}
    right = source.correct(name)
    if sorted(right) != sorted(texts):
        raise UnreadableFileError(_("The right order is not given for every entry."))
    places = first_named(source.root, "index") is not None
    entries = [{"id": ids[identifier], "text": texts[identifier]} for identifier in right]
    return {"kind": "ordering", "entries": entries, "credit": "places" if places else "all"}


def _point(source: Source, interaction: Element) -> Stored:
    name = attribute(interaction, "response-identifier")
    picture = first_named(interaction, "img", "object")
    if picture is None:
        raise UnreadableFileError(_("It has no picture to mark."))
    width = numeral(attribute(picture, "width"), CANVAS) or CANVAS
    height = numeral(attribute(picture, "height"), CANVAS) or CANVAS
    source.response, source.canvas = name, (width, height)
    path = attribute(picture, "src") or attribute(picture, "data")
    address = source.picture_address(path)
    if address is None:
        source.lost.append(_("the picture {path} is not in the package", path=path))
    declared = source.declared.get(name)
    names = {
        key.partition(" ")[2]: (key.partition(" ")[0], words(note)) for key, note in source.notes_for("region").items()
    }
    ideas, regions = source.note_words("idea"), []
    entries = [] if declared is None else list(all_named(declared, "area-map-entry"))
    if entries and not (attribute(picture, "width") and attribute(picture, "height")):
        source.lost.append(_("its regions, since the size of its picture is not stated"))
        entries = []
    for at, entry in enumerate(entries):
        box = _box(attribute(entry, "shape"), attribute(entry, "coords"), width, height)
        if box is None:
            source.lost.append(
                _(
                    "a region of the shape {attribute} {value}",
                    attribute=attribute(entry, "shape"),
                    value=attribute(entry, "coords")[:40],
                )
            )
            continue
        own, label = names.get(f"{attribute(entry, 'shape')} {attribute(entry, 'coords')}", (f"r{at + 1}", ""))
        right = numeral(attribute(entry, "mapped-value")) > 0
        regions.append({"id": own, **box, "right": right, "name": label, "idea_note": ideas.get(own, "")})
    return {
        "kind": "picture_point",
        "picture": address.rsplit("/", 1)[-1] if address else None,
        "picture_words": plain(attribute(picture, "alt") or words(picture))[:300],
        "ratio": round(width / height, 3),
        "regions": regions,
    }


def _rubric(source: Source) -> Stored:
    criteria, shown = [], False
    for stated, note in source.notes_for("criterion").items():
        identifier, _sign, most = stated.partition(" ")
        shown = shown or "candidate" in attribute(note, "view")
        name = next(all_named(note, "p"), None)
        levels = [words(level).partition(":") for level in all_named(note, "li")]
        criteria.append(
            {
                "id": identifier,
                "name": words(name),
                "max": _half(numeral(most, 4)),
                "levels": [{"points": numeral(points), "words": says.strip()} for points, _, says in levels],
            }
        )
    if not criteria:
        # Another system's item: one criterion with what the notes for scorers say.
        scorer_notes = " ".join(words(note) for note in source.notes if "scorer" in attribute(note, "view"))
        criteria = [{"id": "c1", "name": scorer_notes[:300] or _("The answer"), "max": marks_of(source), "levels": []}]
    exemplars = []
    for stated, note in source.notes_for("exemplar").items():
        identifier, _sign, points = stated.partition(" ")
        container, remark = next(all_named(note, "div"), None), None
        reasons = {}
        for line in all_named(note, "p"):
            remark = line if attribute(line, "class") == "remark" else remark
            use, _space, criterion = attribute(line, "class").partition(" ")
            if use == "reason":
                reasons[criterion] = words(line)
        exemplars.append(
            {
                "id": identifier,
                "name": words(next(all_named(note, "p"), None)),
                "text": source.html(container) if container is not None else "",
                "points": {p.partition("=")[0]: numeral(p.partition("=")[2]) for p in points.split()},
                "reasons": reasons,
                "remark": words(remark),
            }
        )
    return {"rubric": {"criteria": criteria, "exemplars": exemplars}, "show_rubric": shown}


def _extended(source: Source, interaction: Element) -> Stored:
    limits = re.search(r"words-(\d+)-(\d+)", attribute(interaction, "class"))
    lines = int(numeral(attribute(interaction, "expected-lines"), 8))
    return {
        "kind": "written",
        "lines": min(max(lines, 1), 60),
        "least_words": int(limits[1]) if limits else 0,
        "most_words": int(limits[2]) if limits else 0,
        "formatting": attribute(interaction, "format") == "xhtml",
        **_rubric(source),
    }


def _upload(source: Source, interaction: Element) -> Stored:
    return {"kind": "file", **_rubric(source)}


def marks_of(source: Source) -> float:
    """What a right answer earns: the stated maximum, else what the correct response maps to, else 1."""
    for outcome in all_named(source.root, "outcome-declaration"):
        if attribute(outcome, "identifier") == "SCORE" and attribute(outcome, "normal-maximum"):
            return _half(numeral(attribute(outcome, "normal-maximum"), 1))
    total = 0.0
    for declared in source.declared.values():
        mapping = first_named(declared, "mapping")
        if mapping is not None:
            worth = [numeral(attribute(entry, "mapped-value")) for entry in children(mapping, "map-entry")]
            several = attribute(declared, "cardinality") == "multiple"
            total += sum(w for w in worth if w > 0) if several else max(worth, default=0)
    return _half(total) if total else 1


def _id(identifier: str, taken: Any) -> str:
    """An identifier of theirs as one of ours, and not one that is taken."""
    result = _ID.sub("_", identifier)[:24] or "o"
    number = 1
    while result in taken:
        number += 1
        result = f"{result[:20]}_{number}"
    return result


def _half(marks: float) -> float:
    """Marks as ours are counted: halves from 0.5 to 100."""
    return min(100.0, max(0.5, round(marks * 2) / 2))


def _box(shape: str, coords: str, width: float, height: float) -> dict[str, Any] | None:
    """A shape in pixels as a box in shares; circles and ellipses as the box around them."""
    if "%" in coords:
        return None
    numbers = [numeral(part.strip()) for part in coords.split(",") if part.strip()]
    if shape == "rect" and len(numbers) == 4:
        left, top, right, bottom = numbers
    elif shape == "circle" and len(numbers) == 3:
        x, y, r = numbers
        left, top, right, bottom = x - r, y - r, x + r, y + r
    elif shape == "ellipse" and len(numbers) == 4:
        x, y, across, down = numbers
        left, top, right, bottom = x - across, y - down, x + across, y + down
    else:
        return None

    def share(value: float, whole: float) -> float:
        return min(1.0, max(0.0, round(value / whole, 6)))

    x0, y0 = share(left, width), share(top, height)
    return {
        "x": x0,
        "y": y0,
        "width": share(right - left, width),
        "height": share(bottom - top, height),
        "round": shape != "rect",
    }


READERS: dict[str, Callable[[Source, Element], dict[str, Any]]] = {
    "choice-interaction": _choice,
    "text-entry-interaction": _text_entry,
    "match-interaction": _match,
    "order-interaction": _order,
    "select-point-interaction": _point,
    "extended-text-interaction": _extended,
    "upload-interaction": _upload,
}
