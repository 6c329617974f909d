"""Practice runs: an invented class that sits a test and goes again.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .models import PracticeRun
from .services import run_of

__all__ = ["PracticeRun", "run_of"]
