"""Comparisons that a teacher leads who leaves."""

from django.utils import timezone

from versomark.school.accounts.public import Teacher

from .models import Comparison, Judge, PairInHand


def hand_over(sender: object, owner: Teacher, to: Teacher, **more: object) -> None:
    """A colleague leads them, and judges where nobody else does; judgements stay those of whoever made them."""
    Comparison.objects.filter(head=owner).update(head=to)
    PairInHand.objects.filter(judge__teacher=owner).delete()
    for judge in Judge.objects.filter(teacher=owner, left_at=None).select_related("comparison"):
        judge.left_at = timezone.now()
        judge.save(update_fields=["left_at"])
        if not judge.comparison.judges.filter(left_at=None).exists():
            Judge.objects.update_or_create(comparison=judge.comparison, teacher=to, defaults={"left_at": None})
