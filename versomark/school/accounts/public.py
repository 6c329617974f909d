"""Who works here: teachers and their school.

The one module of this domain that others import, with `schemas` for what they send as JSON and `signals` for what they
hear of.
"""

from . import languages, security_log
from .departments import department_of, departments_of
from .models import Role, School, SecurityEvent, Teacher
from .people import must_be_admin
from .services import colleagues_of

__all__ = [
    "Role",
    "School",
    "SecurityEvent",
    "Teacher",
    "colleagues_of",
    "department_of",
    "departments_of",
    "languages",
    "must_be_admin",
    "security_log",
]
