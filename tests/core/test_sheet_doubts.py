"""Marks where no one is asked to make them, and what is no mark: none of it is read in silence as something else.

Drawn with Pillow at fixed places, so that neither the simulated hands nor their strokes are in it.
"""

import re
from random import Random

import numpy as np
import pypdfium2 as pdfium
import pytest
from PIL import Image, ImageDraw, ImageFilter

from tests.core.test_sheets import ANSWERS, Batch, fax, right_or_asked
from versomark.core.sheets import PageReading, SheetItem, SheetStudent
from versomark.core.sheets.spec import SheetCriterion

LETTERED = [
    SheetItem(id="c", kind="choice", options=5),
    SheetItem(id="many", kind="multiple", options=8),
    SheetItem(id="t", kind="true-false"),
    SheetItem(id="m", kind="matching", rows=3, options=6),
    SheetItem(id="w", kind="written", max=30, criteria=[SheetCriterion(id="a", name="A", max=30)]),
]


@pytest.fixture(scope="module")
def batch() -> Batch:
    return Batch()


@pytest.mark.parametrize("points", [0, 18, 24])
def test_a_letter_stands_at_least_twice_as_near_to_its_own_circle_as_to_the_one_before(points: int) -> None:
    """Measured in the PDF that is printed, by another library than drew it."""
    batch = Batch(LETTERED, students=[SheetStudent(number=1, points=points)])
    seen = 0
    document = pdfium.PdfDocument(batch.pdf)
    for sheet in batch.map.sheets:
        page = document[sheet.pdf_page]
        height, text = page.get_height(), page.get_textpage()
        boxes = [text.get_rect(at) for at in range(text.count_rects())]
        words = [
            (
                text.get_text_bounded(*box).strip(),
                *(25.4 / 72 * side for side in (left, height - low, right, height - top)),
            )
            for box in boxes
            for left, low, right, top in [box]
        ]
        for bubble in sheet.bubbles:
            name = bubble.option.split(":")[-1]
            own = [
                (bubble.x_mm - bubble.r_mm - right, left)
                for word, left, bottom, right, top in words
                if word == name and abs((bottom + top) / 2 - bubble.y_mm) < bubble.r_mm and right < bubble.x_mm
            ]
            if not own:
                continue
            within, left = min(own)
            before = [
                left - (other.x_mm + other.r_mm)
                for other in sheet.bubbles
                if abs(other.y_mm - bubble.y_mm) < 0.1 and other.x_mm < left
            ]
            seen += 1
            assert within > 0.2
            if before:
                assert min(before) >= 2 * within, (bubble.option, within, min(before))
    assert seen > 40


def letters_of(batch: Batch, answers: dict[str, str]) -> list[tuple[float, float, float]]:
    """Where the letters of these answers stand: half a circle's space to the left of their circles."""
    return [(x - 1.62 * r, y, r) for x, y, r in batch.circles(answers)]


CHOICES = {item: said for item, said in ANSWERS.items() if item[0] in "qt" and said}


@pytest.mark.parametrize("how", ["tick", "ring", "cross", "thin ring"])
def test_what_is_put_on_a_letter_is_asked_about(batch: Batch, how: str) -> None:
    """A whole sheet of it, and one row of it on a sheet that is filled as it should be."""
    for chosen in (CHOICES, {"q3": CHOICES["q3"]}):
        rest = {item: said for item, said in ANSWERS.items() if item not in chosen}
        picture = batch.filled(rest)
        pen = ImageDraw.Draw(picture)
        for x, y, r in letters_of(batch, chosen):
            if how == "tick":
                pen.line([(x - 0.5 * r, y), (x - 0.1 * r, y + 0.5 * r), (x + 0.6 * r, y - 0.7 * r)], fill=70, width=4)
            elif how == "cross":
                pen.line([(x - 0.5 * r, y - 0.5 * r), (x + 0.5 * r, y + 0.5 * r)], fill=70, width=4)
                pen.line([(x - 0.5 * r, y + 0.5 * r), (x + 0.5 * r, y - 0.5 * r)], fill=70, width=4)
            else:
                width = 4 if how == "ring" else 2
                pen.ellipse([x - 0.75 * r, y - 0.75 * r, x + 0.75 * r, y + 0.75 * r], outline=70, width=width)
        (reading,) = batch.read(picture)
        asked = {read.item for read in reading.doubtful}
        assert set(chosen) - asked == set()
        right_or_asked(reading)
        assert any(re.search("letter|circles", read.note) for read in reading.doubtful)


