"""Class lists: students, classes, groups, and what a teacher may do with them.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .models import Enrolment, Group, SchoolClass, Student, Tag
from .services import (
    Right,
    add_students,
    archive_class,
    class_of,
    classes_of,
    group_of,
    has_right,
    keep_group,
    make_class,
    may,
    normalised,
    places_of,
    share_class,
    tag_students,
    word_and_digits,
)
from .signals import student_erasing, student_exporting

__all__ = [
    "Enrolment",
    "Group",
    "Right",
    "SchoolClass",
    "Student",
    "Tag",
    "add_students",
    "archive_class",
    "class_of",
    "classes_of",
    "group_of",
    "has_right",
    "keep_group",
    "make_class",
    "may",
    "normalised",
    "places_of",
    "share_class",
    "student_erasing",
    "student_exporting",
    "tag_students",
    "word_and_digits",
]
