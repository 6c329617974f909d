"""Two rounds of a question compared, against statsmodels and by hand; and an edition as a lesson."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.contingency_tables import mcnemar

from versomark.core.editions import Edition, EditionItem, Section, TeachingPage, lesson_page, lesson_steps
from versomark.core.editions.edition import PagesBefore
from versomark.core.items import TrueFalse
from versomark.core.stats import RoundAnswer, compare_rounds

ANSWER = st.sampled_from("ABCD").map(lambda letter: RoundAnswer(letter, letter == "B"))
ROUND = st.dictionaries(st.integers(0, 30).map(str), ANSWER, max_size=30)


@given(ROUND, ROUND)
def test_the_exact_test_is_that_of_statsmodels(before: dict[str, RoundAnswer], after: dict[str, RoundAnswer]) -> None:
    result = compare_rounds(before, after)
    both = [student for student in before if student in after]
    table = [
        [sum(before[s].right is entry and after[s].right is other for s in both) for other in (True, False)]
        for entry in (True, False)
    ]
    assert (result.gained, result.lost) == (table[1][0], table[0][1])
    assert result.students == len(both) == sum(map(sum, table))
    if result.p is None:
        assert result.gained + result.lost == 0
    else:
        assert result.p == pytest.approx(mcnemar(table, exact=True).pvalue)
    assert sum(move.students for move in result.moves) == len(both)
    assert result.right_after - result.right_before == result.gained - result.lost


def test_a_worked_table() -> None:
    """9 of 24 right before talk and 20 after: 12 moved to the key and 1 away. By the binomial, by hand: of 13 moves,
    p = 2 (C(13,0) + C(13,1)) / 2^13 = 28/8192."""
    pairs = [(True, True)] * 8 + [(True, False)] + [(False, True)] * 12 + [(False, False)] * 3
    before = {str(n): RoundAnswer("B" if one else "A", one) for n, (one, _) in enumerate(pairs)}
    after = {str(n): RoundAnswer("B" if other else "C", other) for n, (_, other) in enumerate(pairs)}
    result = compare_rounds(before, after)
    assert (result.students, result.right_before, result.right_after) == (24, 9, 20)
    assert result.p == pytest.approx(28 / 8192)
    assert [(move.before, move.after, move.students) for move in result.moves] == [
        ("A", "B", 12),
        ("B", "B", 8),
        ("A", "C", 3),
        ("B", "C", 1),
    ]


def test_who_was_there_once_is_not_compared() -> None:
    result = compare_rounds({"1": RoundAnswer("A", False)}, {"2": RoundAnswer("B", True)})
    assert (result.students, result.p, result.moves) == (0, None, ())


def test_pages_stand_where_they_stand_on_paper() -> None:
    def item(ref: str) -> EditionItem:
        return EditionItem(ref=ref, content=TrueFalse(stem=ref, key=True))

    def page(ref: str) -> TeachingPage:
        return TeachingPage(ref=ref, title=f"Page {ref}")

    edition = Edition(
        title="T",
        sections=[
            Section(items=[item("1"), item("2")], pages=[PagesBefore(at=0, pages=[page("a")])]),
            Section(
                items=[item("3")],
                pages=[PagesBefore(at=0, pages=[page("b"), page("c")]), PagesBefore(at=1, pages=[page("d")])],
            ),
        ],
    )
    assert [(step.ref, step.kind) for step in lesson_steps(edition)] == [
        ("a", "page"), ("1", "question"), ("2", "question"), ("b", "page"), ("c", "page"), ("3", "question"),
        ("d", "page"),
    ]  # fmt: skip
    result = lesson_page(edition, "c")
    assert result is not None
    assert result.title == "Page c"
    assert lesson_page(edition, "1") is None