@pytest.mark.parametrize("own", [40, 110, 150])
def test_an_erasure_is_no_answer_whatever_the_pencil(batch: Batch, own: int) -> None:
    """A third of the student's own darkness stays of a mark that was rubbed out: alone in its row it is asked about,
    and beside an answer it does not count."""
    rest = {item: said for item, said in ANSWERS.items() if item not in ("q3", "q5")}
    picture = batch.filled({**rest, "q5": "B"}, dark=own)
    soft = Image.new("L", picture.size, 255)
    for x, y, r in batch.circles({"q3": "C", "q5": "D"}):
        ImageDraw.Draw(soft).ellipse([x - r, y - r, x + r, y + r], fill=255 - (255 - own) // 3)
    picture = Image.fromarray(np.minimum(np.array(picture), np.array(soft.filter(ImageFilter.GaussianBlur(2)))))
    (reading,) = batch.read(picture)
    (smudge,) = [read for read in reading.reads if read.item == "q3"]
    assert smudge.state not in ("answer", "blank")
    right_or_asked(reading, {**ANSWERS, "q5": "B"})


@pytest.mark.parametrize("grey", [225, 190, 150])
def test_an_evenly_grey_row_is_a_doubt(batch: Batch, grey: int) -> None:
    """Where several may be filled a stain inside the circles is not all of them."""
    picture = batch.filled({item: said for item, said in ANSWERS.items() if item != "m2"})
    for x, y, r in batch.circles({"m2": "A+B+C+D+E"}):
        ImageDraw.Draw(picture).ellipse([x - 0.85 * r, y - 0.85 * r, x + 0.85 * r, y + 0.85 * r], fill=grey)
    (reading,) = batch.read(picture)
    (row,) = [read for read in reading.reads if read.item == "m2"]
    assert row.state not in ("answer", "blank")


def test_all_of_a_row_filled_firmly_is_all_of_them(batch: Batch) -> None:
    wanted = {**ANSWERS, "m2": "A+B+C+D+E"}
    (reading,) = batch.read(batch.filled(wanted))
    assert {read.item: read.answer for read in reading.reads} == wanted


def pale_among_firm(batch: Batch, random: Random, level: int) -> tuple[PageReading, set[str]]:
    """Scanned in black and white at this level; and which rows were filled so lightly that it drops them."""
    pale = {item for item in CHOICES if random.random() < 0.3}
    picture = batch.filled({item: said for item, said in ANSWERS.items() if item not in pale})
    light = batch.filled({item: said for item, said in ANSWERS.items() if item in pale}, dark=190)
    both = Image.fromarray(np.minimum(np.array(picture), np.array(light)))
    (reading,) = batch.read(both.point(lambda grey: 255 if grey > level else 0))
    return reading, pale


def test_black_and_white_never_drops_a_pale_mark_beside_firm_ones(batch: Batch) -> None:
    for seed in range(12):
        reading, pale = pale_among_firm(batch, Random(seed), 150)
        assert pale <= {read.item for read in reading.doubtful}
        right_or_asked(reading)
    (whole,) = batch.read(fax(batch.filled()))
    assert len(whole.doubtful) == sum(not said for said in ANSWERS.values())


def test_a_sheet_that_is_filled_as_it_should_be_is_asked_nothing(batch: Batch) -> None:
    for dark in (40, 110, 150):
        (reading,) = batch.read(batch.filled(dark=dark))
        assert right_or_asked(reading) == 0
