"""What the domains above hear of."""

from django.dispatch import Signal

skill_renamed = Signal()
"""owner, before, after: a skill goes by another name, or has become part of another; what names it follows."""
