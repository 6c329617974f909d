"""Which findings a teacher has set aside."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from versomark.school.sittings.models import Sitting

from .models import Dismissed

Key = tuple[str, str, str]
"""Question, flag, options: what makes two flags the same finding."""


def key_of(flag: Mapping[str, Any]) -> Key:
    return flag["ref"], flag["flag"], ",".join(flag["options"])


def dismissed_in(sittings: Iterable[Sitting]) -> dict[int, dict[Key, Dismissed]]:
    """By sitting, by what the finding is."""
    found: dict[int, dict[Key, Dismissed]] = {one.pk: {} for one in sittings}
    for one in Dismissed.objects.filter(sitting__in=list(found)).select_related("by"):
        found[one.sitting_id][one.item, one.flag, one.options] = one
    return found


def standing(flags: Sequence[dict[str, Any]], dismissed: Iterable[Key]) -> list[dict[str, Any]]:
    """The flags that nobody has set aside."""
    aside = set(dismissed)
    return [flag for flag in flags if key_of(flag) not in aside]
