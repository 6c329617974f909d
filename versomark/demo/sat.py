"""How a class of the demo school sits a test: through the students' own door, then moved to its day in the past."""

from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone

from versomark.core.items import read_response
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, SeatState, Sitting
from versomark.school.editions.public import Edition
from versomark.school.findings.public import record_history
from versomark.school.paper.public import fill_and_read, print_batch
from versomark.school.responses.public import Change, keep_answers, sign_of_life
from versomark.stand_ins import class_of_students as simulated

from .questions import Draws

LASTS = timedelta(minutes=35)
LONG_AGO, FRIDAY = 60, 4


def hold(
    teacher: Teacher,
    spec: dict[str, Any],
    edition: Edition,
    school_class: SchoolClass,
    pupils: dict[int, simulated.SimulatedStudent],
    behind: dict[str, simulated.SimulatedItem],
    draws: Draws,
    written: dict[str, list[str]] | None = None,
) -> Sitting:
    """One sitting: planned ahead, running now, or sat on a day in the past.

    written: of each question answered in words, what the weakest to the strongest students write.
    """
    when = _time_of_day(spec)
    sitting = delivery.plan(teacher, edition, school_class, when)
    if spec["days"] > 0:
        return sitting
    if spec.get("on_paper"):
        return _on_paper(teacher, spec, sitting, pupils, behind, draws)
    delivery.open_sitting(sitting)
    running = spec.get("open")
    refs = [item.ref for item in edition.read().items() if item.ref in behind]
    for place, seat in enumerate(sitting.seats.select_related("sitting__edition", "student").order_by("desk")):
        if seat.desk in spec.get("away", []) or (running and place >= running["handed_in"] + running["working"]):
            continue
        delivery.begin(seat)
        unfinished = running and place >= running["handed_in"]
        given = simulated.answer_paper(pupils[seat.desk], [behind[ref] for ref in refs], draws.rng)
        count = int(draws.rng.integers(1, len(refs))) if unfinished else len(refs)
        words = {ref: _in_words(pupils[seat.desk], texts, draws) for ref, texts in (written or {}).items()}
        _sit(seat, dict(zip(refs[:count], given[:count], strict=True)), words, draws)
        if not unfinished:
            reached = [ref for at, ref in enumerate(refs) if at < pupils[seat.desk].reaches * len(refs)]
            # Time with a question is time since they began.
            sitting.seats.filter(pk=seat.pk).update(started_at=timezone.now() - LASTS)
            sign_of_life(seat.pk, "", [], draws.time(pupils[seat.desk], reached, behind))
            delivery.hand_in(seat.pk)
    if running:
        return sitting
    delivery.close_sitting(sitting)
    move_to_the_past(sitting, when)
    if not written:
        record_history(sitting)  # what people mark is recorded when they have
    return sitting


def _on_paper(
    teacher: Teacher,
    spec: dict[str, Any],
    sitting: Sitting,
    pupils: dict[int, simulated.SimulatedStudent],
    behind: dict[str, simulated.SimulatedItem],
    draws: Draws,
) -> Sitting:
    """Sheets are printed, filled, scanned and read as in a school with a copier, and the file is in the inbox."""
    contents = {item.ref: item.content for item in sitting.edition.read().items() if item.ref in behind}
    filled: dict[str, dict[str, str]] = {}
    for seat in sitting.seats.order_by("desk"):
        if seat.desk in spec.get("away", []):
            continue
        given = simulated.answer_paper(pupils[seat.desk], [behind[ref] for ref in contents], draws.rng)
        filled[str(seat.desk)] = {
            ref: content.to_sheet(read_response(response_to(content.kind, option)))
            for (ref, content), option in zip(contents.items(), given, strict=True)
            if option is not None
        }
    scan = fill_and_read(teacher, print_batch(teacher, sitting), filled, int(draws.rng.integers(2**31)))
    sitting.refresh_from_db()
    delivery.close_sitting(sitting)
    when = _time_of_day(spec)
    move_to_the_past(sitting, when)
    scanned = when + 2 * LASTS
    type(scan).objects.filter(pk=scan.pk).update(arrived_at=scanned, done_at=scanned)
    scan.pages.update(read_at=scanned)
    sitting.batches.update(made_at=when - timedelta(days=1))
    record_history(sitting)
    return sitting


def _time_of_day(spec: dict[str, Any]) -> datetime:
    """Days from today, in the second lesson; of what is long past never on a Saturday or Sunday."""
    when = timezone.localtime().replace(hour=9, minute=40, second=0, microsecond=0) + timedelta(days=spec["days"])
    if spec["days"] < -LONG_AGO and when.weekday() > FRIDAY:
        when += timedelta(days=7 - when.weekday())
    return when


def _in_words(student: simulated.SimulatedStudent, texts: list[str], draws: Draws) -> str:
    place = round(len(texts) / 2 - 0.5 + student.ability + 0.5 * draws.rng.standard_normal())
    return texts[min(max(place, 0), len(texts) - 1)]


def _sit(seat: Seat, chosen: dict[str, str | None], words: dict[str, str], draws: Draws) -> None:
    kinds = {item.ref: item.content.kind for item in seat.sitting.edition.read().items()}
    given = {ref: response_to(kinds[ref], option) for ref, option in chosen.items() if option is not None}
    given |= {ref: {"kind": kinds[ref], "text": text} for ref, text in words.items()}
    changes = [
        Change(draws.uuid(), sequence, ref, read_response(given[ref]), come_back=False)
        for sequence, ref in enumerate([*chosen, *words], start=1)
        if ref in given
    ]
    if changes:
        keep_answers(seat.pk, changes)


def response_to(kind: str, option: str) -> dict[str, object]:
    return {"kind": kind, "value": option == "true"} if kind == "true_false" else {"kind": kind, "option": option}


def frozen_before(edition: Edition, when: datetime) -> None:
    """No test is frozen after it was sat."""
    Edition.objects.filter(pk=edition.pk, frozen_at__gt=when).update(frozen_at=when)


def move_to_the_past(sitting: Sitting, when: datetime) -> None:
    """The services stamp what happens with the clock; the demo's past happened some weeks ago."""
    end = when + LASTS
    day_before = when - timedelta(days=1)
    frozen_before(sitting.edition, day_before)
    Sitting.objects.filter(pk=sitting.pk).update(made_at=day_before, opened_at=when, closed_at=end)
    sitting.seats.filter(state=SeatState.HANDED_IN).update(started_at=when, handed_in_at=end, last_seen=end)
