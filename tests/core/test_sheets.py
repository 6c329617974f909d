"""Sheets printed and read back. What is drawn on them here is drawn by Pillow and OpenCV, not by the simulated copier,
so that the reader meets hands it was not built with. The one rule: a place is read right, or it is asked about."""

import io
import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pypdfium2 as pdfium
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from versomark.core.sheets import PageReading, Reader, SheetItem, SheetMap, SheetSpec, SheetStudent, gather, lay_out
from versomark.core.sheets.cli import main
from versomark.core.sheets.drawing import draw
from versomark.core.sheets.images import BadScan, page_image
from versomark.core.sheets.layout import DoesNotFit
from versomark.core.sheets.sheet_map import code_text, read_code
from versomark.core.sheets.spec import SIZES_MM, SheetCriterion
from versomark.stand_ins import cli as stand_ins
from versomark.stand_ins.copier import Settings, scan_sheets

DPI = 200
PX = DPI / 25.4
ITEMS = [
    *(SheetItem(id=f"q{at}", kind="choice", options=4) for at in range(1, 21)),
    *(SheetItem(id=f"t{at}", kind="true-false") for at in range(1, 4)),
    *(SheetItem(id=f"m{at}", kind="multiple", options=5) for at in range(1, 4)),
    SheetItem(id="n", kind="numeric", digits=5),
    SheetItem(id="p", kind="matching", rows=3, options=4),
]
ANSWERS = {
    **{f"q{at}": "ABCD"[at % 4] for at in range(1, 21)},
    "q7": "",
    "t1": "T",
    "t2": "F",
    "t3": "",
    "m1": "A+C",
    "m2": "",
    "m3": "B+D+E",
    "n": "-3.5",
    "p": "1:B+2:D+3:A",
}


class Batch:
    def __init__(self, items: list[SheetItem] = ITEMS, **more: Any) -> None:
        more.setdefault("students", [SheetStudent(number=at, name=f"Student {at}") for at in (1, 2)])
        self.spec = SheetSpec(title="A test", items=items, **more)
        laid = lay_out(self.spec)
        self.map = SheetMap.model_validate_json(laid.map.model_dump_json())
        self.pdf = draw(self.spec, laid)

    def page(self, at: int = 0, dpi: float = DPI) -> Image.Image:
        """A printed page as a picture."""
        document = pdfium.PdfDocument(self.pdf)
        return document[self.map.sheets[at].pdf_page].render(scale=dpi / 72).to_pil().convert("L")

    def filled(self, answers: dict[str, str] = ANSWERS, at: int = 0, dark: int = 40) -> Image.Image:
        """A page with plain discs in the circles that say the answers."""
        picture = self.page(at)
        pen = ImageDraw.Draw(picture)
        for x, y, r in self.circles(answers, at):
            pen.ellipse([x - 0.8 * r, y - 0.8 * r, x + 0.8 * r, y + 0.8 * r], fill=dark)
        return picture

    def circles(self, answers: dict[str, str], at: int = 0) -> list[tuple[float, float, float]]:
        wanted = {
            (item, option)
            for item, answer in answers.items()
            for option in (
                [f"{place}:{symbol}" for place, symbol in enumerate(answer)] if item == "n" else answer.split("+")
            )
        }
        return [
            (bubble.x_mm * PX, bubble.y_mm * PX, bubble.r_mm * PX)
            for bubble in self.map.sheets[at].bubbles
            if (bubble.item, bubble.option) in wanted
        ]

    def read(self, picture: Image.Image | np.ndarray[Any, Any]) -> list[PageReading]:
        return Reader([self.map]).read(np.array(picture, dtype=np.uint8))


@pytest.fixture(scope="module")
def batch() -> Batch:
    return Batch()


def said(reading: PageReading) -> dict[str, str]:
    """What a page says, in full and without a doubt."""
    assert not reading.problem
    assert not reading.doubtful, reading.doubtful
    return {read.item: read.answer for read in reading.reads}


