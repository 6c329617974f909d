"""What goes in and comes out as JSON."""

from datetime import datetime
from typing import Literal

from ninja import Schema


class ToldLine(Schema):
    """All notices of one kind about one thing."""

    kind: Literal["assigned", "changed", "due soon", "released"]
    says: str
    at: datetime
    students: int
    read: int
    """By how many on their own page."""
    sent: int
    """By mail."""
    waiting: int
    no_address: list[str]
    failed: list[str]
