"""Which findings a teacher has set aside."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from versomark.school.delivery.public import Sitting

from .models import DismissedFinding

Key = tuple[str, str, str]
"""Question, flag, options: what makes two flags the same finding."""


def key_of(flag: Mapping[str, Any]) -> Key:
    return flag["ref"], flag["flag"], ",".join(flag["options"])


def dismissed_in(sittings: Iterable[Sitting]) -> dict[int, dict[Key, DismissedFinding]]:
    """By sitting, by what the finding is."""
    result: dict[int, dict[Key, DismissedFinding]] = {sitting.pk: {} for sitting in sittings}
    for entry in DismissedFinding.objects.filter(sitting__in=list(result)).select_related("by"):
        result[entry.sitting_id][entry.item, entry.flag, entry.options] = entry
    return result


def standing(flags: Sequence[dict[str, Any]], dismissed: Iterable[Key]) -> list[dict[str, Any]]:
    """The flags that nobody has set aside."""
    aside = set(dismissed)
    return [flag for flag in flags if key_of(flag) not in aside]
