"""Sheets as PDF. What every sheet of a form shares is drawn once, as a form, and placed on each page."""

from collections.abc import Sequence
from io import BytesIO

import segno
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from versomark.core.language import N_, _, _n

from .finding import DICTIONARY
from .layout import CODE_TOP, CORNER, MARGIN, Key, Plan, SheetLayout
from .lettering import draw_line, width_of
from .shapes import BOLD, PLAIN, marker_cells, place_squares, use_fonts
from .sheet_map import code_text, cover_text
from .spec import SheetSpec, SheetStudent

HOW = N_("Fill the circle of your answer. To change it, rub it out well.")
HOW_SEVERAL = N_("Where a line stands under the circles, fill as many as you need.")


def draw(spec: SheetSpec, layout: SheetLayout) -> bytes:
    """The PDF of a batch, page by page as `laid.map` says."""
    return Sheets(spec, layout).pdf()


class Sheets:
    def __init__(self, spec: SheetSpec, layout: SheetLayout) -> None:
        self.spec, self.laid = spec, layout
        self.width, self.height = layout.map.width_mm, layout.map.height_mm
        use_fonts()
        self.out = BytesIO()
        # Two halves stand side by side on the paper, lying.
        self.page_width = self.width * (2 if spec.halves else 1)
        size = (self.page_width * mm, self.height * mm)
        self.canvas = Canvas(self.out, pagesize=size, pageCompression=1, invariant=1)
        self.canvas.setTitle(_("{title}: answer sheets", title=spec.title))
        self.canvas.setProducer("Verso Mark")

    def pdf(self) -> bytes:
        if self.spec.cover:
            self._cover()
        several = any(item.kind == "multiple" for item in self.spec.items)
        for key, plans in self.laid.plans.items():
            for page, plan in enumerate(plans, start=1):
                self.canvas.beginForm(_form_name(key, page))
                self._frame(key, page, len(plans), several)
                self._plan(plan)
                self.canvas.endForm()
        everything = [
            (key, student, number)
            for key, student in zip(self.laid.keys, self.laid.students, strict=True)
            for number in range(1, len(self.laid.plans[key]) + 1)
        ]
        by_page: dict[int, list[int]] = {}
        for at, placed in enumerate(self.laid.map.sheets):
            by_page.setdefault(placed.pdf_page, []).append(at)
        for together in by_page.values():
            for at in together:
                key, student, number = everything[at]
                placed = self.laid.map.sheets[at]
                self.canvas.saveState()
                self.canvas.translate(placed.left_mm * mm, 0)
                self.canvas.doForm(_form_name(key, number))
                self._named(student, placed.sheet, number, key)
                self.canvas.restoreState()
            if self.spec.halves:
                self._cut_line()
            self.canvas.showPage()
        self.canvas.save()
        return self.out.getvalue()

    def _cut_line(self) -> None:
        self.canvas.saveState()
        self.canvas.setLineWidth(0.3)
        self.canvas.setDash(1.5 * mm, 2.5 * mm)
        self.canvas.line(self.width * mm, 0, self.width * mm, self.height * mm)
        self.canvas.restoreState()

    def _text(self, x: float, y: float, text: str, points: float, bold: bool = False, at: str = "start") -> None:
        """A line whose base stands y mm from the top; x is its start, its middle or its end."""
        face = BOLD if bold else PLAIN
        back = {"start": 0.0, "middle": 0.5, "end": 1.0}[at]
        left = x - back * width_of(text, points, face) if back else x
        draw_line(self.canvas, left * mm, (self.height - y) * mm, text, points, face)

    def _fitted(self, x: float, y: float, text: str, points: float, room: float, bold: bool = False) -> None:
        """A line in the `room` mm from x, from the side its language is read from: set smaller down to two thirds, and
        cut only past that."""
        font = BOLD if bold else PLAIN
        long = width_of(text, points, font)
        if long > room:
            points = max(points * room / long, points * 2 / 3)
            while text and width_of(text + "…", points, font) > room:
                text = text[:-1]
                if width_of(text + "…", points, font) <= room:
                    text += "…"
                    break
        if self.spec.right_to_left:
            self._text(x + room, y, text, points, bold, "end")
        else:
            self._text(x, y, text, points, bold)

    def _squares(self, x: float, y: float, size: float, rows: Sequence[Sequence[bool]]) -> None:
        """A matrix of black squares whose top stands y mm from the top of the page."""
        place_squares(self.canvas, x, self.height - y, size, rows)

    def _frame(self, key: Key, page: int, pages: int, several: bool) -> None:
        for corner in self.laid.map.corners:
            self._squares(corner.x_mm, corner.y_mm, corner.size_mm, marker_cells(DICTIONARY, corner.id))
        left, points = MARGIN + CORNER + 4, key.points or 9
        room = self.laid.map.codes[0].x_mm - left - 4
        self._fitted(left, MARGIN + 4.5, self.spec.title, max(13, key.points), room, bold=True)
        forms = _("Form {form}", form=key.form) if self.spec.forms else ""
        of = _("page {page} of {pages}", page=page, pages=pages) if pages > 1 else ""
        under = " · ".join(part for part in (self.spec.subtitle, forms, of) if part)
        self._fitted(left, MARGIN + (9.5 if not key.points else 12), under, points, room)
        y = MARGIN + CORNER + (16.5 if not key.points else 20)
        self.canvas.setLineWidth(0.6)
        mirrored = self.spec.right_to_left
        filled = self.width - MARGIN - 1.8 if mirrored else MARGIN + 1.8
        self.canvas.circle(filled * mm, (self.height - y + 1.1) * mm, 1.7 * mm, stroke=1, fill=1)
        self.canvas.setLineWidth(0.7)
        lines = [_(HOW), _(HOW_SEVERAL)] if several else [_(HOW)]
        for line in lines if key.points else [" ".join(lines)]:
            self._fitted(MARGIN + (1 if mirrored else 5), y, line, points, self.width - 2 * MARGIN - 6)
            y += 8
        y -= 8
        self.canvas.setLineWidth(0.5)
        self.canvas.line(
            MARGIN * mm, (self.height - y - 2.4) * mm, (self.width - MARGIN) * mm, (self.height - y - 2.4) * mm
        )

    def _plan(self, plan: Plan) -> None:
        for rule in plan.rules:
            self.canvas.setLineWidth(0.35 if rule.thin else 0.8)
            x, y = rule.x * mm, (self.height - rule.y) * mm
            if rule.h:
                self.canvas.rect(x, y - rule.h * mm, rule.w * mm, rule.h * mm, stroke=1, fill=0)
            else:
                self.canvas.line(x, y, x + rule.w * mm, y)
        self.canvas.setLineWidth(RING * mm)
        for bubble in plan.bubbles:
            # The ring lies inside r, so that r is where the bubble ends.
            radius = (bubble.r_mm - RING / 2) * mm
            self.canvas.circle(bubble.x_mm * mm, (self.height - bubble.y_mm) * mm, radius, stroke=1, fill=0)
        for words in plan.prints:
            at = "end" if words.ends else "middle" if words.centred else "start"
            self._text(words.x, words.y, words.text, words.points, words.bold, at)

    def _named(self, student: SheetStudent | None, sheet: str, page: int, key: Key) -> None:
        rows = _code(code_text(sheet, page))
        for place in self.laid.map.codes:
            self._squares(place.x_mm, place.y_mm, place.size_mm, rows)
        left, room = MARGIN + CORNER + 4, self.laid.map.codes[0].x_mm - MARGIN - CORNER - 8
        y = MARGIN + (18.5 if not key.points else 23)
        mirrored = self.spec.right_to_left
        if student is None:
            self._fitted(left, y, _("Name"), 10, room)
            self.canvas.setLineWidth(0.5)
            begins, ends = (left, left + room - 12) if mirrored else (left + 12, left + room)
            self.canvas.line(begins * mm, (self.height - y - 0.8) * mm, ends * mm, (self.height - y - 0.8) * mm)
        else:
            number = str(student.number)
            self._fitted(left, y, number, max(18, key.points), room, bold=True)
            wide = width_of(number, max(18, key.points), BOLD)
            name_left = left if mirrored else left + wide + 4
            self._fitted(name_left, y, student.name, max(14, key.points), room - wide - 4)
        self._text(self.laid.map.codes[1].x_mm + 16, self.height - MARGIN - 1, f"{sheet}-{page}", 7)

    def _cover(self) -> None:
        """What this is, how many, how to fill it in, how to scan it: for whoever stands at the copier."""
        spec, left, wide = self.spec, MARGIN + 8, self.page_width
        # By this code a scan of the cover is known for what it is.
        code_x = left if spec.right_to_left else wide - left - CODE_TOP
        self._squares(code_x, MARGIN + 8, CODE_TOP, _code(cover_text(spec.batch_code())))
        self._fitted(left, 34, _("Answer sheets"), 11, wide - 2 * left)
        self._fitted(left, 44, spec.title, 24, wide - 2 * left, bold=True)
        self._fitted(left, 52, spec.subtitle, 13, wide - 2 * left)
        pages = len({sheet.pdf_page for sheet in self.laid.map.sheets})
        named = len(spec.students)
        counts = _n("{named} named sheet", "{named} named sheets", named, named=named)
        if spec.spare:
            counts += _(" and {value} spare", value=spec.spare * (1 + len(spec.forms)))
        counts += _n(
            ", {pages} page after this one. Batch {batch_code}.",
            ", {pages} pages after this one. Batch {batch_code}.",
            pages,
            pages=pages,
            batch_code=spec.batch_code(),
        )
        y = 66.0
        self._fitted(left, y, counts, 12, wide - 2 * left)
        large = [str(student.number) for student in spec.students if student.points]
        if large:
            y += 7
            self._fitted(left, y, _("In large print: number {list}.", list=", ".join(large)), 12, wide - 2 * left)
        tight = 0.7 if spec.halves else 1.0
        cutting = [(N_("Cutting"), (CUTTING,))] if spec.halves else []
        for heading, lines in (*cutting, *COVER):
            y += 13 * tight
            self._fitted(left, y, _(heading), 13, wide - 2 * left, bold=True)
            for line in lines:
                y += 6.5 * tight
                self._fitted(left + (0 if spec.right_to_left else 4), y, _(line), 11, wide - 2 * left - 4)
        y += 15 * tight
        self._fitted(left, y, _("Who has a sheet here"), 13, wide - 2 * left, bold=True)
        columns = round((wide - 2 * left) / 56)
        column, step, start = 0, (wide - 2 * left) / columns, y
        for student in spec.students:
            y += 5.4
            if y > self.height - 20:
                column, y = column + 1, start + 5.4
            if column >= columns:
                break
            across = columns - 1 - column if spec.right_to_left else column
            self._fitted(left + 4 + across * step, y, f"{student.number}  {student.name}", 10, step - 6)
        self.canvas.showPage()


