"""Part marks, rubrics, choice and correction for guessing: against SciPy, enumeration, and the cases of the brief."""

from itertools import permutations, product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import kendalltau

from versomark.core.editions import BankItem, DraftSection, Layout, PlacedItem, freeze, one_section
from versomark.core.items import ItemContent, Option, SingleChoice, SingleChoiceResponse, TrueFalse
from versomark.core.items.ordering import Entry, Ordering, OrderingResponse
from versomark.core.items.picture_point import Region
from versomark.core.items.rubric import Criterion, Level, Rubric
from versomark.core.items.several_answers import SeveralAnswers, SeveralAnswersResponse
from versomark.core.scoring import ScoringOverrides, corrected_totals, score

OPTIONS = [Option(id=id, text=id) for id in "abcd"]


def test_several_answers_by_each_rule() -> None:
    def earned(credit: str, *picked: str) -> float:
        content = SeveralAnswers(stem="?", options=OPTIONS, keys=["a", "b"], credit=credit, marks=4)  # type: ignore[arg-type]
        return content.score(SeveralAnswersResponse(options=list(picked)))

    cases = [
        ("ab", 4, 4, 4),
        ("a", 0, 3, 2),
        ("abc", 0, 3, 2),
        ("ac", 0, 2, 0),
        ("cd", 0, 0, 0),
        ("abcd", 0, 2, 0),
        ("", 0, 0, 0),
    ]
    for picked, of_all, of_each, of_difference in cases:
        assert earned("all", *picked) == of_all
        assert earned("each", *picked) == of_each
        assert earned("right_minus_wrong", *picked) == of_difference


@pytest.mark.parametrize("size", [2, 3, 4, 5])
def test_pairs_in_order_earn_kendalls_tau_where_it_is_positive(size: int) -> None:
    content = Ordering(stem="?", entries=[Entry(id=str(k), text=str(k)) for k in range(size)], credit="pairs")
    for order in permutations(range(size)):
        place = np.argsort(order)
        tau = kendalltau(range(size), place).statistic
        assert content.score(OrderingResponse(order=[str(k) for k in order])) == pytest.approx(max(0, tau))


def test_an_ellipse_holds_its_middle_and_not_its_corners() -> None:
    region = Region(id="r", x=0.2, y=0.4, width=0.4, height=0.2, round=True)
    assert region.holds(0.4, 0.5)
    assert region.holds(0.2, 0.5)
    assert not region.holds(0.21, 0.41)
    assert Region(id="r", x=0.2, y=0.4, width=0.4, height=0.2).holds(0.21, 0.41)


def rubric(*maxima: float) -> Rubric:
    return Rubric(criteria=[Criterion(id=f"c{k}", name=f"C{k}", max=top) for k, top in enumerate(maxima)])


def test_thirteen_and_twenty_and_three_make_a_hundred_exactly() -> None:
    of_36 = rubric(13, 20, 3)
    assert of_36.scaled({"c0": 13, "c1": 20, "c2": 3}, 100) == 100
    assert of_36.scaled({"c0": 6.5, "c1": 10, "c2": 1.5}, 100) == 50
    assert of_36.scaled({"c0": 13, "c1": 20}, 100) is None
    assert rubric().scaled({}, 100) is None


@given(
    st.lists(st.integers(1, 80).map(lambda n: n / 2), min_size=1, max_size=8), st.integers(1, 200).map(lambda n: n / 2)
)
def test_full_points_are_full_marks_and_none_are_none(maxima: list[float], marks: float) -> None:
    made = rubric(*maxima)
    assert made.scaled({f"c{k}": top for k, top in enumerate(maxima)}, marks) == marks
    assert made.scaled({f"c{k}": 0 for k in range(len(maxima))}, marks) == 0


def test_a_rubric_says_what_is_wrong_with_it() -> None:
    bad = Rubric(
        criteria=[
            Criterion(id="a", name="Idea", max=2, levels=[Level(points=3), Level(points=1), Level(points=1)]),
            Criterion(id="b", max=1),
        ]
    )
    assert bad.problems() == [
        "Criterion Idea: a level is worth more than its maximum.",
        "Criterion Idea: two levels are worth the same.",
        "Criterion 2 has no name.",
    ]
    assert bad.refuses({"a": 2.5}) == ["Idea has at most 2."]
    assert Rubric().problems() == ["The rubric has no criterion yet."]


def edition_of(contents: list[ItemContent], correct: bool = False, choose: int | None = None):  # type: ignore[no-untyped-def]
    bank = {f"{k:x}": BankItem(f"{k:x}", content) for k, content in enumerate(contents)}
    section = DraftSection(ref="1", entries=[PlacedItem(ref=ref) for ref in bank], choose=choose)
    layout = Layout(sections=[section], correct_for_guessing=correct)
    return freeze("T", "", layout, bank, lambda rule: [], seed=1)


def test_blind_guessing_earns_nothing_on_average_once_it_is_corrected() -> None:
    """R − W/(k − 1): over every way to guess on two 4-option questions the corrected total sums to 0, and a question
    left out costs nothing (Frary 1988, formula 1)."""
    questions: list[ItemContent] = [SingleChoice(stem=str(k), options=OPTIONS, key="a") for k in range(2)]
    edition = edition_of(questions, correct=True)
    guesses = {
        "".join(pick): {f"{k:x}": SingleChoiceResponse(option=option) for k, option in enumerate(pick)}
        for pick in product("abcd", repeat=2)
    }
    totals = corrected_totals(edition, score(edition, guesses))
    assert totals.sum() == pytest.approx(0, abs=1e-12)
    assert totals[0] == 2
    left_out = score(edition, {"one": {"0": SingleChoiceResponse(option="b")}, "none": {}})
    assert corrected_totals(edition, left_out).tolist() == pytest.approx([-1 / 3, 0])
    uncorrected = edition_of(questions)
    assert corrected_totals(uncorrected, score(uncorrected, guesses)).sum() == 8


def test_where_students_choose_the_first_answered_count_and_the_marks_are_of_as_many() -> None:
    questions: list[ItemContent] = [SingleChoice(stem=str(k), options=OPTIONS, key="a", marks=2) for k in range(4)]
    edition = edition_of(questions, choose=2)
    assert edition.total_marks == 4
    right = SingleChoiceResponse(option="a")
    table = score(edition, {"1": {"0": SingleChoiceResponse(option="b"), "2": right, "3": right}, "2": {"3": right}})
    assert table.points.tolist() == [[0, 0, 2, 0], [0, 0, 0, 2]]
    assert table.answered.tolist() == [[True, False, True, False], [False, False, False, True]]


def test_what_a_person_marks_waits_outside_the_table() -> None:
    from versomark.core.items.by_rubric import Written, WrittenResponse

    task = Written(stem="Why?", rubric=rubric(4))
    edition = edition_of([task, TrueFalse(stem="So?", key=True)])
    said = {"1": {"0": WrittenResponse(text="Because.")}, "2": {}}
    table = score(edition, said)
    assert [(column.id, column.number) for column in table.items] == [("1", 2)]
    # Its mark brings the column in; whoever left the task empty has nothing for it, and nobody had to say so.
    marked = score(edition, said, judged=ScoringOverrides(marks={"1": {"0": 0.5}}))
    assert marked.points.tolist() == [[0.5, 0], [0, 0]]
    assert marked.answered.tolist() == [[True, False], [False, False]]
    assert [column.id for column in score(edition, {"2": {}}).items] == ["0", "1"]
    assert one_section(["0"]).sections[0].choose is None
