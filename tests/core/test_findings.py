from typing import Any

import numpy as np
import pytest
from scipy import stats

from tests.core.tables import choices, points
from versomark.core.findings import FindingFacts, Flag, RivalFacts, analyse, explain, option_traces, words
from versomark.core.findings.facts import LevelFacts, facts_of_criterion
from versomark.core.response_table import ItemColumn, OptionColumn, ResponseTable
from versomark.core.stats import item_measures, rest_discrimination
from versomark.core.stats.distributions import beta_below
from versomark.stand_ins.class_of_students import SimulatedItem, answer_paper, make_class

OPTIONS = ("A", "B", "C", "D")
IDEAS = {"used up": 0.35, "fixed": 0.4}


def simulated(seed: int, size: int = 24, wrong_key: bool = True) -> ResponseTable:
    """Twenty items; item 4 carries a wrong key (D for B), items 8 and 12 a shared idea on C."""
    rng = np.random.default_rng(seed)
    items = [SimulatedItem(OPTIONS, "B", float(b), {}) for b in np.linspace(-1.5, 1.2, 20)]
    items[7] = SimulatedItem(OPTIONS, "B", 0.3, {"C": "used up"})
    items[11] = SimulatedItem(OPTIONS, "B", 0.4, {"C": "fixed"})
    rows = [answer_paper(student, items, rng) for student in make_class(size, IDEAS, rng)]
    keys = "B" * 3 + ("D" if wrong_key else "B") + "B" * 16
    return choices(["".join(choice or "-" for choice in row) for row in rows], keys)


def flags(table: ResponseTable) -> list[FindingFacts]:
    return analyse(table)[1]


def test_a_planted_wrong_key_is_found_and_comes_first() -> None:
    """How often is measured by the bench on three kinds of classes; here a few seeds keep the rule honest."""
    first = [result[0] for seed in range(20) if (result := flags(simulated(seed)))]
    named = [f for f in first if f.flag is Flag.CHECK_THE_KEY and f.item == "q4" and f.options == ["B"]]
    assert len(named) >= 12


def test_clean_keys_are_seldom_accused() -> None:
    accused = sum(f.flag is Flag.CHECK_THE_KEY for seed in range(20) for f in flags(simulated(seed, wrong_key=False)))
    assert accused <= 1


def test_one_explanation_leads_an_item_and_what_follows_is_not_said_again() -> None:
    for seed in range(6):
        found = flags(simulated(seed, size=60))
        for item in {f.item for f in found if f.flag.urgent}:
            own = [f.flag for f in found if f.item == item]
            assert sum(flag.urgent for flag in own) == 1
            assert not {Flag.TOO_HARD, Flag.DOES_NOT_TELL_APART} & set(own)


def test_the_other_flags() -> None:
    # 60 students: q1 nearly everyone right, q2 nobody, q4 spreads them.
    rows = ["AAAA", "AAAA", "ABBA", "ABBA", "ABAA", "ACAB", "ACBB", "ACBB", "ADAB", "ADAB"] * 6
    table = choices(rows, "AEAA", options="ABCDE")
    results = {(f.item, f.flag) for f in flags(table)}
    assert ("q1", Flag.TOO_EASY) in results
    assert ("q1", Flag.DEAD_OPTION) in results
    assert {Flag.TOO_HARD, Flag.GUESSING, Flag.CHECK_THE_KEY} & {flag for item, flag in results if item == "q2"}
    assert not any(flag is Flag.TOO_EASY for item, flag in results if item == "q4")


