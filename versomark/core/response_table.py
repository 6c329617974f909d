"""The response table: who gave what to which item, and what it earned. Everything in `stats` starts from it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

NOT_CHOSEN = -1


@dataclass(frozen=True)
class OptionColumn:
    """One answer that could be picked."""

    label: str
    points: float
    text: str = ""
    idea_note: str = ""
    offered: bool = True
    """Whether students had it before them to choose, rather than falling into it by what they typed."""

    @property
    def key(self) -> bool:
        return self.points > 0


@dataclass(frozen=True)
class ItemColumn:
    """One item of the table. `options` is empty where responses are points only, or say several things at once."""

    id: str
    max: float
    options: tuple[OptionColumn, ...] = ()
    skills: tuple[str, ...] = ()
    section: int = 0
    number: int = 0
    """As printed, from 1; 0 where the table has no paper."""


@dataclass(frozen=True)
class ResponseTable:
    """N students by n items.

    points: float (N, n), from 0 to the item's maximum.
    choice: int (N, n), place of the chosen option in the item's `options`; NOT_CHOSEN where none was.
    answered: bool (N, n), whether anything was given.
    taken: bool (N, n), whether the item was the student's to answer; all of them where left out. What a student did not
    choose in a section with a choice, or was not given, is missing and not wrong: its points are 0 in the total, and no
    measure of the item counts the student.
    choose: how many items a student takes of a section, by section, where they choose.
    """

    students: tuple[str, ...]
    items: tuple[ItemColumn, ...]
    points: NDArray[np.float64]
    choice: NDArray[np.int16]
    answered: NDArray[np.bool_]
    taken: NDArray[np.bool_] = None  # type: ignore[assignment]
    choose: Mapping[int, int] = field(default_factory=dict)
    totals: NDArray[np.float64] = field(init=False)

    def __post_init__(self) -> None:
        shape = (len(self.students), len(self.items))
        # Frozen, so what follows from the rest is set past the guard, once.
        if self.taken is None:
            object.__setattr__(self, "taken", np.ones(shape, dtype=bool))
        for name in ("points", "choice", "answered", "taken"):
            if getattr(self, name).shape != shape:
                raise ValueError(f"{name} has shape {getattr(self, name).shape}, not {shape}")
        object.__setattr__(self, "totals", self.points.sum(axis=1))

    @cached_property
    def complete(self) -> bool:
        """Whether every item was every student's to answer."""
        return bool(self.taken.all())

    @cached_property
    def scored(self) -> NDArray[np.float64]:
        """(N, n) points, NaN where an item was not taken."""
        return self.points if self.complete else np.where(self.taken, self.points, np.nan)

    @cached_property
    def takers(self) -> NDArray[np.int64]:
        """(n,) students who took each item."""
        takers: NDArray[np.int64] = self.taken.sum(axis=0)
        return takers

    @cached_property
    def due(self) -> NDArray[np.float64]:
        """(N,) the marks that each student could earn; in a section with a choice, those of as many as are chosen."""
        maxima, results = self.maxima, np.zeros(len(self.students))
        for section, at in self._sections().items():
            if section in self.choose:
                results += np.sort(maxima[at])[::-1][: self.choose[section]].sum()
            else:
                results += self.taken[:, at] @ maxima[at]
        return results

    @cached_property
    def standing(self) -> NDArray[np.float64]:
        """(N,) what students are compared by: totals, brought to the same marks where they took different numbers."""
        if self.complete or not np.ptp(self.due):
            return self.totals
        share = np.divide(self.totals, self.due, out=np.zeros_like(self.totals), where=self.due > 0)
        return share * self.max_total

    @cached_property
    def rest(self) -> NDArray[np.float64]:
        """(N, n) what students are compared by at each item: all that they earned but on it, brought to the same marks
        where they took different numbers."""
        left = self.totals[:, None] - self.points
        if self.complete or not np.ptp(self.due):
            return left
        due = self.due[:, None] - np.where(self.taken, self.maxima, 0.0)
        share = np.divide(left, due, out=np.zeros_like(left), where=due > 0)
        return np.asarray(share * (self.max_total - self.maxima))

    @property
    def length(self) -> float:
        """Items that a student takes, in the mean: the length of the test."""
        return float(self.taken.sum() / max(1, len(self.students)))

    def _sections(self) -> dict[int, list[int]]:
        sections: dict[int, list[int]] = {}
        for j, item in enumerate(self.items):
            sections.setdefault(item.section, []).append(j)
        return sections

    @property
    def maxima(self) -> NDArray[np.float64]:
        return np.array([item.max for item in self.items], dtype=float)

    @property
    def max_total(self) -> float:
        """The marks of the whole test, of which a student who chooses can earn no more than so many items have."""
        each = {section: np.sort(self.maxima[at])[::-1] for section, at in self._sections().items()}
        return float(sum(tops[: self.choose.get(section, len(tops))].sum() for section, tops in each.items()))

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
            taken=self.taken[:, at],
            choose=self.choose,
        )

    def rows(self, chosen: Sequence[int]) -> "ResponseTable":
        """Some of the students, by place, on the same items."""
        at = list(chosen)
        return ResponseTable(
            students=tuple(self.students[i] for i in at),
            items=self.items,
            points=self.points[at],
            choice=self.choice[at],
            answered=self.answered[at],
            taken=self.taken[at],
            choose=self.choose,
        )


def put_together(tables: Sequence[ResponseTable]) -> ResponseTable:
    """The students of several tables of one edition, on the items that all of them have.

    Keys and texts are those of the first. Raises ValueError where an item has other options in another table, since a
    choice would then mean something else there.
    """
    first, *others = tables
    for item in first.items:
        labels = [option.label for option in item.options]
        if any(
            labels != [o.label for o in other_item.options]
            for t in others
            for other_item in t.items
            if other_item.id == item.id
        ):
            raise ValueError(f"Item {item.id} has other options in another table.")
    places = [{item.id: j for j, item in enumerate(table.items)} for table in tables]
    common = [item.id for item in first.items if all(item.id in at for at in places)]
    same = [table.columns([at[ref] for ref in common]) for table, at in zip(tables, places, strict=True)]
    return ResponseTable(
        students=tuple(name for table in same for name in table.students),
        items=same[0].items,
        points=np.concatenate([table.points for table in same]),
        choice=np.concatenate([table.choice for table in same]),
        answered=np.concatenate([table.answered for table in same]),
        taken=np.concatenate([table.taken for table in same]),
        choose={section: max(t.choose.get(section, 0) for t in tables) for t in tables for section in t.choose},
    )


def with_item(table: ResponseTable, response_table: ResponseTable) -> ResponseTable:
    """The table with the one item of another table in place of its own, or added to it in printed order; the students
    of both are the same."""
    (column,) = response_table.items
    others = [at for at, item in enumerate(table.items) if item.id != column.id]
    before = sum(table.items[at].number < column.number for at in others)
    rest = table.columns(others)
    return ResponseTable(
        students=table.students,
        items=(*rest.items[:before], column, *rest.items[before:]),
        points=np.insert(rest.points, before, response_table.points[:, 0], axis=1),
        choice=np.insert(rest.choice, before, response_table.choice[:, 0], axis=1),
        answered=np.insert(rest.answered, before, response_table.answered[:, 0], axis=1),
        taken=np.insert(rest.taken, before, response_table.taken[:, 0], axis=1),
        choose={**table.choose, **response_table.choose},
    )