def right_or_asked(reading: PageReading, answers: dict[str, str] = ANSWERS) -> int:
    """The rule; returns how many rows are asked about."""
    wrong = [read for read in reading.reads if read.state in ("answer", "blank") and read.answer != answers[read.item]]
    assert not wrong, wrong
    return len(reading.doubtful)


# Damage


def turned(picture: Image.Image) -> Image.Image:
    return picture.rotate(180)


def sideways(picture: Image.Image) -> Image.Image:
    return picture.rotate(90, expand=True)


def askew(picture: Image.Image) -> Image.Image:
    return picture.rotate(9.5, expand=True, fillcolor=255, resample=Image.Resampling.BICUBIC)


def torn(picture: Image.Image) -> Image.Image:
    """The lower left corner is gone, its mark with it."""
    torn = picture.copy()
    h = torn.height
    ImageDraw.Draw(torn).polygon([(0, h - 260), (260, h), (0, h)], fill=230)
    return torn


def photographed(picture: Image.Image) -> Image.Image:
    """From an angle, on a dark table, under a lamp."""
    w, h = picture.size
    here = np.array([[0, 0], [w, 0], [w, h], [0, h]], np.float32)
    there = np.array([[260, 190], [w - 120, 60], [w + 130, h + 160], [60, h - 40]], np.float32)
    way = cv2.getPerspectiveTransform(here, there)
    seen = cv2.warpPerspective(np.array(picture), way, (w + 240, h + 240), borderValue=70.0).astype(float)
    rows, columns = np.mgrid[: seen.shape[0], : seen.shape[1]]
    light = 1 - 0.45 * np.hypot(rows - 300, columns - 300) / np.hypot(*seen.shape)
    return Image.fromarray((seen * light).clip(0, 255).astype(np.uint8))


def fax(picture: Image.Image) -> Image.Image:
    return picture.point(lambda level: 255 if level > 150 else 0)


def washed_out(picture: Image.Image) -> Image.Image:
    return picture.point(lambda level: int(150 + level * 0.4))


def coffee(picture: Image.Image) -> Image.Image:
    """A ring across the rows, lighter than a mark."""
    stained = picture.copy()
    pen = ImageDraw.Draw(stained)
    for width in range(14):
        pen.ellipse([300 + width, 500 + width, 900 - width, 1100 - width], outline=205)
    return Image.fromarray(np.minimum(np.array(picture), np.array(stained)))


