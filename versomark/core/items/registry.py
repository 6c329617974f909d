"""The kinds of items there are. A new kind adds its three models here and nowhere else in Python."""

from functools import lru_cache
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from versomark.core.language import _

from . import algebra
from .by_rubric import (
    FileForStudent,
    FileResponse,
    FileTask,
    Performance,
    PerformanceForStudent,
    PerformanceResponse,
    Written,
    WrittenForStudent,
    WrittenResponse,
)
from .expression import Expression, ExpressionForStudent, ExpressionResponse
from .gaps import Gaps, GapsForStudent, GapsResponse
from .marks_only import MarksOnly, MarksOnlyForStudent, MarksOnlyResponse
from .matching import Matching, MatchingForStudent, MatchingResponse
from .numeric import Numeric, NumericForStudent, NumericResponse
from .ordering import Ordering, OrderingForStudent, OrderingResponse
from .picture_point import PicturePoint, PicturePointForStudent, PicturePointResponse
from .several_answers import SeveralAnswers, SeveralAnswersForStudent, SeveralAnswersResponse
from .short_text import ShortText, ShortTextForStudent, ShortTextResponse
from .single_choice import SingleChoice, SingleChoiceForStudent, SingleChoiceResponse
from .true_false import TrueFalse, TrueFalseForStudent, TrueFalseResponse

ItemContent = Annotated[
    SingleChoice
    | SeveralAnswers
    | TrueFalse
    | Numeric
    | ShortText
    | Gaps
    | Matching
    | Ordering
    | Expression
    | PicturePoint
    | Written
    | FileTask
    | Performance,
    Field(discriminator="kind"),
]
EditionContent = Annotated[ItemContent | MarksOnly, Field(discriminator="kind")]
"""What may stand in an edition: a question of the bank, or one that was given and marked elsewhere."""
ItemResponse = Annotated[
    SingleChoiceResponse
    | SeveralAnswersResponse
    | TrueFalseResponse
    | NumericResponse
    | ShortTextResponse
    | GapsResponse
    | MatchingResponse
    | OrderingResponse
    | ExpressionResponse
    | PicturePointResponse
    | WrittenResponse
    | FileResponse
    | PerformanceResponse
    | MarksOnlyResponse,
    Field(discriminator="kind"),
]
StudentItem = Annotated[
    SingleChoiceForStudent
    | SeveralAnswersForStudent
    | TrueFalseForStudent
    | NumericForStudent
    | ShortTextForStudent
    | GapsForStudent
    | MatchingForStudent
    | OrderingForStudent
    | ExpressionForStudent
    | PicturePointForStudent
    | WrittenForStudent
    | FileForStudent
    | PerformanceForStudent
    | MarksOnlyForStudent,
    Field(discriminator="kind"),
]

_content: TypeAdapter[ItemContent] = TypeAdapter(ItemContent)
_response: TypeAdapter[ItemResponse] = TypeAdapter(ItemResponse)


def read_content(stored: object) -> ItemContent:
    """A content model from stored JSON. Raises pydantic.ValidationError."""
    return _content.validate_python(stored)


def read_response(stored: object) -> ItemResponse:
    """A response model from stored JSON. Raises pydantic.ValidationError."""
    return _response.validate_python(stored)


@lru_cache(maxsize=100_000)
def read_response_text(stored: str) -> ItemResponse:
    """The same from the text of the JSON. Responses never change and most are given by many, so each is read once."""
    return _response.validate_json(stored)


class NoDraw(Exception):
    """No draw of a varied item keeps its rules; the message says which rule, in words."""


def drawn(content: ItemContent, seed: int) -> ItemContent:
    """An item with its varied numbers drawn; the item itself where nothing varies. The same seed draws the same.

    Raises NoDraw where the rules leave nothing, or a computed text or key cannot be worked out.
    """
    variation = content.variation
    if variation is None:
        return content
    values = variation.draw(seed)
    if isinstance(values, list):
        raise NoDraw(_("None of {count} draws keeps the rules: {why}", count=len(values), why=values[0].why))
    stored: dict[str, Any] = content.model_dump(exclude={"variation"})
    rule = stored.pop("value_rule", "")
    try:
        filled = variation.fill_all(stored, values)
        if rule:
            filled["value"] = float(variation.compute(rule, values))
    except algebra.NotAlgebra as error:
        raise NoDraw(str(error)) from None
    return read_content(filled)
