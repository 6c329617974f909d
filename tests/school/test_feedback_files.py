"""Feedback sheets as a document and in steps. A DOCX is read back as what ECMA-376 says it is, a package of XML, not
by the library that wrote it."""

import io
import json
import re
import zipfile
from base64 import b64decode
from collections.abc import Iterator
from typing import Any
from xml.etree import ElementTree

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import html
from PIL import Image

from tests.conftest import Staffroom, devices, refs
from tests.core.every_kind import ANY
from tests.school.test_printed_pages import edition_of
from tests.school.test_skills_and_feedback import follow_up, page, put, text_of
from versomark.core.items import Option, SingleChoice, TrueFalse
from versomark.core.items.base import ContentBase
from versomark.school.bank.pictures import keep_picture
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.services import add_students, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions import printing
from versomark.school.editions.paper_docx import html_to_docx
from versomark.school.editions.services import freeze, keep_items, make_test

WORD = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
MATHS = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"
DRAWN = "{http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing}"


def parts_of(docx: bytes) -> tuple[ElementTree.Element, zipfile.ZipFile]:
    packed = zipfile.ZipFile(io.BytesIO(docx))
    assert packed.testzip() is None
    return ElementTree.fromstring(packed.read("word/document.xml")), packed


def words_in(tree: ElementTree.Element) -> str:
    """All that is read, in order, without blanks to write on and what stands for a picture."""
    text = "".join(entry.text or "" for entry in tree.iter(f"{WORD}t"))
    return re.sub(r"[\s_☐]|\[a lamp]", "", text)


def words_on(page: str) -> str:
    body = html.fromstring(page).find("body")
    return re.sub(r"[\s_☐]", "", "".join(body.itertext()))


@pytest.mark.django_db
@given(st.lists(ANY, min_size=1, max_size=6), st.sampled_from(["booklet", "answers", "guide"]))
@settings(max_examples=25)
def test_a_document_says_word_for_word_what_the_page_says(contents: list[ContentBase], what: printing.What) -> None:
    """Of every kind of question there is: the same HTML as the PDF, nothing lost, doubled or moved."""
    paper = printing.html(edition_of(contents), what)
    tree, _ = parts_of(html_to_docx(paper))
    assert words_in(tree) == words_on(paper)
    formulas = paper.count('<img class="tex')
    assert sum(1 for _ in tree.iter(f"{MATHS}oMath")) == formulas


def test_formulas_are_formulas_and_what_is_none_stays_as_it_was_typed() -> None:
    """`\\frac` is a fraction and `\\sqrt` a radical whose degree is hidden, in the names of ECMA-376, part 1, 22.1."""
    stem = r"So <strong>R</strong> = $\frac{U}{I}$ and $\sqrt{x_1}$, but $\notatex{$ and 5 H<sub>2</sub>O."
    tree, _ = parts_of(html_to_docx(printing.html(edition_of([TrueFalse(stem=stem, key=True)]), "booklet")))
    (fraction,) = tree.iter(f"{MATHS}f")
    above, below = fraction.find(f"{MATHS}num"), fraction.find(f"{MATHS}den")
    assert above is not None
    assert below is not None
    assert ["".join(part.itertext()) for part in (above, below)] == ["U", "I"]
    (root,) = tree.iter(f"{MATHS}rad")
    assert root.find(f"{MATHS}radPr/{MATHS}degHide") is not None
    assert r"$\notatex{$" in words_in(tree)
    low = [
        "".join(run.itertext()) for run in tree.iter(f"{WORD}r") if run.find(f"{WORD}rPr/{WORD}vertAlign") is not None
    ]
    assert low == ["2"]


@pytest.mark.django_db
def test_pictures_are_in_it_with_their_words_and_one_that_is_gone_is_said(school: Staffroom) -> None:
    drawn = io.BytesIO()
    Image.new("RGB", (1600, 400), "teal").save(drawn, "PNG")
    kept = keep_picture(school.teacher, "meter.png", drawn.getvalue())
    gone = "/pictures/00000000-0000-4000-8000-000000000000"
    stem = f'Read it. <img src="/pictures/{kept.pk}" alt="a meter at 3 A"> And <img src="{gone}" alt="a lamp">?'
    tree, packed = parts_of(html_to_docx(printing.html(edition_of([TrueFalse(stem=stem, key=True)]), "booklet")))
    (picture,) = [name for name in packed.namelist() if name.startswith("word/media/")]
    with Image.open(io.BytesIO(packed.read(picture))) as read:
        assert (read.width / read.height, read.getpixel((5, 5))) == (4, (0, 128, 128))
    (said,) = (entry.get("descr") for entry in tree.iter(f"{DRAWN}docPr"))
    assert said == "a meter at 3 A"
    (room,) = tree.iter(f"{DRAWN}extent")
    width, height = int(room.get("cx", 0)), int(room.get("cy", 0))
    assert width <= 13 * 360_000  # EMU a centimetre, ECMA-376, part 1, 20.1.2.1
    assert width / height == pytest.approx(4, rel=0.01)
    assert "[a lamp]" in "".join(tree.itertext())


