"""A formula as MathML, by the reader of TeX that the pages use too.

Two readers of TeX understand two languages: what looked right on screen could fail on paper or, worse, lose a sign
there. So the server has KaTeX itself (`katex.min.js`, the version of the pages, with its chemistry) in a small engine
for JavaScript, and paper, documents and QTI are all made from the MathML it writes.
"""

import json
import os
import re
import unicodedata
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache
from html import escape
from importlib.resources import files
from typing import Any
from xml.etree.ElementTree import Element, SubElement, tostring

import quickjs
from defusedxml.ElementTree import fromstring

MATHML = "http://www.w3.org/1998/Math/MathML"
MOST_LETTERS = 4_000
_MEMORY = 256 * 1024 * 1024
_PLACE = re.compile(r"at position (\d+)")
_INVISIBLE = dict.fromkeys(map(ord, "\u2061\u2062\u2063\u2064\u200b"))
_SCRIPTED = {"msub", "msup", "msubsup"}
_MEANT = {
    "mathvariant",
    "mathcolor",
    "mathbackground",
    "stretchy",
    "fence",
    "separator",
    "accent",
    "accentunder",
    "notation",
    "linethickness",
    "width",
    "columnalign",
    "columnlines",
    "rowlines",
    "frame",
    "movablelimits",
    "minsize",
    "maxsize",
    "lspace",
    "rspace",
}
"""What an attribute says about a formula; the others are about one browser's room for it."""

_READER = """
function read(tex, display) {
  try {
    const html = katex.renderToString(tex, {
      output: "mathml", displayMode: display, throwOnError: true, trust: false, strict: "ignore",
      maxSize: 20, maxExpand: 200, macros: unitMacros(),
    });
    return JSON.stringify({ html });
  } catch (error) {
    return JSON.stringify({ message: String(error.message || error), position: error.position });
  }
}
"""


@dataclass
class NotAFormula(ValueError):
    """A text that TeX does not understand.

    Attributes
    ----------
    place
        From which letter of the text it is not understood, counted from 0; its length where something is missing at the
        end.
    """

    place: int

    def __str__(self) -> str:
        return f"not understood from letter {self.place + 1}"


@lru_cache(maxsize=4000)
def mathml(tex: str, display: bool = False) -> str:
    """A formula as presentation MathML.

    Parameters
    ----------
    tex
        What stands between the dollar signs: TeX's mathematics as KaTeX knows it, `\\ce` for chemistry, `\\unit`,
        `\\qty` and `\\num` for quantities.
    display
        Whether it stands alone: sums and fractions are tall then.

    Returns
    -------
    A `<math>` element in the namespace of MathML (W3C MathML Core), without the TeX it came from.

    Raises
    ------
    NotAFormula
        Where it is no TeX, or longer than 4,000 letters.

    Examples
    --------
    >>> mathml("x^2")
    '<math xmlns="http://www.w3.org/1998/Math/MathML"><msup><mi>x</mi><mn>2</mn></msup></math>'
    """
    if len(tex) > MOST_LETTERS:
        raise NotAFormula(MOST_LETTERS)
    answer = _engine().submit(_read, tex, display).result()
    if "html" not in answer:
        match = _PLACE.search(answer["message"])
        place = int(answer.get("position", int(match[1]) - 1 if match else len(tex)))
        raise NotAFormula(min(place, len(tex)))
    source = answer["html"]
    math = fromstring(source[source.index("<math") : source.index("</math>") + len("</math>")])
    whole = math.find(f".//{{{MATHML}}}semantics")
    parts = _simplified(list(whole)[:1] if whole is not None else list(math))
    while len(parts) == 1 and parts[0].tag == "mrow":
        parts = list(parts[0])
    result = Element("math", {"xmlns": MATHML, **({"display": "block"} if display else {})})
    result.extend(part for part in parts if not _is_empty(part))
    return tostring(result, encoding="unicode")


def is_formula(tex: str) -> bool:
    """Whether TeX understands it."""
    try:
        mathml(tex)
    except NotAFormula:
        return False
    return True


