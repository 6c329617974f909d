"""A printed page as DOCX, from the very HTML that becomes the PDF, for whoever wants to change a word in it.

Only what our own templates and the rich text of the core hold is known here. Formulas become formulas of the word
processor, pictures of the bank are embedded, and nothing is fetched.
"""

import io
import re
from base64 import b64decode
from collections.abc import Iterator
from html.entities import name2codepoint
from typing import Any, NamedTuple
from uuid import UUID

from docx import Document
from docx.enum.text import WD_BREAK
from docx.image.exceptions import UnrecognizedImageError
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls
from docx.shared import Cm, Emu, Pt, RGBColor
from docx.text.paragraph import Paragraph
from lxml import html
from mathml2omml import convert as to_office

from versomark.core.notation.formulas import mathml
from versomark.core.text import PICTURE
from versomark.school.bank.public import path_of, picture_of
from versomark.school.errors import NotFound

ROOM = Cm(17)
"""Between the margins of A4."""
WIDEST = Cm(13)
"""Of a picture."""
_POINTS = 10.5
_EM = Pt(_POINTS)
_HEADINGS = {"h1": 1, "h2": 2, "h3": 3}
_BLOCKS = {"p", "div", "header", "section", "body", "main", "blockquote", "pre", "figure"} | set(_HEADINGS)
_RUNS = {"strong": "bold", "b": "bold", "em": "italic", "i": "italic", "u": "underline"}
_QUIET = {"hint", "facts", "skill", "worth"}
_BLANKS = {"gap": "_" * 12, "short-rule": "_" * 40, "rule": "_" * 78, "box": "☐"}
_WIDTH = re.compile(r"width:\s*([0-9.]+)(em|mm)")
_DATA = "data:image/png;base64,"
_GREY = RGBColor(0x5A, 0x62, 0x70)
_INK = RGBColor(0x1B, 0x23, 0x30)


class _Look(NamedTuple):
    """How the words of a run look."""

    bold: bool = False
    italic: bool = False
    underline: bool = False
    sub: bool = False
    sup: bool = False
    quiet: bool = False


def html_to_docx(page: str) -> bytes:
    """A4, a heading for each heading, a new page where the page begins one."""
    document = Document()
    section = document.sections[0]
    section.page_width, section.page_height = Cm(21), Cm(29.7)
    section.left_margin = section.right_margin = Cm(2)
    section.top_margin = section.bottom_margin = Cm(1.8)
    document.styles["Normal"].font.size = Pt(_POINTS)
    document.styles["Normal"].paragraph_format.space_after = Pt(4)
    for level in (1, 2, 3):
        document.styles[f"Heading {level}"].font.color.rgb = _INK
    document.core_properties.author = ""
    tree = html.fromstring(page)
    title = tree.find(".//title")
    document.core_properties.title = _allowed(title.text or "") if title is not None else ""
    writer = _Writer(document)
    for sheet in tree.find("body"):
        if writer.written and "sheet" in _classes(sheet):
            document.paragraphs[-1].add_run().add_break(WD_BREAK.PAGE)
        writer.block(sheet, document, _Look())
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


