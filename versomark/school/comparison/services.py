"""Comparing answers in pairs: who judges, which two lie before a judge, and what becomes of the judgements."""

from collections.abc import Collection, Sequence
from datetime import timedelta
from random import SystemRandom
from typing import NamedTuple

import numpy as np
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from versomark.core.language import _
from versomark.core.scoring import next_pair, to_mark
from versomark.core.stats import MarkLine, Misfit, PairMeasures, marks_through, measure_pairs, misfits
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import may
from versomark.school.delivery.public import Seat, SeatState, Sitting, sitting_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.grading.public import MarkGiven, current_marks, give, rubric_item, waived_in
from versomark.school.responses.public import responses_of

from .models import Comparison, Judge, Judgement, PairInHand, Piece

MOST_JUDGES = 30
MOST_PIECES = 1000
FEWEST_PIECES = 3
FORGOTTEN_AFTER = timedelta(minutes=30)
"""A pair that lies before a judge so long keeps nobody else from it."""
HALF = 0.5


class Plan(NamedTuple):
    """What the head of a comparison wants; the names are those of `Comparison`."""

    sittings: Sequence[int]
    item: str
    criterion: str
    question: str
    judges: Sequence[int]
    each: int = 12
    not_own: bool = False


def comparisons_of(teacher: Teacher) -> QuerySet[Comparison]:
    """Those that a teacher leads or judges in, the latest first."""
    mine = Judge.objects.filter(teacher=teacher, left_at=None).values("comparison")
    return Comparison.objects.filter(Q(head=teacher) | Q(pk__in=mine)).select_related("edition", "head")


def judging(teacher: Teacher) -> list[tuple[Judge, int]]:
    """The open comparisons in which a teacher judges, with how many pairs are left in all."""
    rows = Judge.objects.filter(teacher=teacher, left_at=None, comparison__ended_at=None)
    some = [
        (row, wanted_in(row.comparison) - judged(row.comparison).count())
        for row in rows.select_related("comparison__head")
    ]
    return [(judge, left) for judge, left in some if left > 0]


def led_by(teacher: Teacher, comparison_id: int) -> Comparison:
    comparison = comparisons_of(teacher).filter(pk=comparison_id).first()
    if comparison is None:
        raise NotFound(_("comparison"))
    if comparison.head_id != teacher.pk:
        raise DomainError(_("{name} leads this comparison.", name=comparison.head.name), 403)
    return comparison


def judge_in(teacher: Teacher, comparison_id: int) -> Judge:
    judge = (
        Judge.objects.filter(comparison=comparison_id, teacher=teacher, left_at=None)
        .select_related("comparison__edition", "comparison__head", "teacher")
        .first()
    )
    if judge is None:
        raise NotFound(_("comparison"))
    return judge


@transaction.atomic
def begin(by: Teacher, plan: Plan) -> Comparison:
    """Put the answers to one question before judges. Who begins it has to be allowed to mark them."""
    sittings = [sitting_of(by, pk, "mark") for pk in dict.fromkeys(plan.sittings)]
    if not sittings or len({sitting.edition_id for sitting in sittings}) > 1:
        raise DomainError(_("Only answers to one and the same test can be compared."), status=422)
    content = rubric_item(sittings[0], plan.item)[1]
    if plan.criterion not in {criterion.id for criterion in content.rubric.criteria}:
        raise DomainError(_("Say by which criterion the answers are compared."), status=422)
    seats = _answers(sittings, plan.item)
    if not FEWEST_PIECES <= len(seats) <= MOST_PIECES:
        raise DomainError(
            _("A comparison takes {fewest} to {most} answers; here are {count}.",
              fewest=FEWEST_PIECES, most=MOST_PIECES, count=len(seats)),
            status=422,
        )  # fmt: skip
    comparison = Comparison.objects.create(
        edition=sittings[0].edition, item=plan.item, criterion=plan.criterion, question=plan.question.strip(),
        head=by, each=plan.each, not_own=plan.not_own,
    )  # fmt: skip
    comparison.sittings.set(sittings)
    _join(comparison, by, plan.judges)
    drawn = SystemRandom().sample(range(100, max(1000, 4 * len(seats))), len(seats))
    Piece.objects.bulk_create(
        Piece(comparison=comparison, seat_id=seat, number=number) for seat, number in zip(seats, drawn, strict=True)
    )
    return comparison


