import numpy as np
import pytest

from tests.core.tables import choices
from versomark.core.findings import Finding, Flag, Thresholds, analyse, option_traces, words
from versomark.core.response_table import ItemColumn, OptionColumn, ResponseTable
from versomark.core.stats import item_measures
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


def flags(table: ResponseTable) -> list[Finding]:
    return analyse(table)[1]


def test_a_planted_wrong_key_is_found_and_comes_first() -> None:
    """The aim of docs/methods.md is checked at length by the bench; here a few seeds keep the rule honest."""
    first = [result[0] for seed in range(20) if (result := flags(simulated(seed)))]
    named = [f for f in first if f.flag is Flag.CHECK_THE_KEY and f.item == 3 and f.options == (1,)]
    assert len(named) >= 17


def test_clean_keys_are_seldom_accused() -> None:
    accused = sum(f.flag is Flag.CHECK_THE_KEY for seed in range(20) for f in flags(simulated(seed, wrong_key=False)))
    assert accused <= 0.05 * 20 * 20


def test_a_shared_idea_is_named_with_its_holders() -> None:
    table = simulated(3, size=120)
    ideas = {(f.item, f.options[0]): f for f in flags(table) if f.flag is Flag.SHARED_IDEA}
    assert (7, 2) in ideas or (11, 2) in ideas
    for (item, option), finding in ideas.items():
        assert finding.students == int((table.choice[:, item] == option).sum())
        assert finding.firmness >= Thresholds().hint


def test_the_other_flags() -> None:
    # 10 students: q1 everyone right, q2 nobody, q3 right by the weak as often as by the strong, q4 spreads them.
    rows = ["AAAA", "AAAA", "ABBA", "ABBA", "ABAA", "ACAB", "ACBB", "ACBB", "ADAB", "ADAB"]
    table = choices(rows, "AEAA", options="ABCDE")
    results = {(f.item + 1, f.flag) for f in flags(table)}
    assert (1, Flag.TOO_EASY) in results
    assert (1, Flag.DEAD_OPTION) in results
    assert (2, Flag.TOO_HARD) in results
    assert not any(flag is Flag.TOO_EASY for number, flag in results if number == 4)


def test_a_wrong_key_that_nobody_chose_is_still_suspected() -> None:
    table = simulated(5)
    key = np.flatnonzero([option.key for option in table.items[3].options])[0]
    nobody = table.choice.copy()
    nobody[nobody[:, 3] == key, 3] = 0
    items = list(table.items)
    points = table.points.copy()
    points[:, 3] = 0
    changed = ResponseTable(table.students, tuple(items), points, nobody, table.answered)
    assert np.isnan(item_measures(changed).r_rest[0, 3])
    assert flags(changed)[0].flag is Flag.CHECK_THE_KEY


def test_the_order_of_students_changes_no_flag_that_is_firm() -> None:
    table = simulated(8)
    back = ResponseTable(table.students, table.items, table.points[::-1], table.choice[::-1], table.answered[::-1])

    def firm(findings: list[Finding]) -> set[tuple[int, Flag]]:
        return {(f.item, f.flag) for f in findings if f.firmness >= 0.9}

    assert firm(flags(table)) <= {(f.item, f.flag) for f in flags(back)}


def test_too_few_students_raise_no_flag_and_say_so() -> None:
    analysis, results = analyse(choices(["AB", "AA", "BB"], "AB"))
    assert results == []
    assert "3 students are too few" in analysis.reasons["flags"]


def test_sentences() -> None:
    options = tuple(
        OptionColumn(
            letter, float(letter == "A"), idea_note="The battery gives a fixed current." if letter == "C" else ""
        )
        for letter in OPTIONS
    )
    base = choices(["A"] * 6 + ["B"] * 5 + ["C"] * 11 + ["D"] * 2, "A")
    table = ResponseTable(base.students, (ItemColumn("q", 1, options),), base.points, base.choice, base.answered)
    m, idea = item_measures(table), Finding(0, Flag.SHARED_IDEA, 0.96, (2,), 11)
    assert words.heading(idea, table) == "11 of 24 seem to think that the battery gives a fixed current."
    assert words.says(idea, table, m, Thresholds()).startswith("11 of 24 chose C, 6 the key, ")
    key = Finding(0, Flag.CHECK_THE_KEY, 0.9, (1,), 5)
    assert words.says(key, table, m, Thresholds()) == (
        "The better students choose B; the key says A. 5 of 24 chose B, 6 the key."
    )
    assert words.idea_clause("LEDs never break.") == "LEDs never break"


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
