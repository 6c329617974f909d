"""The response table: who gave what to which item, and what it earned. Everything in `stats` starts from it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from versomark.core.editions import Edition
from versomark.core.items import ItemResponse

NOT_CHOSEN = -1


@dataclass(frozen=True)
class OptionColumn:
    """One answer that could be picked."""

    label: str
    points: float
    text: str = ""
    idea_note: str = ""

    @property
    def key(self) -> bool:
        return self.points > 0


@dataclass(frozen=True)
class ItemColumn:
    """One item of the table. `options` is empty where responses are points only."""

    id: str
    max: float
    options: tuple[OptionColumn, ...] = ()
    skills: tuple[str, ...] = ()
    section: int = 0


@dataclass(frozen=True)
class ResponseTable:
    """N students by n items.

    points: float (N, n), from 0 to the item's maximum.
    choice: int (N, n), place of the chosen option in the item's `options`; NOT_CHOSEN where none was.
    answered: bool (N, n), whether anything was given.
    """

    students: tuple[str, ...]
    items: tuple[ItemColumn, ...]
    points: NDArray[np.float64]
    choice: NDArray[np.int16]
    answered: NDArray[np.bool_]
    totals: NDArray[np.float64] = field(init=False)

    def __post_init__(self) -> None:
        shape = (len(self.students), len(self.items))
        for name in ("points", "choice", "answered"):
            if getattr(self, name).shape != shape:
                raise ValueError(f"{name} has shape {getattr(self, name).shape}, not {shape}")
        # Frozen, so the derived column is set past the guard, once.
        object.__setattr__(self, "totals", self.points.sum(axis=1))

    @property
    def maxima(self) -> NDArray[np.float64]:
        return np.array([item.max for item in self.items], dtype=float)

    @property
    def max_total(self) -> float:
        return float(self.maxima.sum())

    @property
    def right_or_wrong(self) -> bool:
        """Whether every item is scored all or nothing, so that 0/1 measures exist."""
        return bool(np.all((self.points == 0) | (self.points == self.maxima)))

    def columns(self, chosen: Sequence[int]) -> "ResponseTable":
        """The same students on some of the items, by place."""
        at = list(chosen)
        return ResponseTable(
            students=self.students,
            items=tuple(self.items[i] for i in at),
            points=self.points[:, at],
            choice=self.choice[:, at],
            answered=self.answered[:, at],
        )


def score(edition: Edition, responses: Mapping[str, Mapping[str, ItemResponse]]) -> ResponseTable:
    """Score every seat of a sitting.

    responses: seat name -> item ref -> response. A missing response counts as nothing given and earns 0.
    Raises ValueError for a response that does not belong to its item.
    """
    items = list(edition.items())
    section_of = {item.ref: at for at, section in enumerate(edition.sections) for item in section.items}
    shape = (len(responses), len(items))
    points = np.zeros(shape)
    choice = np.full(shape, NOT_CHOSEN, dtype=np.int16)
    columns = []
    for j, item in enumerate(items):
        answers = item.content.answers()
        place = {answer.id: k for k, answer in enumerate(answers)}
        columns.append(
            ItemColumn(
                id=item.ref,
                max=item.content.marks,
                options=tuple(OptionColumn(a.letter, a.points, a.text, a.idea_note) for a in answers),
                skills=tuple(item.skills),
                section=section_of[item.ref],
            )
        )
        for i, given in enumerate(responses.values()):
            response = given.get(item.ref)
            picked = item.content.chosen(response) if response is not None else None
            if picked is not None:
                choice[i, j] = place[picked]
                points[i, j] = item.content.score(response)
    return ResponseTable(
        students=tuple(responses), items=tuple(columns), points=points, choice=choice, answered=choice >= 0
    )
