"""A class divided into groups of nearly the same size, from an order of its students."""

from collections.abc import Sequence
from typing import Literal, TypeVar

from versomark.core.language import _

T = TypeVar("T")
Way = Literal["alike", "mixed"]


def divide(ranked: Sequence[T], groups: int, way: Way) -> list[list[T]]:
    """`alike`: neighbours in the order together, larger groups first. `mixed`: each group has some from everywhere,
    dealt forth and back along the groups so that none gets all the first ones (common practice, no source).

    Raises ValueError for fewer than one group, or more groups than students.
    """
    if not 1 <= groups <= len(ranked):
        raise ValueError(_("{count} students cannot be divided into {groups} groups", count=len(ranked), groups=groups))
    results: list[list[T]] = [[] for _ in range(groups)]
    if way == "mixed":
        for at, student in enumerate(ranked):
            turn, place = divmod(at, groups)
            results[place if turn % 2 == 0 else groups - 1 - place].append(student)
        return results
    size, more = divmod(len(ranked), groups)
    start = 0
    for at in range(groups):
        end = start + size + (at < more)
        results[at] = list(ranked[start:end])
        start = end
    return results
