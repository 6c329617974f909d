"""What stands on the printed pages, read back from the PDF: nothing split, nothing too small, nothing given away."""

import re
from collections.abc import Sequence

import pypdfium2
import pypdfium2.raw as pdfium
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.every_kind import ANY, KEYED
from versomark.core.editions import BankItem, Edition, EditionItem, Section, freeze, one_section
from versomark.core.editions.layout import PlacedItem
from versomark.core.items import ItemContent, Option, SingleChoice, TrueFalse
from versomark.core.items.base import ContentBase
from versomark.core.text import plain
from versomark.school.editions import printing
from versomark.school.editions.printing import What

# Nothing here opens the database: an edition is printed from what it holds.
FEW = settings(max_examples=6)


def pages(edition: Edition, what: What, form: str = "A") -> list[str]:
    document = pypdfium2.PdfDocument(printing.pdf(edition, what, form))
    return [document[at].get_textpage().get_text_range() for at in range(len(document))]


def words(text: str) -> str:
    """Without what a line break does to a word."""
    return re.sub(r"[\s\x02\ufffe\xad-]+", "", text)


def edition_of(contents: Sequence[ContentBase], forms: int = 1) -> Edition:
    bank = {f"{at:x}": BankItem(f"{at:x}", content) for at, content in enumerate(contents)}  # type: ignore[arg-type]
    layout = one_section(list(bank)).model_copy(update={"forms": forms})
    return freeze("A test", "Read well.", layout, bank, lambda rule: [], seed=5)


def choice(number: int, long_stem: int, long_options: Sequence[int]) -> SingleChoice:
    return SingleChoice(
        stem=f"stem{number}begins " + "so it goes on and on " * long_stem + f" stem{number}ends",
        options=[
            Option(id=id, text=f"option{number}{id}begins " + "longer " * long + f" option{number}{id}ends")
            for id, long in zip("abcd", long_options, strict=True)
        ],
        key="a",
    )


LENGTHS = st.tuples(st.integers(0, 40), st.lists(st.integers(0, 30), min_size=4, max_size=4))


@given(st.lists(LENGTHS, min_size=12, max_size=20), st.sampled_from(["booklet", "large-24", "answers", "guide"]))
@FEW
def test_a_question_and_its_options_stand_on_one_page(lengths: list[tuple[int, list[int]]], what: What) -> None:
    edition = edition_of([choice(at, *length) for at, length in enumerate(lengths)])
    printed = [words(page) for page in pages(edition, what)]
    assert len(printed) > 1
    split = []
    for at in range(len(lengths)):
        marks = [
            f"stem{at}begins",
            f"stem{at}ends",
            *(f"option{at}{id}{end}" for id in "abcd" for end in ("begins", "ends")),
        ]
        on = {page for page, text in enumerate(printed) for mark in marks if mark in text}
        assert all(any(mark in text for text in printed) for mark in marks), "nothing is lost"
        if len(on) > 1:
            split.append((at, on))
    # In 24 points some of these fill more than a page, and must be split; all others are kept whole.
    assert not split or what == "large-24"
    for at, on in split:
        assert len(words(edition_of([choice(0, *lengths[at])]).model_dump_json())) > 700, (at, on)


