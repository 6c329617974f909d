"""A student's own page: one link for a class, and each signs in with their pass."""

from datetime import date, datetime
from typing import Literal, NamedTuple
from uuid import UUID

from django.conf import settings
from django.core import signing
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from versomark.core.language import _
from versomark.school import guesses, turns
from versomark.school.bank.public import Material
from versomark.school.classes.public import Student, normalised
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import AFTER, Seat, SeatState, SittingState, Way, is_over, tokens
from versomark.school.errors import DomainError, NotFound
from versomark.school.feedback.public import StudentResult, ask_about, marked_picture, student_result
from versomark.school.grading.public import ReturnedFile, Shown, results_in, shown_to, take_question_back
from versomark.school.responses.public import HandedInFile

from .models import Notice
from .notice_words import when_words
from .notifications import when

COOKIE = "verso_own"
DAYS = 60 * 60 * 24 * 30

Stage = Literal["open", "coming", "handed in", "over"]


def enter(link: str, pass_phrase: str, address: str) -> Student:
    """The student of the class with this link whose pass it is. Words for the student when there is none."""
    student = Student.objects.filter(
        places__school_class__link=link, places__left=False, pass_phrase=normalised(pass_phrase)
    ).first()
    if student is None:
        if guesses.count("own page", f"{link} {address}") > guesses.FROM_ONE_ADDRESS:
            raise DomainError(_("Very many wrong passes have come from here. Ask your teacher."), status=429)
        raise DomainError(_("That pass is not on the list of this class. Check it, or ask your teacher."), status=404)
    return student


def give(response: HttpResponse, request: HttpRequest, student: Student) -> None:
    response.set_cookie(
        COOKIE,
        _signer(student.pass_phrase).sign(str(student.pk)),
        max_age=DAYS,
        httponly=True,
        samesite="Strict",
        secure=request.is_secure() and not settings.DEBUG,
    )


def student_of(cookie: str) -> Student | None:
    """Whose cookie it is; a new pass makes the old one's cookie worthless."""
    who = cookie.partition(":")[0]
    student = Student.objects.filter(pk=int(who)).first() if who.isdecimal() and len(who) < 18 else None
    if student is None:
        return None
    try:
        _signer(student.pass_phrase).unsign(cookie, max_age=DAYS)
    except signing.BadSignature:
        return None
    return student


def _signer(pass_phrase: str) -> signing.TimestampSigner:
    return signing.TimestampSigner(salt=f"versomark.own.{pass_phrase}")


class OwnSitting(NamedTuple):
    seat: Seat
    title: str
    stage: Stage
    when: str
    closes_at: datetime | None
    may_go: bool
    """To it, or back to it: what was handed in may be taken back, tried again, or go on."""
    results: bool


def sittings_of(student: Student) -> list[OwnSitting]:
    """What this student may know of: what they were told of, and what they have begun. What is open comes first."""
    own_sittings = [
        OwnSitting(
            seat,
            seat.sitting.edition.read().title,
            _stage(seat),
            when_words(when(seat.sitting)),
            seat.sitting.closes_at,
            _may_go(seat),
            shown_to(seat) is not None,
        )
        for seat in student.seats.select_related("sitting__edition", "student").order_by("-pk")[:100]
        if seat.sitting.state != SittingState.PLANNED
        and (
            (seat.sitting.way != Way.ROOM and (seat.sitting.read_rules().tell or seat.started_at is not None))
            or shown_to(seat) is not None
        )
    ]
    order: list[Stage] = ["open", "coming", "handed in", "over"]
    return sorted(own_sittings, key=lambda own_sitting: order.index(own_sitting.stage))


def _stage(seat: Seat) -> Stage:
    if seat.state == SeatState.HANDED_IN:
        return "handed in"
    if seat.sits_later or seat.sitting.state in (SittingState.OPEN, SittingState.PAUSED):
        return "over" if is_over(seat) else "open"
    return "over" if seat.sitting.state in AFTER else "coming"


def _may_go(seat: Seat) -> bool:
    running = seat.sitting.state in (SittingState.OPEN, SittingState.PAUSED)
    return (_stage(seat) == "open" and not seat.locked) or (seat.state == SeatState.HANDED_IN and running)


