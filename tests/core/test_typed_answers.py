"""What is typed, judged: numbers with units, words with slips, algebra. Against scipy.constants and SymPy."""

import random
from fractions import Fraction

import pytest
import scipy.constants as si
import sympy
from hypothesis import given, settings
from hypothesis import strategies as st

from versomark.core.items import algebra
from versomark.core.items.expression import Expression, ExpressionResponse
from versomark.core.items.numbers import read_number, to_figures
from versomark.core.items.numeric import IdeaRange, Numeric, NumericResponse, unit_factor
from versomark.core.items.wording import Wording, WrongWords


@pytest.mark.parametrize(
    ("typed", "value", "unit"),
    [
        ("3.5", "3.5", ""),
        ("−3,5 mA", "-3.5", "mA"),
        ("+ .5", "0.5", ""),
        ("1 200", "1200", ""),
        ("1 200 000 m", "1200000", "m"),
        ("1.234.567,8", "1234567.8", ""),
        ("1,234,567.8", "1234567.8", ""),
        ("2.5×10^-3 m", "0.0025", "m"),
        ("2,5 · 10⁻³", "0.0025", ""),
        ("2e3 V", "2000", "V"),
        ("3/4", "0.75", ""),
        ("12 V/m", "12", "V/m"),
    ],
)
def test_numbers_as_people_write_them(typed: str, value: str, unit: str) -> None:
    """Separators as in the SI brochure (9th ed., 5.4.4: comma or point, thin spaces for thousands) and in schools."""
    read = read_number(typed)
    assert read is not None
    assert (Fraction(value), unit) == (read.readings[0], read.unit)
    assert len(read.readings) == 1


def test_a_comma_before_three_digits_is_read_both_ways_and_what_is_no_number_is_none() -> None:
    read = read_number("1,234")
    assert read is not None
    assert set(read.readings) == {Fraction("1.234"), Fraction(1234)}
    for text in ("", "abc", "mA 3", "--3", "1..2", "1,2,3", "3/0", "1e999", "9" * 61):
        assert read_number(text) is None


@given(st.decimals(-(10**9), 10**9, allow_nan=False, places=4), st.integers(1, 8))
def test_significant_figures_are_those_of_the_decimal_module(value: object, figures: int) -> None:
    from decimal import ROUND_HALF_UP, Context, Decimal

    assert isinstance(value, Decimal)
    context = Context(prec=figures, rounding=ROUND_HALF_UP)
    assert to_figures(Fraction(value), figures) == Fraction(context.plus(value))


def test_units_convert_as_scipy_constants_has_them() -> None:
    """scipy.constants carries the CODATA and NIST SP 811 factors."""
    for given_unit, wanted, factor in [
        ("km/h", "m/s", si.kmh),
        ("inch", "m", si.inch),
        ("mile", "m", si.mile),
        ("h", "s", si.hour),
        ("kWh", "J", si.kilo * si.hour),
        ("atm", "Pa", si.atm),
        ("cm²", "m²", si.centi**2),
        ("mA", "A", si.milli),
        ("kΩ", "ohm", si.kilo),
        ("µF", "F", si.micro),
        ("m s⁻¹", "m/s", 1),
    ]:
        result = unit_factor(given_unit, wanted)
        assert result is not None, given_unit
        assert float(result) == pytest.approx(factor, rel=1e-12), given_unit
    for no in [("V", "A"), ("°C", "K"), ("__import__('os')", "A"), ("A", ""), ("9**9**9", "A"), ("", "A")]:
        assert unit_factor(*no) is None, no


def numeric(**parts: object) -> Numeric:
    return Numeric.model_validate({"stem": "?", "value": 0.5, **parts})


def earned(content: Numeric, text: str) -> float:
    return content.score(NumericResponse(text=text))


def test_a_tolerance_includes_its_ends_exactly() -> None:
    absolute = numeric(tolerance="absolute", amount=0.1)
    assert [earned(absolute, text) for text in ("0.4", "0.6", "0,6", "0.39999", "0.60001")] == [1, 1, 1, 0, 0]
    percent = numeric(value=-200, tolerance="percent", amount=5)
    assert [earned(percent, text) for text in ("−210", "-190", "-211", "200")] == [1, 1, 0, 0]
    figures = numeric(value=0.0123, tolerance="figures", amount=2)
    assert [earned(figures, text) for text in ("0.012", "0.01249", "0.0125", "0.013")] == [1, 1, 0, 0]
    assert earned(numeric(value=0.1), "1/10") == 1


def test_a_unit_is_wanted_accepted_or_in_the_way() -> None:
    required = numeric(unit="A", unit_rule="required", without_unit=0.5, marks=2)
    assert [earned(required, text) for text in ("0.5 A", "500 mA", "0.5", "0.5 V", "500 A")] == [2, 2, 1, 0, 0]
    accepted = numeric(unit="A", unit_rule="accepted")
    assert [earned(accepted, text) for text in ("0.5", "500mA", "500")] == [1, 1, 0]
    assert earned(numeric(), "0.5 A") == 0
    assert numeric(unit="blorp", unit_rule="required").problems() == ["“blorp” is not a unit that can be checked."]


