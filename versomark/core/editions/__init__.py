"""A frozen test: what stands in it, in which order, and what students receive of it."""

from .edition import (
    Edition,
    EditionItem,
    NotReady,
    PaperItem,
    Section,
    StudentPaper,
    freeze,
    problems_of,
    student_paper,
)

__all__ = [
    "Edition",
    "EditionItem",
    "NotReady",
    "PaperItem",
    "Section",
    "StudentPaper",
    "freeze",
    "problems_of",
    "student_paper",
]
