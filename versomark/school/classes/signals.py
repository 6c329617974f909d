"""What happens to students, for domains later in the job that have a part in it."""

from django.dispatch import Signal

students_merging = Signal()
"""One person stood twice in the lists: what `other` has goes to `keep`. A receiver returns what cannot be decided, as a
list of sentences; where there is one, the transaction is taken back."""
