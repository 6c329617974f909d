"""Findings of a sitting: its responses scored, analysed, and put beside the paper."""

import json
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from hashlib import sha256
from typing import Any, NamedTuple
from uuid import UUID

from django.db.models import Count, Max, Q
from django.utils import timezone

from versomark.core.items import ItemResponse, version_of
from versomark.core.language import ENGLISH, _, language
from versomark.core.response_table import ResponseTable
from versomark.core.scoring import score
from versomark.school.bank.public import Use, occasions_with, record_uses
from versomark.school.delivery.public import AFTER, Sitting
from versomark.school.grading.public import ExcludedStudent, overrides_in, overrides_position
from versomark.school.responses.public import LogPosition, log_positions, responses_of
from versomark.school.room.public import Room, RoundAnswer, Which, not_asked, said_in_rounds

from .dismissed_findings import dismissed_in, key_of
from .models import CachedAnalysis
from .report import FindingsReport, body_of
from .written import with_levels

RULES = 14
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
    # Reasons and sentences are kept as they were made, so each language has its own.
    made_in = [] if language() == ENGLISH else [language()]
    return sha256(json.dumps([*made_from, *made_in]).encode()).hexdigest()


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
    flags: list[dict[str, Any]]
    """Those that say a question failed or misled, most telling first."""


def totals_of_several(sittings: Sequence[Sitting]) -> list[CachedTotals | None]:
    """Everybody's totals of each, without the rest of its findings: of a year of sittings that would be megabytes."""
    return kept_totals(sittings).totals


class KeptTotals(NamedTuple):
    totals: list[CachedTotals | None]
    left: frozenset[int]
    """Sittings whose totals were not kept yet, beyond those that were to be made: there are some to come."""


def kept_totals(sittings: Sequence[Sitting], most_new: int | None = None) -> KeptTotals:
    """The same, of which at most so many are made anew: who looks at a list does not wait for a year of analyses."""
    now = _now(sittings)
    rows = CachedAnalysis.objects.filter(pk__in=[entry.fingerprint for entry in now.values()])
    cached = dict(rows.values_list("pk", "totals"))
    totals: list[CachedTotals | None] = []
    analysed, left = 0, set[int]()
    for sitting in sittings:
        position = now.get(sitting.pk)
        of_sitting = cached.get(position.fingerprint) if position else None
        if position and of_sitting is None and most_new is not None and analysed >= most_new:
            left.add(sitting.pk)
        elif position and of_sitting is None:
            analysed += 1
            analysed_now = _analysed_now(sitting, position)
            of_sitting = analysed_now.totals if analysed_now else None
        totals.append(_as_totals(of_sitting) if of_sitting else None)
    return KeptTotals(totals, frozenset(left))


def _as_totals(stored: Mapping[str, Any]) -> CachedTotals:
    by_seat = {int(seat): total for seat, total in stored["totals"].items()}
    return CachedTotals(stored["of"], stored["waiting"], by_seat, stored["flags"])


def ideas_of_several(sittings: Sequence[Sitting]) -> list[list[dict[str, Any]]]:
    """The ideas of each, without who holds them and without the rest of its findings."""
    now = _now(sittings)
    rows = CachedAnalysis.objects.filter(pk__in=[entry.fingerprint for entry in now.values()])
    cached = dict(rows.values_list("pk", "ideas"))
    result: list[list[dict[str, Any]]] = []
    for sitting in sittings:
        position = now.get(sitting.pk)
        ideas = cached.get(position.fingerprint) if position else []
        if position and ideas is None:
            analysed_now = _analysed_now(sitting, position)
            ideas = analysed_now.ideas if analysed_now else []
        result.append(ideas or [])
    return result


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


def fingerprints_of(sittings: Sequence[Sitting]) -> dict[int, str]:
    """Under which each analysis is kept, of the sittings in which somebody counts."""
    return {pk: position.fingerprint for pk, position in _now(sittings).items()}


class _Closed(NamedTuple):
    """As much of a sitting as says whether it is evidence beside another."""

    pk: int
    edition_id: int
    owner_id: int
    opened_at: datetime | None