def returned_file(student: Student, sitting_id: int, file_id: UUID) -> ReturnedFile | None:
    """A file of theirs with remarks in it; None before their result is released."""
    returned = ReturnedFile.objects.filter(pk=file_id, seat__student=student, seat__sitting=sitting_id).first()
    return returned if returned is not None and shown_to(returned.seat) is not None else None


def handed_in_file(student: Student, sitting_id: int, file_id: UUID) -> HandedInFile | None:
    return HandedInFile.objects.filter(pk=file_id, seat__student=student, seat__sitting=sitting_id).first()


def material_of(student: Student, sitting_id: int, material_id: UUID) -> Material:
    """Something that was offered to them beside a skill or a comment of a result they may see."""
    result = result_of(student, sitting_id)
    offered = {material.id for skill in result.skills for material in skill.materials}
    offered |= {entry.material.id for question in result.questions for entry in question.next if entry.material}
    material = Material.objects.filter(pk=material_id).first() if material_id in offered else None
    if material is None:
        raise NotFound(_("material"))
    return material


def result_of(student: Student, sitting_id: int) -> StudentResult:
    """The student's own result; nothing of it before it is released."""
    return student_result(*_released(student, sitting_id))


def work_of(student: Student, sitting_id: int, item: str, file: int, page: int) -> bytes:
    """A picture of their answer on which their marker put something, once their result is released."""
    return marked_picture(_released(student, sitting_id)[0], item, file, page)


def ask_about_mark(student: Student, sitting_id: int, item: str, reason: str) -> StudentResult:
    """Have a mark of theirs looked at once more; answers with their result as it stands then."""
    seat, shown = _released(student, sitting_id)
    ask_about(seat, item, reason, student_result(seat, shown))
    return student_result(seat, shown)


def ask_no_more(student: Student, sitting_id: int, item: str) -> StudentResult:
    """What they asked, taken back before anybody has answered."""
    seat, shown = _released(student, sitting_id)
    take_question_back(seat, item)
    return student_result(seat, shown)


def _released(student: Student, sitting_id: int) -> tuple[Seat, Shown]:
    seat = student.seats.select_related("sitting__edition", "student").filter(sitting=sitting_id).first()
    shown = shown_to(seat) if seat else None
    if seat is None or shown is None:
        raise NotFound(_("result of yours"))
    return seat, shown


class OwnPoint(NamedTuple):
    """A result of theirs that they may see with its marks."""

    sitting: int
    title: str
    held_on: date
    share: float


def growth_of(student: Student) -> list[OwnPoint]:
    """Over the year, oldest first; only what is released with marks."""
    points = []
    for seat in student.seats.select_related("sitting__edition", "student").order_by("-sitting__opened_at")[:100]:
        shown = shown_to(seat)
        if shown is None or not shown.marks:
            continue
        result = results_in(seat.sitting, [seat.pk])[0]
        if result.total is not None and result.of > 0:
            held_on = timezone.localdate(seat.sitting.opened_at or seat.sitting.made_at)
            points.append(
                OwnPoint(seat.sitting_id, seat.sitting.edition.content["title"], held_on, result.total / result.of)
            )
    return points[::-1]


@transaction.atomic
def notices_of(student: Student) -> list[Notice]:
    """The latest first; those that are new are read now, and still say so in what is returned."""
    notices = list(student.notices.select_related("sitting")[:50])
    Notice.objects.filter(pk__in=[entry.pk for entry in notices if entry.read_at is None]).update(
        read_at=timezone.now()
    )
    return notices


def go_to(student: Student, sitting_id: int, response: HttpResponse, request: HttpRequest) -> None:
    """To their seat in a sitting that is open, without its code."""
    seat = student.seats.select_related("sitting__edition", "student").filter(sitting=sitting_id).first()
    if seat is None:
        raise NotFound(_("test of yours"))
    if not _may_go(seat):
        raise DomainError(_("This test is not open now."))
    with turns.working_on(turns.Area(student.school_id, seat.pk)), transaction.atomic():
        delivery.begin(seat)
        tokens.give(response, request, seat)