def test_a_wrong_value_shows_its_idea() -> None:
    content = numeric(ideas=[IdeaRange(low=2, high=3, idea_note="upside down"), IdeaRange(high=-1, idea_note="sign")])
    for text, pick in [("2", "idea-0"), ("3", "idea-0"), ("-7", "idea-1"), ("4", "other"), ("no", "other")]:
        assert content.picks(NumericResponse(text=text)) == (pick,)
    backwards = numeric(ideas=[IdeaRange(low=3, high=2), IdeaRange()])
    assert backwards.problems() == [
        "The range of wrong values 1 runs backwards.",
        "The range of wrong values 2 has no limits.",
    ]


def test_words_are_the_same_when_the_teacher_says_so() -> None:
    plain = Wording(accepted=["Zürich"])
    assert [plain.is_right(text) for text in ("zürich", " ZÜRICH. ", "Zu\u0308rich", "Zurich")] == [True] * 3 + [False]
    assert Wording(accepted=["Zürich"], accents_matter=False).is_right("zurich")
    assert not Wording(accepted=["Zürich"], case_matters=True).is_right("zürich")
    slips = Wording(accepted=["parallel circuit"], slips=2, wrong=[WrongWords(text="parallel circus")])
    assert [slips.is_right(t) for t in ("paralel circut", "parallel cricuit", "series circuit", "parallel circus")] == [
        True, True, False, False,
    ]  # fmt: skip
    assert not Wording(accepted=["on"], slips=3).is_right("in")  # no slip in so short a word
    pattern = Wording(patterns=["(series|in series)( circuit)?"])
    assert [pattern.is_right(text) for text in ("In Series", "series circuit", "a series")] == [True, True, False]
    assert Wording(accepted=["a"], patterns=["(a"], wrong=[WrongWords(text="A")]).problems() == [
        "The pattern “(a” cannot be read.",
        "“A” stands both as accepted and as wrong.",
    ]
    # A pattern that takes a backtracking matcher longer than the universe has.
    assert not Wording(patterns=["(a+)+b"]).is_right("a" * 300)


def test_algebra_reads_what_students_type() -> None:
    for one, other in [
        ("2x+2", "2(x+1)"),
        ("x²", "x^2"),
        ("3xy", "y*3*x"),
        ("a/bc", "(a/b)c"),
        ("-x^2", "-(x^2)"),
        ("2^3^2", "512"),
        ("√(4)", "2"),
        ("2sin(x)cos(x)", "sin(2x)"),
        ("ln(e^2)", "2"),
        ("log(1000)", "3"),
        ("1,5x", "3x/2"),
        ("(x+1)(x−1)", "x^2-1"),
        ("x/x", "1"),
    ]:
        assert algebra.equal(algebra.parse(one), algebra.parse(other)), (one, other)
    for one, other in [("x^2", "2x"), ("(a+b)^2", "a^2+b^2"), ("sqrt(x^2)", "x"), ("1/0", "1"), ("1/(x-x)", "1/(x-x)")]:
        assert not algebra.equal(algebra.parse(one), algebra.parse(other)), (one, other)
    assert algebra.equal(algebra.parse("sqrt(x^2)"), algebra.parse("x"), positive=True)
    assert algebra.equal(algebra.parse("Rtot+1", ["Rtot"]), algebra.parse("1 + Rtot", ["Rtot"]))


@given(st.integers(0, 10**6))
@settings(max_examples=60)
def test_equality_agrees_with_sympy(seed: int) -> None:
    """A random expression equals SymPy's expansion of it, and not that with a term changed."""
    rng = random.Random(seed)
    x, y = sympy.symbols("x y")

    def grow(depth: int) -> sympy.Expr:
        if depth == 0:
            return rng.choice([x, y, sympy.Integer(rng.randint(1, 9))])
        a, b = grow(depth - 1), grow(depth - 1)
        return rng.choice([a + b, a - b, a * b, a**2])

    made = grow(3)
    text, expanded = (str(form).replace("**", "^") for form in (made, sympy.expand(made)))
    assert algebra.equal(algebra.parse(text), algebra.parse(expanded))
    assert not algebra.equal(algebra.parse(text), algebra.parse(f"({expanded}) + x*y/1000"))


@pytest.mark.parametrize(
    "text",
    [
        "", "2+", "(x", "x)", "=3", "x==y", "1;2", "__import__('os').system('true')", "lambda: 0", "x" * 201,
        "9^9^9^9", "x^31", "((x^30)^30)", "(" * 60 + "x" + ")" * 60, "+".join("x" * 100), "1e", "'a'", "x!",
    ],
)  # fmt: skip
def test_what_is_no_expression_or_too_large_is_refused_at_once(text: str) -> None:
    # What reads as a product of letters is harmless, and equal to nothing a teacher keys.
    content = Expression(stem="?", key="x+1")
    assert content.score(ExpressionResponse(text=text[:200])) == 0


@given(st.text(max_size=60))
def test_no_text_breaks_the_reader(text: str) -> None:
    content = Expression(stem="?", key="x+1", wrong=[])
    assert content.score(ExpressionResponse(text=text)) in (0, 1)
    assert numeric(unit="A", unit_rule="required").score(NumericResponse(text=text[:60])) in (0, 1)
