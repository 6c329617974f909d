"""Items that a student did not take: missing, and neither wrong nor in anybody's figures.

Outside references: pandas (pairwise complete correlations and covariances, as R's `use = "pairwise"`), pingouin's
alpha of tables with holes, Spearman–Brown; and data from a known Rasch model, of which a part was never given.
"""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pandas as pd
import pingouin
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.tables import choices, points
from versomark.core.cli import main
from versomark.core.editions import Edition, EditionItem, Section
from versomark.core.findings import analyse
from versomark.core.formats.responses_csv import BadFile, read_responses
from versomark.core.items import Option, SingleChoice, SingleChoiceResponse
from versomark.core.response_table import ResponseTable, put_together
from versomark.core.scoring import ScoringOverrides, score
from versomark.core.stats import item_measures, omitted_and_not_reached, reliability
from versomark.core.stats.decisions import lengthened
from versomark.core.stats.mastery import mastery
from versomark.core.stats.partial_credit import fit_partial_credit


def with_holes(rows: list[str], key: str = "ABCDAB") -> ResponseTable:
    """As `choices`, with `.` where the item was not the student's."""
    table = choices([row.replace(".", "-") for row in rows], key[: len(rows[0])])
    return replace(table, taken=np.array([[letter != "." for letter in row] for row in rows]))


papers = st.integers(3, 6).flatmap(
    lambda items: st.lists(st.text("AABCD-.", min_size=items, max_size=items), min_size=4, max_size=30)
)


@given(papers)
def test_figures_of_an_item_are_those_of_who_took_it(rows: list[str]) -> None:
    table = with_holes(rows)
    m = item_measures(table)
    x = pd.DataFrame(table.scored)
    marks, most = x.fillna(0).sum(axis=1), table.due
    np.testing.assert_allclose(m.p[0], x.mean(), atol=1e-12)
    for j in range(len(table.items)):
        # What was earned of what could be, without the item, on the marks of the whole test without it.
        due = most - x[j].notna()
        share = ((marks - x[j].fillna(0)) / due.where(due > 0)).fillna(0)
        rest = share * (table.max_total - 1) if np.ptp(most) else marks - x[j].fillna(0)
        took = x[j].notna()
        if took.sum() > 1 and x[j].std() > 0 and rest[took].std() > 1e-9:
            assert m.r_rest[0, j] == pytest.approx(x[j].corr(rest), abs=1e-9)
        chosen = [sum(row[j] == letter for row in rows) for letter in "ABCD"]
        assert m.count[0, j].tolist() == chosen
        if took.any():
            assert m.share[0, j] == pytest.approx(np.array(chosen) / took.sum())
    omitted, not_reached = omitted_and_not_reached(table)
    assert (omitted + not_reached).tolist() == [sum(row[j] == "-" for row in rows) for j in range(len(rows[0]))]
    # An item that nobody of a class took takes nothing away from the others.
    analysis, _ = analyse(table)
    for item, column in zip(analysis.items, range(len(rows[0])), strict=True):
        if not any(row[column] != "." for row in rows):
            assert item.p is None
            assert analysis.reasons[f"items.{item.id}.p"] == "Nobody took it."


def test_alpha_with_holes_is_that_of_pingouin_for_as_many_items_as_were_taken() -> None:
    rng = np.random.default_rng(11)
    ability = rng.normal(size=200)
    full = (rng.random((200, 12)) < 1 / (1 + np.exp(-ability[:, None] + rng.normal(size=12)))).astype(float)
    taken = rng.random(full.shape) < 0.7
    table = replace(points(full, np.ones(12)), taken=taken, points=np.where(taken, full, 0))
    result = reliability(table)
    outside, _ = pingouin.cronbach_alpha(data=pd.DataFrame(table.scored), nan_policy="pairwise")
    assert lengthened(result.alpha, 12 / table.length) == pytest.approx(float(outside), abs=1e-3)  # it rounds
    covariance = pd.DataFrame(table.scored).cov().to_numpy()
    own, between = np.diag(covariance).mean(), covariance[~np.eye(12, dtype=bool)].mean()
    length = taken.sum() / 200
    assert result.alpha == pytest.approx(length * between / (own + (length - 1) * between), abs=1e-10)
    # And near to what the whole class would have had on a test of that length.
    assert result.alpha == pytest.approx(lengthened(reliability(points(full)).alpha, length / 12), abs=0.05)
    assert np.isnan([result.lambda2, result.split_half, result.alpha_low]).all()
    reasons = analyse(table, explained=False)[0].reasons
    assert reasons["test.lambda2"] == "Students did not all take the same questions."


def test_a_scale_does_not_mind_what_was_never_given() -> None:
    """400 students of a Rasch model, each given 12 of 20 items: difficulties come back within their errors."""
    rng = np.random.default_rng(5)
    difficulty = np.linspace(-2, 2, 20)
    chance = 1 / (1 + np.exp(difficulty - rng.normal(size=(400, 1))))
    answers = (rng.random(chance.shape) < chance).astype(float)
    for row in answers:
        row[rng.permutation(20)[12:]] = np.nan
    scale = fit_partial_credit(answers)
    off = (scale.difficulty - difficulty) / scale.difficulty_errors
    assert np.abs(off).max() < 3.5
    assert float(np.mean(off**2)) == pytest.approx(1, abs=0.6)


