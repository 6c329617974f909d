"""Answer sheets and scans: what still waits for a person, and pictures of what was read.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .doubtful_marks import waiting_in
from .models import Page
from .printing import print_batch
from .rehearsal import fill_and_read
from .scanning import picture_of

__all__ = [
    "Page",
    "fill_and_read",
    "picture_of",
    "print_batch",
    "waiting_in",
]
