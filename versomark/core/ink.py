"""What a marker puts on an answer, as data, and a pen's part of it as lines of an SVG.

Lengths are in thousandths of the width of the picture, so that a page looks the same on a telephone and on paper. The
browser draws by the same rules, in `ink.ts`.
"""

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Annotated, Literal, NamedTuple

from pydantic import BaseModel, Field, TypeAdapter, model_validator

MOST_POINTS = 2_000
FINE = 10_000
"""Into how many parts the width and the height of a picture are divided for a stroke; a picture is seldom wider."""
Share = Annotated[float, Field(ge=0, le=1)]
Fine = Annotated[int, Field(ge=0, le=FINE)]


class Stretch(BaseModel):
    """Letters of a written answer, counted over its text as it is shown, from `start` to before `end`."""

    kind: Literal["stretch"] = "stretch"
    start: Annotated[int, Field(ge=0, le=60_000)]
    end: Annotated[int, Field(ge=1, le=60_000)]

    @model_validator(mode="after")
    def _is_something(self) -> "Stretch":
        if self.end <= self.start:
            raise ValueError("Nothing is marked.")
        return self


class OnPicture(BaseModel):
    """Something on a picture of an answer; places are shares of its width and height from the left upper corner."""

    file: Annotated[int, Field(ge=0, le=10)]
    """The file by its place from 1; 0 for what was written by hand."""
    page: Annotated[int, Field(ge=1, le=1000)]


class Area(OnPicture):
    """A part of it, framed."""

    kind: Literal["area"] = "area"
    x: Share
    y: Share
    w: Share
    h: Share


class Stroke(OnPicture):
    """What a pen drew from where it was put down to where it was lifted."""

    kind: Literal["stroke"] = "stroke"
    wide: bool = False
    """A broad, light line that lets what is under it be read."""
    points: Annotated[list[Fine], Field(min_length=3, max_length=3 * MOST_POINTS)]
    """x, y and pressure of each point in turn, each in ten-thousandths."""

    @model_validator(mode="after")
    def _is_whole(self) -> "Stroke":
        if len(self.points) % 3:
            raise ValueError("A point has three numbers.")
        return self


class Sign(OnPicture):
    kind: Literal["sign"] = "sign"
    sign: Literal["tick", "cross", "question"]
    x: Share
    y: Share


class Underline(OnPicture):
    kind: Literal["underline"] = "underline"
    x: Share
    y: Share
    to_x: Share
    to_y: Share


class Words(OnPicture):
    """The text of the remark, written where it belongs."""

    kind: Literal["words"] = "words"
    x: Share
    y: Share
    stamped: bool = False
    """Words that its marker keeps at hand, in a frame."""


Place = Annotated[Stretch | Area | Stroke | Sign | Underline | Words, Field(discriminator="kind")]
PLACES = TypeAdapter[Stretch | Area | Stroke | Sign | Underline | Words](Place)

WIDTH = 1000.0
PEN, BROAD = 3.5, 24.0
"""Width of a line at middle pressure."""
SIGN, LETTERS = 34.0, 28.0
STEPS = 4
"""Widths between the lightest and the firmest pressure; more are not seen, and each is a line of its own."""
Point = tuple[float, float]
SIGNS: dict[str, str] = {
    "tick": "M -.5 .05 L -.15 .45 L .6 -.6",
    "cross": "M -.42 -.42 L .42 .42 M .42 -.42 L -.42 .42",
    "question": "M -.3 -.35 Q -.25 -.65 .05 -.65 Q .38 -.62 .36 -.3 Q .34 -.08 .02 .08 L .02 .25 M .02 .5 L .02 .55",
}
"""About a middle of 0, 0, of a size of 1."""


class Line(NamedTuple):
    """A line of an SVG."""

    path: str
    width: float
    broad: bool = False


def lines_of(place: Place, height: float) -> list[Line]:
    """
    The lines that a pen draws of something.

    Parameters
    ----------
    place
        What stands on the picture. Words and stretches of text have no lines.
    height
        Of the picture, where its width is 1000.

    Returns
    -------
    list of Line
        Their paths, in thousandths of the width of the picture.

    Raises
    ------
    ValueError
        If `height` is not above 0.

    Examples
    --------
    >>> lines_of(Underline(file=0, page=1, x=0, y=0.5, to_x=1, to_y=0.5), height=200)
    [Line(path='M 0.0 100.0 L 1000.0 100.0', width=3.5, broad=False)]
    """
    if not height > 0:
        raise ValueError("height must be above 0")
    match place:
        case Stroke():
            return list(_stroke(place, height))
        case Area():
            left, top = place.x * WIDTH, place.y * height
            right, bottom = left + place.w * WIDTH, top + place.h * height
            corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
            return [Line(f"M {' L '.join(map(_at, corners))} Z", PEN)]
        case Sign():
            return [Line(_moved(SIGNS[place.sign], place.x * WIDTH, place.y * height), PEN * 1.4)]
        case Underline():
            start, end = (place.x * WIDTH, place.y * height), (place.to_x * WIDTH, place.to_y * height)
            return [Line(f"M {_at(start)} L {_at(end)}", PEN)]
        case _:
            return []


def _stroke(stroke: Stroke, height: float) -> Iterator[Line]:
    """Of one width as long as the pressure is about the same; the next begins where one ends."""
    numbers = [number / FINE for number in stroke.points]
    points = [(x * WIDTH, y * height) for x, y in zip(numbers[::3], numbers[1::3], strict=True)]
    steps = [STEPS if stroke.wide else round(pressure * STEPS) for pressure in numbers[2::3]]
    begin = 0
    for at in range(1, len(points) + 1):
        if at == len(points) or steps[at] != steps[begin]:
            width = BROAD if stroke.wide else PEN * (0.5 + steps[begin] / STEPS)
            yield Line(_smooth(points[begin : at + 1]), width, stroke.wide)
            begin = at


def _smooth(points: Sequence[Point]) -> str:
    """Through the middles between its points, so that no corner shows where the hand made none."""
    if len(points) == 1:
        (x, y) = points[0]
        return f"M {_at((x, y))} L {_at((x + 0.1, y))}"
    middles = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in pairwise(points)]
    curves = [f"Q {_at(point)} {_at(middle)}" for point, middle in zip(points[1:-1], middles[1:], strict=True)]
    return " ".join([f"M {_at(points[0])} L {_at(middles[0])}", *curves, f"L {_at(points[-1])}"])


def _moved(path: str, x: float, y: float) -> str:
    """A sign at its place: of two numbers the first is across, the second down."""
    moved, across = [], True
    for word in path.split():
        if word.isalpha():
            moved.append(word)
            continue
        moved.append(f"{float(word) * SIGN + (x if across else y):.1f}")
        across = not across
    return " ".join(moved)


def _at(point: Point) -> str:
    return f"{point[0]:.1f} {point[1]:.1f}"
