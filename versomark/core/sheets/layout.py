"""Where everything stands on a page, in mm from its top left: worked out once a form, the same for every student."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import groupby
from string import ascii_uppercase

from versomark.core.language import _

from .shapes import width_mm
from .sheet_map import Box, Bubble, CodePlace, CornerMark, MapItem, SheetMap, SheetPage
from .spec import NUMBER, SheetItem, SheetSpec, SheetStudent, sheet_mm

MARGIN = 12.0
CORNER = 9.0
CODE_TOP, CODE_FOOT = 17.0, 12.0
HEAD = 43.0
"""Where the questions begin, from the top of the page."""
FOOT = 15.0
"""Kept free above the bottom margin, for the corner marks and the second code."""
GAP = 4.0
MOST_COLUMNS = 4
BY_ITS_LETTER = 0.45
"""Between a letter and its bubble, mm."""
SIGNS = ("-", ".")
DIGITS = "0123456789"


@dataclass(frozen=True)
class Sizes:
    """Measures in mm; type in points."""

    points: float
    radius: float
    pitch: float
    """From one bubble of a row to the next, its letter between them."""
    row: float
    label: float
    grid: float
    """From one bubble of a digit grid to the next, across."""
    grid_row: float
    symbol: float


USUAL = Sizes(points=9.0, radius=2.2, pitch=8.4, row=7.4, label=8.0, grid=6.0, grid_row=5.7, symbol=4.5)
LARGE = {
    18: Sizes(points=18, radius=3.3, pitch=13.5, row=11.5, label=14, grid=9.5, grid_row=8.4, symbol=8),
    24: Sizes(points=24, radius=3.8, pitch=16.5, row=13.0, label=19, grid=11.5, grid_row=10.0, symbol=10),
}


@dataclass(frozen=True)
class Print:
    """Words on the page; (x, y) is where their line begins, on its base line."""

    x: float
    y: float
    text: str
    points: float
    bold: bool = False
    centred: bool = False
    ends: bool = False
    """Whether x is where the line ends."""


@dataclass(frozen=True)
class Rule:
    x: float
    y: float
    w: float
    h: float = 0.0
    """0 for a line across; a frame otherwise."""
    thin: bool = True


@dataclass
class Plan:
    """One page of a form."""

    bubbles: list[Bubble] = field(default_factory=list)
    boxes: list[Box] = field(default_factory=list)
    prints: list[Print] = field(default_factory=list)
    rules: list[Rule] = field(default_factory=list)


@dataclass(frozen=True)
class Key:
    """Students whose sheets look the same but for name and code."""

    form: str
    points: int = 0
    spare: bool = False


@dataclass(frozen=True)
class SheetLayout:
    map: SheetMap
    plans: dict[Key, list[Plan]]
    keys: list[Key]
    """By sheet, in the order of printing."""
    students: list[SheetStudent | None]


class DoesNotFit(ValueError):
    """A question that a sheet of this size has no room for; the message says which, in words."""


def lay_out(spec: SheetSpec) -> SheetLayout:
    """Every sheet of a batch in printing order: the students as given, then the spare ones.

    Raises
    ------
    DoesNotFit
        When a question is wider or taller than a sheet.
    """
    # Spare ones of every form: who takes one must find the questions in the order of their own paper.
    spare = [Key(form, spare=True) for form in ("A", *spec.forms) for _ in range(spec.spare)]
    keys = [Key(student.form, student.points) for student in spec.students] + spare
    plans = {key: list(_pages(spec, key)) for key in dict.fromkeys(keys)}
    students: list[SheetStudent | None] = [*spec.students, *([None] * len(spare))]
    code, pdf_page, sheets = spec.batch_code(), int(spec.cover), list[SheetPage]()
    many = sum(len(plans[key]) for key in keys)
    # Cut along the line, the right pile goes under the left one, and all lie in order again.
    on_the_left = -(-many // 2) if spec.halves else many
    width, height = sheet_mm(spec.paper, spec.halves)
    for at, (key, student) in enumerate(zip(keys, students, strict=True), start=1):
        for page, plan in enumerate(plans[key], start=1):
            # Built without checking again: a large batch has tens of thousands of bubbles that were checked once.
            sheets.append(
                SheetPage.model_construct(
                    sheet=f"{code}-{at:03d}",
                    student=student.number if student else "",
                    page=page,
                    pdf_page=pdf_page + len(sheets) % on_the_left,
                    left_mm=width if len(sheets) >= on_the_left else 0.0,
                    form=key.form,
                    bubbles=plan.bubbles,
                    boxes=plan.boxes,
                )
            )
    sheet_map = SheetMap.model_construct(
        batch=code,
        paper=spec.paper,
        width_mm=width,
        height_mm=height,
        right_to_left=spec.right_to_left,
        corners=corners(width, height),
        codes=codes(width, height),
        items=[
            MapItem(id=item.id, kind=item.kind, label=item.label or str(number), max=item.max)
            for number, item in enumerate(spec.items, start=1)
        ],
        sheets=sheets,
    )
    return SheetLayout(sheet_map, plans, keys, students)


def corners(width: float, height: float) -> list[CornerMark]:
    """Top left, top right, bottom right, bottom left."""
    right, low = width - MARGIN - CORNER, height - MARGIN - CORNER
    places = [(MARGIN, MARGIN), (right, MARGIN), (right, low), (MARGIN, low)]
    return [CornerMark(id=at, x_mm=x, y_mm=y, size_mm=CORNER) for at, (x, y) in enumerate(places)]


def codes(width: float, height: float) -> list[CodePlace]:
    """One beside the name; a second, smaller, at the foot, for a page that lost its head."""
    return [
        CodePlace(x_mm=width - MARGIN - CORNER - 5 - CODE_TOP, y_mm=MARGIN, size_mm=CODE_TOP),
        CodePlace(x_mm=(width - CODE_FOOT) / 2, y_mm=height - MARGIN - CODE_FOOT, size_mm=CODE_FOOT),
    ]


def _pages(spec: SheetSpec, key: Key) -> Iterator[Plan]:
    """The pages of one form: narrow questions flow in columns, wide ones take the whole width."""
    width, height = sheet_mm(spec.paper, spec.halves)
    sizes = LARGE.get(key.points, USUAL)
    left, breadth, top, low = MARGIN, width - 2 * MARGIN, HEAD, height - MARGIN - FOOT
    if key.points:
        top += 14 if any(item.kind == "multiple" for item in spec.items) else 6
    page, y = Plan(), top
    blocks = [_number_grid(spec.number_digits(), sizes)] if key.spare else []
    numbers = spec.numbers.get(key.form, {})
    names = {
        item.id: numbers.get(item.id) or item.label or str(at)
        for at, item in enumerate(spec.in_form(key.form), start=1)
    }
    blocks += [_block(item, names[item.id], sizes, breadth, low - top) for item in spec.in_form(key.form)]
    if spec.right_to_left:
        blocks = [block.mirrored() for block in blocks]
    for block in blocks:
        if block.width > breadth + 0.01 or block.height > low - top + 0.01:
            size = _(" in large print") if key.points else ""
            raise DoesNotFit(
                _("{value} does not fit on half a page{size}.", value=block.title or "The number", size=size)
                if spec.halves
                else _("{value} does not fit on a page{size}.", value=block.title or "The number", size=size)
            )
    for across, waiting in _runs(blocks, breadth):
        step = (breadth + GAP) / across
        while waiting:
            taken = _fill(waiting, across, low - y)
            if not any(taken):
                yield page
                page, y = Plan(), top
                continue
            for at, column in enumerate(taken):
                down = y
                for block in column:
                    across_mm = breadth - at * step - block.width if spec.right_to_left else at * step
                    block.put(page, left + across_mm, down)
                    down += block.height
            y += max(sum(block.height for block in column) for column in taken) + 1.5
            waiting = waiting[sum(map(len, taken)) :]
    yield page


def _runs(blocks: Sequence["Block"], breadth: float) -> Iterator[tuple[int, list["Block"]]]:
    """Neighbours that go in the same number of columns, or in fewer where that takes no more room."""
    joined: list[tuple[int, list[Block]]] = []
    for across, run in groupby(blocks, key=lambda block: _columns(block, breadth)):
        waiting = list(run)
        while joined:
            before, earlier = joined[-1]
            both = (min(across, before), [*earlier, *waiting])
            if min(across, before) == 1 or _tall(*both) > _tall(*joined[-1]) + _tall(across, waiting) + 1:
                break
            joined.pop()
            across, waiting = both
        joined.append((across, waiting))
    yield from joined


def _tall(across: int, blocks: Sequence["Block"]) -> float:
    """About how high the blocks stand in so many columns."""
    return max(max(block.height for block in blocks), sum(block.height for block in blocks) / across)


def _columns(block: "Block", breadth: float) -> int:
    return max(1, min(MOST_COLUMNS, int((breadth + GAP) // (block.width + GAP))))


def _fill(blocks: list["Block"], across: int, room: float) -> list[list["Block"]]:
    """The blocks that go on this page, column by column; the last page of a run is balanced."""
    everything = sum(block.height for block in blocks)
    tallest = max(block.height for block in blocks)
    # The lowest height at which all fit, if any: columns of about the same length read better than one full one.
    limit = min(room, max(tallest, everything / across))
    while limit < room and sum(map(len, _stack(blocks, across, limit))) < len(blocks):
        limit = min(room, limit + 2.0)
    return _stack(blocks, across, limit)


def _stack(blocks: list["Block"], across: int, limit: float) -> list[list["Block"]]:
    taken: list[list[Block]] = [[] for _ in range(across)]
    at, used = 0, 0.0
    for block in blocks:
        if used + block.height > limit + 0.01:
            at, used = at + 1, 0.0
        if at == across or block.height > limit + 0.01:
            break
        taken[at].append(block)
        used += block.height
    return taken


@dataclass
class Block:
    """One question as it will be placed; everything relative to its own top left."""

    width: float
    height: float
    bubbles: list[Bubble] = field(default_factory=list)
    boxes: list[Box] = field(default_factory=list)
    prints: list[Print] = field(default_factory=list)
    rules: list[Rule] = field(default_factory=list)
    title: str = ""
    """Of the question, for a sentence."""
    is_grid: bool = False
    """Of digits in columns."""

    def put(self, page: Plan, x: float, y: float) -> None:
        page.bubbles += [
            b.model_copy(update={"x_mm": round(b.x_mm + x, 3), "y_mm": round(b.y_mm + y, 3)}) for b in self.bubbles
        ]
        page.boxes += [
            b.model_copy(update={"x_mm": round(b.x_mm + x, 3), "y_mm": round(b.y_mm + y, 3)}) for b in self.boxes
        ]
        page.prints += [replace(p, x=p.x + x, y=p.y + y) for p in self.prints]
        page.rules += [Rule(r.x + x, r.y + y, r.w, r.h, r.thin) for r in self.rules]

    def mirrored(self) -> "Block":
        """Read from the right. The digits of a number keep their order: they are written from the left everywhere."""
        last = max((int(bubble.option.split(":")[0]) for bubble in self.bubbles), default=0) if self.is_grid else 0

        def option(bubble: Bubble) -> str:
            column, colon, symbol = bubble.option.partition(":")
            return f"{last - int(column)}:{symbol}" if self.is_grid and colon else bubble.option

        return replace(
            self,
            bubbles=[
                bubble.model_copy(update={"x_mm": self.width - bubble.x_mm, "option": option(bubble)})
                for bubble in self.bubbles
            ],
            boxes=[box.model_copy(update={"x_mm": self.width - box.x_mm - box.w_mm}) for box in self.boxes],
            prints=[replace(p, x=self.width - p.x, ends=not p.ends and not p.centred) for p in self.prints],
            rules=[replace(rule, x=self.width - rule.x - rule.w) for rule in self.rules],
        )

    def row(self, item: str, options: Sequence[tuple[str, str]], x: float, y: float, sizes: Sizes) -> None:
        """A row of bubbles, each with its letter close to its left; (x, y) is the left end of its middle line.

        A letter stands at least twice as far from the bubble before it as from its own, so that nobody takes it for
        that one's; what is too wide for it is set smaller.
        """
        room = sizes.pitch - 2 * sizes.radius - 3 * BY_ITS_LETTER - 0.07 * sizes.points
        for at, (option, letter) in enumerate(options):
            centre = x + at * sizes.pitch + sizes.pitch - sizes.radius - 0.6
            self.bubbles.append(Bubble(item=item, option=option, x_mm=centre, y_mm=y, r_mm=sizes.radius))
            self.prints.append(
                Print(
                    centre - sizes.radius - BY_ITS_LETTER,
                    y + sizes.points * 0.122,
                    letter,
                    min(sizes.points * 0.95, sizes.points * 0.95 * room / width_mm(letter, sizes.points * 0.95)),
                    ends=True,
                )
            )

    def name(self, label: str, y: float, sizes: Sizes) -> None:
        self.prints.append(Print(0, y + sizes.points * 0.125, label, sizes.points + 1.5, bold=True))


def _block(item: SheetItem, label: str, sizes: Sizes, breadth: float, room: float) -> Block:
    block = {
        "choice": _lettered,
        "multiple": _lettered,
        "true-false": _lettered,
        "numeric": _digit_grid,
        "matching": _matching,
        "written": _written,
    }[item.kind](item, label, sizes, breadth, room)
    block.title = _("Question {label}", label=label)
    return block


def _letters(item: SheetItem) -> list[str]:
    if item.kind == "true-false":
        return ["T", "F"]
    return list(item.letters or ascii_uppercase[: item.options])


def _lettered(item: SheetItem, label: str, sizes: Sizes, _breadth: float, _room: float) -> Block:
    letters = _letters(item)
    block = Block(sizes.label + len(letters) * sizes.pitch, sizes.row)
    block.name(label, sizes.row / 2, sizes)
    block.row(item.id, [(letter, letter) for letter in letters], sizes.label, sizes.row / 2, sizes)
    if item.kind == "multiple":
        # A thin line under the row says that several may be filled; the head of the page explains it.
        block.rules.append(Rule(sizes.label, sizes.row - 0.4, len(letters) * sizes.pitch))
    return block


def _digit_grid(item: SheetItem, label: str, sizes: Sizes, _breadth: float, _room: float) -> Block:
    """Columns of digits with a sign and a point above them, and boxes to write the number in first."""
    left, box = sizes.label + sizes.symbol, sizes.grid * 1.05
    symbols = (*SIGNS, *DIGITS)
    block = Block(left + item.digits * sizes.grid, box + 2.2 + len(symbols) * sizes.grid_row + 2.5, is_grid=True)
    block.name(label, box / 2, sizes)
    for column in range(item.digits):
        x = left + column * sizes.grid
        block.rules.append(Rule(x, 0.4, sizes.grid, box))
        for at, symbol in enumerate(symbols):
            y = box + 1.8 + (at + 0.5) * sizes.grid_row
            block.bubbles.append(
                Bubble(
                    item=item.id,
                    option=f"{column}:{symbol}",
                    x_mm=x + sizes.grid / 2,
                    y_mm=y,
                    r_mm=min(sizes.radius, sizes.grid_row * 0.385),
                )
            )
    for at, symbol in enumerate(symbols):
        y = box + 1.8 + (at + 0.5) * sizes.grid_row + sizes.points * 0.122
        shown = {"-": "−", ".": "."}.get(symbol, symbol)
        block.prints.append(Print(left - sizes.symbol * 0.45, y, shown, sizes.points * 0.95, centred=True))
    return block


def _matching(item: SheetItem, label: str, sizes: Sizes, breadth: float, _room: float) -> Block:
    letters = _letters(item)
    lead = sizes.label + sizes.symbol
    # Many choices in large print take two lines a row.
    across = max(1, min(len(letters), int((breadth - lead) // sizes.pitch)))
    lines = -(-len(letters) // across)
    block = Block(lead + across * sizes.pitch, item.rows * lines * sizes.row)
    block.name(label, sizes.row / 2, sizes)
    for row in range(item.rows):
        y = (row * lines + 0.5) * sizes.row
        block.prints.append(Print(sizes.label, y + sizes.points * 0.122, str(row + 1), sizes.points * 0.95, bold=True))
        for line in range(lines):
            here = letters[line * across : (line + 1) * across]
            options = [(f"{row + 1}:{letter}", letter) for letter in here]
            block.row(item.id, options, lead, y + line * sizes.row, sizes)
    return block


def _written(item: SheetItem, label: str, sizes: Sizes, breadth: float, room: float) -> Block:
    """A ruled box, and under it the rubric's points, which only the teacher fills."""
    # Without a rubric there is one scale; its points stand by themselves in the map.
    scales = [(f"{criterion.id}:", criterion.name, criterion.max, criterion.halves) for criterion in item.criteria]
    if item.scored and not scales:
        scales = [("", "", item.max, False)]
    per_line = int((breadth - 46) // sizes.pitch)
    strips = [(lead, name, _points(most, halves)) for lead, name, most, halves in scales]
    strip_height = sum(-(-len(points) // per_line) * sizes.row for *_, points in strips)
    line = 8.0 if sizes is USUAL else 13.0
    tall = min(item.lines * line, room - strip_height - 6)
    block = Block(breadth, tall + strip_height + 5)
    block.name(label, 4.0, sizes)
    box = Box(item=item.id, x_mm=sizes.label, y_mm=1.0, w_mm=breadth - sizes.label, h_mm=tall)
    block.boxes.append(box)
    block.rules.append(Rule(box.x_mm, box.y_mm, box.w_mm, box.h_mm, thin=False))
    for at in range(1, int(tall / line + 0.01)):
        block.rules.append(Rule(box.x_mm + 3, box.y_mm + at * line, box.w_mm - 6))
    y = tall + 2.5
    for lead, criterion, points in strips:
        name = _("Teacher: {criterion}", criterion=criterion) if criterion else _("Teacher")
        small = min(sizes.points - 1, 12)
        block.prints.append(Print(sizes.label, y + sizes.row / 2 + 1, _cut(name, 40 / small * 9 / 1.75), small))
        for start in range(0, len(points), per_line):
            here = points[start : start + per_line]
            options = [(f"{lead}{point}", point) for point in here]
            block.row(item.id, options, 46, y + sizes.row / 2, sizes)
            y += sizes.row
    return block


def _points(most: float, halves: bool) -> list[str]:
    """Whole points from 0, and a bubble for a half that goes with one of them where halves are given."""
    whole = [str(point) for point in range(min(int(most), 30) + 1)]
    return [*whole, "½"] if halves or most != int(most) else whole


def _cut(text: str, most: float) -> str:
    return text if len(text) <= most else text[: int(most) - 1].rstrip() + "…"


def _number_grid(digits: int, sizes: Sizes) -> Block:
    """A row of 0 to 9 for every digit of the student's number."""
    block = Block(sizes.label + 24 + 10 * sizes.pitch, digits * sizes.row + 4)
    block.prints.append(Print(0, sizes.row / 2 + 1, _("Your number"), sizes.points, bold=True))
    for at in range(digits):
        y = (at + 0.5) * sizes.row
        block.rules.append(Rule(sizes.label + 15, y - 2.8, 6, 5.6))
        options = [(f"{at}:{digit}", digit) for digit in DIGITS]
        block.row(NUMBER, options, sizes.label + 24, y, sizes)
    return block
