from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from versomark.school.delivery.public import AFTER, BEFORE, RUNNING, settled_sittings_of
from versomark.school.delivery.schemas import sitting_line
from versomark.school.editions.public import question_count
from versomark.school.http import teacher_of
from versomark.school.paper.public import waiting_in

from . import services
from .schemas import Desk, FoundLine, NewsLine, ToMark, ToSettle, UnfinishedTest

router = Router(tags=["desk"])


@router.get("/desk", response=Desk)
def desk(request: HttpRequest) -> Desk:
    teacher = teacher_of(request)
    sittings = settled_sittings_of(teacher)
    lines = [sitting_line(sitting) for sitting in sittings]
    last = timezone.now().max.replace(tzinfo=timezone.get_current_timezone())
    waiting = [line for line in lines if line.state in BEFORE]
    closed = [line for line in lines if line.state in AFTER]
    latest = services.latest_closed(sittings)
    news = services.news(latest)
    places = waiting_in([line.id for line in lines])
    unfinished = services.unfinished_tests(teacher)
    shared = services.shared_work(teacher)
    return Desk(
        open=[line for line in lines if line.state in RUNNING],
        waiting=sorted(waiting, key=lambda line: line.planned_for or last),
        absent=[line for line in closed if line.handed_in < line.seats][:3],
        to_settle=[ToSettle(sitting=line, places=places[line.id]) for line in lines if line.id in places],
        to_mark=[
            ToMark(sitting=sitting_line(sitting), answers=answers)
            for sitting, answers in services.to_mark(sittings, latest)
        ],
        shared=shared,
        unfinished=[
            UnfinishedTest(id=test.pk, title=test.title, questions=question_count(test)) for test in unfinished
        ],
        news=[
            NewsLine(
                sitting=new.sitting.pk,
                title=new.sitting.edition.content["title"],
                class_name=new.sitting.school_class.name,
                students=new.students,
                too_few=new.too_few,
                first=new.first,
                flagged=new.flagged,
            )
            for new in news
        ],
        first_path=services.first_path(teacher, sittings),
        empty=not lines and not unfinished and not shared,
    )


@router.get("/find", response=list[FoundLine])
def find(request: HttpRequest, typed: str) -> list[FoundLine]:
    return [FoundLine(**vars(line)) for line in services.find(teacher_of(request), typed)]
