"""What a student’s device is sent and sends: built from what a student may see, and knows no other field."""

from ninja import Schema


class NextPart(Schema):
    title: str
    """Empty where nothing follows."""
