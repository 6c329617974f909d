"""Skills, feedback sheets, and a student’s result as it may be shown.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .feedback_sheets import feedback_file
from .skills import mastery_in
from .student_result import StudentResult, student_result

__all__ = [
    "StudentResult",
    "feedback_file",
    "mastery_in",
    "student_result",
]