def test_of_24_no_option_can_be_called_dead_and_of_60_it_can() -> None:
    """P(share < .05) after none of 24 is 1 − .95^25 = .72, after none of 60 .956: the beta distribution by hand."""
    for size, dead in ((24, False), (60, True)):
        table = choices(["AB", "BA", "CC"] * (size // 3), "AB")
        assert any(f.flag is Flag.DEAD_OPTION and f.options == ["D"] for f in flags(table)) == dead
    assert beta_below(0, 24, 0.05) == pytest.approx(1 - 0.95**25)
    assert beta_below(7, 13, 0.4) == pytest.approx(stats.beta(8, 14).cdf(0.4))


def test_a_question_that_everybody_has_right_whatever_they_chose_is_not_too_hard() -> None:
    """So it is where a teacher settled that everybody has its marks."""
    table = choices(["AB", "BA", "CC", "DA"] * 5, "AA")
    every = tuple(OptionColumn(option.label, 1.0) for option in table.items[0].options)
    points = table.points.copy()
    points[:, 0] = 1
    items = (ItemColumn("q1", 1, every), table.items[1])
    settled = ResponseTable(table.students, items, points, table.choice, table.answered)
    assert {f.flag for f in flags(settled) if f.item == "q1"} <= {Flag.TOO_EASY}
    assert explain(settled).items[0] is None


def test_a_true_false_question_with_a_clear_trend_is_neither_guessed_nor_too_hard() -> None:
    """Half of the class has it right, and that is the better half."""
    rng = np.random.default_rng(2)
    able = np.sort(rng.normal(size=(24, 1)), axis=0)
    right = able + 0.5 * rng.logistic(size=(24, 12)) > np.linspace(-1, 1, 12)
    right[:, 0] = np.arange(24) >= 13
    table = choices(["".join("BA"[int(hit)] for hit in row) for row in right], "A" * 12, options="AB")
    assert rest_discrimination(table)[0] > 0.75
    assert not [f for f in flags(table) if f.item == "q1"]


def test_coin_flips_on_five_questions_do_not_look_as_if_they_told_apart() -> None:
    """With the item in the total the mean D of such tests is near .5."""
    rng = np.random.default_rng(4)
    tests = [points(rng.integers(0, 2, size=(24, 5)), maxima=[1] * 5) for _ in range(200)]
    assert np.nanmean([rest_discrimination(table) for table in tests]) == pytest.approx(0, abs=0.03)
    assert np.nanmean([item_measures(table).d for table in tests]) > 0.4


def test_a_wrong_key_that_nobody_chose_is_still_suspected() -> None:
    table = simulated(5)
    key = np.flatnonzero([option.key for option in table.items[3].options])[0]
    nobody, given = table.choice.copy(), table.points.copy()
    nobody[nobody[:, 3] == key, 3] = 1
    given[:, 3] = 0
    changed = ResponseTable(table.students, table.items, given, nobody, table.answered)
    assert np.isnan(item_measures(changed).r_rest[0, 3])
    found = next(f for f in flags(changed) if f.item == "q4")
    assert (found.flag, found.options) == (Flag.CHECK_THE_KEY, ["B"])


def test_the_order_of_students_changes_no_probability() -> None:
    table = simulated(8, size=20)
    back = ResponseTable(table.students, table.items, table.points[::-1], table.choice[::-1], table.answered[::-1])
    for one, other in zip(explain(table).items, explain(back).items, strict=True):
        assert one is not None
        assert other is not None
        for (kind, option, p), (kind_back, option_back, q) in zip(one.ranked(), other.ranked(), strict=True):
            if p > 1e-3:
                assert (kind, option) == (kind_back, option_back)
            assert p == pytest.approx(q, abs=1e-4)


def test_too_few_students_raise_no_flag_and_say_so() -> None:
    analysis, results = analyse(choices(["AB", "AA", "BB"], "AB"))
    assert results == []
    assert "3 students are too few" in analysis.reasons["flags"]


def facts(flag: Flag, **more: Any) -> FindingFacts:
    common: dict[str, Any] = {
        "item": "q", "flag": flag, "probability": 0.8, "options": ["C"], "students": 11, "takers": 24, "right": 6,
        "keys": ["A"], "counts": [{"option": "A", "count": 6}, {"option": "C", "count": 11}], "offered": True,
        "idea_note": "", "upper_key": 0.5, "upper_option": 0.4, "lower_option": 0.6, "earned": 0.25, "r_rest": 0.1,
        "alpha": 0.7, "alpha_without": 0.75, "rivals": [],
    }  # fmt: skip
    return FindingFacts(**{**common, **more})


def test_sentences() -> None:
    idea = facts(Flag.SHARED_IDEA, idea_note="The battery gives a fixed current.")
    assert words.heading(idea) == "11 of 24 chose C: probably the idea that the battery gives a fixed current."
    assert words.says(idea) == (
        "11 of 24 chose C, 6 the key A; C was taken by 40% of the strongest and 60% of the weakest."
    )
    assert words.heading(facts(Flag.CHECK_THE_KEY, probability=0.6)) == "The key may be wrong: look at C."
    assert words.heading(facts(Flag.CHECK_THE_KEY, probability=0.97)) == "The key is almost certainly wrong: look at C."
    assert words.heading(facts(Flag.TWO_RIGHT_ANSWERS)) == "It probably has two right answers: A and C."
    assert words.how_sure(0.8) == "Of ten findings this sure, about eight prove right and two do not."
    assert words.idea_heading("LEDs break.", 0.6, 9.2, 7, 12, 24) == "Perhaps 9 of 24 (7 to 12) think that LEDs break."
    assert words.idea_clause("LEDs never break.") == "LEDs never break"


def test_sentences_on_a_rubric_a_forecast_and_an_idea_over_time() -> None:
    low, high = LevelFacts(points=1, students=8, rest=0.4), LevelFacts(points=2, students=7, rest=0.3)
    turned = facts_of_criterion("q", Flag.LEVELS_OUT_OF_ORDER, 0.8, "Method", 20, [low, high])
    assert words.heading(turned) == "On “Method”, 2 probably stands for less than 1."
    assert words.says(turned) == "The 7 with 2 earned 30% of everything else on average, the 8 with 1 40%."
    nobody = facts_of_criterion(
        "q", Flag.UNUSED_LEVELS, 0.96, "Method", 60, [LevelFacts(points=1, students=0, rest=None)]
    )
    assert words.heading(nobody) == "Nobody was given 1 point on “Method”."
    assert words.says(nobody) == "Of 60 answers none got 1."
    apart = facts_of_criterion("q", Flag.SOMETHING_ELSE, 0.97, "Spelling", 60, r_rest=0.08)
    assert words.heading(apart) == "“Spelling” almost certainly measures something else than the rest."
    assert words.says(apart) == "Who does well on everything else hardly does better on it (r .08)."
    assert words.idea_elsewhere("in “T” on 3 Nov", True, (11.6, 8, 15, 24), True, 0.97) == (
        "In “T” on 3 Nov 12 of 24 (8 to 15) thought so; almost certainly fewer now."
    )
    assert words.idea_elsewhere("when it was asked again", False, (3, 1, 5, 24), False, 0.6) == (
        "When it was asked again more likely than not nobody did; a difference that may be chance."
    )
    assert words.idea_gone("It is used up.", "in “T” on 3 Nov", (12, 8, 15, 24), 0.2) == (
        "12 of 24 (8 to 15) thought in “T” on 3 Nov that it is used up. Here it does not show, "
        "though 20 in 100 say that it is still there."
    )
    assert words.evidence_before(0, False) == ""
    assert words.evidence_before(1, True).startswith("1 paper handed in before, with some of its questions, counts")


@pytest.mark.parametrize("flag", list(Flag))
@pytest.mark.parametrize("probability", [0.5, 0.8, 0.999])
def test_every_flag_has_its_words_whatever_is_missing(flag: Flag, probability: float) -> None:
    none = facts(
        flag, probability=probability, upper_option=None, lower_option=None, r_rest=None, alpha=None, options=["C"]
    )
    for text in (words.heading(none), words.says(none), words.short(none), words.ADVICE[flag]):
        assert text
        assert "None" not in text
        assert "nan" not in text
    for kind in (None, Flag.CHECK_THE_KEY, Flag.TWO_RIGHT_ANSWERS, Flag.SHARED_IDEA, Flag.GUESSING):
        assert words.rival(RivalFacts(flag=kind, option="B", idea_note="", probability=0.2), ["A"])


def test_the_opening_says_how_many_may_be_wrong() -> None:
    assert words.to_look_at([]) == "No question stands out."
    assert words.to_look_at([], others=True) == "No question is more likely than not to have misled anybody."
    assert words.to_look_at([0.6, 0.6, 0.8]).endswith("expect about one of these findings to be wrong.")
    assert "most likely none" in words.to_look_at([0.95, 0.99])


@pytest.mark.parametrize(
    ("value", "text"), [(0.291, ".29"), (-0.08, "−.08"), (1.25, "1.25"), (-0.001, ".00"), (0.0, ".00")]
)
def test_figures_are_printed_as_statisticians_do(value: float, text: str) -> None:
    assert words.number(value) == text


def test_traces_have_as_many_groups_as_the_class_can_bear() -> None:
    for size, groups in [(24, 3), (80, 4), (200, 5)]:
        trace = option_traces(simulated(1, size=size))[7][1]
        assert len(trace.points) == groups
        assert all(point.low <= point.share <= point.high for point in trace.points)
