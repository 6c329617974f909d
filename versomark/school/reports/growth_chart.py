"""Growth over the year as a line, drawn for paper: SVG, black and grey, with the names on the lines."""

from collections.abc import Sequence
from datetime import date

CHART = (640, 200)
_EDGE = 34


def growth_chart(points: Sequence[tuple[date, float | None, float | None]]) -> str:
    """(day, own share of the marks, that of the class), oldest first; the class's line is dashed. Empty under two."""
    over = [(day, own, of_class) for day, own, of_class in points if own is not None]
    if len(over) < 2:
        return ""
    width, height = CHART
    first, last = over[0][0].toordinal(), over[-1][0].toordinal()

    def x(day: date) -> float:
        return _EDGE + (width - 2 * _EDGE) * (day.toordinal() - first) / max(1, last - first)

    def y(share: float) -> float:
        return height - 24 - (height - 40) * min(1.0, max(0.0, share))

    def line(points: Sequence[tuple[float, float]], look: str) -> str:
        return f'<polyline fill="none" {look} points="{" ".join(f"{a:.1f},{b:.1f}" for a, b in points)}"/>'

    own = [(x(day), y(share)) for day, share, _ in over]
    of_class = [(x(day), y(mean)) for day, _, mean in over if mean is not None]
    ground = "".join(
        f'<line x1="{_EDGE}" x2="{width - _EDGE}" y1="{y(at):.1f}" y2="{y(at):.1f}" stroke="#d8d2c4"/>'
        f'<text x="{_EDGE - 4}" y="{y(at) + 3:.1f}" text-anchor="end" font-size="9" fill="#5a6270">{at:.0%}</text>'
        for at in (0, 0.5, 1)
    )
    dots = "".join(f'<circle cx="{a:.1f}" cy="{b:.1f}" r="3.2" fill="#1b2330"/>' for a, b in own)
    days = "".join(
        f'<text x="{x(day):.1f}" y="{height - 8}" text-anchor="middle" font-size="9" fill="#5a6270">{day:%d.%m.}</text>'
        for day in (over[0][0], over[-1][0])
    )
    names = (
        f'<text x="{own[-1][0] + 6:.1f}" y="{own[-1][1] + 3:.1f}" font-size="9" fill="#1b2330">own</text>'
        f'<text x="{of_class[-1][0] + 6:.1f}" y="{of_class[-1][1] + 3:.1f}" font-size="9" fill="#5a6270">class</text>'
        if of_class and abs(own[-1][1] - of_class[-1][1]) > 9
        else ""
    )
    lines = line(of_class, 'stroke="#5a6270" stroke-dasharray="4 3"') + line(own, 'stroke="#1b2330" stroke-width="1.8"')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" width="100%">{ground}'
        f"{lines}{dots}{days}{names}</svg>"
    )
