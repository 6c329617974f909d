"""What students type, against what stands in books: spelling distance by its recurrence, identities by handbooks."""

import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.items import algebra
from versomark.core.items.expression import Expression, ExpressionResponse, WrongFormula
from versomark.core.items.short_text import ShortText, ShortTextResponse
from versomark.core.items.wording import LETTERS_PER_SLIP, Wording, WrongWords


def alignment_distance(one: str, other: str) -> int:
    """Optimal string alignment: Wagner and Fischer's table (1974) with Damerau's swap of neighbours (1964), in full."""
    rows = [[0] * (len(other) + 1) for _ in range(len(one) + 1)]
    for i in range(len(one) + 1):
        for j in range(len(other) + 1):
            if i == 0 or j == 0:
                rows[i][j] = i + j
                continue
            change = rows[i - 1][j - 1] + (one[i - 1] != other[j - 1])
            rows[i][j] = min(rows[i - 1][j] + 1, rows[i][j - 1] + 1, change)
            if i > 1 and j > 1 and one[i - 1] == other[j - 2] and one[i - 2] == other[j - 1]:
                rows[i][j] = min(rows[i][j], rows[i - 2][j - 2] + 1)
    return rows[-1][-1]


LETTERS = st.text("abcé", min_size=1, max_size=14)


@given(accepted=LETTERS, typed=LETTERS, slips=st.integers(0, 3))
def test_a_slip_is_forgiven_within_the_distance_and_never_in_a_short_word(
    accepted: str, typed: str, slips: int
) -> None:
    allowed = min(slips, len(accepted) // LETTERS_PER_SLIP)
    assert Wording(accepted=[accepted], slips=slips).is_right(typed) == (alignment_distance(accepted, typed) <= allowed)


@given(LETTERS, LETTERS, st.booleans(), st.booleans())
def test_case_and_accents_matter_when_the_teacher_says_so(accepted: str, typed: str, case: bool, accents: bool) -> None:
    def bare(text: str) -> str:
        text = text if case else text.casefold()
        apart = unicodedata.normalize("NFD", text)
        return text if accents else "".join(c for c in apart if not unicodedata.combining(c))

    wording = Wording(accepted=[accepted.upper()], case_matters=case, accents_matter=accents)
    assert wording.is_right(f"  {typed} ") == (bare(accepted.upper()) == bare(typed))


def test_an_idea_that_was_named_is_no_slip() -> None:
    content = ShortText(
        stem="Who wins?",
        wording=Wording(accepted=["affect"], slips=1, wrong=[WrongWords(text="effect", idea_note="result for cause")]),
    )
    assert [content.score(ShortTextResponse(text=text)) for text in ("affect", "afect", "effect", "infect")] == [
        1,
        1,
        0,
        0,
    ]
    assert content.picks(ShortTextResponse(text="Effect")) == ("wrong-0",)
    assert content.picks(ShortTextResponse(text="")) == ()


IDENTITIES = [
    # NIST Digital Library of Mathematical Functions, 4.21 (trigonometric) and 4.35 (hyperbolic), from memory.
    ("sin(x)^2 + cos(x)^2", "1"),
    ("sin(x + y)", "sin(x)cos(y) + cos(x)sin(y)"),
    ("cos(x - y)", "cos(x)cos(y) + sin(x)sin(y)"),
    ("cos(2x)", "2cos(x)^2 - 1"),
    ("cos(2x)", "1 - 2sin(x)^2"),
    ("sin(3x)", "3sin(x) - 4sin(x)^3"),
    ("cos(3x)", "4cos(x)^3 - 3cos(x)"),
    ("tan(x)", "sin(x)/cos(x)"),
    ("sin(x)cos(y)", "(sin(x-y) + sin(x+y))/2"),
    ("sin(x) + sin(y)", "2sin((x+y)/2)cos((x-y)/2)"),
    ("exp(x + y)", "exp(x)exp(y)"),
    ("exp(2ln(3))", "9"),
    # Abramowitz and Stegun 3.2 and 3.6, factors and sums, from memory.
    ("a^2 - b^2", "(a - b)(a + b)"),
    ("a^3 + b^3", "(a + b)(a^2 - a b + b^2)"),
    ("(a + b)^4", "a^4 + 4a^3 b + 6a^2 b^2 + 4a b^3 + b^4"),
    ("(x^5 - 1)/(x - 1)", "x^4 + x^3 + x^2 + x + 1"),
    ("1/(x(x+1))", "1/x - 1/(x+1)"),
    # School physics.
    ("1/(1/R + 1/S)", "R S/(R + S)"),
    ("U^2/R", "U (U/R)"),
    ("(m v^2)/2", "0,5 m v²"),
    ("v/(2 pi r)", "v/(2πr)"),
]
# Mistakes that teachers see every year (common practice, no source), and identities that hold in part only.
NOT_IDENTITIES = [
    ("sin(x + y)", "sin(x) + sin(y)"),
    ("(a + b)^3", "a^3 + b^3"),
    ("sqrt(a^2 + b^2)", "a + b"),
    ("ln(x + y)", "ln(x) + ln(y)"),
    ("1/(a + b)", "1/a + 1/b"),
    ("-3^2", "9"),
    ("2x^2", "(2x)^2"),
    ("a/b/c", "a/(b/c)"),
    ("a - (b - c)", "a - b - c"),
    ("6/2(1+2)", "1"),
    ("sin(2x)", "2sin(x)"),
    ("exp(x y)", "exp(x)exp(y)"),
    ("1/(1/R + 1/S)", "R + S"),
    ("cos(x)", "cos(x) + 0.0001"),
]


@pytest.mark.parametrize(("one", "other"), IDENTITIES)
def test_identities_of_the_handbooks_hold_both_ways(one: str, other: str) -> None:
    for key, typed in ((one, other), (other, one)):
        content = Expression(stem="?", key=key, positive=True)
        assert content.problems() == []
        assert content.score(ExpressionResponse(text=typed)) == 1, (key, typed)


@pytest.mark.parametrize(("key", "typed"), NOT_IDENTITIES)
def test_what_is_no_identity_is_wrong_and_shows_its_idea_when_named(key: str, typed: str) -> None:
    content = Expression(stem="?", key=key, wrong=[WrongFormula(formula=typed, idea_note="a mistake")])
    assert content.problems() == []
    assert content.score(ExpressionResponse(text=typed)) == 0
    # Written another way it is the same mistake.
    assert content.picks(ExpressionResponse(text=f"1({typed})")) == ("wrong-0",)
    assert content.score(ExpressionResponse(text=f"({key}) + 0")) == 1


@given(st.sampled_from([pair[0] for pair in IDENTITIES]), st.integers(1, 9), st.integers(1, 9))
def test_adding_and_taking_away_changes_nothing_and_scaling_does(text: str, n: int, m: int) -> None:
    tree = algebra.parse(text)
    assert algebra.equal(tree, algebra.parse(f"({text}) + {n} - {n}"))
    assert algebra.equal(tree, algebra.parse(f"{n}({text})/{n}"))
    assert algebra.equal(algebra.parse(f"({text}) {n}"), algebra.parse(f"({text}) {m}")) == (n == m)
