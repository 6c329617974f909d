"""The XML of a QTI item as the readers of kinds ask it: its texts, the notes for those who score, keys and maps."""

import math
import re
from collections.abc import Callable
from xml.etree.ElementTree import Element

from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.language import _
from versomark.core.notation.reading_mathml import tex_of
from versomark.core.text import clean

from .names import all_named, attribute, children, first_named, kebab, numeral, words
from .processing import Rules, Value

PictureAddress = Callable[[str], str | None]
"""From a picture's path in the package to its address in the bank; None where the package has no such picture."""


class Source:
    """One item. `lost` gathers, in words, what it says that ours cannot."""

    def __init__(self, root: Element, picture_address: PictureAddress) -> None:
        self.root, self.picture_address = root, picture_address
        self.lost: list[str] = []
        self.rules = Rules(root)
        self.canvas: tuple[float, float] = (0.0, 0.0)
        """Width and height of the picture that is marked, in its own pixels."""
        self.response = ""
        """The identifier of the one response, where there is one."""
        self.theirs: dict[str, str] = {}
        """Our identifier of an option, or of a row, or `gap:choice` -> the item's own."""
        body = first_named(root, "item-body")
        if body is None:
            raise UnreadableFileError(_("This item has no body."))
        self.body = body
        self.declared = {attribute(d, "identifier"): d for d in all_named(root, "response-declaration")}
        self.notes = list(all_named(body, "rubric-block"))

    def declares_a_key(self) -> bool:
        return any(
            first_named(d, "correct-response", "map-entry", "area-map-entry") is not None
            for d in self.declared.values()
        )

    def answers(self, given: str | float | list[str] | tuple[float, float]) -> dict[str, Value]:
        """The one response with this in it, options by the item's own identifiers."""
        if isinstance(given, list):
            return {self.response: [self.theirs.get(entry, entry) for entry in given]}
        return {self.response: self.theirs.get(given, given) if isinstance(given, str) else given}

    def gap_answers(self, given: dict[str, str]) -> dict[str, Value]:
        """Letter of a gap -> what stands in it, as the responses of the item."""
        return {self.theirs[gap]: self._in_gap(gap, value) for gap, value in given.items()}

    def _in_gap(self, gap: str, value: str) -> Value:
        if f"{gap}:{value}" in self.theirs:
            return self.theirs[f"{gap}:{value}"]
        declared = self.declared.get(self.theirs[gap])
        if declared is not None and attribute(declared, "base-type") in ("float", "integer"):
            number = numeral(value, math.nan)
            return None if math.isnan(number) else number
        return value

    def pair_answers(self, pairs: dict[str, str]) -> dict[str, Value]:
        return {self.response: [f"{self.theirs[f'row:{row}']} {self.theirs[choice]}" for row, choice in pairs.items()]}

    def html(self, element: Element, without: tuple[str, ...] = ()) -> str:
        """What is inside an element as clean rich text, pictures found in the bank."""
        parts = [_escaped(element.text)]
        for child in element:
            if isinstance(child.tag, str) and kebab(child.tag) not in without:
                parts.append(self._element(child, without))
            parts.append(_escaped(child.tail))
        return clean("".join(parts))

    def _element(self, element: Element, without: tuple[str, ...]) -> str:
        name = kebab(element.tag)
        if name == "math":
            return self._formula(element)
        if name == "svg":
            return _escaped(words(element))
        if name == "object":
            kind = attribute(element, "type")
            if kind and not kind.startswith("image/"):
                return ""  # named among what is left out
            return self._picture(attribute(element, "data"), words(element))
        if name in ("audio", "video"):
            return ""
        if name == "a":
            return _escaped(words(element))
        if name == "img":
            return self._picture(attribute(element, "src"), attribute(element, "alt"))
        inside = _escaped(element.text)
        for child in element:
            if isinstance(child.tag, str) and kebab(child.tag) not in without:
                inside += self._element(child, without)
            inside += _escaped(child.tail)
        spans = "".join(
            f' {span}="{attribute(element, span)}"' for span in ("colspan", "rowspan") if attribute(element, span)
        )
        block = {"div": "p", "prompt": "p"}.get(name, name)
        if block == "p" and re.search(r"<(p|ul|ol|table|blockquote|h\d)\b", inside):
            return inside
        return f"<{block}{spans}>{inside}</{block}>"

    def _formula(self, math: Element) -> str:
        tex = tex_of(math)
        if tex is not None:
            return _escaped(f"${tex}$")
        in_words = attribute(math, "alttext") or words(math)
        self.lost.append(_("a formula in MathML could not be read and is left out: {value}", value=in_words[:60]))
        return _escaped(f"[{in_words}]") if attribute(math, "alttext") else "[…]"

    def _picture(self, source: str, alt: str) -> str:
        address = self.picture_address(source) if source else None
        if address is None:
            self.lost.append(_("the picture {source} is not in the package", source=source or "without a name"))
            return _escaped(alt)
        return f'<img src="{address}" alt="{_escaped(alt).replace(chr(34), "&quot;")}">'

    def notes_for(self, use: str) -> dict[str, Element]:
        """Our own notes of a use, by what follows it."""
        notes = {}
        for note in self.notes:
            stated = attribute(note, "use").removeprefix("ext:")
            if stated == use or stated.startswith(f"{use} "):
                notes[stated.removeprefix(use).strip()] = note
        return notes

    def note_words(self, use: str) -> dict[str, str]:
        return {key: words(note) for key, note in self.notes_for(use).items()}

    def note_html(self, note: Element) -> str:
        content_body = first_named(note, "content-body")
        return self.html(content_body if content_body is not None else note)

    def correct(self, identifier: str) -> list[str]:
        container = first_named(self.declared[identifier], "correct-response") if identifier in self.declared else None
        return [] if container is None else [words(value) for value in children(container, "value")]

    def worth(self, identifier: str) -> dict[str, float]:
        """map key -> mapped value of a response."""
        mapping = first_named(self.declared[identifier], "mapping") if identifier in self.declared else None
        if mapping is None:
            return {}
        return {
            attribute(entry, "map-key"): numeral(attribute(entry, "mapped-value"))
            for entry in children(mapping, "map-entry")
        }

    def default_worth(self, identifier: str) -> float:
        mapping = first_named(self.declared[identifier], "mapping") if identifier in self.declared else None
        return numeral(attribute(mapping, "default-value")) if mapping is not None else 0.0

    def case_matters(self, identifier: str) -> bool:
        entries = list(all_named(self.declared[identifier], "map-entry")) if identifier in self.declared else []
        return bool(entries) and all(attribute(entry, "case-sensitive") == "true" for entry in entries)

    def right(self, identifier: str) -> list[str]:
        """The right values: those declared correct, else those that map above zero."""
        return self.correct(identifier) or [key for key, worth in self.worth(identifier).items() if worth > 0]


def _escaped(text: str | None) -> str:
    return (text or "").replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