def question(ref: str, skill: str) -> EditionItem:
    options = [Option(id=letter, text=letter) for letter in "abc"]
    return EditionItem(ref=ref, content=SingleChoice(stem="?", options=options, key="a"), skills=[skill])


@pytest.fixture
def edition() -> Edition:
    """One question for all, then two of three."""
    chosen = [question(ref, f"skill {ref}") for ref in "bcd"]
    return Edition(title="t", sections=[Section(items=[question("a", "all")]), Section(items=chosen, choose=2)])


def test_who_chooses_is_measured_by_what_was_chosen(edition: Edition) -> None:
    said = {"1": "aa.a", "2": "ab.b", "3": "aaba", "4": "b..."}
    responses = {
        seat: {
            ref: SingleChoiceResponse(option=letter) for ref, letter in zip("abcd", row, strict=True) if letter != "."
        }
        for seat, row in said.items()
    }
    table = score(edition, responses)
    assert table.max_total == edition.total_marks == 3
    assert table.due.tolist() == [3, 3, 3, 3]
    # The third answered one too many, of which the last does not count; the fourth chose nothing, and loses it.
    assert table.totals.tolist() == [3, 1, 2, 0]
    assert table.taken.astype(int).tolist() == [[1, 1, 0, 1], [1, 1, 0, 1], [1, 1, 1, 0], [1, 0, 0, 0]]
    assert item_measures(table).p[0].tolist() == pytest.approx([3 / 4, 2 / 3, 0, 1 / 2])
    # Of a skill that a student did not choose nothing is said.
    result = mastery(table.scored, table.maxima, [item.skills for item in table.items])
    assert np.isnan(result.share[0, 2])
    assert result.class_share[3] == 1 / 2
    # Put together with others, and without an item, what was taken stays with it.
    assert table.columns([0, 3]).taken.tolist() == table.taken[:, [0, 3]].tolist()
    assert table.columns([0, 3]).max_total == 2
    # Who had chosen what is left out is not measured by it; who had not, is as before.
    left = [score(edition, {seat: responses[seat]}, judged=ScoringOverrides(waived=frozenset({"c"}))) for seat in "13"]
    assert [entry.max_total for entry in left] == [3, 2]
    everybody = score(edition, responses, judged=ScoringOverrides(waived=frozenset({"c"})))
    assert everybody.max_total == 3
    assert everybody.totals.tolist() == [3, 1, 2, 0]


def test_a_file_says_what_was_not_taken(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    answers, key = tmp_path / "answers.csv", tmp_path / "key.csv"
    answers.write_text("student,q1,q2\nAda,A,NA\nBo,B,A\nCy,A,\n")
    key.write_text("item,key\nq1,A\nq2,A\n")
    table = read_responses(answers, key)
    assert table.taken.tolist() == [[True, False], [True, True], [True, True]]
    assert item_measures(table).p[0].tolist() == pytest.approx([2 / 3, 1 / 2])
    assert table.due.tolist() == [1, 2, 2]
    assert table.standing.tolist() == [2, 1, 1]
    answers.write_text("student,q1,q2\nAda,3,NA\nBo,1,2\nCy,,x\n")
    with pytest.raises(BadFile, match="nor NA"):
        read_responses(answers)
    answers.write_text("student,q1,q2\nAda,3,NA\nBo,1,2\nCy,,1\n")
    assert main([str(answers)]) == 0
    capsys.readouterr()


wide = st.integers(1, 6).flatmap(
    lambda items: st.tuples(
        st.lists(st.integers(0, 2), min_size=items, max_size=items),
        st.lists(st.lists(st.booleans(), min_size=items, max_size=items), min_size=2, max_size=12),
        st.dictionaries(st.integers(0, 2), st.integers(1, 3), max_size=2),
    )
)


@given(wide, st.randoms(use_true_random=False))
def test_what_was_due_and_put_together(
    drawn: tuple[list[int], list[list[bool]], dict[int, int]], random: object
) -> None:
    """By plain counting: marks of the items taken, or of as many as are chosen; rows keep what was taken."""
    sections, taken_rows, choose = drawn
    taken = np.array(taken_rows)
    maxima = [1.0 + at % 3 for at in range(len(sections))]
    base = points(np.zeros(taken.shape), maxima)
    items = tuple(replace(item, section=section) for item, section in zip(base.items, sections, strict=True))
    table = replace(base, items=items, taken=taken, choose=choose)
    for i, row in enumerate(taken_rows):
        due = 0.0
        for section in set(sections):
            own = [m for m, s in zip(maxima, sections, strict=True) if s == section]
            if section in choose:
                due += sum(sorted(own, reverse=True)[: choose[section]])
            else:
                due += sum(m for m, s, took in zip(maxima, sections, row, strict=True) if s == section and took)
        assert table.due[i] == pytest.approx(due)
        assert due <= table.max_total + 1e-9
    order = list(range(len(taken_rows)))
    random.shuffle(order)  # type: ignore[attr-defined]
    half = len(order) // 2
    both = put_together([table.rows(order[:half]), table.rows(order[half:])] if half else [table.rows(order)])
    assert both.taken.tolist() == taken[order].tolist()
    assert both.due.tolist() == pytest.approx(table.due[order].tolist())
    assert both.takers.tolist() == table.takers.tolist()
    assert both.complete == bool(taken.all())
    assert table.length == pytest.approx(taken.sum() / len(taken_rows))
