"""What changed from one draft of a text to the next, word by word."""

from collections.abc import Iterator
from difflib import SequenceMatcher
from typing import Literal, NamedTuple

MANY = 2_000
"""Words from which those that come very often are left out of the search, so that it takes no time that is noticed."""


class Passage(NamedTuple):
    """Words that follow one another and share one fate."""

    fate: Literal["same", "new", "gone"]
    words: str


def changed(before: str, after: str) -> list[Passage]:
    """
    The words of two drafts as one text: what stayed, what came, and what went, which stands before what came for it.

    Parameters
    ----------
    before, after
        Texts without marks of layout. White space only parts words.

    Returns
    -------
    list of Passage
        The passages that stayed or are new make `after`; those that stayed or are gone make `before`.

    Examples
    --------
    >>> for passage in changed("The current is used up", "The current is the same"):
    ...     print(passage.fate, passage.words)
    same The current is
    gone used up
    new the same
    """
    return list(_passages(before.split(), after.split()))


def _passages(before: list[str], after: list[str]) -> Iterator[Passage]:
    matcher = SequenceMatcher(None, before, after, autojunk=max(len(before), len(after)) > MANY)
    for tag, start, end, other_start, other_end in matcher.get_opcodes():
        if tag == "equal":
            yield Passage("same", " ".join(before[start:end]))
            continue
        if end > start:
            yield Passage("gone", " ".join(before[start:end]))
        if other_end > other_start:
            yield Passage("new", " ".join(after[other_start:other_end]))
