"""Rich text: what a teacher may write in a question, cleaned whenever it comes in, and read back as plain words.

It is a small part of HTML (paragraphs, bold, italics, sub- and superscript, lists, tables, pictures of the bank) with
TeX between dollar signs. Everything else is taken out by nh3, so what is stored can be shown as it stands.
"""

import re
from collections.abc import Callable
from html import unescape
from typing import Annotated

import nh3
from pydantic import AfterValidator, StringConstraints

from versomark.core.language import in_figures

MAX_RICH = 40_000
MAX_LINE = 4_000

TAGS = {
    *("p", "br", "strong", "em", "u", "sub", "sup", "code", "pre", "blockquote", "h3"),
    *("ul", "ol", "li", "table", "thead", "tbody", "tr", "th", "td", "img"),
}
ATTRIBUTES = {"img": {"src", "alt"}, "td": {"colspan", "rowspan"}, "th": {"colspan", "rowspan"}}
PICTURE = re.compile(r"/pictures/([0-9a-f-]{36})")
TEX = re.compile(r"\$(?!\s)([^$]+?)(?<!\s)\$(?!\d)")
"""A formula; `$5 and $10` is money."""
_FORMULA = re.compile(
    r"""<p>\s*\$(?!\s)(?P<alone>[^$<]+?)(?<!\s)\$\s*</p>|<(?:"[^"]*"|[^">])*>|\$(?!\s)(?P<within>[^$<]+?)(?<!\s)\$(?!\d)"""
)
"""A formula with a paragraph to itself, a tag, with whatever its attributes say, or a formula within a line. As on the
pages, a formula ends with its line: what is between two dollar signs that stand in two elements is none."""
_DOUBLE = re.compile(r"(?<!\$)\$\$(?!\s*\$)([^$<]+?)\$\$(?!\$)")
r"""How TeX marks what stands alone; here that is `\displaystyle`, so that there is one sign for a formula."""
_BLOCK_ENDS = re.compile(r"</(?:p|li|td|th|tr|h3|pre|blockquote)>|<br>")
_IMAGE = re.compile(r"<img\b[^>]*>")
_ALT = re.compile(r'\balt="([^"]*)"')
_SOURCE = re.compile(r'\bsrc="/pictures/([0-9a-f-]{36})"')
_ONE_PARAGRAPH = re.compile(r"<p>((?:(?!</?p>).)*)</p>", re.DOTALL)
_EMPTY_ENDS = re.compile(r"(?:\s|<p>(?:\s|<br>)*</p>|<br>)+\Z")
_RENAMED = {"b": "strong", "i": "em", "h1": "h3", "h2": "h3", "h4": "h3", "h5": "h3", "h6": "h3"}
_FOREIGN = (
    "html|head|body|title|meta|link|base|script|noscript|style|template|iframe|object|embed|param|form|input|"
    "button|label|select|option|textarea|fieldset|legend|output|progress|meter|font|main|section|address|"
    "picture|source|video|audio|track|canvas|svg|g|path|rect|circle|line|text|use|math|mi|mn|mo|mrow|msup|msub|"
    "msubsup|mfrac|msqrt|mroot|mtext|mtable|mtr|mtd|mover|munder|munderover|mfenced|mstyle|semantics|"
    "annotation|dialog|slot|frame|frameset|marquee|applet|big"
)
_ELEMENT = f"{'|'.join(sorted(nh3.ALLOWED_TAGS | TAGS))}|{_FOREIGN}"
_NOT_A_TAG = re.compile(
    rf"<(?!/?(?:{_ELEMENT}|[a-z]\w*:\w[\w:-]*|[a-z]\w+-[\w-]*\w\w)(?:\s*/?>|\s+[\w:@-]+\s*=|/)|[!?])",
    re.IGNORECASE,
)
"""A `<` that somebody typed as “less than”: no known element follows, or nothing that looks like its attributes. Names
of a prefix (`o:p`) or of two words (`my-box`) count as elements; `<x-y>` is somebody's algebra."""
_PASSES = 6
"""Taking a foreign tag out can leave two headings one inside the other, which reads as something else next time."""
_RENAMED_TAG = re.compile(rf"<(/?)({'|'.join(_RENAMED)})(?=[\s>/])", re.IGNORECASE)


