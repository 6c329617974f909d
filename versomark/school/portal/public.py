"""The student's own page.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .services import sittings_of

__all__ = ["sittings_of"]
