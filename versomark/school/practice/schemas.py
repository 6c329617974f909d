"""What goes in and comes out as JSON."""

from ninja import Schema


class PracticePage(Schema):
    """How far the practice run has come; `class_id` is None where there is none."""

    class_id: int | None = None
    class_name: str = ""
    sitting: int | None = None
    sitting_title: str = ""
    is_open: bool = False
    is_closed: bool = False
    students: int = 0
    at_work: int = 0


class PracticeCleared(Schema):
    sittings: int
    still_used: list[str]
    """Questions that stay, since a test of the teacher's has them by now."""
