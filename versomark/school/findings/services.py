"""Findings of a sitting: its responses scored, analysed, and put beside the paper."""

import json
from collections.abc import Collection, Mapping, Sequence
from hashlib import sha256
from uuid import UUID

import numpy as np
from django.db.models import Count, Max
from django.utils import timezone
from numpy.typing import NDArray
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
from versomark.core.items import AnsweredOption, EditionContent, ItemResponse
from versomark.core.scoring import Judged, Responses, ResponseTable, corrected_totals, score, to_mark
from versomark.core.stats import item_measures
from versomark.core.text import plain
from versomark.school.bank.services import Use, record_uses
from versomark.school.classes.models import Group
from versomark.school.classes.services import keep_group, places_of
from versomark.school.marking.models import OutOfFigures
from versomark.school.marking.services import judged_in, judged_position
from versomark.school.problems import NotFound, NotPossible
from versomark.school.room.answers import Which, not_asked, said_in_rounds
from versomark.school.room.models import Room, RoundAnswer
from versomark.school.sittings.models import Sitting
from versomark.school.sittings.seats import LogPosition, log_positions, responses_of
from versomark.school.sittings.services import AFTER

from .models import KeptAnalysis

RULES = 7
"""Counted up when a measure, rule or sentence changes, so that nothing computed under the old one is shown."""


MOST_PARTS = 24
"""Above so many things to say, only those that somebody said are listed."""


class FlagNote(BaseModel):
    """A finding as the teacher reads it, on the question it is about."""

    ref: str
    number: int
    label: str
    """What the question is called on its paper: its number, or the label of one given elsewhere."""
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
    part: str = ""
    """The gap, row or entry it answers, where the question has several."""


class ScoreCount(BaseModel):
    score: float
    students: int


class EarnedMark(BaseModel):
    points: float
    seats: list[int]


class PaperQuestion(BaseModel):
    """One question of the paper, annotated."""

    ref: str
    number: int
    label: str
    stem: str
    kind: str
    skills: list[str]
    marks: float
    figures: ItemFigures | None
    """None where a person has to mark it, or it was not asked."""
    asked: bool
    """Whether a lesson came to it; always, where the whole paper was given."""
    waiting: int
    """Answers that wait for a person."""
    waived: bool
    """Left out of this sitting by its teacher."""
    settled: bool
    """Scored otherwise than by its key, as its teacher settled it."""
    follow_up: str
    """What to ask again of those who missed it, where the teacher has said it."""
    options: list[PaperOption]
    parts: list[PaperOption]
    """For questions that say several things at once: each of them, with who said it. Then `options` is empty."""
    earned: list[EarnedMark]
    """For questions of which only the mark is known: who earned which, least first."""
    traces: list[OptionTrace]
    not_given: list[int]
    d_words: str


class Body(BaseModel):
    """What is computed, and kept by content."""

    opening: str
    test: TestFigures
    reasons: dict[str, str]
    flags: list[FlagNote]
    paper: list[PaperQuestion]
    distribution: list[ScoreCount]
    totals: dict[int, float]


def findings_of(sitting: Sitting, which: Which = "first") -> KeptAnalysis | None:
    """The findings of a sitting as it stands now; None while nobody has handed in, or when nothing in the paper is
    scored by a key: what a person marks is not analysed before it is marked.

    `last`: of a lesson in which questions were asked again, what each said at last in place of what they said first.
    """
    room = Room.objects.filter(sitting=sitting).first() if which == "last" else None
    if room is None:
        return findings_of_several([sitting])[0]
    position = counted_positions([sitting]).get(sitting.pk)
    if position is None:
        return None
    left_out = not_asked([sitting])[sitting.pk]
    given = RoundAnswer.objects.filter(round__room=room).aggregate(rows=Count("pk"), last=Max("pk"))
    made_from = [RULES, "last", sitting.edition.fingerprint, *position, *given.values(), *sorted(left_out)]
    made_from += judged_position([sitting])[sitting.pk]
    fingerprint = _fingerprint(made_from)
    kept = KeptAnalysis.objects.filter(pk=fingerprint).first()
    return kept or _analysed(sitting, _at_last(room, position.seats), left_out, fingerprint, history=False)


def asked_again(sitting: Sitting) -> bool:
    """Whether a question of the edition was asked more than once in the room."""
    room = Room.objects.filter(sitting=sitting).first()
    return room is not None and room.rounds.filter(number__gt=1).exclude(item__in=list(room.quick)).exists()


def _at_last(room: Room, seats: Sequence[int]) -> dict[str, dict[str, ItemResponse]]:
    found = responses_of(seats)
    for seat, answers in said_in_rounds(room, "last").items():
        if str(seat) in found:
            found[str(seat)] |= {item: response for item, response in answers.items() if response is not None}
    return found


