"""Findings of a sitting: its responses scored, analysed, and put beside the paper."""

import json
from collections.abc import Mapping, Sequence
from hashlib import sha256

import numpy as np
from pydantic import BaseModel

from versomark.core.editions import Edition
from versomark.core.findings import (
    Analysis,
    Finding,
    ItemFigures,
    OptionTrace,
    TestFigures,
    Thresholds,
    analyse,
    option_traces,
    words,
)
from versomark.core.items import ItemResponse
from versomark.core.scoring import ResponseTable, score
from versomark.core.stats import item_measures
from versomark.school.sittings.models import SeatState, Sitting
from versomark.school.sittings.seats import log_position, responses_of

from .models import KeptAnalysis

RULES = 2
"""Counted up when a measure, rule or sentence changes, so that nothing computed under the old one is shown."""


class FlagNote(BaseModel):
    """A finding as the teacher reads it, on the question it is about."""

    ref: str
    number: int
    flag: str
    firmness: float
    firmness_word: str
    heading: str
    short: str
    says: str
    options: list[str]
    urgent: bool


class PaperOption(BaseModel):
    option: str
    text: str
    key: bool
    idea_note: str
    seats: list[int]
    """Who chose it."""


class PaperQuestion(BaseModel):
    """One question of the paper, annotated."""

    ref: str
    number: int
    stem: str
    skills: list[str]
    figures: ItemFigures
    options: list[PaperOption]
    traces: list[OptionTrace]
    not_given: list[int]
    d_words: str


class ScoreCount(BaseModel):
    score: float
    students: int


class Body(BaseModel):
    """What is computed, and kept by content."""

    opening: str
    test: TestFigures
    reasons: dict[str, str]
    flags: list[FlagNote]
    paper: list[PaperQuestion]
    distribution: list[ScoreCount]
    totals: dict[int, float]


def counted_seats(sitting: Sitting) -> list[int]:
    """The seats whose work counts, in desk order: handed in, by the student or by closing."""
    handed_in = sitting.seats.filter(state=SeatState.HANDED_IN).order_by("desk")
    return list(handed_in.values_list("pk", flat=True))


def findings_of(sitting: Sitting) -> KeptAnalysis | None:
    """The findings of a sitting as it stands now; None while nobody has handed in.

    `body` is a `Body` as JSON. It was validated when it was made and its hash says that nothing changed since, so it
    is not read into models again on the way to the screen.
    """
    seats = counted_seats(sitting)
    if not seats:
        return None
    made_from = [RULES, sitting.edition.fingerprint, seats, *log_position(seats)]
    fingerprint = sha256(json.dumps(made_from).encode()).hexdigest()
    kept = KeptAnalysis.objects.filter(pk=fingerprint).first()
    if kept is None:
        body = compute(sitting.edition.read(), responses_of(seats))
        kept, _ = KeptAnalysis.objects.update_or_create(pk=fingerprint, defaults={"body": body.model_dump(mode="json")})
    return kept


def compute(edition: Edition, responses: Mapping[str, Mapping[str, ItemResponse]]) -> Body:
    """Score and analyse; pure, so that the bench and the tests can call it on data of their own."""
    table = score(edition, responses)
    thresholds = Thresholds()
    analysis, findings = analyse(table, thresholds=thresholds)
    mean = analysis.test.mean or 0.0
    return Body(
        opening=words.opening(
            table,
            mean,
            (analysis.test.alpha, analysis.test.alpha_low),
            len({f.item for f in findings if f.flag.urgent}),
        ),
        test=analysis.test,
        reasons=analysis.reasons,
        flags=_flag_notes(table, findings, thresholds),
        paper=_paper(edition, table, analysis),
        distribution=[
            ScoreCount(score=float(value), students=int(count))
            for value, count in zip(*np.unique(table.totals, return_counts=True), strict=True)
        ],
        totals={int(seat): float(total) for seat, total in zip(table.students, table.totals, strict=True)},
    )


def _flag_notes(table: ResponseTable, findings: Sequence[Finding], thresholds: Thresholds) -> list[FlagNote]:
    measures = item_measures(table, share=thresholds.end_group)
    return [
        FlagNote(
            ref=table.items[finding.item].id,
            number=finding.item + 1,
            flag=finding.flag.value,
            firmness=finding.firmness,
            firmness_word=thresholds.firmness_word(finding.firmness),
            heading=words.heading(finding, table),
            short=words.short(finding, table),
            says=words.says(finding, table, measures, thresholds),
            options=[table.items[finding.item].options[k].label for k in finding.options],
            urgent=finding.flag.urgent,
        )
        for finding in findings
    ]


def _paper(edition: Edition, table: ResponseTable, analysis: Analysis) -> list[PaperQuestion]:
    seats = np.array([int(name) for name in table.students])
    traces = option_traces(table)
    questions = []
    for j, item in enumerate(edition.items()):
        figures = analysis.items[j]
        options = [
            PaperOption(
                option=option.label,
                text=option.text,
                key=option.key,
                idea_note="" if option.key else option.idea_note,
                seats=seats[table.choice[:, j] == k].tolist(),
            )
            for k, option in enumerate(table.items[j].options)
        ]
        questions.append(
            PaperQuestion(
                ref=item.ref,
                number=j + 1,
                stem=item.content.stem,
                skills=item.skills,
                figures=figures,
                options=options,
                traces=traces[j],
                not_given=seats[~table.answered[:, j]].tolist(),
                d_words=words.d_in_words(figures.d) if figures.d is not None else "",
            )
        )
    return questions