def signs(math: str) -> str:
    """The letters and signs of a formula in MathML, in order and without what takes only room."""
    root = fromstring(math)
    unseen = {inner for phantom in root.iter(f"{{{MATHML}}}mphantom") for inner in phantom.iter()}
    return "".join("".join((element.text or "").split()) for element in root.iter() if element not in unseen)


def drawable(math: str) -> str:
    """The same for programs that set numbers before a letter too far from what follows: as scripts of nothing, with
    the shorter number pushed to the right by figures that are not seen."""
    root = fromstring(math)
    for parent in list(root.iter()):
        for at, child in enumerate(list(parent)):
            if child.tag == f"{{{MATHML}}}mmultiscripts" and len(child) == 4:
                base, _sign, lower, upper = child
                script = Element("msubsup")
                script.extend([Element("mrow"), _pushed(lower, upper), _pushed(upper, lower)])
                row = Element("mrow")
                row.extend([script, base])
                parent[at] = row
    return _written(root)


def _pushed(number: Element, beside: Element) -> Element:
    missing = len("".join(beside.itertext())) - len("".join(number.itertext()))
    row = Element("mrow")
    if missing > 0:
        unseen = SubElement(row, "mphantom")
        SubElement(unseen, "mn").text = "0" * missing
    row.append(number)
    return row


def _written(root: Element) -> str:
    for element in root.iter():
        element.tag = element.tag.rsplit("}", 1)[-1]
    root.set("xmlns", MATHML)
    return tostring(root, encoding="unicode")


def annotated(tex: str, display: bool = False) -> str:
    """MathML that holds the TeX it came from, as W3C's `annotation` does, so that it can be read back exactly.

    Raises
    ------
    NotAFormula
        Where it is no TeX.
    """
    math = mathml(tex, display)
    head, body = math.split(">", 1)
    inside = body.removesuffix("</math>")
    note = f'<annotation encoding="application/x-tex">{escape(tex, quote=False)}</annotation>'
    return f"{head}><semantics><mrow>{inside}</mrow>{note}</semantics></math>"


def _simplified(elements: list[Element]) -> list[Element]:
    """Only what has a meaning, in the few forms that programs which draw, convert or say MathML agree on."""
    results: list[Element] = []
    for element in elements:
        name = element.tag.rsplit("}", 1)[-1]
        children = _simplified(list(element))
        text = unicodedata.normalize("NFC", (element.text or "").translate(_INVISIBLE))
        if name == "mo" and element.text and not text:
            continue
        if name == "mpadded" and (element.get("width") == "0px" or element.get("height") == "0px"):
            # Chemistry is set with letters of no size, which would be seen by programs that know no such thing.
            children = [child for child in children if child.tag != "mphantom"]
        looks = {key: element.attrib[key] for key in ("displaystyle", "mathcolor") if key in element.attrib}
        if name in ("mpadded", "mrow") or (name == "mstyle" and not looks) or (name == "mo" and children):
            results.append(_row(children))
            continue
        if name in _SCRIPTED and all(map(_is_empty, children)):
            continue
        if name in ("mover", "munder", "munderover") and all(map(_is_empty, children[1:])):
            results.append(children[0])
            continue
        simple = Element(name, {key: value for key, value in element.attrib.items() if key in _MEANT} | looks)
        simple.text = _in_letters_of_its_own(text, simple) or None
        simple.extend(children)
        if name in _SCRIPTED and _is_empty(children[0]):
            _hang(simple, results)
        else:
            results.append(simple)
    return _before_their_bases(results)


_VARIANTS = {
    "bold": "BOLD", "italic": "ITALIC", "bold-italic": "BOLD ITALIC", "double-struck": "DOUBLE-STRUCK",
    "script": "SCRIPT", "bold-script": "BOLD SCRIPT", "fraktur": "FRAKTUR", "bold-fraktur": "BOLD FRAKTUR",
    "sans-serif": "SANS-SERIF", "bold-sans-serif": "SANS-SERIF BOLD", "monospace": "MONOSPACE",
}  # fmt: skip