def counted_positions(sittings: Sequence[Sitting]) -> dict[int, LogPosition]:
    """Of the students who handed in and are not left out of the figures; a sitting without any is not in it."""
    out = set(OutOfFigures.objects.filter(seat__sitting__in=sittings).values_list("seat", flat=True))
    found = {
        pk: position._replace(seats=[seat for seat in position.seats if seat not in out])
        for pk, position in log_positions(sittings).items()
    }
    return {pk: position for pk, position in found.items() if position.seats}


def _fingerprint(made_from: Sequence[object]) -> str:
    return sha256(json.dumps(made_from).encode()).hexdigest()


def findings_of_several(sittings: Sequence[Sitting]) -> list[KeptAnalysis | None]:
    """The findings of each, as they stand now.

    `body` is a `Body` as JSON. It was validated when it was made and its hash says that nothing changed since, so it
    is not read into models again on the way to the screen.
    """
    positions = counted_positions(sittings)
    left_out, judged = not_asked(sittings), judged_position(sittings)
    fingerprints = {
        sitting.pk: _fingerprint(
            [
                RULES,
                sitting.edition.fingerprint,
                *positions[sitting.pk],
                *sorted(left_out.get(sitting.pk, ())),
                *judged[sitting.pk],
            ]
        )
        for sitting in sittings
        if sitting.pk in positions
    }
    kept = KeptAnalysis.objects.in_bulk(fingerprints.values())
    return [
        kept.get(fingerprints[sitting.pk])
        or _analysed(
            sitting,
            responses_of(positions[sitting.pk].seats),
            left_out.get(sitting.pk, frozenset()),
            fingerprints[sitting.pk],
        )
        if sitting.pk in fingerprints
        else None
        for sitting in sittings
    ]


def _analysed(
    sitting: Sitting,
    responses: Mapping[str, Mapping[str, ItemResponse]],
    left_out: Collection[str],
    fingerprint: str,
    history: bool = True,
) -> KeptAnalysis | None:
    edition = sitting.edition.read()
    judged = judged_in(sitting)
    if not score(edition, responses, left_out, judged).items:
        return None
    body = compute(edition, responses, left_out, judged)
    kept, _ = KeptAnalysis.objects.update_or_create(pk=fingerprint, defaults={"body": body.model_dump(mode="json")})
    if history and sitting.state in AFTER:
        _record(sitting, body)
    return kept


def group_from(sitting: Sitting, ref: str, answer: str | None, name: str) -> Group:
    """A group of the class, of those who gave this answer to a question; None for those who gave none."""
    kept = findings_of(sitting)
    body = Body.model_validate(kept.body) if kept else None
    question = next((question for question in body.paper if question.ref == ref), None) if body else None
    if question is None:
        raise NotFound("question")
    if answer is None:
        seats, what = question.not_given, "no answer"
    else:
        option = next((option for option in question.options if option.option == answer), None)
        if option is None:
            raise NotFound("answer")
        seats, what = option.seats, f"{answer}: {option.idea_note or option.text}"
    if not seats:
        raise NotPossible("Nobody gave this answer, so there is nobody to put together.")
    # Who has left the class since is no longer somebody to teach again.
    here = places_of(sitting.school_class).values("student_id")
    students = sitting.seats.filter(pk__in=seats, student__in=here).values_list("student_id", flat=True)
    made_from = f"{sitting.edition.content['title']}, question {question.number}, {what}"
    return keep_group(sitting.school_class, name, list(students), made_from=made_from)


def record_history(sitting: Sitting) -> None:
    """Keep beside each question of the bank how it did in a closed sitting."""
    kept = findings_of(sitting)
    if kept is not None:
        _record(sitting, Body.model_validate(kept.body))


def _record(sitting: Sitting, body: Body) -> None:
    kept = {item.ref for item in sitting.edition.read().items() if item.content.in_bank}
    uses = [
        Use(
            item=UUID(question.ref),
            students=body.test.students,
            difficulty=question.figures.p,
            discrimination=question.figures.r_total,
            # What only wants polish before the next use is no reason to find the question again.
            flags=[flag.heading for flag in body.flags if flag.ref == question.ref and flag.urgent],
        )
        for question in body.paper
        if question.ref in kept and question.figures is not None and question.figures.p is not None
    ]
    title = f"{sitting.edition.content['title']} · {sitting.school_class.name}"
    held = timezone.localdate(sitting.opened_at or sitting.made_at)
    record_uses(f"sitting {sitting.pk}", title, held, uses)


