"""What the domains above hear of."""

from django.dispatch import Signal

work_handed_over = Signal()
"""owner, to: a teacher's classes, tests, questions and sittings become a colleague's; each domain moves its own."""

sign_ins_ended = Signal()
"""teacher, session_keys: sign-ins that were ended from elsewhere; what is open in them closes."""
