"""What happens to students, for domains later in the job that have a part in it."""

from django.dispatch import Signal

student_erasing = Signal()
"""student, names: from now on nobody knows who it was. Each domain takes away what it keeps in words or pictures of
them, and leaves answers and marks, which have no name."""

student_exporting = Signal()
"""student: a receiver returns files that it keeps of them, as pairs of a name and a path."""

students_merging = Signal()
"""One person stood twice in the lists: what `other` has goes to `keep`. A receiver returns what cannot be decided, as a
list of sentences; where there is one, the transaction is taken back."""
