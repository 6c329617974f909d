"""What a question is: its content, what a student may give, and how one response is scored."""

from .base import AnsweredOption, ContentBase, ResponseBase, ShownOption, StudentBase
from .registry import (
    EditionContent,
    ItemContent,
    ItemResponse,
    NoDraw,
    StudentItem,
    drawn,
    read_content,
    read_response,
    read_response_text,
)
from .single_choice import Option, SingleChoice, SingleChoiceResponse
from .true_false import TrueFalse, TrueFalseResponse
from .versions import version_of

__all__ = [
    "AnsweredOption",
    "ContentBase",
    "EditionContent",
    "ItemContent",
    "ItemResponse",
    "NoDraw",
    "Option",
    "ResponseBase",
    "ShownOption",
    "SingleChoice",
    "SingleChoiceResponse",
    "StudentBase",
    "StudentItem",
    "TrueFalse",
    "TrueFalseResponse",
    "drawn",
    "read_content",
    "read_response",
    "read_response_text",
    "version_of",
]