def clean(text: str) -> str:
    """Rich text made safe. One lone paragraph becomes a bare line, so that a plain question stays a plain string.

    Cleaning what is clean changes nothing.
    """
    return _DOUBLE.sub(lambda match: rf"$\displaystyle {match[1].strip()}$", _clean(text))


def _clean(text: str) -> str:
    if "<" not in text and "&" not in text and ">" not in text:
        return text.strip()
    text = _NOT_A_TAG.sub("&lt;", text)
    for _ in range(_PASSES):
        before, text = text, _cleaned_once(text)
        if text == before:
            return text
    return escaped(plain(text))  # nothing a person or a program writes on purpose


def _cleaned_once(text: str) -> str:
    text = _RENAMED_TAG.sub(lambda tag: f"<{tag[1]}{_RENAMED[tag[2].lower()]}", text)
    text = nh3.clean(text, tags=TAGS, attributes=ATTRIBUTES, attribute_filter=_keep, link_rel=None, strip_comments=True)
    text = _EMPTY_ENDS.sub("", text.replace("&nbsp;", "\xa0")).strip()
    alone = _ONE_PARAGRAPH.fullmatch(text)
    return alone[1].strip() if alone else text


def _keep(tag: str, attribute: str, value: str) -> str | None:
    """Pictures come from the bank and nowhere else; a cell spans a sensible number of others."""
    if attribute == "src":
        return value if PICTURE.fullmatch(value) else None
    if attribute in ("colspan", "rowspan"):
        return value if value.isdigit() and 1 <= int(value) <= 20 else None
    return value[:500]


def escaped(words: str) -> str:
    """Plain words as rich text that shows them as they are."""
    return words.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def plain(text: str) -> str:
    """The words of a rich text, pictures by their alternative text, blocks apart by a space."""
    if "<" not in text and "&" not in text:
        return " ".join(text.split())
    text = _IMAGE.sub(lambda image: f" {_alt(image[0])} ", text)
    text = _BLOCK_ENDS.sub(lambda end: f"{end[0]} ", text)
    return " ".join(unescape(nh3.clean(text, tags=set())).split())


def readable(text: str) -> str:
    """The words of a rich text for a list, where formulas are not set: without the dollar signs around them."""
    return TEX.sub(lambda match: match[1], plain(text))


def with_formulas(text: str, draw: Callable[[str, bool], str]) -> str:
    """Clean rich text with its formulas in another form.

    draw: is given the TeX, and whether it has a paragraph to itself; answers with HTML.
    """

    def drawn(match: re.Match[str]) -> str:
        if match["alone"]:
            return f"<p>{draw(unescape(match['alone']), True)}</p>"
        return draw(unescape(match["within"]), False) if match["within"] else match[0]

    return _FORMULA.sub(drawn, text)


def is_empty(text: str) -> bool:
    return not plain(text) and not _IMAGE.search(text)


def pictures(text: str) -> list[str]:
    """The ids of the pictures in a rich text, in order."""
    return _SOURCE.findall(text)


def pictures_without_words(text: str) -> int:
    """How many pictures have no alternative text."""
    return sum(not _alt(image).strip() for image in _IMAGE.findall(text))


def _alt(image: str) -> str:
    match = _ALT.search(image)
    return match[1] if match else ""


RichText = Annotated[str, StringConstraints(max_length=MAX_RICH), AfterValidator(clean)]
RichLine = Annotated[str, StringConstraints(max_length=MAX_LINE), AfterValidator(clean)]


def marks_text(value: float) -> str:
    """Marks as a person reads them: `7`, `7.5`, `3.3`, never `3.33333`."""
    return in_figures(round(value, 1))
