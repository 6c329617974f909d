"""What happens to sittings and seats, for domains later in the job that have a part in it."""

from django.dispatch import Signal

sitting_closed = Signal()
"""A sitting is closed, and that is on the disk. `sender` is the model, `sitting` the sitting."""
sitting_deleting = Signal()
"""sitting: goes with all that was ever answered in it; whoever keeps files of it takes them away."""

student_moved = Signal()
"""Whoever sat at `seat` goes on at `to`, in the transaction that moves them: what belongs to their work follows."""
