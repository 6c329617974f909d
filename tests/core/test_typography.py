"""What looks the same is the same answer, in any script, whatever typed it (UAX #15; Unicode 15, chapter 3.13)."""

import unicodedata
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.items.numbers import read_number
from versomark.core.items.typography import caseless, same_letters
from versomark.core.items.wording import Wording

TEXT = st.text(st.characters(exclude_categories=["Cs", "Cn", "Co"]), max_size=30)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("it’s", "it's"),
        ("“yes”", '"yes"'),
        ("1914–1918", "1914-1918"),
        ("e\u2011mail", "e-mail"),
        ("New\u00a0York", "New York"),
        ("ＡＢＣ１２３", "ABC123"),
        ("٣٤", "34"),
        ("௧௨ நாட்கள்", "12 நாட்கள்"),
        ("½", "1/2"),
        ("1½", "1 1/2"),
        ("caf\u00e9", "cafe\u0301"),
        ("co\u00adoperate", "cooperate"),
        ("  two   words ", "two words"),
    ],
)
def test_one_answer_however_it_is_typed(one: str, other: str) -> None:
    assert same_letters(one) == same_letters(other)
    wording = Wording(accepted=[one], case_matters=True)
    assert wording.is_right(other)
    assert Wording(accepted=[other], case_matters=True).is_right(one)


@given(TEXT)
def test_any_text_is_the_same_as_each_of_its_normal_forms_and_as_itself(text: str) -> None:
    once = same_letters(text)
    assert same_letters(once) == once
    for form in ("NFC", "NFD", "NFKC", "NFKD"):
        assert same_letters(unicodedata.normalize(form, text)) == once
        assert caseless(unicodedata.normalize(form, text)) == caseless(text)
    assert caseless(caseless(text)) == caseless(text)


@given(st.text(st.characters(categories=["Lu", "Ll", "Lt", "Lo"]), min_size=1, max_size=12))
def test_capitals_make_no_difference_where_they_are_said_to_make_none(word: str) -> None:
    wording = Wording(accepted=[word])
    for typed in (word, word.upper(), word.lower(), f" {word}.", f"{word} !"):
        if typed.casefold() == word.casefold() or typed.strip(" .!") == word:
            assert wording.is_right(typed), typed


@given(st.integers(0, 99), st.integers(1, 9), st.sampled_from("０٠०௦"), st.booleans())
def test_a_number_in_the_digits_of_any_script_is_that_number(whole: int, tenth: int, zero: str, minus: bool) -> None:
    def script(digits: str) -> str:
        return "".join(chr(ord(zero) + int(digit)) for digit in digits)

    typed = f"{'−' if minus else ''}{script(str(whole))}{'٫' if zero == '٠' else '.'}{script(str(tenth))}"
    read = read_number(typed)
    assert read is not None
    assert read.readings[0] == (-1 if minus else 1) * Fraction(10 * whole + tenth, 10)


@pytest.mark.parametrize(
    ("typed", "value", "unit"),
    [("½", "1/2", ""), ("1½ m", "3/2", "m"), ("1 1/2 m", "3/2", "m"), ("−2¾", "-11/4", ""), ("⅔", "2/3", ""),
     ("3\u00a0000 m²", "3000", "m²"), ("2.5×10⁻³", "1/400", ""), ("＋４", "4", "")],
)  # fmt: skip
def test_fractions_and_raised_figures(typed: str, value: str, unit: str) -> None:
    read = read_number(typed)
    assert read is not None
    assert (read.readings[-1] if "000" in typed else read.readings[0], read.unit) == (Fraction(value), unit)


def test_what_is_said_to_make_no_difference_makes_none_and_a_space_does() -> None:
    wording = Wording(accepted=["ampere meter"])
    compares = wording.compares()
    assert "More spaces than one" in compares
    assert wording.is_right("Ampere   meter .")
    assert not wording.is_right("amperemeter")
