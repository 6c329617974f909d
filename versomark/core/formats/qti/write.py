"""An item of ours as a QTI 3.0 assessment item (1EdTech, “QTI Assessment Test, Section and Item Information Model”).

What the standard has no place for is not written into private corners: `unsayable` lists it, item by item.
Idea notes go where the standard puts notes for those who score: a rubric block that only scorers see.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any
from xml.etree.ElementTree import Element, SubElement, register_namespace, tostring

from defusedxml.ElementTree import fromstring

from versomark.core.items import ItemContent
from versomark.core.notation.formulas import MATHML, NotAFormula, annotated
from versomark.core.text import escaped, is_empty, with_formulas

from .names import MAP_POINT, MAP_RESPONSE, NAMESPACE

Content = Any  # each writer knows its own model
RESPONSE = "RESPONSE"
XML_HEAD = b'<?xml version="1.0" encoding="UTF-8"?>\n'
CANVAS = 1000
"""The height that region coordinates are counted in; QTI counts a picture in pixels."""
GAP = re.compile(r"\[([a-z])\]")


def unsayable(content: ItemContent) -> list[str]:
    """What of an item QTI 3.0 cannot carry, in words for the teacher; empty when all of it can."""
    results = [_LOST[content.kind]] if content.kind in _LOST else []
    if content.variation is not None:
        results.append("numbers that vary are written as one draw")
    odd = [name for name in content.part_ids() if not _VALID_IDENTIFIER.fullmatch(name)]
    if odd:
        results.append(f"names of its parts that QTI does not allow ({', '.join(odd)[:60]}): some readers refuse it")
    return results + _PARTLY.get(content.kind, lambda _: [])(content)


_VALID_IDENTIFIER = re.compile(r"[^\W\d][\w.-]*")
"""An identifier of QTI begins with a letter or `_` (the standard's data type `identifier`)."""


def sayable(content: ItemContent) -> bool:
    """Whether the kind of question exists in QTI at all."""
    return content.kind not in _LOST


_LOST = {
    "expression": "an algebraic expression compared by value has no interaction in QTI",
    "performance": "a task scored while watching has no interaction in QTI",
}


def _wording_losses(wording: Content) -> list[str]:
    wording_losses = ["patterns"] if wording.patterns else []
    wording_losses += ["forgiven slips of spelling"] if wording.slips else []
    return wording_losses + (["accents that do not matter"] if not wording.accents_matter else [])


def _numeric_losses(content: Content) -> list[str]:
    return ["the unit"] if content.unit_rule != "none" else []


_PARTLY: dict[str, Callable[[Content], list[str]]] = {
    "numeric": _numeric_losses,
    "short_text": lambda content: _wording_losses(content.wording),
    "gaps": lambda content: [loss for gap in content.gaps for loss in _wording_losses(gap.wording)],
    "file": lambda content: ["how many files, of which kinds and sizes"],
    "ordering": lambda content: ["part marks by pairs in order"] if content.credit == "pairs" else [],
}


def write_item(identifier: str, title: str, content: ItemContent, pictures: Mapping[str, str] | None = None) -> bytes:
    """The XML of an item. pictures: id -> its path in the package. Raises ValueError for a kind QTI does not know."""
    if not sayable(content):
        raise ValueError(_LOST[content.kind])
    root = Element(
        "qti-assessment-item",
        {
            "xmlns": NAMESPACE,
            "identifier": identifier,
            "title": title or "Question",
            "adaptive": "false",
            "time-dependent": "false",
            "xml:lang": "en",
        },
    )
    writer = _Writer(root, content, pictures or {})
    _WRITERS[content.kind](writer, content)
    writer.finish()
    return XML_HEAD + tostring(root, encoding="utf-8")  # type: ignore[no-any-return]  # bytes, by the encoding


register_namespace("m", MATHML)


def _formula(tex: str, alone: bool) -> str:
    """A formula as MathML that holds its TeX; what is not TeX stays as it was typed."""
    try:
        return annotated(tex, alone)
    except NotAFormula:
        return escaped(f"${tex}$")


class _Writer:
    def __init__(self, root: Element, content: Content, pictures: Mapping[str, str]) -> None:
        self.root, self.content, self.pictures = root, content, pictures
        self.body = Element("qti-item-body")
        self.processing: Element | None = None
        if not is_empty(content.stem):
            self.rich(SubElement(self.body, "div", {"class": "stem"}), content.stem)

    def rich(self, into: Element, text: str) -> None:
        """Rich text into an element. It is clean HTML; void elements are closed on the way to XML."""
        text = re.sub(r"<(br|img)\b([^>]*?)/?>", r"<\1\2/>", text)
        result = fromstring(f"<div>{with_formulas(text, _formula)}</div>")
        for picture in result.iter("img"):
            source = picture.get("src", "").rsplit("/", 1)[-1]
            picture.set("src", self.pictures.get(source, picture.get("src", "")))
        into.text = result.text
        into.extend(list(result))

    def declare(self, cardinality: str, base_type: str, correct: Sequence[str], name: str = RESPONSE) -> Element:
        declared = SubElement(
            self.root,
            "qti-response-declaration",
            {"identifier": name, "cardinality": cardinality, "base-type": base_type},
        )
        if correct:
            element = SubElement(declared, "qti-correct-response")
            for value in correct:
                SubElement(element, "qti-value").text = value
        return declared

    def mapping(self, declared: Element, entries: Mapping[str, float], case: bool = False, floor: bool = True) -> None:
        element = SubElement(declared, "qti-mapping", {"default-value": "0"} | ({"lower-bound": "0"} if floor else {}))
        for key, value in entries.items():
            SubElement(
                element,
                "qti-map-entry",
                {"map-key": key, "mapped-value": f"{value:.12g}", "case-sensitive": str(case).lower()},
            )

    def template(self, address: str) -> None:
        self.processing = Element("qti-response-processing", {"template": address})

    def sum_of_maps(self, names: Sequence[str]) -> None:
        """SCORE is the sum of what the maps of several responses give."""
        self.processing = Element("qti-response-processing")
        setting = SubElement(self.processing, "qti-set-outcome-value", {"identifier": "SCORE"})
        total = SubElement(setting, "qti-sum")
        for name in names:
            SubElement(total, "qti-map-response", {"identifier": name})

    def all_right(self, names: Sequence[str], comparisons: Mapping[str, Element] | None = None) -> None:
        """SCORE is the marks when every response is its correct one, else 0."""
        self.processing = Element("qti-response-processing")
        condition = SubElement(self.processing, "qti-response-condition")
        element = SubElement(condition, "qti-response-if")
        joined = element if len(names) == 1 else SubElement(element, "qti-and")
        for name in names:
            if comparisons and name in comparisons:
                joined.append(comparisons[name])
                continue
            match = SubElement(joined, "qti-match")
            SubElement(match, "qti-variable", {"identifier": name})
            SubElement(match, "qti-correct", {"identifier": name})
        for place, value in ((element, self.content.marks), (SubElement(condition, "qti-response-else"), 0)):
            setting = SubElement(place, "qti-set-outcome-value", {"identifier": "SCORE"})
            SubElement(setting, "qti-base-value", {"base-type": "float"}).text = f"{value:g}"

    def note(self, use: str, text: str, view: str = "scorer author") -> None:
        block = SubElement(self.body, "qti-rubric-block", {"view": view, "use": use})
        self.rich(SubElement(SubElement(block, "qti-content-body"), "div"), text)

    def finish(self) -> None:
        for id, note in _idea_notes(self.content):
            self.note(f"ext:idea {id}", escaped(note))
        if not is_empty(self.content.rationale):
            self.note("ext:rationale", self.content.rationale)
        outcome = {"identifier": "SCORE", "cardinality": "single", "base-type": "float"}
        outcome |= {"normal-maximum": f"{self.content.marks:g}", "normal-minimum": "0"}
        if self.content.marked_by == "person":
            outcome["external-scored"] = "human"
        SubElement(self.root, "qti-outcome-declaration", outcome)
        self.root.append(self.body)
        if self.processing is not None:
            self.root.append(self.processing)


def _idea_notes(content: Content) -> list[tuple[str, str]]:
    """What each answer shows, by its id. Ranges of values and partners of rows have notes of their own."""
    if content.kind in ("numeric", "matching"):
        return []
    if content.kind in ("single_choice", "several_answers"):
        return [(option.id, option.idea_note) for option in content.options if option.idea_note]
    if content.kind == "gaps":
        listed = [(f"{gap.name}:{c.id}", c.idea_note) for gap in content.standing() for c in gap.choices]
        typed = [(a.id, a.idea_note) for a in content.answers() if not a.offered]
        return [(id, note) for id, note in [*listed, *typed] if note]
    if content.kind == "picture_point":
        return [(region.id, region.idea_note) for region in content.regions if region.idea_note]
    return [(answer.id, answer.idea_note) for answer in content.answers() if answer.idea_note]


def _choices(writer: _Writer, content: Content, most: int) -> None:
    interaction = SubElement(
        writer.body,
        "qti-choice-interaction",
        {"response-identifier": RESPONSE, "max-choices": str(most), "shuffle": "false"},
    )
    for option in content.options:
        fixed = {"fixed": "true"} if option.stays_last else {}
        writer.rich(SubElement(interaction, "qti-simple-choice", {"identifier": option.id, **fixed}), option.text)


def _single_choice(writer: _Writer, content: Content) -> None:
    declared = writer.declare("single", "identifier", [content.key] if content.key else [])
    writer.mapping(declared, {content.key: content.marks} if content.key else {})
    _choices(writer, content, 1)
    writer.template(MAP_RESPONSE)


def _several_answers(writer: _Writer, content: Content) -> None:
    declared = writer.declare("multiple", "identifier", content.keys)
    _choices(writer, content, 0)
    share = content.marks / max(1, len(content.keys))
    if content.credit == "right_minus_wrong":
        worth = {o.id: share if o.id in content.keys else -share for o in content.options}
        writer.mapping(declared, worth)
        writer.template(MAP_RESPONSE)
    elif content.credit == "each":
        # Every option judged rightly counts, so the wrong ones that are left start the sum.
        each = content.marks / len(content.options)
        worth = {o.id: each if o.id in content.keys else -each for o in content.options}
        writer.mapping(declared, worth, floor=False)
        writer.processing = Element("qti-response-processing")
        setting = SubElement(writer.processing, "qti-set-outcome-value", {"identifier": "SCORE"})
        total = SubElement(setting, "qti-sum")
        base = each * (len(content.options) - len(content.keys))
        SubElement(total, "qti-base-value", {"base-type": "float"}).text = f"{base:.12g}"
        SubElement(total, "qti-map-response", {"identifier": RESPONSE})
    else:
        writer.all_right([RESPONSE])


def _true_false(writer: _Writer, content: Content) -> None:
    key = "" if content.key is None else str(content.key).lower()
    declared = writer.declare("single", "identifier", [key] if key else [])
    writer.mapping(declared, {key: content.marks} if key else {})
    interaction = SubElement(
        writer.body,
        "qti-choice-interaction",
        {"response-identifier": RESPONSE, "max-choices": "1", "shuffle": "false", "class": "true-false"},
    )
    for id, text in (("true", "True"), ("false", "False")):
        SubElement(interaction, "qti-simple-choice", {"identifier": id}).text = text
    writer.template(MAP_RESPONSE)


def _numeric(writer: _Writer, content: Content) -> None:
    value = "" if content.value is None else repr(content.value)
    writer.declare("single", "float", [value] if value else [])
    line = SubElement(writer.body, "div")
    SubElement(line, "qti-text-entry-interaction", {"response-identifier": RESPONSE})
    if content.tolerance == "figures":
        compared = Element(
            "qti-equal-rounded", {"rounding-mode": "significantFigures", "figures": f"{content.amount:g}"}
        )
    else:
        mode = {"exact": "exact", "absolute": "absolute", "percent": "relative"}[content.tolerance]
        amount = {} if mode == "exact" else {"tolerance": f"{content.amount:.12g} {content.amount:.12g}"}
        compared = Element("qti-equal", {"tolerance-mode": mode, **amount})
    SubElement(compared, "qti-variable", {"identifier": RESPONSE})
    SubElement(compared, "qti-correct", {"identifier": RESPONSE})
    writer.all_right([RESPONSE], {RESPONSE: compared})
    for at, idea in enumerate(content.ideas):
        ends = [("" if end is None else repr(end)) for end in (idea.low, idea.high)]
        writer.note(f"ext:range idea-{at} {ends[0]}..{ends[1]}", escaped(idea.idea_note))


def _entries(wording: Content, marks: float) -> dict[str, float]:
    right = {text: marks for text in wording.accepted if text}
    return right | {wrong.text: 0.0 for wrong in wording.wrong if wrong.text and wrong.text not in right}


def _short_text(writer: _Writer, content: Content) -> None:
    declared = writer.declare("single", "string", [text for text in content.wording.accepted if text][:1])
    writer.mapping(declared, _entries(content.wording, content.marks), content.wording.case_matters)
    line = SubElement(writer.body, "div")
    SubElement(line, "qti-text-entry-interaction", {"response-identifier": RESPONSE})
    writer.template(MAP_RESPONSE)


def _gaps(writer: _Writer, content: Content) -> None:
    gaps = content.standing()
    names = [f"GAP_{gap.name}" for gap in gaps]
    share = content.marks / max(1, len(gaps))
    wrong = -share if content.credit == "right_minus_wrong" else 0.0
    for gap, name in zip(gaps, names, strict=True):
        if gap.choices:
            declared = writer.declare("single", "identifier", [gap.key] if gap.key else [], name)
            worth = {c.id: share if c.id == gap.key else wrong for c in gap.choices}
            writer.mapping(declared, worth, floor=False)
        else:
            accepted = [text for text in gap.wording.accepted if text]
            declared = writer.declare("single", "string", accepted[:1], name)
            writer.mapping(declared, _entries(gap.wording, share), gap.wording.case_matters, floor=False)
            if wrong:
                declared[-1].set("default-value", f"{wrong:.12g}")
    shown = Element("div")
    writer.rich(shown, GAP.sub(r'<code class="gap">\1</code>', content.text))
    by_name = {gap.name: gap for gap in gaps}
    for place in list(shown.iter("code")):
        if place.get("class") == "gap" and place.text in by_name:
            _gap_place(place, by_name[place.text])
    element = SubElement(writer.body, "div", {"class": "gap-text"})
    element.text = shown.text
    element.extend(list(shown))
    if content.credit == "all":
        # A correct response is one word, letter by letter; the map has every accepted one and how capitals count.
        typed = {name: _earns(name) for gap, name in zip(gaps, names, strict=True) if not gap.choices}
        writer.all_right(names, typed)
    else:
        writer.sum_of_maps(names)
        if content.credit == "right_minus_wrong" and writer.processing is not None:
            total = writer.processing[0][0]
            writer.processing[0].remove(total)
            most = SubElement(writer.processing[0], "qti-max")
            most.append(total)
            SubElement(most, "qti-base-value", {"base-type": "float"}).text = "0"


def _earns(name: str) -> Element:
    compared = Element("qti-gt")
    SubElement(compared, "qti-map-response", {"identifier": name})
    SubElement(compared, "qti-base-value", {"base-type": "float"}).text = "0"
    return compared


def _gap_place(place: Element, gap: Content) -> None:
    tail = place.tail
    place.clear()
    place.tail = tail
    place.set("response-identifier", f"GAP_{gap.name}")
    if not gap.choices:
        place.tag = "qti-text-entry-interaction"
        return
    place.tag = "qti-inline-choice-interaction"
    for choice in gap.choices:
        SubElement(place, "qti-inline-choice", {"identifier": choice.id}).text = choice.text


def _matching(writer: _Writer, content: Content) -> None:
    correct = [f"{row.id} {row.key}" for row in content.rows if row.key]
    declared = writer.declare("multiple", "directedPair", correct)
    interaction = SubElement(
        writer.body,
        "qti-match-interaction",
        {"response-identifier": RESPONSE, "max-associations": str(len(content.rows)), "shuffle": "false"},
    )
    for parts, most in ((content.rows, 1), (content.choices, 0)):
        element = SubElement(interaction, "qti-simple-match-set")
        for part in parts:
            choice = SubElement(
                element, "qti-simple-associable-choice", {"identifier": part.id, "match-max": str(most)}
            )
            writer.rich(choice, part.text)
    for choice in content.choices:
        if choice.idea_note:
            writer.note(f"ext:choice {choice.id}", escaped(choice.idea_note))
    share = content.marks / len(content.rows)
    if content.credit == "all":
        writer.all_right([RESPONSE])
    else:
        wrong = -share if content.credit == "right_minus_wrong" else 0.0
        writer.mapping(declared, dict.fromkeys(correct, share))
        declared[-1].set("default-value", f"{wrong:.12g}")
        writer.template(MAP_RESPONSE)


def _ordering(writer: _Writer, content: Content) -> None:
    writer.declare("ordered", "identifier", [entry.id for entry in content.entries])
    interaction = SubElement(writer.body, "qti-order-interaction", {"response-identifier": RESPONSE, "shuffle": "true"})
    for entry in content.entries:
        writer.rich(SubElement(interaction, "qti-simple-choice", {"identifier": entry.id}), entry.text)
    names = [RESPONSE]
    if content.credit == "places":
        writer.processing = Element("qti-response-processing")
        share = content.marks / len(content.entries)
        setting = SubElement(writer.processing, "qti-set-outcome-value", {"identifier": "SCORE"})
        SubElement(setting, "qti-base-value", {"base-type": "float"}).text = "0"
        for at in range(1, len(content.entries) + 1):
            condition = SubElement(writer.processing, "qti-response-condition")
            element = SubElement(condition, "qti-response-if")
            match = SubElement(element, "qti-match")
            for variable in ("variable", "correct"):
                inside = SubElement(match, "qti-index", {"n": str(at)})
                SubElement(inside, f"qti-{variable}", {"identifier": RESPONSE})
            added = SubElement(SubElement(element, "qti-set-outcome-value", {"identifier": "SCORE"}), "qti-sum")
            SubElement(added, "qti-variable", {"identifier": "SCORE"})
            SubElement(added, "qti-base-value", {"base-type": "float"}).text = f"{share:.12g}"
    else:
        writer.all_right(names)


def _picture_point(writer: _Writer, content: Content) -> None:
    declared = writer.declare("single", "point", [])
    width, height = round(CANVAS * content.ratio), CANVAS
    element = SubElement(declared, "qti-area-mapping", {"default-value": "0"})
    for region in content.regions:
        left, top = region.x * width, region.y * height
        right, bottom = left + region.width * width, top + region.height * height
        if region.round:
            middle, across = ((left + right) / 2, (top + bottom) / 2), ((right - left) / 2, (bottom - top) / 2)
            shape, numbers = "ellipse", [*middle, *across]
        else:
            shape, numbers = "rect", [left, top, right, bottom]
        coords = ",".join(f"{number:.4f}".rstrip("0").rstrip(".") for number in numbers)
        worth = f"{content.marks if region.right else 0:g}"
        SubElement(element, "qti-area-map-entry", {"shape": shape, "coords": coords, "mapped-value": worth})
        writer.note(f"ext:region {region.id} {shape} {coords}", escaped(region.name))
    interaction = SubElement(
        writer.body, "qti-select-point-interaction", {"response-identifier": RESPONSE, "max-choices": "1"}
    )
    source = writer.pictures.get(content.picture or "", f"/pictures/{content.picture}")
    size = {"width": str(width), "height": str(height), "alt": content.picture_words}
    SubElement(interaction, "img", {"src": source, **size})
    writer.template(MAP_POINT)


def _rubric(writer: _Writer, content: Content) -> None:
    view = "scorer author candidate" if content.show_rubric else "scorer author"
    for criterion in content.rubric.criteria:
        block = SubElement(
            writer.body, "qti-rubric-block", {"view": view, "use": f"ext:criterion {criterion.id} {criterion.max:g}"}
        )
        element = SubElement(block, "qti-content-body")
        SubElement(element, "p").text = criterion.name
        levels = SubElement(element, "ul")
        for level in criterion.levels:
            SubElement(levels, "li").text = f"{level.points:g}: {level.words}"
    for exemplar in content.rubric.exemplars:
        points = " ".join(f"{id}={value:g}" for id, value in exemplar.points.items())
        block = SubElement(
            writer.body, "qti-rubric-block", {"view": "scorer author", "use": f"ext:exemplar {exemplar.id} {points}"}
        )
        element = SubElement(block, "qti-content-body")
        SubElement(element, "p").text = exemplar.name
        writer.rich(SubElement(element, "div"), exemplar.text)
        for criterion_id, reason in exemplar.reasons.items():
            SubElement(element, "p", {"class": f"reason {criterion_id}"}).text = reason
        if exemplar.remark:
            SubElement(element, "p", {"class": "remark"}).text = exemplar.remark


def _written(writer: _Writer, content: Content) -> None:
    writer.declare("single", "string", [])
    size = {"expected-lines": str(content.lines)}
    if content.most_words:
        size["class"] = f"words-{content.least_words}-{content.most_words}"
    elif content.least_words:
        size["class"] = f"words-{content.least_words}-0"
    format = {"format": "xhtml"} if content.formatting else {"format": "plain"}
    SubElement(writer.body, "qti-extended-text-interaction", {"response-identifier": RESPONSE, **size, **format})
    _rubric(writer, content)


def _file(writer: _Writer, content: Content) -> None:
    writer.declare("single", "file", [])
    SubElement(writer.body, "qti-upload-interaction", {"response-identifier": RESPONSE})
    _rubric(writer, content)


_WRITERS: dict[str, Callable[[_Writer, Content], None]] = {
    "single_choice": _single_choice,
    "several_answers": _several_answers,
    "true_false": _true_false,
    "numeric": _numeric,
    "short_text": _short_text,
    "gaps": _gaps,
    "matching": _matching,
    "ordering": _ordering,
    "picture_point": _picture_point,
    "written": _written,
    "file": _file,
}
