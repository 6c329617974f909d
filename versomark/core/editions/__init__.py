"""A test while it is built, and frozen: what stands in it, in which order, and what students receive of it."""

from .changes import EditionChange, changes_between
from .checks import Check, checks
from .edition import (
    Edition,
    EditionItem,
    PaperItem,
    Section,
    Stimulus,
    StudentPaper,
    TeachingPage,
    student_paper,
)
from .equivalent import Alternatives, QuestionTraits, alternatives
from .external import ExternalAssessment, ExternalGroup, description_problems, edition_described, is_described
from .forecast import QuestionHistory
from .forms import in_own_order
from .freezing import BankItem, NotReady, Pool, assemble, freeze
from .layout import (
    DraftSection,
    DrawRule,
    Layout,
    PlacedItem,
    PlacedPage,
    PlanRow,
    not_sayable_elsewhere,
    one_section,
)
from .lesson import LessonStep, lesson_page, lesson_steps
from .prediction import USUAL_CLASS, USUAL_CUT, Foretold, PlanLine, PredictedStatistics, foretell

__all__ = [
    "USUAL_CLASS",
    "USUAL_CUT",
    "Alternatives",
    "BankItem",
    "Check",
    "DraftSection",
    "DrawRule",
    "Edition",
    "EditionChange",
    "EditionItem",
    "ExternalAssessment",
    "ExternalGroup",
    "Foretold",
    "Layout",
    "LessonStep",
    "NotReady",
    "PaperItem",
    "PlacedItem",
    "PlacedPage",
    "PlanLine",
    "PlanRow",
    "Pool",
    "PredictedStatistics",
    "QuestionHistory",
    "QuestionTraits",
    "Section",
    "Stimulus",
    "StudentPaper",
    "TeachingPage",
    "alternatives",
    "assemble",
    "changes_between",
    "checks",
    "description_problems",
    "edition_described",
    "foretell",
    "freeze",
    "in_own_order",
    "is_described",
    "lesson_page",
    "lesson_steps",
    "not_sayable_elsewhere",
    "one_section",
    "student_paper",
]