class _Writer:
    """Walks the page; `line` is the paragraph that is being written, None between two."""

    def __init__(self, document: Any) -> None:
        self.document = document
        self.line: Paragraph | None = None
        self.goes_on = False
        """Whether the next block stands on the line of this one: what follows the number of a question."""
        self.style = ""
        self.written = False

    def block(self, node: Any, into: Any, look: _Look) -> None:
        """A block and what is in it, into the document or a cell of it."""
        kind, named = node.tag, _classes(node)
        if not self.goes_on:
            self.line = None
        if kind == "table":
            self._table(node, into, look)
            return
        if kind in ("ul", "ol"):
            self._list(node, into, look)
            return
        if kind in _HEADINGS and into is self.document:
            self.line, self.written = self.document.add_heading("", _HEADINGS[kind]), True
        if "number" in named:
            self._number(node, into, look)
            return
        if named & _QUIET:
            look = look._replace(quiet=True)
        self._inside(node, into, look)
        self.line = None

    def _number(self, node: Any, into: Any, look: _Look) -> None:
        form = self._paragraph(into).paragraph_format
        form.space_before, form.keep_with_next = Pt(9), True
        self._inside(node, into, look._replace(bold=True))
        self._say("\u2002", into, look)
        self.goes_on = True

    def _inside(self, node: Any, into: Any, look: _Look) -> None:
        for piece in _pieces(node):
            if isinstance(piece, str):
                self._say(piece, into, look)
            elif piece.tag in _BLOCKS or piece.tag in ("ul", "ol", "table"):
                self.block(piece, into, look)
            else:
                self._inline(piece, into, look)

    def _inline(self, node: Any, into: Any, look: _Look) -> None:
        if not isinstance(node.tag, str):
            return  # a comment
        if node.tag == "br":
            self._paragraph(into).add_run().add_break()
        elif node.tag == "img":
            self._picture(node, into)
        elif blank := next((_BLANKS[school_class] for school_class in _classes(node) if school_class in _BLANKS), ""):
            self._say(blank, into, look)
        else:
            look = look._replace(**{_RUNS[node.tag]: True}) if node.tag in _RUNS else look
            look = look._replace(sub=node.tag == "sub" or look.sub, sup=node.tag == "sup" or look.sup)
            look = look._replace(quiet=look.quiet or bool(_classes(node) & _QUIET))
            self._inside(node, into, look)
            if "letter" in _classes(node):
                self._say("\u2002", into, look)

    def _say(self, words: str, into: Any, look: _Look) -> None:
        words = re.sub(r"[ \t\r\n]+", " ", _allowed(words))
        if (self.line is None or self.goes_on) and not words.strip(" "):
            return
        run = self._paragraph(into).add_run(words.lstrip(" ") if self.line and not self.line.text else words)
        # Only what differs is said, so that a heading keeps its own look.
        run.bold, run.italic, run.underline = look.bold or None, look.italic or None, look.underline or None
        # Asking for the one takes the other away, even where it is asked not to be.
        if look.sub:
            run.font.subscript = True
        elif look.sup:
            run.font.superscript = True
        if look.quiet:
            run.font.size, run.font.color.rgb = Pt(_POINTS - 1.5), _GREY

    def _paragraph(self, into: Any) -> Paragraph:
        self.goes_on = False
        if self.line is None:
            # A cell begins with an empty paragraph of its own.
            first = into.paragraphs[0] if into is not self.document and not into.paragraphs[0].text else None
            fresh = first is not None and len(into.paragraphs) == 1 and len(first._p) == 0
            self.line = first if first is not None and fresh else into.add_paragraph()
            self.written = True
            if self.style:
                self.line.style = self.document.styles[self.style]
        return self.line

    def _list(self, node: Any, into: Any, look: _Look) -> None:
        before = self.style
        own = "options" in _classes(node)
        self.style = "" if own else "List Number" if node.tag == "ol" else "List Bullet"
        for entry in node:
            self.line = None
            self._inside(entry, into, look)
            if own and self.line is not None:
                self.line.paragraph_format.left_indent = Cm(0.6)
        self.style, self.line = before, None

    def _table(self, node: Any, into: Any, look: _Look) -> None:
        rows = [[cell for cell in row if cell.tag in ("td", "th")] for row in node.iter("tr")]
        columns = max((len(row) for row in rows), default=0)
        if not columns:
            return
        grid = into.add_table(len(rows), columns)
        if "skills" not in _classes(node):
            grid.style = self.document.styles["Table Grid"]
        grid.autofit = False
        widths = _widths(rows[0], columns)
        for column, width in zip(grid.columns, widths, strict=True):
            column.width = width
        for row, line in zip(rows, grid.rows, strict=True):
            for cell, place, width in zip(row, line.cells, widths, strict=False):
                place.width = width
                self.line = None
                self._inside(cell, place, look._replace(bold=cell.tag == "th" or "band" in _classes(cell)))
        self.line, self.written = None, True

    def _picture(self, node: Any, into: Any) -> None:
        source, words = node.get("src", ""), _allowed(node.get("alt", ""))
        if "tex" in _classes(node):
            self._formula(words, into)
            return
        match = PICTURE.search(source)
        try:
            data = path_of(picture_of(UUID(match[1]))).read_bytes() if match else _embedded(source)
            run = self._paragraph(into).add_run()
            drawn = run.add_picture(io.BytesIO(data))
        except (NotFound, OSError, ValueError, LookupError, UnrecognizedImageError):
            # A picture that is gone, or of a kind the format has no place for, is there in words.
            self._say(f"[{words or 'picture'}]", into, _Look(italic=True))
            return
        if drawn.width > WIDEST:
            drawn.height, drawn.width = Emu(drawn.height * WIDEST // drawn.width), WIDEST
        drawn._inline.docPr.set("descr", words)

    def _formula(self, tex: str, into: Any) -> None:
        """As a formula of the word processor; what cannot be one stays as it was typed."""
        try:
            office = to_office(mathml(tex), name2codepoint).replace("<m:oMath>", f"<m:oMath {nsdecls('m', 'w')}>", 1)
            self._paragraph(into)._p.append(parse_xml(office.replace("<m:rad>", _ROOT_OF_TWO)))
        except Exception:  # the converter raises whatever the text makes them
            self._say(f"${tex}$", into, _Look())


_ROOT_OF_TWO = '<m:rad><m:radPr><m:degHide m:val="1"/></m:radPr><m:deg/>'
"""Without it Word shows an empty box for the degree of a square root."""


def _pieces(node: Any) -> Iterator[Any]:
    """Its words and elements in order."""
    if node.text:
        yield node.text
    for child in node:
        yield child
        if child.tail:
            yield child.tail


def _classes(node: Any) -> set[str]:
    return set((node.get("class") or "").split())


def _widths(cells: list[Any], columns: int) -> list[int]:
    """What the page says of its columns; the others share the rest."""
    matches = [_WIDTH.search(cell.get("style") or "") for cell in cells] + [None] * (columns - len(cells))
    given = [int(float(entry[1]) * (_EM if entry[2] == "em" else Cm(0.1))) if entry else None for entry in matches]
    rest = max(int(ROOM) - sum(entry or 0 for entry in given), int(Cm(2)))
    return [entry if entry is not None else rest // given.count(None) for entry in given]


def _embedded(source: str) -> bytes:
    if not source.startswith(_DATA):
        raise ValueError("that picture is not in the page")
    return b64decode(source[len(_DATA) :])


def _allowed(text: str) -> str:
    """Without the characters that XML 1.0 has no place for."""
    return "".join(entry for entry in text if entry in "\t\n" or " " <= entry <= "\ud7ff" or entry >= "\ue000")
