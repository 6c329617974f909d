"""Answers that say the same, put together: one judgement for all who typed it."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rapidfuzz.distance import OSA

from versomark.core.items import EditionContent, ItemResponse
from versomark.core.items.base import Shares
from versomark.core.items.wording import LETTERS_PER_SLIP

MOST_SLIPS = 2


@dataclass(frozen=True)
class AnswerGroup:
    """One answer, equal after cleaning.

    typed: as it was written, the most frequent way first. names: who gave it. share: of its part's marks, 0 to 1, as it
    counts now; by_key: as the key has it; judged: whether a person said so.
    """

    part: str
    compared: str
    typed: tuple[str, ...]
    names: tuple[str, ...]
    share: float
    by_key: float
    judged: bool
    marks: float


@dataclass(frozen=True)
class Alike:
    """Answers to one part that are nearly equal and count the same; the most frequent first."""

    part: str
    answers: tuple[AnswerGroup, ...]

    @property
    def students(self) -> int:
        return sum(len(answer.names) for answer in self.answers)


def same_answers(content: EditionContent, responses: Mapping[str, ItemResponse], shares: Shares) -> list[Alike]:
    """What was typed to one item, put together: part by part, what counts as wrong before what counts as right, and of
    each the most frequent first.

    responses: by name of the student. Nearly equal are words of which one is the other with a slip for every four
    letters, at most two (optimal string alignment), and that count the same now; numbers never are.
    """
    written: dict[tuple[str, str], list[tuple[str, str]]] = {}
    by_key: dict[tuple[str, str], tuple[float, float]] = {}
    parts: dict[str, int] = {}
    for name, response in responses.items():
        for entry in content.typed(response):
            written.setdefault((entry.part, entry.compared), []).append((entry.typed, name))
            by_key[entry.part, entry.compared] = (entry.share, entry.marks)
            parts.setdefault(entry.part, len(parts))
    answers = [
        AnswerGroup(
            part=part,
            compared=compared,
            typed=tuple(text for text, _ in Counter(text for text, _ in given).most_common()),
            names=tuple(name for _, name in given),
            share=shares.get((part, compared), by_key[part, compared][0]),
            by_key=by_key[part, compared][0],
            judged=(part, compared) in shares,
            marks=by_key[part, compared][1],
        )
        for (part, compared), given in written.items()
    ]
    groups = _alike(sorted(answers, key=lambda answer: (-len(answer.names), answer.compared)))
    return sorted(groups, key=lambda group: (sorted(parts).index(group.part), group.answers[0].share, -group.students))


def _alike(answers: Sequence[AnswerGroup]) -> list[Alike]:
    """Each answer joins the first, more frequent one that it is near to."""
    groups: list[list[AnswerGroup]] = []
    for answer in answers:
        home = next((group for group in groups if _near(group[0], answer)), None)
        if home is None:
            groups.append([answer])
        else:
            home.append(answer)
    return [Alike(group[0].part, tuple(group)) for group in groups]


def _near(same: AnswerGroup, other: AnswerGroup) -> bool:
    if (same.part, same.share) != (other.part, other.share) or any(c.isdigit() for c in same.compared + other.compared):
        return False
    allowed = min(MOST_SLIPS, min(len(same.compared), len(other.compared)) // LETTERS_PER_SLIP)
    return allowed > 0 and OSA.distance(same.compared, other.compared, score_cutoff=allowed) <= allowed