def compute(
    edition: Edition, responses: Responses, left_out: Collection[str] = (), judged: Judged | None = None
) -> Body:
    """Score and analyse; pure, so that the bench and the tests can call it on data of their own.

    left_out: refs of questions that a lesson did not come to. judged: marks given, keys settled, items waived.
    """
    judged = judged or Judged()
    table = score(edition, responses, left_out, judged)
    marks = corrected_totals(edition, table)
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
        flags=_flag_notes(edition, table, findings, thresholds),
        paper=_paper(edition, responses, table, analysis, left_out, judged),
        distribution=_counted(marks),
        totals={int(seat): float(total) for seat, total in zip(table.students, marks, strict=True)},
    )


def _counted(points: NDArray[np.float64]) -> list[ScoreCount]:
    values, counts = np.unique(points, return_counts=True)
    return [ScoreCount(score=float(value), students=int(n)) for value, n in zip(values, counts, strict=True)]


def _earned(points: NDArray[np.float64], answered: NDArray[np.bool_], seats: NDArray[np.int64]) -> list[EarnedMark]:
    return [
        EarnedMark(points=float(value), seats=seats[answered & (points == value)].tolist())
        for value in np.unique(points[answered])
    ]


def _flag_notes(
    edition: Edition, table: ResponseTable, findings: Sequence[Finding], thresholds: Thresholds
) -> list[FlagNote]:
    measures = item_measures(table, share=thresholds.end_group)
    labels = {item.ref: item.content.own_label for item in edition.items()}
    return [
        FlagNote(
            ref=table.items[finding.item].id,
            number=table.items[finding.item].number,
            label=labels[table.items[finding.item].id] or str(table.items[finding.item].number),
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


def _paper(
    edition: Edition,
    responses: Mapping[str, Mapping[str, ItemResponse]],
    table: ResponseTable,
    analysis: Analysis,
    left_out: Collection[str],
    judged: Judged,
) -> list[PaperQuestion]:
    seats = np.array([int(name) for name in table.students])
    traces = option_traces(table)
    columns = {column.id: j for j, column in enumerate(table.items)}
    by_a_person = to_mark(edition, responses)
    questions = []
    for number, item in enumerate(edition.items(), start=1):
        content, j = item.content, columns.get(item.ref)
        given = {int(seat): answers[item.ref] for seat, answers in responses.items() if item.ref in answers}
        waiting = sum(item.ref not in judged.marks.get(seat, {}) for seat in by_a_person.get(item.ref, ()))
        question = PaperQuestion(
            ref=item.ref,
            number=number,
            label=content.own_label or str(number),
            stem=content.stem,
            kind=content.kind,
            skills=item.skills,
            marks=content.marks,
            figures=None,
            asked=item.ref not in left_out and item.ref not in judged.waived,
            waiting=0 if item.ref in left_out or item.ref in judged.waived else waiting,
            waived=item.ref in judged.waived,
            settled=item.ref in judged.settled,
            follow_up=content.to_ask_again,
            options=[],
            parts=[],
            earned=[],
            traces=[],
            not_given=[int(seat) for seat in seats if not content.given(given.get(int(seat)))],
            d_words="",
        )
        if j is not None:
            figures = analysis.items[j]
            question.figures, question.traces = figures, traces[j]
            question.not_given = seats[~table.answered[:, j]].tolist()
            question.d_words = words.d_in_words(figures.d) if figures.d is not None else ""
            if content.exclusive:
                right = [option.key for option in table.items[j].options]
                question.options = _options(content, table.choice[:, j], seats, right)
            else:
                question.parts = _parts(content, given)
            if not content.answers():
                question.earned = _earned(table.points[:, j], table.answered[:, j], seats)
        questions.append(question)
    return questions


def _options(
    content: EditionContent, choice: NDArray[np.int16], seats: NDArray[np.int64], right: Sequence[bool]
) -> list[PaperOption]:
    return [_option(answer, seats[choice == k].tolist(), right[k]) for k, answer in enumerate(content.answers())]


def _parts(content: EditionContent, given: Mapping[int, ItemResponse]) -> list[PaperOption]:
    """Everything that can be said, in printed order; of what is not on the paper, only what somebody said."""
    said: dict[str, list[int]] = {}
    for seat, response in given.items():
        for pick in content.picks(response):
            said.setdefault(pick, []).append(seat)
    shown = [answer for answer in content.answers() if answer.id in said or answer.key or answer.offered]
    if len(shown) > MOST_PARTS:
        shown = [answer for answer in shown if answer.id in said or answer.key]
    return [_option(answer, said.get(answer.id, [])) for answer in shown]


def _option(answer: AnsweredOption, seats: list[int], right: bool | None = None) -> PaperOption:
    """`right` where that was settled, or else by the key."""
    key = answer.key if right is None else right
    return PaperOption(
        option=answer.letter,
        text=plain(answer.text),
        key=key,
        idea_note="" if key else answer.idea_note,
        seats=seats,
        part=answer.part,
    )
