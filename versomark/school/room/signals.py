"""What happens in a lesson."""

from django.dispatch import Signal

lesson_changed = Signal()
"""Something of the lesson `room` is another way now, and that is on the disk: devices, pads and the practice class of
the demo school are told."""