def _answers(sittings: Sequence[Sitting], item: str) -> list[int]:
    seats = Seat.objects.filter(sitting__in=sittings, state=SeatState.HANDED_IN).order_by("pk")
    of_sitting = dict(seats.values_list("pk", "sitting"))
    edition, responses = sittings[0].edition.read(), responses_of(list(of_sitting))
    needed: Collection[str] = to_mark(edition, responses).get(item, ())
    if any(entry.ref == item and entry.content.watched for entry in edition.items()):
        # Of what was watched there is something to judge where sound or a picture was kept of it.
        needed = [seat for seat in needed if getattr(responses[seat].get(item), "files", None)]
    out = waived_in(sittings)
    return [seat for seat in of_sitting if str(seat) in needed and item not in out[of_sitting[seat]]]


@transaction.atomic
def change(by: Teacher, comparison_id: int, judges: Sequence[int], each: int) -> Comparison:
    """Who judges, and how often each piece is to be compared."""
    comparison = led_by(by, comparison_id)
    _refuse_ended(comparison)
    _join(comparison, by, judges)
    Comparison.objects.filter(pk=comparison.pk).update(each=each)
    return led_by(by, comparison_id)


def _join(comparison: Comparison, by: Teacher, judges: Sequence[int]) -> None:
    wanted = set(judges)
    if not wanted or len(wanted) > MOST_JUDGES:
        raise DomainError(_("A comparison has one to {most} judges.", most=MOST_JUDGES), status=422)
    if Teacher.objects.filter(pk__in=wanted, school=by.school, is_active=True).count() < len(wanted):
        raise NotFound(_("colleague"))
    comparison.judges.filter(left_at=None).exclude(teacher__in=wanted).update(left_at=timezone.now())
    PairInHand.objects.filter(judge__comparison=comparison).exclude(judge__teacher__in=wanted).delete()
    for teacher in wanted:
        Judge.objects.update_or_create(comparison=comparison, teacher_id=teacher, defaults={"left_at": None})


@transaction.atomic
def end(by: Teacher, comparison_id: int) -> None:
    """No more pairs; the scale stays."""
    comparison = led_by(by, comparison_id)
    _refuse_ended(comparison)
    PairInHand.objects.filter(judge__comparison=comparison).delete()
    Comparison.objects.filter(pk=comparison.pk).update(ended_at=timezone.now())


def _refuse_ended(comparison: Comparison) -> None:
    if comparison.ended_at is not None:
        raise DomainError(_("This comparison has been ended."), status=409)


def judged(comparison: Comparison) -> QuerySet[Judgement]:
    """The judgements that stand."""
    return Judgement.objects.filter(judge__comparison=comparison, taken_back_at=None)


