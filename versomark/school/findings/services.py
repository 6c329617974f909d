"""Findings of a sitting: its responses scored, analysed, and put beside the paper."""

import json
from collections.abc import Collection, Mapping, Sequence
from hashlib import sha256
from typing import NamedTuple
from uuid import UUID

from django.db.models import Count, Max
from django.utils import timezone

from versomark.core.findings.ideas import same_idea
from versomark.core.findings.words import heading
from versomark.core.items import ItemResponse
from versomark.core.response_table import ResponseTable
from versomark.core.scoring import score
from versomark.school.bank.public import Use, record_uses
from versomark.school.classes.public import Group, keep_group, places_of
from versomark.school.delivery.public import AFTER, Sitting
from versomark.school.errors import DomainError, NotFound
from versomark.school.grading.public import ExcludedStudent, overrides_in, overrides_position
from versomark.school.responses.public import LogPosition, log_positions, responses_of
from versomark.school.room.public import Room, RoundAnswer, Which, not_asked, said_in_rounds

from .dismissed_findings import dismissed_in, key_of
from .models import CachedAnalysis
from .report import FindingsReport, body_of
from .written import with_levels

RULES = 13
"""Counted up when a measure or rule changes, so that nothing computed under the old one is shown."""
MOST_EARLIER = 3
"""Sittings of the same edition that are evidence beside one: each has to be scored, and more say little more."""


def findings_of(sitting: Sitting, which: Which = "first") -> CachedAnalysis | None:
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
    made_from += overrides_position([sitting])[sitting.pk]
    fingerprint = _fingerprint(made_from)
    cached = CachedAnalysis.objects.filter(pk=fingerprint).first()
    return cached or _analysed(sitting, _at_last(room, position.seats), left_out, fingerprint, history=False)


def asked_again(sitting: Sitting) -> bool:
    """Whether a question of the edition was asked more than once in the room."""
    room = Room.objects.filter(sitting=sitting).first()
    return room is not None and room.rounds.filter(number__gt=1).exclude(item__in=list(room.quick)).exists()


def _at_last(room: Room, seats: Sequence[int]) -> dict[str, dict[str, ItemResponse]]:
    responses = responses_of(seats)
    for seat, answers in said_in_rounds(room, "last").items():
        if str(seat) in responses:
            responses[str(seat)] |= {item: response for item, response in answers.items() if response is not None}
    return responses


def counted_positions(sittings: Sequence[Sitting]) -> dict[int, LogPosition]:
    """Of the students who handed in and are not left out of the figures; a sitting without any is not in it."""
    out = set(ExcludedStudent.objects.filter(seat__sitting__in=sittings).values_list("seat", flat=True))
    results = {
        pk: position._replace(seats=[seat for seat in position.seats if seat not in out])
        for pk, position in log_positions(sittings).items()
    }
    return {pk: position for pk, position in results.items() if position.seats}


def _fingerprint(made_from: Sequence[object]) -> str:
    return sha256(json.dumps(made_from).encode()).hexdigest()


def findings_of_several(sittings: Sequence[Sitting]) -> list[CachedAnalysis | None]:
    """The findings of each, as they stand now.

    `body` is a `FindingsReport` as JSON. It was validated when it was made and its hash says that nothing has
    changed since, so it is not read into models again on the way to the screen.
    """
    now = _now(sittings)
    cached = CachedAnalysis.objects.in_bulk([entry.fingerprint for entry in now.values()])
    return [
        cached.get(now[sitting.pk].fingerprint) or _analysed_now(sitting, now[sitting.pk])
        if sitting.pk in now
        else None
        for sitting in sittings
    ]


class CachedTotals(NamedTuple):
    of: float
    waiting: int
    """Answers that wait for a mark; who gave them has no whole total."""
    totals: Mapping[int, float]
    """By seat, as marks, of those who count in the figures."""


