"""Skills, feedback sheets, and a student’s result as it may be shown.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .feedback_sheets import feedback_file
from .in_full import in_full
from .skills import Cuts, class_by_skill, mastery_in
from .student_result import StudentResult, student_result

__all__ = [
    "Cuts",
    "StudentResult",
    "class_by_skill",
    "feedback_file",
    "in_full",
    "mastery_in",
    "student_result",
]
