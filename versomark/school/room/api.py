"""The teacher's console of a lesson in the room, and the wall."""

from django.db import transaction
from django.http import HttpRequest
from ninja import Router

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import class_of
from versomark.school.editions.public import Edition, edition_of, test_of
from versomark.school.errors import DomainError
from versomark.school.http import teacher_of

from . import answers, practice, services, setting_up
from .console import Console
from .console import console as console_of
from .models import Room, Shows
from .schemas import (
    Act,
    AnswerFor,
    Asked,
    Homework,
    HomeworkGiven,
    Order,
    Practice,
    Quick,
    QuickKey,
    SetUp,
    SetUpLine,
    Start,
    WallSet,
)
from .wall import Wall
from .wall import wall as wall_of

router = Router(tags=["in the room"])


@router.post("/room", response=Console)
def start(request: HttpRequest, body: Start) -> Console:
    """Start a lesson in the room, its door open."""
    teacher = teacher_of(request)
    school_class = class_of(teacher, body.class_id, "run")
    edition, like = _asked(teacher, body)
    return _console(request, setting_up.start(teacher, edition, school_class, body.pace, like).sitting_id)


@router.post("/room/ahead", response=list[SetUpLine])
def set_up(request: HttpRequest, body: SetUp) -> list[SetUpLine]:
    """Set lessons up ahead, one a class, their doors shut."""
    teacher = teacher_of(request)
    classes = [class_of(teacher, class_id, "run") for class_id in dict.fromkeys(body.class_ids)]
    edition, like = _asked(teacher, body)
    with transaction.atomic():
        rooms = [
            setting_up.set_up(teacher, edition, school_class, body.planned_for, body.pace, like)
            for school_class in classes
        ]
    return [SetUpLine(sitting=room.sitting_id, class_name=room.sitting.school_class.name) for room in rooms]


def _asked(teacher: Teacher, body: Asked) -> tuple[Edition, Room | None]:
    if body.like is not None:
        like = services.room_of(teacher, body.like, "run")
        return like.sitting.edition, like
    if body.edition is not None:
        return edition_of(teacher, body.edition), None
    if body.test is not None:
        return setting_up.edition_of_test(test_of(teacher, body.test)), None
    if body.item is not None:
        return setting_up.edition_of_item(teacher, body.item), None
    raise DomainError(_("Say what is to be asked."), status=422)


@router.post("/sittings/{int:sitting_id}/room/homework", response=HomeworkGiven)
def give_as_homework(request: HttpRequest, sitting_id: int, body: Homework) -> HomeworkGiven:
    """The same pages and questions, to be worked through at home until a date."""
    room = _room(request, sitting_id)
    students = setting_up.missed(room) if body.who == "missed" else None
    given = setting_up.give_as_homework(teacher_of(request), room, body.closes_at, students)
    return HomeworkGiven(sitting=given.pk, students=given.seats.count())


@router.get("/sittings/{int:sitting_id}/room", response=Console)
def console(request: HttpRequest, sitting_id: int) -> Console:
    return _console(request, sitting_id)


@router.get("/sittings/{int:sitting_id}/wall", response=Wall)
def wall(request: HttpRequest, sitting_id: int) -> Wall:
    """What the projector shows: nothing that gives the key away before the teacher does."""
    return wall_of(services.room_of(teacher_of(request), sitting_id))


@router.post("/sittings/{int:sitting_id}/room/acts", response=Console)
def act(request: HttpRequest, sitting_id: int, body: Act) -> Console:
    room = _room(request, sitting_id)
    match body.act:
        case "open":
            services.open_door(room)
        case "let go":
            services.let_go(room)
        case "gather":
            services.gather(room)
        case "go":
            services.go_to(room, room.place + 1 if body.place is None else body.place)
        case "again":
            services.ask_again(room)
        case "stop":
            services.stop(room)
        case "reopen":
            services.reopen(room)
        case "question" | "spread" | "answer":
            services.show(room, Shows(body.act))
        case "end":
            services.end(room)
    return _console(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/room/practice", response=Console)
def bring_in_practice(request: HttpRequest, sitting_id: int, body: Practice) -> Console:
    """In the demo school: simulated students take the free seats, and answer."""
    practice.bring_in_class(_room(request, sitting_id), body.by)
    return _console(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/room/quick", response=Console)
def put_in_quick(request: HttpRequest, sitting_id: int, body: Quick) -> Console:
    """A spoken question with letters only, asked at once."""
    services.put_in_quick(_room(request, sitting_id), body.options)
    return _console(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/room/quick/key", response=Console)
def say_quick_key(request: HttpRequest, sitting_id: int, body: QuickKey) -> Console:
    services.say_quick_key(_room(request, sitting_id), body.letter.lower())
    return _console(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/room/order", response=Console)
def reorder(request: HttpRequest, sitting_id: int, body: Order) -> Console:
    services.reorder(_room(request, sitting_id), body.refs)
    return _console(request, sitting_id)


@router.put("/sittings/{int:sitting_id}/room/wall", response=Console)
def set_wall(request: HttpRequest, sitting_id: int, body: WallSet) -> Console:
    services.set_wall(_room(request, sitting_id), body.names, body.seconds, body.names_to_pick)
    return _console(request, sitting_id)


@router.post("/sittings/{int:sitting_id}/room/answers", response=Console)
def answer_for(request: HttpRequest, sitting_id: int, body: AnswerFor) -> Console:
    """The teacher answers for a student who cannot; on record as the teacher's."""
    room = _room(request, sitting_id)
    round = services.current_round(room)
    if round is None:
        raise DomainError(_("No question has been asked yet."))
    response = body.response or answers.by_letter(answers.content_of(room, round.item), body.letter)
    answers.give(round.pk, body.seat, response, source="teacher")
    return _console(request, sitting_id)


def _room(request: HttpRequest, sitting_id: int) -> Room:
    return services.room_of(teacher_of(request), sitting_id, "run")


def _console(request: HttpRequest, sitting_id: int) -> Console:
    return console_of(services.room_of(teacher_of(request), sitting_id))