def wanted_in(comparison: Comparison) -> int:
    """How many comparisons there are to be in all."""
    return -(-comparison.pieces.count() * comparison.each // 2)


@transaction.atomic
def pair_for(judge: Judge) -> PairInHand | None:
    """The two that lie before a judge, or the next two; None where there is nothing more for them to compare."""
    comparison = judge.comparison
    now = PairInHand.objects.filter(judge=judge).select_related("left__seat", "right__seat").first()
    if now is not None or comparison.ended_at is not None:
        return now
    pairs = list(judged(comparison).values_list("better", "worse"))
    if len(pairs) >= wanted_in(comparison):
        return None
    seen = list(judged(comparison).filter(judge=judge).values_list("better", "worse"))
    others = PairInHand.objects.filter(judge__comparison=comparison, at__gt=timezone.now() - FORGOTTEN_AFTER)
    pair = next_pair(
        sorted(_may_judge(judge)), pairs, seen, list(others.values_list("left", "right")),
        _measures(comparison, pairs), SystemRandom(),
    )  # fmt: skip
    if pair is None:
        return None
    return PairInHand.objects.create(judge=judge, left_id=pair[0], right_id=pair[1])


def _may_judge(judge: Judge) -> set[int]:
    pieces = judge.comparison.pieces.all()
    if judge.comparison.not_own:
        own = Sitting.objects.filter(Q(owner=judge.teacher) | may(judge.teacher, "see", "school_class__"))
        pieces = pieces.exclude(seat__sitting__in=own)
    return set(pieces.values_list("pk", flat=True))


def _measures(comparison: Comparison, pairs: list[tuple[int, int]]) -> dict[int, float]:
    """For choosing pairs; worked out anew once a tenth of the pieces have been compared since."""
    pieces = list(comparison.pieces.values_list("pk", flat=True))
    if len(pairs) - comparison.measured >= max(1, len(pieces) // 10) or len(pairs) < comparison.measured:
        values = _measured(pieces, pairs).measures
        known = {str(pk): float(value) for pk, value in zip(pieces, values, strict=True) if not np.isnan(value)}
        Comparison.objects.filter(pk=comparison.pk).update(measures=known, measured=len(pairs))
        comparison.measures, comparison.measured = known, len(pairs)
    return {int(pk): value for pk, value in comparison.measures.items()}


def _measured(pieces: Sequence[int], pairs: Sequence[tuple[int, int]]) -> PairMeasures:
    at = {pk: place for place, pk in enumerate(pieces)}
    return measure_pairs([at[better] for better, _w in pairs], [at[worse] for _b, worse in pairs], len(pieces))


@transaction.atomic
def judge_pair(judge: Judge, better: int, worse: int) -> Judgement:
    """Which of the two that lie before a judge is the better one, by their numbers."""
    _refuse_ended(judge.comparison)
    pair = PairInHand.objects.filter(judge=judge).select_related("left", "right").first()
    by_number = {pair.left.number: pair.left, pair.right.number: pair.right} if pair else {}
    if pair is None or {better, worse} != set(by_number):
        raise DomainError(_("Another pair lies before you now. Look at it again."), status=409)
    judgement = Judgement.objects.create(
        judge=judge, better=by_number[better], worse=by_number[worse],
        seconds=max(0, round((timezone.now() - pair.at).total_seconds())),
    )  # fmt: skip
    pair.delete()
    return judgement


@transaction.atomic
def take_back(judge: Judge) -> PairInHand:
    """The last judgement of a judge; the two lie before them again."""
    _refuse_ended(judge.comparison)
    last = judged(judge.comparison).filter(judge=judge).order_by("-pk").first()
    if last is None:
        raise DomainError(_("You have judged nothing yet."))
    last.taken_back_at = timezone.now()
    last.save(update_fields=["taken_back_at"])
    PairInHand.objects.filter(judge=judge).delete()
    return PairInHand.objects.create(judge=judge, left=last.better, right=last.worse)


def piece_before(teacher: Teacher, comparison_id: int, number: int) -> Piece:
    """A piece that lies before a judge now, or any to the head, who says what it deserves; no other is theirs to
    see."""
    known = Piece.objects.filter(comparison=comparison_id, comparison__head=teacher, number=number)
    led = known.select_related("seat__sitting", "comparison").first()
    if led is not None:
        return led
    judge = judge_in(teacher, comparison_id)
    pair = PairInHand.objects.filter(judge=judge).select_related("left__seat__sitting", "right__seat__sitting").first()
    pieces = [pair.left, pair.right] if pair else []
    piece = next((piece for piece in pieces if piece.number == number), None)
    if piece is None:
        raise NotFound(_("answer"))
    return piece


class PieceScale(NamedTuple):
    piece: Piece
    measure: float | None
    error: float | None
    fit: Misfit
    mark: float | None
    """Points of the criterion that its measure stands for; None without anchors."""


class JudgeFit(NamedTuple):
    judge: Judge
    fit: Misfit
    seconds: float | None
    """Half of their judgements took longer."""


class Scale(NamedTuple):
    """What the judgements say."""

    pieces: list[PieceScale]
    """The best first; those that were never compared last."""
    judges: list[JudgeFit]
    separation: float | None
    done: int
    wanted: int
    line: MarkLine | None
    why_no_marks: str


def scale_of(comparison: Comparison) -> Scale:
    pieces = list(comparison.pieces.select_related("seat__student", "seat__sitting__school_class"))
    judges = list(comparison.judges.select_related("teacher"))
    rows = list(judged(comparison).values_list("better", "worse", "judge", "seconds"))
    place = {piece.pk: at for at, piece in enumerate(pieces)}
    seat_of = {judge.pk: at for at, judge in enumerate(judges)}
    better, worse = [place[row[0]] for row in rows], [place[row[1]] for row in rows]
    measured = measure_pairs(better, worse, len(pieces))
    by_judge = misfits(better, worse, [seat_of[row[2]] for row in rows], measured.measures, len(judges))
    twice = (better + better, worse + worse, better + worse)
    by_piece = misfits(*twice, measured.measures, len(pieces))
    line, why = _line(pieces, measured)
    most = _most(comparison)
    known = [None if np.isnan(value) else float(value) for value in measured.measures]
    scales = [
        PieceScale(
            piece, value, None if value is None else float(measured.errors[at]), by_piece[at],
            None if value is None or line is None else _half(line.mark(value, most)),
        )
        for at, (piece, value) in enumerate(zip(pieces, known, strict=True))
    ]  # fmt: skip
    times = {judge.pk: [row[3] for row in rows if row[2] == judge.pk] for judge in judges}
    return Scale(
        sorted(scales, key=lambda entry: -(entry.measure if entry.measure is not None else -np.inf)),
        [
            JudgeFit(judge, fit, float(np.median(times[judge.pk])) if times[judge.pk] else None)
            for judge, fit in zip(judges, by_judge, strict=True)
        ],
        measured.separation,
        len(rows),
        wanted_in(comparison),
        line,
        why,
    )


def _line(pieces: Sequence[Piece], measured: PairMeasures) -> tuple[MarkLine | None, str]:
    anchors = [
        (measured.measures[at], measured.errors[at], piece.points)
        for at, piece in enumerate(pieces)
        if piece.points is not None and not np.isnan(measured.measures[at])
    ]
    if len(anchors) < 2:
        return None, _("Give two answers that differ the mark they deserve, and the others follow.")
    measures, errors, marks = zip(*anchors, strict=True)
    try:
        return marks_through(measures, errors, marks), ""
    except ValueError:
        return None, _("The marks you gave do not follow the order of the answers. Look at them again.")


def _half(points: float) -> float:
    return round(points / HALF) * HALF


def _most(comparison: Comparison) -> float:
    content = rubric_item(_first(comparison), comparison.item)[1]
    return next(criterion.max for criterion in content.rubric.criteria if criterion.id == comparison.criterion)


def _first(comparison: Comparison) -> Sitting:
    return comparison.sittings.select_related("edition").order_by("pk")[0]


@transaction.atomic
def anchor(by: Teacher, comparison_id: int, number: int, points: float | None) -> None:
    """Say which mark a piece deserves, or that it is not known."""
    comparison = led_by(by, comparison_id)
    if points is not None and not 0 <= points <= _most(comparison):
        raise DomainError(_("The mark is from 0 to {most}.", most=f"{_most(comparison):g}"), status=422)
    if not comparison.pieces.filter(number=number).update(points=points):
        raise NotFound(_("answer"))


class Given(NamedTuple):
    """What making marks of the scale does: how many answers get theirs, and how many have a colleague's that stays."""

    given: int
    stay: int
    drafts: bool
    """Whether the other criteria of the rubric still wait, so that nothing counts yet."""


@transaction.atomic
def make_marks(by: Teacher, comparison_id: int, really: bool) -> Given:
    """Give each piece the mark of its place on the scale; `really` false only counts."""
    comparison = led_by(by, comparison_id)
    scale = scale_of(comparison)
    if scale.line is None:
        raise DomainError(scale.why_no_marks)
    content = rubric_item(_first(comparison), comparison.item)[1]
    drafts = len(content.rubric.criteria) > 1
    seats = [entry.piece.seat_id for entry in scale.pieces]
    standing = {
        place[0]: mark
        for sitting in comparison.sittings.all()
        for place, mark in current_marks(sitting, seats).items()
        if place[1] == comparison.item
    }
    given, stay = 0, 0
    for entry in scale.pieces:
        if entry.mark is None:
            continue
        now = standing.get(entry.piece.seat_id)
        if now is not None and now.state == "kept":
            stay += 1
            continue
        given += 1
        if really:
            begun = dict(now.points) if now is not None and now.by_id == by.pk else {}
            points = {**begun, comparison.criterion: entry.mark}
            whole = len(points) == len(content.rubric.criteria)
            words = now.comment if now is not None and now.by_id == by.pk else ""
            give(by, entry.piece.seat, comparison.item, MarkGiven(points, words, drafts and not whole, None))
    return Given(given, stay, drafts)
