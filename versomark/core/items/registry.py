"""The kinds of items there are. A new kind adds its two models here and nowhere else in Python."""

from typing import Annotated

from pydantic import Field, TypeAdapter

from .single_choice import SingleChoice, SingleChoiceResponse
from .true_false import TrueFalse, TrueFalseResponse

ItemContent = Annotated[SingleChoice | TrueFalse, Field(discriminator="kind")]
ItemResponse = Annotated[SingleChoiceResponse | TrueFalseResponse, Field(discriminator="kind")]

_content: TypeAdapter[ItemContent] = TypeAdapter(ItemContent)
_response: TypeAdapter[ItemResponse] = TypeAdapter(ItemResponse)


def read_content(stored: object) -> ItemContent:
    """A content model from stored JSON. Raises pydantic.ValidationError."""
    return _content.validate_python(stored)


def read_response(stored: object) -> ItemResponse:
    """A response model from stored JSON. Raises pydantic.ValidationError."""
    return _response.validate_python(stored)