@pytest.fixture
def nineteen(school: Staffroom) -> Sitting:
    """Two questions of each of two skills; every second student has those of the second wrong."""
    names = [f"S{n:02} Quill" for n in range(1, 20)]
    items = [
        make_item(
            school.teacher,
            SingleChoice(stem=f"Q{n}?", options=[Option(id=letter, text=letter) for letter in "ab"], key="a", marks=2),
            Details([skill]),
        )
        for n, skill in enumerate(["Loops", "Loops", "Meters", "Meters"])
    ]
    school_class = make_class(school.teacher, "8 Lark")
    add_students(school_class, names)
    test = keep_items(make_test(school.teacher, "T"), "Circuits", "", [item.pk for item in items])
    sitting = services.open_sitting(services.plan(school.teacher, freeze(test), school_class, None))
    for number, device in enumerate(devices(sitting)):
        device.join()
        for at, ref in enumerate(refs(sitting), start=1):
            right = at < 3 or number % 2 == 0
            device.answer(ref, {"kind": "single_choice", "option": "a" if right else "b"}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


def steps_of(answer: Any) -> Iterator[dict[str, Any]]:
    assert answer.status_code == 200
    yield from (json.loads(line) for line in b"".join(answer.streaming_content).splitlines())


@pytest.mark.django_db
def test_the_file_comes_in_steps_and_is_whole(school: Staffroom, nineteen: Sitting) -> None:
    follow_up(school, r"A voltage is $\frac{P}{I}$.", "Meters")
    put(school, nineteen, intro="Dear all, <look> & read.")
    steps = list(steps_of(page(school, nineteen, "feedback/written/pdf")))
    done = [step["done"] for step in steps]
    assert done == sorted(done)
    assert (done[0], done[-1], {step["of"] for step in steps}) == (0, 19, {19})
    assert len(set(done)) > 2
    assert [step["file"] is None for step in steps] == [True] * (len(steps) - 1) + [False]
    sheets = text_of(b64decode(steps[-1]["file"]))
    # LaidPage out in parts, it is the same as in one request: a sheet a student in desk order, then the teacher's page.
    assert sheets == text_of(page(school, nineteen, "feedback.pdf").content)
    assert [f"S{n:02} Quill" in sheet for n, sheet in enumerate(sheets[:-1], start=1)] == [True] * 19
    assert ["A voltage" in sheet for sheet in sheets] == [n % 2 == 1 for n in range(19)] + [True]

    *_, last = steps_of(page(school, nineteen, "feedback/written/docx"))
    tree, _ = parts_of(b64decode(last["file"]))
    text = "".join("".join(sheet.split()) for sheet in sheets)
    assert "Dearall,<look>&read." in text
    breaks = [entry for entry in tree.iter(f"{WORD}br") if entry.get(f"{WORD}type") == "page"]
    assert len(breaks) == 19
    # What the PDF has besides: the letters in circles, the foot of every page, the drawn formula.
    for name in range(1, 20):
        assert words_in(tree).count(f"S{name:02}Quill") == text.count(f"S{name:02}Quill") == 1
    assert words_in(tree).count("Avoltageis") == text.count("Avoltageis") == 10
    assert sum(1 for _ in tree.iter(f"{MATHS}f")) == 10


@pytest.mark.django_db
def test_what_cannot_be_written_is_refused_before_anything_is_sent(school: Staffroom, nineteen: Sitting) -> None:
    nineteen.seats.update(state="absent")
    refused = page(school, nineteen, "feedback/written/pdf")
    assert (refused.status_code, refused.json()["detail"]) == (409, "Nobody has handed in yet.")
    assert page(school, nineteen, "feedback/written/odt").status_code == 422