def folded(picture: Image.Image) -> Image.Image:
    """Two creases, dark and a little displaced."""
    grey = np.array(picture)
    grey[: len(grey) // 2] = np.roll(grey[: len(grey) // 2], 3, axis=1)
    grey[len(grey) // 2 - 2 : len(grey) // 2 + 2] //= 2
    grey[:, 800:803] //= 2
    return Image.fromarray(grey)


@pytest.mark.parametrize("damage", [turned, sideways, askew, torn, photographed, fax, washed_out, folded])
def test_damage_that_costs_nothing(batch: Batch, damage: Callable[[Image.Image], Image.Image]) -> None:
    (reading,) = batch.read(damage(batch.filled()))
    assert reading.student == "1"
    if damage is fax:
        # In black and white no blank row proves that nothing was filled: it is asked about, and nothing else is.
        assert {read.item for read in reading.doubtful} == {item for item, answer in ANSWERS.items() if not answer}
        reading = replace(
            reading, reads=tuple(replace(r, state="blank") if r in reading.doubtful else r for r in reading.reads)
        )
    assert said(reading) == ANSWERS


def test_a_stain_may_cost_a_question_and_never_an_answer(batch: Batch) -> None:
    (reading,) = batch.read(coffee(batch.filled()))
    assert right_or_asked(reading) < 10


def test_two_sheets_in_one_picture(batch: Batch) -> None:
    other = {**ANSWERS, "q1": "D", "q2": "A"}
    left, right = np.array(batch.filled()), np.array(turned(batch.filled(other, at=1)))
    result = batch.read(np.hstack([left, right]))
    assert {reading.student: said(reading)["q1"] for reading in result} == {"1": "B", "2": "D"}
    assert {reading.student: said(reading) for reading in result} == {"1": ANSWERS, "2": other}


def stroke(pen: ImageDraw.ImageDraw, points: list[tuple[float, float]], dark: int, width: int) -> None:
    pen.line(points, fill=dark, width=width, joint="curve")


HANDS: dict[str, Callable[[ImageDraw.ImageDraw, float, float, float], None]] = {
    "tick": lambda pen, x, y, r: stroke(pen, [(x - 0.8 * r, y), (x - 0.2 * r, y + 0.7 * r), (x + r, y - r)], 50, 4),
    "cross": lambda pen, x, y, r: [  # type: ignore[return-value, dict-item]
        stroke(pen, [(x - r, y - s * r), (x + r, y + s * r)], 50, 4) for s in (-1, 1)
    ],
    "scribble": lambda pen, x, y, r: stroke(
        pen, [(x + 0.8 * r * math.cos(k * 2.4), y + 0.8 * r * math.sin(k * 2.1)) for k in range(30)], 70, 3
    ),
    "dot": lambda pen, x, y, r: pen.ellipse([x - 0.45 * r, y - 0.45 * r, x + 0.45 * r, y + 0.45 * r], fill=40),
    "overfull": lambda pen, x, y, r: pen.ellipse([x - 1.3 * r, y - 1.2 * r, x + 1.3 * r, y + 1.2 * r], fill=60),
    "pale": lambda pen, x, y, r: pen.ellipse([x - 0.8 * r, y - 0.8 * r, x + 0.8 * r, y + 0.8 * r], fill=190),
    "short line": lambda pen, x, y, r: stroke(pen, [(x - 0.7 * r, y + 0.2 * r), (x + 0.7 * r, y - 0.2 * r)], 60, 5),
}


@pytest.mark.parametrize("hand", HANDS)
def test_many_hands(batch: Batch, hand: str) -> None:
    picture = batch.page()
    for x, y, r in batch.circles(ANSWERS):
        HANDS[hand](ImageDraw.Draw(picture), x, y, r)
    (reading,) = batch.read(picture)
    assert right_or_asked(reading) <= 2


def test_second_thoughts_are_asked_about(batch: Batch) -> None:
    """One crossed out and another filled; two filled; one drawn around beside another, or alone. A pale one counts."""
    picture = batch.filled({item: said for item, said in ANSWERS.items() if item != "q3"})
    pen = ImageDraw.Draw(picture)
    places = batch.circles({"q1": "A", "q3": "B", "q5": "D", "q7": "B", "q9": "D"})
    (x, y, r), (fx, fy, fr), *circled, (dx, dy, dr) = places
    pen.ellipse([x - 0.8 * r, y - 0.8 * r, x + 0.8 * r, y + 0.8 * r], fill=60)
    for side in (-1, 1):
        stroke(pen, [(x - 1.6 * r, y - side * 1.6 * r), (x + 1.6 * r, y + side * 1.6 * r)], 40, 5)
    for lx, ly, lr in circled:
        pen.ellipse([lx - 1.4 * lr, ly - 1.4 * lr, lx + 1.4 * lr, ly + 1.4 * lr], outline=40, width=5)
    pen.ellipse([fx - 0.8 * fr, fy - 0.8 * fr, fx + 0.8 * fr, fy + 0.8 * fr], fill=150)
    pen.ellipse([dx - 0.8 * dr, dy - 0.8 * dr, dx + 0.8 * dr, dy + 0.8 * dr], fill=40)
    (reading,) = batch.read(picture)
    assert {read.item for read in reading.doubtful} == {"q1", "q5", "q7", "q9"}
    right_or_asked(reading, {**ANSWERS, "q3": "B"})


def test_pages_that_are_none_of_this_batch(batch: Batch) -> None:
    other = Batch([ITEMS[0]])
    text = Image.new("L", (1654, 2339), 255)
    ImageDraw.Draw(text).multiline_text((200, 200), "Dear parents,\n" * 60, fill=0, font_size=30)
    lost = batch.filled()
    marks = ImageDraw.Draw(lost)
    for mark in batch.map.corners:
        x, y, size = mark.x_mm * PX, mark.y_mm * PX, mark.size_mm * PX
        marks.rectangle([x, y, x + size, y + size], fill=255)
    codeless = batch.filled()
    for code in batch.map.codes:
        x, y, size = code.x_mm * PX, code.y_mm * PX, code.size_mm * PX
        ImageDraw.Draw(codeless).rectangle([x, y, x + size, y + size], fill=128)
    pages = [Image.new("L", (1654, 2339), 252), text, other.page(), lost, codeless, batch.page(1)]
    results = [batch.read(page)[0] for page in pages]
    assert [reading.problem for reading in results] == [
        "blank page",
        "foreign",
        "foreign",
        "no marks",
        "which sheet",
        "",
    ]
    assert results[3].student == "1"
    assert results[5].empty
    # A person says which sheet it is, and it is read.
    (named,) = Reader([batch.map]).read_as(np.array(codeless, np.uint8), batch.map.sheets[0].sheet, 1)
    assert said(named) == ANSWERS


def test_what_is_missing_and_what_came_twice(batch: Batch) -> None:
    first, again = batch.read(batch.filled()), batch.read(batch.filled({**ANSWERS, "q1": "C"}))
    scan = gather([*first, *again], {batch.map.batch: batch.map})
    assert scan.duplicates == {0: 1}
    assert [student for _, _, student in scan.missing] == ["2"]


def test_spare_large_and_lettered_sheets() -> None:
    items = [
        *ITEMS[:6],
        SheetItem(id="w", kind="written", lines=4, criteria=[SheetCriterion(id="c", name="Sense", max=3.5)]),
    ]
    many = Batch(
        items,
        students=[SheetStudent(number=7, name="Ж Αβγ Nguyễn", points=24), SheetStudent(number="012", form="B")],
        forms={"B": ["w", *(item.id for item in reversed(items[:6]))]},
        spare=1,
        paper="Letter",
        cover=True,
    )
    assert (many.map.width_mm, many.map.height_mm) == SIZES_MM["Letter"]
    for at, page in enumerate(many.map.sheets):
        own = {"q1": "B", "q2": "C", "w": "c:3+c:½"}
        if not page.student:
            own["#number"] = "0:0+1:1+2:2"
        (reading,) = many.read(many.filled({item: text for item, text in own.items() if item != "n"}, at))
        here = {bubble.item for bubble in page.bubbles}
        assert {read.item: read.answer for read in reading.reads if read.answer} == {
            item: {"#number": "012"}.get(item, text) for item, text in own.items() if item in here
        }
        assert reading.student == (str(page.student) or ("12" if "#number" in here else ""))


def test_a_sheet_that_is_read_from_the_right_is_mirrored_and_read_as_well() -> None:
    """A at the right end of its row with its letter outside; a number is written from the left all the same."""
    mirrored = Batch(right_to_left=True, spare=1)
    where = {(bubble.item, bubble.option): bubble.x_mm for bubble in mirrored.map.sheets[0].bubbles}
    assert where["q1", "A"] > where["q1", "B"] > where["q1", "D"]
    assert where["n", "0:1"] < where["n", "1:1"]
    assert where["q1", "A"] > mirrored.map.width_mm / 2  # the first column is the one at the right
    for hand in ("tick", "cross", "pale"):
        picture = mirrored.page()
        for x, y, r in mirrored.circles(ANSWERS):
            HANDS[hand](ImageDraw.Draw(picture), x, y, r)
        (reading,) = mirrored.read(picture)
        assert right_or_asked(reading) <= 2
    (reading,) = mirrored.read(turned(mirrored.filled()))
    assert said(reading) == ANSWERS
    picture = mirrored.page()
    for x, y, r in mirrored.circles({"q3": "B"}):  # on the letter, which stands to the right of its circle
        stroke(ImageDraw.Draw(picture), [(x + 1.2 * r, y - 0.6 * r), (x + 2.1 * r, y + 0.6 * r)], 30, 6)
    (reading,) = mirrored.read(picture)
    assert "q3" in {read.item for read in reading.doubtful}
    (reading,) = mirrored.read(mirrored.filled(ANSWERS | {"#number": "0:0+1:2"}, at=2))
    assert {read.item: read.answer for read in reading.reads}["#number"] == "02"


def test_two_sheets_on_a_page_are_read_cut_and_uncut_and_keep_their_order_when_cut() -> None:
    """Twenty questions of five options stand on half a page."""
    twenty = [SheetItem(id=f"q{at}", kind="choice", options=5) for at in range(20)]
    students = [SheetStudent(number=at, name=f"Student {at}") for at in range(1, 6)]
    for paper in ("A4", "Letter"):
        half = Batch(twenty, students=students, paper=paper, halves=True, cover=True)
        assert len(half.map.sheets) == 5
        assert [page.pdf_page for page in half.map.sheets] == [1, 2, 3, 1, 2]
        wide, tall = SIZES_MM[paper]  # type: ignore[index]
        assert (half.map.width_mm, half.map.height_mm) == (tall / 2, wide)
        answers = [{f"q{at}": "ABCDE"[(at + who) % 5] for at in range(20)} for who in range(2)]
        page = half.page(0)
        pen = ImageDraw.Draw(page)
        for at, said_there in zip((0, 3), answers, strict=True):
            for x, y, r in half.circles(said_there, at):
                x += half.map.sheets[at].left_mm * PX
                pen.ellipse([x - 0.8 * r, y - 0.8 * r, x + 0.8 * r, y + 0.8 * r], fill=40)
        middle = page.width // 2
        left, right = page.crop((0, 0, middle, page.height)), page.crop((middle, 0, page.width, page.height))
        on_glass = Image.new("L", (round(216 * PX), round(297 * PX)), 235)
        on_glass.paste(right, (9, 14))
        for picture, expected in (
            (page, [("1", answers[0]), ("4", answers[1])]),
            (left, [("1", answers[0])]),
            (right.rotate(180), [("4", answers[1])]),
            (on_glass, [("4", answers[1])]),
        ):
            # As the school's reader does it: the batch is found by its code.
            result = Reader(find={half.map.batch: half.map}.get).read(np.array(picture, dtype=np.uint8))
            assert sorted((entry.student, said(entry)) for entry in result) == expected
        # The cover is known for what it is, whichever way it lies.
        cover = pdfium.PdfDocument(half.pdf)[0].render(scale=DPI / 72).to_pil().convert("L")
        (known,) = half.read(cover.rotate(180))
        assert known.problem == "cover"


def test_what_has_no_room_on_a_sheet_is_refused_by_name() -> None:
    eight = [SheetItem(id="q", kind="choice", options=8)]
    assert lay_out(SheetSpec(title="T", items=eight, students=[SheetStudent(number=1)], halves=True))
    with pytest.raises(DoesNotFit, match="Question 1 does not fit on half a page in large print"):
        lay_out(SheetSpec(title="T", items=eight, students=[SheetStudent(number=1, points=24)], halves=True))


def test_the_map_and_the_page(batch: Batch) -> None:
    """Margins of 12 mm, circles that do not touch, codes that a second library reads (OpenCV's), numbers from 0."""
    for page in batch.map.sheets:
        for bubble in page.bubbles:
            assert bubble.x_mm - bubble.r_mm >= 12
            assert bubble.x_mm + bubble.r_mm <= 210 - 12
            assert 12 <= bubble.y_mm <= 297 - 12
        at = np.array([(bubble.x_mm, bubble.y_mm) for bubble in page.bubbles])
        apart = np.hypot(*(at[:, None] - at[None]).transpose(2, 0, 1)) + 99 * np.eye(len(at))
        assert apart.min() > 2 * page.bubbles[0].r_mm + 1
    for at, page in enumerate(batch.map.sheets):
        picture = batch.page(at, dpi=300)
        for code in batch.map.codes:
            box = [(value - 2, value + code.size_mm + 2) for value in (code.x_mm, code.y_mm)]
            cut = picture.crop([round(edge * 300 / 25.4) for edge in (box[0][0], box[1][0], box[0][1], box[1][1])])
            text, *_ = cv2.QRCodeDetector().detectAndDecode(np.array(cut.resize((400, 400))))
            assert text == code_text(page.sheet, page.page)
            assert read_code(text) == (page.sheet, page.page)
    assert read_code("SOMETHING-ELSE-1-AA") is None


@pytest.mark.parametrize("dpi", [150, 300, 600])
@pytest.mark.parametrize("format", ["PDF", "TIFF", "PNG", "JPEG"])
def test_files_of_every_kind(batch: Batch, tmp_path: Path, dpi: int, format: str) -> None:
    picture = batch.filled().resize([round(side * dpi / DPI) for side in batch.filled().size])  # type: ignore[arg-type]
    path, more = tmp_path / "scan", {"PDF": {"resolution": dpi}, "JPEG": {"quality": 60}}.get(format, {})
    picture.convert("RGB" if dpi == 300 else "L").save(path, format, **more)
    assert said(Reader([batch.map]).read(page_image(path, 0).grey)[0]) == ANSWERS


def test_a_fax_of_several_pages_and_a_sheet_that_never_saw_a_scanner(batch: Batch, tmp_path: Path) -> None:
    path = tmp_path / "fax.tif"
    pages = [fax(batch.filled()).convert("1"), fax(batch.filled(at=1)).convert("1")]
    pages[0].save(path, "TIFF", save_all=True, append_images=pages[1:], compression="group4")
    assert [Reader([batch.map]).read(page_image(path, at).grey)[0].student for at in (0, 1)] == ["1", "2"]
    (tmp_path / "sheets.pdf").write_bytes(batch.pdf)
    assert batch.read(page_image(tmp_path / "sheets.pdf", 0).grey)[0].empty
    with pytest.raises(BadScan, match="breaks off"):
        page_image(_part_of(path, tmp_path / "half.tif"), 1)


def _part_of(path: Path, other: Path) -> Path:
    other.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    return other


def test_pencil_that_a_fax_loses_is_asked_about(batch: Batch) -> None:
    """Pale marks fall on the wrong side of black and white; an empty row then proves nothing."""
    (reading,) = batch.read(fax(batch.filled(dark=165)))
    assert right_or_asked(reading) == len(ANSWERS)


kinds = st.one_of(
    st.builds(dict, kind=st.just("choice"), options=st.integers(2, 8)),
    st.builds(dict, kind=st.just("multiple"), options=st.integers(2, 8)),
    st.just({"kind": "true-false"}),
    st.builds(dict, kind=st.just("numeric"), digits=st.integers(1, 8)),
    st.builds(dict, kind=st.just("matching"), rows=st.integers(1, 8), options=st.integers(2, 15)),
    st.builds(dict, kind=st.just("written"), max=st.integers(1, 30), lines=st.integers(1, 40)),
)


def some_answer(item: SheetItem, draw: Any) -> str:
    letters = "ABCDEFGHIJKLMNO"[: item.options]
    if item.kind == "numeric":
        number = draw(st.from_regex(r"\A-?[0-9]{0,3}\.?[0-9]{1,4}\Z"))
        return number if len(number) <= item.digits else ""
    if item.kind == "multiple":
        return "+".join(sorted(draw(st.sets(st.sampled_from(letters)))))
    if item.kind == "matching":
        rows = sorted(draw(st.sets(st.integers(1, item.rows))))
        return "+".join(f"{row}:{draw(st.sampled_from(letters))}" for row in rows)
    choices = {"true-false": "TF", "written": [str(point) for point in range(int(item.max) + 1)]}.get(
        item.kind, letters
    )
    return draw(st.sampled_from(["", *choices]))


@settings(max_examples=25)
@given(
    st.lists(kinds, min_size=1, max_size=30), st.sampled_from([0, 18, 24]), st.sampled_from(["A4", "Letter"]), st.data()
)
def test_whatever_is_asked_it_is_printed_filled_and_read_back(
    asked: list[dict[str, Any]], points: Any, paper: Any, data: st.DataObject
) -> None:
    items = [SheetItem(id=f"i{at}", **one) for at, one in enumerate(asked)]
    student = SheetStudent(number=1, name="S", points=points)
    many = Batch(items, students=[student], paper=paper)
    answers = {item.id: some_answer(item, data.draw) for item in items}
    with io.BytesIO(many.pdf) as pdf:
        pages = list(scan_sheets(pdf, many.map, {"1": answers}, 5, 0.0, Settings(0.0, "copier", 200, 90, ())))  # type: ignore[arg-type]
    results: dict[str, str] = {}
    for page in pages:
        results |= said(many.read(page)[0])
    assert results == answers


def test_from_the_shell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The commands as documented: made, filled and scanned by the stand-in, read; and bad input told in a line."""
    spec, sheets, sheet_map = tmp_path / "spec.json", tmp_path / "sheets.pdf", tmp_path / "map.json"
    scan, reads, asked = tmp_path / "scan.pdf", tmp_path / "reads.csv", tmp_path / "queries.csv"
    spec.write_text(
        '{"title": "T", "paper": "A4", "items": [{"id": "q1", "kind": "choice", "options": 4},'
        ' {"id": "w", "kind": "written", "max": 3}], "students": [{"number": 1}, {"number": 2}]}'
    )
    (tmp_path / "answers.csv").write_text("student,q1,w\n1,C,2\n")
    assert main(["make", str(spec), "--out", str(sheets), "--map", str(sheet_map)]) == 0
    arguments = ["copier", str(sheets), "--map", str(sheet_map), "--answers", str(tmp_path / "answers.csv")]
    assert stand_ins.main([*arguments, "--out", str(scan), "--seed", "1", "--wear", "0.3"]) == 0
    crops = ["--crops", str(tmp_path / "crops")]
    out = ["--map", str(sheet_map), "--out", str(reads), "--queries", str(asked), *crops]
    assert main(["read", str(scan), *out]) == 0
    rows = [line.split(",") for line in reads.read_text().splitlines()]
    assert rows[0] == ["scan_page", "sheet", "student", "item", "answer", "state", "confidence"]
    assert [row[2:6] for row in rows[1:]] == [["1", "q1", "C", "answer"], ["1", "w", "2", "answer"]]
    assert [line.split(",")[2:5] for line in asked.read_text().splitlines()[1:]] == [
        ["2", "", "page 1 of this sheet is missing"]
    ]
    assert [path.name.split("-", 1)[1].endswith("w-box.png") for path in (tmp_path / "crops").iterdir()] == [True]
    # Whatever machine the worst wear brings, copier, fax or phone, its scan is a PDF that is read.
    for seed in range(2000, 2008):
        assert stand_ins.main([*arguments, "--out", str(scan), "--seed", str(seed), "--wear", "1"]) == 0
        (page,) = Reader([SheetMap.model_validate_json(sheet_map.read_text())]).read(page_image(scan, 0).grey)
        right_or_asked(page, {"q1": "C", "w": "2"})
    capsys.readouterr()
    (tmp_path / "no.pdf").write_bytes(b"")
    assert main(["read", str(tmp_path / "no.pdf"), *out]) == 2
    assert main(["make", str(reads), "--out", str(sheets), "--map", str(sheet_map)]) == 2
    assert "The file is empty" in capsys.readouterr().err
