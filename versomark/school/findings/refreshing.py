"""Analyses made anew before a page asks for them, after a measure or a rule has changed."""

import time
from datetime import timedelta

from django.utils import timezone

from versomark.school.delivery.public import AFTER, Sitting

from .models import CachedAnalysis
from .services import findings_of_several, fingerprints_of

AT_ONCE = 20
PAUSE = 0.05
"""Seconds between two, so that pages come first."""
KEEP_OTHERS = timedelta(days=1)
"""For how long what is no longer current is kept: somebody may still be looking at it."""


def refresh_analyses(pause: float = PAUSE) -> int:
    """Analyse every closed sitting that has no current analysis, the latest first, and forget what nothing asks for
    any more. Doing it twice is the same as once. Returns how many were made."""
    current, analysed = set[str](), 0
    numbers = list(Sitting.objects.filter(state__in=AFTER).order_by("-opened_at").values_list("pk", flat=True))
    for first in range(0, len(numbers), AT_ONCE):
        sittings = Sitting.objects.filter(pk__in=numbers[first : first + AT_ONCE])
        by_sitting = fingerprints_of(list(sittings.select_related("edition", "school_class")))
        there = set(CachedAnalysis.objects.filter(pk__in=by_sitting.values()).values_list("pk", flat=True))
        current |= set(by_sitting.values())
        for number, fingerprint in by_sitting.items():
            if fingerprint not in there:
                findings_of_several(list(sittings.filter(pk=number)))
                analysed += 1
                time.sleep(pause)
    old = CachedAnalysis.objects.filter(made_at__lt=timezone.now() - KEEP_OTHERS)
    gone = [pk for pk in old.values_list("pk", flat=True) if pk not in current]
    for first in range(0, len(gone), AT_ONCE):
        CachedAnalysis.objects.filter(pk__in=gone[first : first + AT_ONCE]).delete()
    return analysed
