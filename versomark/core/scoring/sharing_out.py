"""One pile of answers for several markers: who gets which, and where agreed answers are put among them."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

Place = tuple[int, str]
"""A seat and an item."""
T = TypeVar("T")


class Way(StrEnum):
    """How a pile is shared."""

    QUESTION = "question"
    """Each question has its markers."""
    STUDENT = "student"
    """All answers of a student go to one marker."""
    NEXT = "next"
    """Whoever has marked theirs takes the next that nobody has."""


@dataclass(frozen=True)
class Hands:
    """A marker: how much they take beside the others, which items (none named: all), and whom they may not mark."""

    marker: int
    share: float = 1
    items: frozenset[str] = frozenset()
    barred: frozenset[int] = frozenset()

    def may(self, place: Place) -> bool:
        return place[0] not in self.barred and (not self.items or place[1] in self.items)


def shared_out(
    free: Sequence[Place], markers: Collection[Hands], way: Way, holds: Mapping[Place, int]
) -> dict[Place, int]:
    """Who gets which of the answers that nobody has.

    Each goes to whoever has fewest for their share among those who may mark it, so that what comes in later evens out
    and nothing that somebody has moves. By question the answers to a question are evened out among its markers.

    Parameters
    ----------
    free
        Answers that nobody has, in the order in which they are given out.
    markers
        Who is at work.
    way
        By `NEXT` nothing is given out before a marker asks.
    holds
        By answer, who has it, marked or not.

    Returns
    -------
    dict
        By answer, its marker; answers that nobody may mark are left out.

    Raises
    ------
    ValueError
        If a marker's share is not above 0.

    Examples
    --------
    >>> shared_out([(1, "a"), (2, "a"), (3, "a")], [Hands(7, share=2), Hands(8)], Way.QUESTION, {})
    {(1, 'a'): 7, (2, 'a'): 8, (3, 'a'): 7}
    """
    if any(hands.share <= 0 for hands in markers):
        raise ValueError("the share of a marker has to be above 0")
    if way == Way.NEXT:
        return {}
    load, of_student = Counter[tuple[int, str]](), dict[int, set[int]]()

    def note(place: Place, marker: int) -> None:
        load[marker, place[1] if way == Way.QUESTION else ""] += 1
        of_student.setdefault(place[0], set()).add(marker)

    for place, marker in holds.items():
        note(place, marker)
    result = dict[Place, int]()
    for place in free:
        able = [hands for hands in markers if hands.may(place)]
        if way == Way.STUDENT:
            able = [hands for hands in able if hands.marker in of_student.get(place[0], ())] or able
        if not able:
            continue
        about = place[1] if way == Way.QUESTION else ""
        chosen = min(able, key=lambda hands: (load[hands.marker, about] / hands.share, -hands.share, hands.marker))
        note(place, chosen.marker)
        result[place] = chosen.marker
    return result


def with_checks(own: Sequence[T], checks: Sequence[T], every: int) -> list[T]:
    """A marker's answers with agreed ones among them: one after every so many of their own, the first half way into
    the first so many, since a harsh marker is to be noticed while there is time. Those that would come after the last
    of their own are left out: there is nothing they could be noticed for.

    Raises
    ------
    ValueError
        If `every` is below 1.

    Examples
    --------
    >>> with_checks(["a", "b", "c", "d", "e"], ["X", "Y"], 2)
    ['a', 'X', 'b', 'c', 'Y', 'd', 'e']
    """
    if every < 1:
        raise ValueError("an agreed answer can come after every answer at most")
    if not own:
        return []
    result, waiting = list[T](), list(checks)
    for number, entry in enumerate(own, start=1):
        result.append(entry)
        if waiting and (number - (every + 1) // 2) % every == 0 and number >= (every + 1) // 2:
            result.append(waiting.pop(0))
    return result
