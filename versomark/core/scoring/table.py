"""The response table: who gave what to which item, and what it earned. Everything in `stats` starts from it."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from versomark.core.editions import Edition
from versomark.core.items import AnsweredOption, EditionContent, ItemResponse
from versomark.core.text import plain

from .judged import Judged, Settled

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

    def rows(self, chosen: Sequence[int]) -> "ResponseTable":
        """Some of the students, by place, on the same items."""
        at = list(chosen)
        return ResponseTable(
            students=tuple(self.students[i] for i in at),
            items=self.items,
            points=self.points[at],
            choice=self.choice[at],
            answered=self.answered[at],
        )


def put_together(tables: Sequence[ResponseTable]) -> ResponseTable:
    """The students of several tables of one edition, on the items that all of them have.

    Keys and texts are those of the first. Raises ValueError where an item has other options in another table, since a
    choice would then mean something else there.
    """
    first, *others = tables
    for item in first.items:
        labels = [option.label for option in item.options]
        if any(labels != [o.label for o in one.options] for t in others for one in t.items if one.id == item.id):
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
    )


Responses = Mapping[str, Mapping[str, ItemResponse]]
"""seat name -> item ref -> response."""


def to_mark(edition: Edition, responses: Responses) -> dict[str, list[str]]:
    """item ref -> the seats whose answer a person has to mark; an answer that was left empty needs nobody."""
    return {
        item.ref: [seat for seat, given in responses.items() if item.content.score(given.get(item.ref)) is None]
        for item in edition.items()
        if item.content.marked_by == "person"
    }


def score(
    edition: Edition, responses: Responses, leave_out: Collection[str] = (), judged: Judged | None = None
) -> ResponseTable:
    """Score every seat of a sitting on the items that have a key, and on those that a person has marked for all.

    A missing response counts as nothing given and earns 0; so does an answer beyond the number that a section lets a
    student choose, of which the first in printed order count. An item that a person marks has a column once every
    answer to it has its mark: a made-up zero would enter every other figure. Items of `leave_out` (refs), which nobody
    was asked, and waived ones have none. An item that was settled is scored by that and not by its key. Points are
    uncorrected for guessing: see `corrected_totals`.
    Raises ValueError for a response that does not belong to its item.
    """
    judged = judged or Judged()
    marks = judged.marks
    waiting = {
        ref
        for ref, seats in to_mark(edition, responses).items()
        if any(ref not in marks.get(seat, ()) for seat in seats)
    }
    numbered = [
        (number, at, item)
        for number, (at, item) in enumerate(
            ((at, item) for at, section in enumerate(edition.sections) for item in section.items), start=1
        )
        if item.ref not in waiting and item.ref not in leave_out and item.ref not in judged.waived
    ]
    counted = {seat: _counted(edition, given, marks.get(seat, {})) for seat, given in responses.items()}
    shape = (len(responses), len(numbered))
    points, answered = np.zeros(shape), np.zeros(shape, dtype=bool)
    choice = np.full(shape, NOT_CHOSEN, dtype=np.int16)
    columns = []
    for j, (number, section, item) in enumerate(numbered):
        content, settled = item.content, judged.settled.get(item.ref)
        shares = judged.shares.get(item.ref) if settled is None else None
        answers = content.answers() if content.exclusive else []
        worth = {answer.id: _worth(answer, content.marks, settled) for answer in answers}
        place = {answer.id: k for k, answer in enumerate(answers)}
        columns.append(
            ItemColumn(
                id=item.ref,
                max=content.marks,
                options=tuple(
                    OptionColumn(a.letter, worth[a.id], plain(a.text), a.idea_note, a.offered) for a in answers
                ),
                skills=tuple(item.skills),
                section=section,
                number=number,
            )
        )
        for i, (seat, given) in enumerate(responses.items()):
            counts = item.ref in counted[seat]
            if counts:
                mark = marks.get(seat, {}).get(item.ref)
                response = given.get(item.ref)
                points[i, j], answered[i, j], pick = _cell(content, response, mark, worth)
                if shares and response is not None and answered[i, j]:
                    points[i, j], said = content.with_shares(response, shares)
                    pick = said[0] if content.exclusive else None
                choice[i, j] = NOT_CHOSEN if pick is None else place[pick]
            if settled is not None and settled.everybody and (counts or edition.sections[section].choose is None):
                points[i, j] = content.marks
    return ResponseTable(
        students=tuple(responses), items=tuple(columns), points=points, choice=choice, answered=answered
    )


def _cell(
    content: EditionContent, response: ItemResponse | None, mark: float | None, worth: Mapping[str, float]
) -> tuple[float, bool, str | None]:
    """Points of one student on one item, whether anything was given, and which answer was picked, where one was."""
    if content.marked_by == "person":
        # What is performed leaves no answer behind: its mark is the sign that it was.
        done = content.given(response) or (mark is not None and content.score(response) is None)
        return (mark or 0.0) if done else 0.0, done, None
    if response is None or not content.given(response):
        return 0.0, False, None
    if not content.exclusive:
        return content.score(response) or 0.0, True, None
    pick = content.picks(response)[0]
    return worth[pick], True, pick


def _worth(answer: AnsweredOption, marks: float, settled: Settled | None) -> float:
    """What an answer earns: by the key, or by what was settled. Where everybody has the marks, the key says what was
    right."""
    if settled is None or settled.everybody:
        return answer.points
    return marks if answer.id in settled.accepted else 0.0


def _counted(edition: Edition, given: Mapping[str, ItemResponse], marks: Mapping[str, float]) -> set[str]:
    """The refs whose answers count: all, or the first answered where a section lets students choose."""
    refs = set[str]()
    for section in edition.sections:
        answered = [item.ref for item in section.items if item.content.given(given.get(item.ref)) or item.ref in marks]
        refs.update(answered[: section.choose])
    return refs


def with_item(table: ResponseTable, one: ResponseTable) -> ResponseTable:
    """The table with the one item of another table in place of its own, or added to it in printed order; the students
    of both are the same."""
    (column,) = one.items
    others = [at for at, item in enumerate(table.items) if item.id != column.id]
    before = sum(table.items[at].number < column.number for at in others)
    rest = table.columns(others)
    return ResponseTable(
        students=table.students,
        items=(*rest.items[:before], column, *rest.items[before:]),
        points=np.insert(rest.points, before, one.points[:, 0], axis=1),
        choice=np.insert(rest.choice, before, one.choice[:, 0], axis=1),
        answered=np.insert(rest.answered, before, one.answered[:, 0], axis=1),
    )


def corrected_totals(edition: Edition, table: ResponseTable) -> NDArray[np.float64]:
    """Totals (N,) as marks: corrected for guessing where the edition asks for it, else `table.totals`.

    R − W/(k − 1) on items where one of k offered options is chosen (Holzinger 1924; Frary 1988); a question left out
    costs nothing. A total may fall below zero, as the formula has it.
    """
    if not edition.correct_for_guessing:
        return table.totals
    totals = table.totals.copy()
    for j, item in enumerate(table.items):
        offered = sum(option.offered for option in item.options)
        if offered >= 2 and offered == len(item.options):
            wrong = (table.choice[:, j] >= 0) & (table.points[:, j] == 0)
            totals -= wrong * item.max / (offered - 1)
    return totals
