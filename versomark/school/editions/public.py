"""Tests and their frozen editions, and how they become documents.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .external import keep_described, make_described
from .models import Edition, Test
from .paper_docx import html_to_docx
from .printing import html_to_pdf, parts_to_pdf
from .services import (
    edition_of,
    editions_of,
    freeze,
    keep_items,
    keep_test,
    make_test,
    question_count,
    share_test,
    test_of,
    tests_of,
)
from .shelf import copy as copy_from_shelf

__all__ = [
    "Edition",
    "Test",
    "copy_from_shelf",
    "edition_of",
    "editions_of",
    "freeze",
    "html_to_docx",
    "html_to_pdf",
    "keep_described",
    "keep_items",
    "keep_test",
    "make_described",
    "make_test",
    "parts_to_pdf",
    "question_count",
    "share_test",
    "test_of",
    "tests_of",
]