def _in_letters_of_its_own(text: str, element: Element) -> str:
    """Letters of a mathematical alphabet as Unicode has them (MathML Core, 2.1.1): ℝ is no R, and few programs draw
    the attribute that asks for it."""
    variant = element.get("mathvariant", "")
    if variant not in _VARIANTS or element.tag == "mtext":
        return text
    letters = "".join(_letter(c, _VARIANTS[variant]) for c in text)
    if letters != text:
        element.set("mathvariant", "normal")
    return letters


def _letter(letter: str, alphabet: str) -> str:
    name = unicodedata.name(letter, "").replace(" LETTER", "").replace("LATIN ", "").replace("GREEK ", "")
    # Some stood in Unicode before the alphabets did, under names of their own.
    for prefix in ("MATHEMATICAL ", ""):
        try:
            return unicodedata.lookup(
                f"{prefix}{alphabet.replace('FRAKTUR', 'FRAKTUR' if prefix else 'BLACK-LETTER')} {name}"
            )
        except KeyError:
            continue
    return letter


def _row(children: list[Element]) -> Element:
    """A row of what is not empty."""
    children = [child for child in children if not _is_empty(child)]
    if len(children) == 1:
        return children[0]
    row = Element("mrow")
    row.extend(children)
    return row


def _is_empty(element: Element) -> bool:
    return element.tag == "mrow" and not len(element)


def _hang(script: Element, before: list[Element]) -> None:
    """Hangs a script that has no base on what stands before it, where that is something a script can belong to."""
    base = before[-1] if before else None
    closes = base is not None and base.tag == "mo" and base.text in (")", "]", "}")
    if base is None or not (closes or base.tag in ("mi", "mn", "msub", "mrow")):
        before.append(script)
        return
    before.pop()
    if base.tag == "msub" and script.tag == "msup":
        both = Element("msubsup")
        both.extend([*base, script[1]])
        before.append(both)
    else:
        script[0] = base
        before.append(script)


def _before_their_bases(elements: list[Element]) -> list[Element]:
    """Scripts that still have no base belong to what follows them, as the two numbers of a nuclide do."""
    results = list(elements)
    for at in range(len(results) - 2, -1, -1):
        script = results[at]
        if script.tag not in _SCRIPTED or not _is_empty(script[0]):
            continue
        base = results[at + 1]
        whole = Element("mmultiscripts")
        lower = script[1] if script.tag != "msup" else Element("none")
        upper = script[-1] if script.tag != "msub" else Element("none")
        whole.extend([base, Element("mprescripts"), lower, upper])
        results[at : at + 2] = [whole]
    return results


_thread: ThreadPoolExecutor | None = None
_context: quickjs.Context | None = None


def _engine() -> ThreadPoolExecutor:
    """The one thread in which the engine lives, which may not be used from two."""
    global _thread
    if _thread is None:
        _thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="formulas")
    return _thread


def _read(tex: str, display: bool) -> dict[str, Any]:
    global _context
    if _context is None:
        here = files(__package__)
        context = quickjs.Context()
        context.set_memory_limit(_MEMORY)
        context.eval("var window = globalThis, self = globalThis;")
        for name in ("katex.min.js", "mhchem.min.js", "units.js"):
            source = (here / name).read_text(encoding="utf-8")
            context.eval(source.replace("export ", "") if name == "units.js" else source)
        context.eval(_READER)
        _context = context
    try:
        answer: dict[str, Any] = json.loads(_context.get("read")(tex, display))
    except (quickjs.JSException, SystemError):
        # Out of memory, or letters that are half of a pair: the engine is made anew for the next one.
        _context = None
        return {"message": ""}
    return answer


def _begin_anew() -> None:
    """After a fork there is no thread any more, and no lock of its engine can be trusted."""
    global _thread, _context
    _thread = _context = None


os.register_at_fork(after_in_child=_begin_anew)