def totals_of_several(sittings: Sequence[Sitting]) -> list[CachedTotals | None]:
    """Everybody's totals of each, without the rest of its findings: of a year of sittings that would be megabytes."""
    now = _now(sittings)
    rows = CachedAnalysis.objects.filter(pk__in=[entry.fingerprint for entry in now.values()])
    cached = dict(rows.values_list("pk", "totals"))
    kept_totals: list[CachedTotals | None] = []
    for sitting in sittings:
        position = now.get(sitting.pk)
        totals = cached.get(position.fingerprint) if position else None
        if position and totals is None:
            analysed_now = _analysed_now(sitting, position)
            totals = analysed_now.totals if analysed_now else None
        kept_totals.append(
            CachedTotals(
                totals["of"], totals["waiting"], {int(seat): total for seat, total in totals["totals"].items()}
            )
            if totals
            else None
        )
    return kept_totals


class _Now(NamedTuple):
    """What the findings of a sitting are made from as it stands."""

    seats: Sequence[int]
    not_asked: Collection[str]
    earlier: Sequence["_Earlier"]
    fingerprint: str


class _Earlier(NamedTuple):
    """A sitting before this one whose answers are evidence too."""

    sitting: Sitting
    seats: Sequence[int]
    not_asked: Collection[str]


def _now(sittings: Sequence[Sitting]) -> dict[int, _Now]:
    """Of the sittings in which somebody counts."""
    before = _earlier_of(sittings)
    more = (entry for rows in before.values() for entry in rows)
    every = list({sitting.pk: sitting for sitting in (*sittings, *more)}.values())
    positions = counted_positions(every)
    left_out, judged = not_asked(every), overrides_position(every)
    result = {}
    for sitting in sittings:
        if sitting.pk in positions:
            earlier = [entry for entry in before.get(sitting.pk, ()) if entry.pk in positions]
            made_from: list[object] = [RULES, sitting.edition.fingerprint]
            for entry in (sitting, *earlier):
                made_from += [entry.pk, *positions[entry.pk], *sorted(left_out.get(entry.pk, ())), *judged[entry.pk]]
            result[sitting.pk] = _Now(
                positions[sitting.pk].seats,
                left_out.get(sitting.pk, frozenset()),
                [_Earlier(e, positions[e.pk].seats, left_out.get(e.pk, frozenset())) for e in earlier],
                _fingerprint(made_from),
            )
    return result


def _earlier_of(sittings: Sequence[Sitting]) -> dict[int, list[Sitting]]:
    """By sitting: the last closed ones of the same edition and teacher that were opened before it."""
    editions = {sitting.edition.fingerprint for sitting in sittings}
    closed = Sitting.objects.filter(
        state__in=AFTER, edition__fingerprint__in=editions, owner__in={sitting.owner_id for sitting in sittings}
    )
    rows = list(closed.exclude(opened_at=None).select_related("edition").order_by("-opened_at"))
    return {
        sitting.pk: [
            row
            for row in rows
            if row.owner_id == sitting.owner_id
            and row.edition.fingerprint == sitting.edition.fingerprint
            and row.opened_at
            and row.opened_at < sitting.opened_at
        ][:MOST_EARLIER]
        for sitting in sittings
        if sitting.opened_at
    }


def _analysed_now(sitting: Sitting, now: _Now) -> CachedAnalysis | None:
    edition = sitting.edition.read()
    earlier = [
        score(edition, responses_of(entry.seats), entry.not_asked, overrides_in(entry.sitting)) for entry in now.earlier
    ]
    return _analysed(sitting, responses_of(now.seats), now.not_asked, now.fingerprint, earlier=earlier)


