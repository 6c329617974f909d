"""Reports and documents that leave.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .student_report import pdf_on

__all__ = ["pdf_on"]
