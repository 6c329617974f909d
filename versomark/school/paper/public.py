"""Answer sheets and scans: what still waits for a person, and pictures of what was read.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .doubtful_marks import waiting_in
from .models import Page
from .scanning import picture_of

__all__ = [
    "Page",
    "picture_of",
    "waiting_in",
]
