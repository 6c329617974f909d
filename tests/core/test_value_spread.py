"""The numbers that a class gives, in the unit of the key, and the option they fall into."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.tables import points
from versomark.core.items.numeric import IdeaRange, Numeric, NumericResponse
from versomark.core.stats import not_reached, omitted_and_not_reached

CURRENT = Numeric(
    stem="How large is the current?",
    marks=2,
    value=0.25,
    tolerance="percent",
    amount=2,
    unit="A",
    unit_rule="accepted",
    ideas=[
        IdeaRange(low=3, high=5, idea_note="voltage times current"),
        IdeaRange(low=None, high=0, idea_note="used up"),
    ],
)

UNITS = pint.UnitRegistry()


@given(st.sampled_from(["A", "mA", "µA", "kA", "C/s"]), st.integers(-5000, 5000))
def test_a_value_is_that_of_pint_in_the_unit_of_the_key(unit: str, thousandths: int) -> None:
    text = f"{thousandths / 1000:.3f} {unit}"
    expected = UNITS.Quantity(thousandths / 1000, unit.replace("µ", "u")).to("A").magnitude
    value_given = CURRENT.value_given(NumericResponse(text=text))
    assert value_given == pytest.approx(expected, rel=1e-12, abs=1e-15)
    # What is counted as an idea lies in its range, and what is drawn there is counted as it.
    (picked,) = CURRENT.picks(NumericResponse(text=text))
    if picked.startswith("idea"):
        idea = CURRENT.ideas[int(picked[-1])]
        assert idea.low is None or expected >= idea.low - 1e-12
        assert idea.high is None or expected <= idea.high + 1e-12


def test_what_is_no_number_or_in_no_such_unit_has_no_value() -> None:
    assert CURRENT.value_given(NumericResponse(text="a lot")) is None
    assert CURRENT.value_given(NumericResponse(text="3 m")) is None
    assert CURRENT.value_given(NumericResponse(text="")) is None
    assert CURRENT.value_given(NumericResponse(text="0,25")) == 0.25


@given(st.lists(st.lists(st.booleans(), min_size=6, max_size=6), min_size=1, max_size=12))
def test_who_came_to_a_question_came_to_all_before_it(given_rows: list[list[bool]]) -> None:
    table = points([[float(entry) for entry in row] for row in given_rows], [1] * 6)
    table.answered[:] = given_rows
    missed = not_reached(table)
    omitted, unreached = omitted_and_not_reached(table)
    for i, row in enumerate(given_rows):
        last = max((j for j, one in enumerate(row) if one), default=-1)
        assert missed[i].tolist() == [j > last for j in range(6)]
    assert (unreached == missed.sum(axis=0)).all()
    assert (omitted + unreached + table.answered.sum(axis=0) == len(given_rows)).all()
