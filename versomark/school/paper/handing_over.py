"""Scans of a teacher who leaves become a colleague's."""

from versomark.school.accounts.public import Teacher

from .models import Scan


def hand_over(sender: object, owner: Teacher, to: Teacher, **more: object) -> None:
    Scan.objects.filter(owner=owner).update(owner=to)
