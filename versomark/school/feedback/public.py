"""Skills, feedback sheets, and a student’s result as it may be shown.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .by_group import ByGroup, by_group
from .feedback_sheets import feedback_file
from .in_full import in_full
from .mark_questions import ask_about
from .skills import Cuts, class_by_skill, mastery_in
from .student_result import StudentResult, marked_picture, student_result

__all__ = [
    "ByGroup",
    "Cuts",
    "StudentResult",
    "ask_about",
    "by_group",
    "class_by_skill",
    "feedback_file",
    "in_full",
    "marked_picture",
    "mastery_in",
    "student_result",
]
