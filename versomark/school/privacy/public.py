"""What is kept of people, and how it goes.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .erasing import delete_whole_class

__all__ = ["delete_whole_class"]
