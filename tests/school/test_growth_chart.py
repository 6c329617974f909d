"""The chart of growth on paper: read back as SVG, its points where the shares are."""

from datetime import date, timedelta
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.school.reports.growth_chart import CHART, growth_chart

SVG = "{http://www.w3.org/2000/svg}"
share = st.floats(-0.2, 1.2)


@given(st.lists(st.tuples(st.integers(0, 300), st.none() | share, st.none() | share), max_size=12))
def test_points_stand_by_day_and_share(said: list[tuple[int, float | None, float | None]]) -> None:
    points = [(date(2026, 1, 1) + timedelta(days=ago), own, of_class) for ago, own, of_class in sorted(said, key=str)]
    points.sort(key=lambda point: point[0])
    drawn = growth_chart(points)
    own = [point for point in points if point[1] is not None]
    if len(own) < 2:
        assert drawn == ""
        return
    root = ElementTree.fromstring(drawn)
    width, height = CHART
    dots = [(float(entry.get("cx", 0)), float(entry.get("cy", 0))) for entry in root.iter(f"{SVG}circle")]
    assert len(dots) == len(own)
    assert all(0 <= x <= width and 0 <= y <= height for x, y in dots)
    # Later is further right; more is higher, and what is beyond the ends stands at the end.
    assert [x for x, _ in dots] == sorted(x for x, _ in dots)
    for (_, y), (_, mine, _) in zip(dots, own, strict=True):
        assert mine is not None
        for (_, other_y), (_, other, _) in zip(dots, own, strict=True):
            assert other is not None
            if min(1, max(0, mine)) > min(1, max(0, other)) + 0.01:
                assert y < other_y
    lines = list(root.iter(f"{SVG}polyline"))
    assert lines[0].get("stroke-dasharray")  # told apart without colour
    assert lines[1].get("stroke-dasharray") is None


@pytest.mark.parametrize("points", [[], [(date(2026, 1, 1), 0.5, None)]])
def test_one_point_is_no_line(points: list[tuple[date, float | None, float | None]]) -> None:
    assert growth_chart(points) == ""
