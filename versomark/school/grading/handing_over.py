"""Shared piles of a teacher who leaves."""

from django.utils import timezone

from versomark.school.accounts.public import Teacher

from . import piles
from .models import Pile, PileMarker


def hand_over(sender: object, owner: Teacher, to: Teacher, **more: object) -> None:
    """A colleague leads them; what the teacher had in hand and has not marked goes to the other markers, or to the
    colleague where there are none. Marks stay those of whoever gave them."""
    Pile.objects.filter(head=owner).update(head=to)
    for marker in PileMarker.objects.filter(teacher=owner, left_at=None).select_related("pile"):
        marker.left_at = timezone.now()
        marker.save(update_fields=["left_at"])
        if marker.pile.ended_at is None and not marker.pile.markers.filter(left_at=None).exists():
            PileMarker.objects.update_or_create(
                pile=marker.pile, teacher=to, defaults={"share": marker.share, "items": marker.items, "left_at": None}
            )
        piles.give_up(marker.pile, marker.holds.all())
        piles.deal(marker.pile)