@pytest.mark.parametrize(("what", "points"), [("booklet", 11.5), ("large-18", 18.0), ("large-24", 24.0)])
def test_letters_are_as_large_as_was_asked(what: What, points: float) -> None:
    """Large print is large throughout, as guides for clear print ask (from memory): no small marks, no small foot."""
    edition = edition_of([choice(1, 3, [1, 2, 3, 4]), TrueFalse(stem="So?", key=True)])
    document = pypdfium2.PdfDocument(printing.pdf(edition, what))
    sizes: dict[float, str] = {}
    for page in document:
        text = page.get_textpage()
        for at in range(text.count_chars()):
            # The size of the font times what the page's matrix makes of it.
            matrix = pdfium.FS_MATRIX()
            pdfium.FPDFText_GetMatrix(text.raw, at, matrix)
            size = round(pdfium.FPDFText_GetFontSize(text.raw, at) * abs(matrix.d or 1), 1)
            letter = chr(pdfium.FPDFText_GetUnicode(text.raw, at))
            if not letter.isspace():
                sizes[size] = sizes.get(size, "") + letter
    body = next(size for size, letters in sizes.items() if "optiona" in words(letters) or "goeson" in words(letters))
    assert body == pytest.approx(points, abs=0.3)
    if what != "booklet":
        assert min(sizes) >= points - 0.3, {size: letters[:40] for size, letters in sizes.items()}


@given(KEYED)
@FEW
def test_a_booklet_does_not_depend_on_key_rationale_or_notes(content: ContentBase) -> None:
    printed = pages(edition_of([content]), "booklet")
    blank = content.model_copy(update={"rationale": "Something else entirely."})
    assert pages(edition_of([blank]), "booklet") == printed
    if isinstance(content, SingleChoice):
        other = content.model_copy(update={"key": content.options[-1].id})
        assert pages(edition_of([other]), "booklet") == printed


@given(st.lists(ANY, min_size=3, max_size=5))
@FEW
def test_every_kind_is_printed_with_its_stem_and_the_guide_says_the_key(contents: list[ItemContent]) -> None:
    numbered = [content.model_copy(update={"stem": f"Stem number{at}x"}) for at, content in enumerate(contents)]
    edition = edition_of(numbered)
    for what in ("booklet", "answers", "guide"):
        text = words("".join(pages(edition, what)))  # type: ignore[arg-type]
        places = [text.find(f"number{at}x") for at in range(len(numbered))]
        assert -1 not in places
        assert places == sorted(places)
    guide = words("".join(pages(edition, "guide")))
    for item in edition.items():
        # Formulas are drawn and not written, so only keys of plain words can be read back.
        key = plain(item.content.key_words() or "")
        if re.fullmatch(r"[A-Za-z0-9 ]+", key):
            assert words(key) in guide


def test_a_form_prints_its_own_order_with_letters_that_fit_the_guide() -> None:
    contents = [choice(at, 0, [0, 0, 0, 0]) for at in range(8)]
    edition = edition_of(contents, forms=2)
    for form in ("A", "B"):
        arranged = edition.in_form(form)
        text = words("".join(pages(edition, "booklet", form)))
        places = [text.index(words(plain(item.content.stem))[:10]) for item in arranged.items()]
        assert places == sorted(places)
        guide = words("".join(pages(edition, "guide", form)))
        for item in arranged.items():
            assert isinstance(item.content, SingleChoice)
            number = re.search(r"\d+", item.content.stem)
            assert number
            letter = "ABCD"[[option.id for option in item.content.options].index("a")]
            at = text.index(f"option{number[0]}abegins")
            assert text[at - 1] == letter or text[at - 2] == letter
            assert f"option{number[0]}abegins" in guide
    assert [item.ref for item in edition.in_form("B").items()] != [item.ref for item in edition.in_form("A").items()]


def test_a_new_page_begins_where_the_teacher_says() -> None:
    items = [EditionItem(ref=f"{at}", content=choice(at, 0, [0] * 4), new_page=at == 2) for at in range(3)]
    edition = Edition(title="T", sections=[Section(items=items), Section(title="Part two", items=[
        EditionItem(ref="9", content=TrueFalse(stem="stem9begins", key=True))], new_page=True)])  # fmt: skip
    printed = pages(edition, "booklet")
    page_of = {at: next(n for n, text in enumerate(printed) if f"stem{at}begins" in words(text)) for at in (0, 1, 2, 9)}
    assert page_of == {0: 0, 1: 0, 2: 1, 9: 2}
    assert PlacedItem(ref="a").new_page is False