def _earlier_of(sittings: Sequence[Sitting]) -> dict[int, list[Sitting]]:
    """By sitting: closed ones of the same teacher, opened before it, in which some of its questions were asked, also in
    another test: those with most of them, and of these the latest."""
    asked = {sitting.pk: _refs(sitting) for sitting in sittings}
    of_papers = {paper: used_in(occasions) for paper, occasions in occasions_with(set(asked.values())).items()}
    shared = {pk: of_papers[paper] for pk, paper in asked.items()}
    closed = Sitting.objects.filter(state__in=AFTER, owner__in={sitting.owner_id for sitting in sittings}).filter(
        Q(pk__in={number for numbers in shared.values() for number in numbers})
        | Q(edition__in={sitting.edition_id for sitting in sittings})
    )
    # Chosen by four numbers each: a teacher of ten years has hundreds, and each carries a whole paper.
    narrow = closed.exclude(opened_at=None).values_list("pk", "edition_id", "owner_id", "opened_at")
    rows = [_Closed(*row) for row in narrow]
    chosen: dict[int, list[int]] = {}
    for sitting in sittings:
        if sitting.opened_at is None:
            continue
        counts = {
            row.pk: len(asked[sitting.pk]) if row.edition_id == sitting.edition_id else shared[sitting.pk][row.pk]
            for row in rows
        }
        before = [
            row
            for row in rows
            if row.owner_id == sitting.owner_id
            and row.opened_at
            and row.opened_at < sitting.opened_at
            and counts[row.pk]
        ]
        before.sort(key=lambda row: (counts[row.pk], row.opened_at), reverse=True)
        chosen[sitting.pk] = [row.pk for row in before[:MOST_EARLIER]]
    wanted = {number for numbers in chosen.values() for number in numbers}
    earlier = Sitting.objects.select_related("edition").in_bulk(wanted)
    return {pk: [earlier[number] for number in numbers] for pk, numbers in chosen.items()}


OCCASION = "sitting "
"""What a sitting is called where the bank keeps how its questions did, before its number."""


def used_in(occasions: Mapping[str, int]) -> Counter[int]:
    """By sitting, how many of the questions were asked in it."""
    return Counter(
        {
            int(occasion.removeprefix(OCCASION)): count
            for occasion, count in occasions.items()
            if occasion.startswith(OCCASION)
        }
    )


def _refs(sitting: Sitting) -> frozenset[UUID]:
    """The questions of the bank in its paper, from what is stored: reading it into models takes longest of all."""
    items = (item for section in sitting.edition.content["sections"] for item in section["items"])
    return frozenset(UUID(item["ref"]) for item in items if len(item["ref"]) == 36)


def _analysed_now(sitting: Sitting, now: _Now) -> CachedAnalysis | None:
    versions = versions_in(sitting)
    earlier = [_as_asked_here(entry, versions) for entry in now.earlier]
    return _analysed(sitting, responses_of(now.seats), now.not_asked, now.fingerprint, earlier=earlier)


def versions_in(sitting: Sitting) -> dict[str, str]:
    """By ref, which version of each question its students were asked, and by which key it was scored."""
    settled = overrides_in(sitting).settled
    accepted = {ref: () if entry.everybody else entry.accepted for ref, entry in settled.items()}
    return {item.ref: version_of(item.content, accepted.get(item.ref)) for item in sitting.edition.read().items()}


def _as_asked_here(earlier: _Earlier, versions: Mapping[str, str]) -> ResponseTable:
    """The answers of an earlier sitting, with questions that were other ones then under other names."""
    table = score(
        earlier.sitting.edition.read(),
        responses_of(earlier.seats),
        earlier.not_asked,
        overrides_in(earlier.sitting),
    )
    theirs = versions_in(earlier.sitting)
    items = (
        item if theirs[item.id] == versions.get(item.id) else replace(item, id=_("{id} as it was then", id=item.id))
        for item in table.items
    )
    return replace(table, items=tuple(items))


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
    urgent = [flag.model_dump(mode="json") for flag in body.flags if flag.urgent]
    totals = {"of": body.test.max, "waiting": waiting, "totals": body.totals, "flags": urgent}
    ideas = [
        {**idea.model_dump(include={"idea", "p", "expected", "low", "high"}), "students": body.test.students}
        for idea in body.ideas
    ]
    cached, _made = CachedAnalysis.objects.update_or_create(
        pk=fingerprint, defaults={"body": body.model_dump(mode="json"), "totals": totals, "ideas": ideas}
    )
    if history and sitting.state in AFTER:
        _record(sitting, body)
    return cached


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
    if sitting.school_class.is_practice:
        return  # nobody real has sat it
    refs = {item.ref for item in sitting.edition.read().items() if item.content.in_bank}
    aside = dismissed_in([sitting])[sitting.pk]
    flags = [flag for flag in body.flags if key_of(flag.model_dump()) not in aside]
    versions = versions_in(sitting)
    uses = [
        Use(
            item=UUID(question.ref),
            students=body.test.students,
            difficulty=question.figures.p,
            discrimination=question.figures.r_total,
            # What only wants polish before the next use is no reason to find the question again.
            flags=[flag for flag in flags if flag.ref == question.ref and flag.urgent],
            notes=[f"{entry.flag}: {entry.note}" for entry in aside.values() if entry.item == question.ref],
            version=versions[question.ref],
            rest_correlation=question.figures.r_rest,
            reliability=body.test.alpha,
            spread=question.figures.sd / question.figures.max if question.figures.sd is not None else None,
        )
        for question in body.paper
        if question.ref in refs and question.figures is not None and question.figures.p is not None
    ]
    title = f"{sitting.edition.content['title']} · {sitting.school_class.name}"
    held_on = timezone.localdate(sitting.opened_at or sitting.made_at)
    record_uses(f"{OCCASION}{sitting.pk}", title, held_on, uses)