RING = 0.28
"""Width of a bubble's ring, mm."""

CUTTING = N_("Cut along the dashed line and lay the right pile under the left one: then all sheets lie in order.")
COVER = (
    (
        N_("Filling in"),
        (
            N_("A dark pencil or a blue or black pen. Fill the circle; a tick or a cross in it is read too."),
            N_("To change an answer, rub it out well. What stays doubtful is shown to you, never guessed."),
            N_("A student without a sheet takes a spare one and fills their number."),
            N_("Nothing may be written over the four corner marks and the two square codes."),
        ),
    ),
    (
        N_("Scanning"),
        (
            N_(
                "On the copier: PDF, 200 or 300 dpi, grey or black and white. Any order, either way up, "
                "both sides or one."
            ),
            N_("Leave this page out or in: it does no harm. Sheets of several classes may go together."),
            N_(
                "Drop the file on the scan inbox, save it in the watched folder, or mail it. A photo of a "
                "sheet will do."
            ),
        ),
    ),
)


def _form_name(key: Key, page: int) -> str:
    return f"{key.form}-{key.points}-{'spare' if key.spare else 'named'}-{page}"


def _code(text: str) -> list[list[bool]]:
    # One mask for all: trying the eight of them, to choose the one that looks best, took most of the time of a batch.
    return [[bool(cell) for cell in row] for row in segno.make(text, error="q", micro=False, mask=3).matrix]
