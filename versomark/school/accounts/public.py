"""Who works here: teachers and their school.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from . import languages
from .models import School, Teacher

__all__ = [
    "School",
    "Teacher",
    "languages",
]
