"""A pen's lines: they go where they were drawn, and on paper as on the screen."""

import json
import re
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.ink import FINE, PLACES, Sign, Stroke, Words, lines_of

CASES = Path(__file__).parent / "ink.json"
"""Also what `web/src/grading/ink.test.ts` draws: two that follow one rule are held against each other."""
fine = st.integers(0, FINE)


@pytest.mark.parametrize("case", json.loads(CASES.read_text()), ids=lambda case: case["place"]["kind"])
def test_the_lines_are_those_that_the_browser_draws(case: dict[str, object]) -> None:
    lines = lines_of(PLACES.validate_python(case["place"]), float(str(case["height"])))
    assert [line._asdict() for line in lines] == case["lines"]


@given(st.lists(st.tuples(fine, fine, fine), min_size=1, max_size=60), st.booleans(), st.floats(10, 3000))
def test_a_stroke_begins_and_ends_where_it_was_drawn_and_has_no_gap(
    points: list[tuple[int, int, int]], wide: bool, height: float
) -> None:
    stroke = Stroke(file=1, page=1, wide=wide, points=[number for point in points for number in point])
    ends = []
    for line in lines_of(stroke, height):
        numbers = [float(number) for number in re.findall(r"-?[\d.]+", line.path)]
        assert all(-0.1 <= number <= max(1000.1, height + 0.1) for number in numbers)
        ends.append((numbers[:2], numbers[-2:]))
    for (_, end), (begin, _) in pairwise(ends):
        assert end == begin
    x, y, _ = points[0]
    assert ends[0][0] == pytest.approx([x / 10, y / FINE * height], abs=0.06)
    x, y, _ = points[-1]
    # A last point of another pressure is where the line before it ends.
    assert ends[-1][1] == pytest.approx([x / 10, y / FINE * height], abs=0.16)


def test_words_have_no_lines_and_a_picture_has_a_height() -> None:
    assert lines_of(Words(file=0, page=1, x=0, y=0), 500) == []
    with pytest.raises(ValueError, match="height"):
        lines_of(Sign(file=0, page=1, sign="tick", x=0, y=0), 0)
