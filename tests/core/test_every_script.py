"""Names in any script on sheets: every glyph is there, letters join, and what runs from the right does. Whole names are
compared with another typesetter (Pango, by WeasyPrint)."""

import io
import re

import pypdfium2
import pytest
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import ImageFile
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from weasyprint import CSS, HTML
from weasyprint.text.fonts import FontConfiguration

from versomark.core.sheets import SheetSpec, SheetStudent, lay_out
from versomark.core.sheets.drawing import draw
from versomark.core.sheets.lettering import FACES, FONTS, draw_line, is_plain, missing_in, set_line, width_of
from versomark.core.sheets.spec import SheetItem

# As the product does: importing WeasyPrint must not make the tests beside these take pictures that break off.
ImageFile.LOAD_TRUNCATED_IMAGES = False

NAMES = {
    "Arabic": "محمد عبد الله",
    "Hebrew": "יעל כהן",
    "Devanagari": "अनिरुद्ध श्रीवास्तव",
    "Tamil": "சுப்பிரமணியன்",
    "Bengali": "রবীন্দ্রনাথ ঠাকুর",
    "Thai": "สมชาย ใจดี",
    "Amharic": "ኃይለ ሥላሴ",
    "Chinese": "王小明",
    "Chinese, long characters": "歐陽靜怡",
    "Japanese": "山田 太郎 さくら",
    "Korean": "김철수",
    "Cyrillic": "Иван Ёлкин",
    "Greek": "Ελένη Παπαδοπούλου",
    "Vietnamese": "Đặng Thị Hương",
    "with emoji": "Ada 😀",
}


@pytest.mark.parametrize("name", NAMES.values(), ids=NAMES)
def test_every_glyph_of_a_name_is_there(name: str) -> None:
    assert missing_in(name) == ""
    assert all(glyph.id != 0 for glyph in set_line(name).glyphs)


def test_shapes_are_those_of_another_typesetter() -> None:
    """The widths of whole names beside Pango's, which shapes and orders them by its own way to the same library."""
    faces = {f"f{at}": (FONTS / file).as_uri() for at, file in enumerate(FACES)}
    rules = "".join(f'@font-face {{ font-family: "{name}"; src: url("{file}"); }}' for name, file in faces.items())
    config = FontConfiguration()
    style = CSS(string=rules, font_config=config)
    families = ", ".join(faces)
    for script, name in NAMES.items():
        html = f'<p style="font: 100px {families}; white-space: nowrap; float: left; margin: 0">{name}</p>'
        page = HTML(string=html).render(font_config=config, stylesheets=[style]).pages[0]
        box = next(child for child in page._page_box.descendants() if child.element_tag == "p")
        assert set_line(name).width * 100 == pytest.approx(box.width, rel=0.02), script


def test_joined_letters_and_right_to_left() -> None:
    arabic = set_line("محمد")
    cmap = TTFont(FONTS / "NotoSansArabic-Regular.ttf").getBestCmap()
    names = TTFont(FONTS / "NotoSansArabic-Regular.ttf").getGlyphOrder()
    alone = [names.index(cmap[ord(letter)]) for letter in "محمد"]
    assert [glyph.id for glyph in arabic.glyphs][::-1] != alone  # joined forms, not letters by themselves
    mixed = set_line("שלום 12 abc")
    digits = [glyph.x for glyph in mixed.glyphs if glyph.face == FACES[0]]
    # The sentence begins at the right: what is read last stands leftmost, numbers from the left in it.
    assert min(digits) == 0
    assert [glyph.face for glyph in mixed.glyphs][-1] == "NotoSansHebrew-Regular.ttf"
    beside = set_line("Ada (יעל)")
    assert beside.glyphs[0].face == FACES[0]
    order = [glyph.x for glyph in beside.glyphs]
    assert order == sorted(order)


@given(st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), max_size=30))
def test_any_line_can_be_set_and_what_is_missing_is_named(text: str) -> None:
    line = set_line(text)
    assert line.width >= 0
    canvas = Canvas(io.BytesIO())
    draw_line(canvas, 0, 0, text, 12)
    assert width_of(text, 12) >= 0
    boxes = any(glyph.id == 0 for glyph in line.glyphs)
    if is_plain(text):
        assert not missing_in(text)
    elif missing_in(text):
        assert boxes


def test_a_sheet_shows_every_name_whole() -> None:
    """Ink where the name stands, as wide as the name: nothing is left out, nothing runs over the code beside it."""
    names = list(NAMES.values())
    spec = SheetSpec(
        title="קריאה وكتابة 你好",
        subtitle="Klasse 8",
        items=[SheetItem(id=f"{k}", kind="choice", options=4) for k in range(1, 4)],
        students=[SheetStudent(number=at, name=name) for at, name in enumerate(names, start=1)],
        code="ABCDEF",
    )
    pdf = pypdfium2.PdfDocument(draw(spec, lay_out(spec)))
    pages = list(pdf)[-len(names) :]
    for page, name in zip(pages, names, strict=True):
        picture = page.render(scale=2).to_pil().convert("L")
        blank = page.get_textpage().get_text_range()
        assert picture.getextrema()[0] < 60
        if is_plain(name):
            assert re.sub(r"\s", "", name) in re.sub(r"\s", "", blank)
    assert width_of(names[0], 14) * mm > 0
