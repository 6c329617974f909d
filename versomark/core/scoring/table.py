"""From responses, keys and what people decided to the response table."""

from collections.abc import Collection, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from versomark.core.editions import Edition
from versomark.core.items import AnsweredOption, EditionContent, ItemResponse
from versomark.core.response_table import NOT_CHOSEN, ItemColumn, OptionColumn, ResponseTable
from versomark.core.text import plain

from .scoring_overrides import KeyOverride, ScoringOverrides

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
    edition: Edition, responses: Responses, leave_out: Collection[str] = (), judged: ScoringOverrides | None = None
) -> ResponseTable:
    """Score every seat of a sitting on the items that have a key, and on those that a person has marked for all.

    A missing response counts as nothing given and earns 0. Where a section lets a student choose, the first so many
    answers in printed order count; what was not chosen, or is beyond that number, was not taken. An item that a
    person marks has a column once every answer to it has its mark: a made-up zero would enter every other figure. An
    answer left empty needs none and earns 0; where a person gave it a mark all the same, that counts.
    Items of `leave_out` (refs), which nobody was asked, and waived ones have none. An item that was settled is
    scored by that and not by its key. Points are uncorrected for guessing: see `corrected_totals`.
    Raises ValueError for a response that does not belong to its item.
    """
    judged = judged or ScoringOverrides()
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
    out = waiting | judged.waived | set(leave_out)
    shape = (len(responses), len(numbered))
    points, answered = np.zeros(shape), np.zeros(shape, dtype=bool)
    choice = np.full(shape, NOT_CHOSEN, dtype=np.int16)
    taken = np.ones(shape, dtype=bool)
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
            taken[i, j] = counts or edition.sections[section].choose is None
            if counts:
                mark = marks.get(seat, {}).get(item.ref)
                response = given.get(item.ref)
                points[i, j], answered[i, j], pick = _cell(content, response, mark, worth)
                if shares and response is not None and answered[i, j]:
                    points[i, j], picks = content.with_shares(response, shares)
                    pick = picks[0] if content.exclusive else None
                choice[i, j] = NOT_CHOSEN if pick is None else place[pick]
            if settled is not None and settled.everybody and taken[i, j]:
                points[i, j] = content.marks
    return ResponseTable(
        students=tuple(responses),
        items=tuple(columns),
        points=points,
        choice=choice,
        answered=answered,
        taken=taken,
        choose={
            # What a student has chosen and nobody has marked yet, or was left out since, is not there to be earned.
            at: section.choose - min((len(refs & out & own) for refs in counted.values()), default=0)
            for at, section in enumerate(edition.sections)
            if section.choose is not None
            for own in [{item.ref for item in section.items}]
        },
    )


def _cell(
    content: EditionContent, response: ItemResponse | None, mark: float | None, worth: Mapping[str, float]
) -> tuple[float, bool, str | None]:
    """Points of one student on one item, whether anything was given, and which answer was picked, where one was."""
    if content.marked_by == "person":
        # What is performed, or handed over on paper, leaves no answer behind: its mark is the sign that it was.
        done = content.given(response) or mark is not None
        return (mark or 0.0) if done else 0.0, done, None
    if response is None or not content.given(response):
        return 0.0, False, None
    if not content.exclusive:
        return content.score(response) or 0.0, True, None
    pick = content.picks(response)[0]
    return worth[pick], True, pick


def _worth(answer: AnsweredOption, marks: float, settled: KeyOverride | None) -> float:
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


def formula_scored(edition: Edition, table: ResponseTable) -> ResponseTable:
    """The table with points as they count in totals: corrected for guessing where the edition asks for it.

    R − W/(k − 1) on items where one of k offered options is chosen (Holzinger 1924; Frary 1988); a question left out
    costs nothing. A total may fall below zero, as the formula has it. What totals are made of, how dependable they are
    and who reaches a cut rest on these points; what is said of single questions rests on who was right.
    """
    if not edition.correct_for_guessing:
        return table
    points = table.points.copy()
    for j, item in enumerate(table.items):
        offered = sum(option.offered for option in item.options)
        if offered >= 2 and offered == len(item.options):
            wrong = (table.choice[:, j] >= 0) & (table.points[:, j] == 0)
            points[:, j] -= wrong * item.max / (offered - 1)
    return replace(table, points=points)


def corrected_totals(edition: Edition, table: ResponseTable) -> NDArray[np.float64]:
    """Totals (N,) as marks: of `formula_scored`."""
    return formula_scored(edition, table).totals