def _analysed(
    sitting: Sitting,
    responses: Mapping[str, Mapping[str, ItemResponse]],
    left_out: Collection[str],
    fingerprint: str,
    history: bool = True,
    earlier: Sequence[ResponseTable] = (),
) -> CachedAnalysis | None:
    edition = sitting.edition.read()
    judged = overrides_in(sitting)
    table = score(edition, responses, left_out, judged)
    if not table.items:
        return None
    body = with_levels(body_of(edition, responses, table, judged, left_out, earlier=earlier), [sitting], table)
    waiting = sum(question.waiting for question in body.paper)
    totals = {"of": body.test.max, "waiting": waiting, "totals": body.totals}
    cached, _ = CachedAnalysis.objects.update_or_create(
        pk=fingerprint, defaults={"body": body.model_dump(mode="json"), "totals": totals}
    )
    if history and sitting.state in AFTER:
        _record(sitting, body)
    return cached


def group_of_idea(sitting: Sitting, idea: str, name: str) -> Group:
    """A group of the class, of those who more likely hold an idea than not."""
    findings = findings_of(sitting)
    body = FindingsReport.model_validate(findings.body) if findings else None
    figures = next((entry for entry in body.ideas if same_idea(entry.idea) == idea), None) if body else None
    if figures is None:
        raise NotFound("idea")
    seats = [int(entry.student) for entry in figures.students if entry.p >= 0.5]
    return _keep(sitting, seats, f"{sitting.edition.content['title']}, who seems to think: {figures.idea}", name)


def group_from(sitting: Sitting, ref: str, answer: str | None, name: str) -> Group:
    """A group of the class, of those who gave this answer to a question; None for those who gave none."""
    findings = findings_of(sitting)
    body = FindingsReport.model_validate(findings.body) if findings else None
    question = next((question for question in body.paper if question.ref == ref), None) if body else None
    if question is None:
        raise NotFound("question")
    if answer is None:
        seats, origin = question.not_given, "no answer"
    else:
        option = next((option for option in question.options if option.option == answer), None)
        if option is None:
            raise NotFound("answer")
        seats, origin = option.seats, f"{answer}: {option.idea_note or option.text}"
    made_from = f"{sitting.edition.content['title']}, question {question.number}, {origin}"
    return _keep(sitting, seats, made_from, name)


def _keep(sitting: Sitting, seats: Sequence[int], made_from: str, name: str) -> Group:
    if not seats:
        raise DomainError("There is nobody to put together.")
    # Who has left the class since is no longer somebody to teach again.
    here = places_of(sitting.school_class).values("student_id")
    students = sitting.seats.filter(pk__in=seats, student__in=here).values_list("student_id", flat=True)
    return keep_group(sitting.school_class, name, list(students), made_from=made_from)


def record_history_of_closed(sitting: Sitting, **signal: object) -> None:
    record_history(sitting)


def record_history(sitting: Sitting) -> None:
    """Keep beside each question of the bank how it did in a closed sitting."""
    # What follows a closing comes after its transaction, in which more may have been done with the sitting.
    sitting.refresh_from_db(fields=["opened_at", "made_at"])
    findings = findings_of(sitting)
    if findings is not None:
        _record(sitting, FindingsReport.model_validate(findings.body))


def _record(sitting: Sitting, body: FindingsReport) -> None:
    refs = {item.ref for item in sitting.edition.read().items() if item.content.in_bank}
    aside = dismissed_in([sitting])[sitting.pk]
    flags = [flag for flag in body.flags if key_of(flag.model_dump()) not in aside]
    uses = [
        Use(
            item=UUID(question.ref),
            students=body.test.students,
            difficulty=question.figures.p,
            discrimination=question.figures.r_total,
            # What only wants polish before the next use is no reason to find the question again.
            flags=[heading(flag) for flag in flags if flag.ref == question.ref and flag.urgent],
            notes=[f"{entry.flag}: {entry.note}" for entry in aside.values() if entry.item == question.ref],
        )
        for question in body.paper
        if question.ref in refs and question.figures is not None and question.figures.p is not None
    ]
    title = f"{sitting.edition.content['title']} · {sitting.school_class.name}"
    held_on = timezone.localdate(sitting.opened_at or sitting.made_at)
    record_uses(f"sitting {sitting.pk}", title, held_on, uses)
