from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from versomark.school.editions.services import question_count
from versomark.school.findings.report import FlagNote
from versomark.school.http import teacher_of
from versomark.school.paper.doubtful_marks import waiting_in
from versomark.school.sittings.api import SittingLine, sitting_line
from versomark.school.sittings.services import AFTER, BEFORE, RUNNING, settled_sittings_of

from . import services

router = Router(tags=["desk"])


class NewsLine(Schema):
    sitting: int
    title: str
    class_name: str
    students: int
    too_few: bool
    first: FlagNote | None
    flagged: int


class UnfinishedTest(Schema):
    id: int
    title: str
    questions: int


class ToSettle(Schema):
    sitting: SittingLine
    places: int


class ToMark(Schema):
    sitting: SittingLine
    answers: int


class Desk(Schema):
    open: list[SittingLine]
    waiting: list[SittingLine]
    """Planned or ready, soonest first."""
    absent: list[SittingLine]
    """Closed lately with students who have not sat it."""
    to_settle: list[ToSettle]
    """Sittings with places on scanned sheets that wait."""
    to_mark: list[ToMark]
    """Of the sittings closed last, those with answers that wait for a person."""
    unfinished: list[UnfinishedTest]
    news: list[NewsLine]
    empty: bool


class FoundLine(Schema):
    kind: str
    title: str
    detail: str
    path: str


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
    return Desk(
        open=[line for line in lines if line.state in RUNNING],
        waiting=sorted(waiting, key=lambda line: line.planned_for or last),
        absent=[line for line in closed if line.handed_in < line.seats][:3],
        to_settle=[ToSettle(sitting=line, places=places[line.id]) for line in lines if line.id in places],
        to_mark=[
            ToMark(sitting=sitting_line(sitting), answers=answers) for sitting, answers in services.to_mark(latest)
        ],
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
        empty=not lines and not unfinished,
    )


@router.get("/find", response=list[FoundLine])
def find(request: HttpRequest, typed: str) -> list[FoundLine]:
    return [FoundLine(**vars(found)) for found in services.find(teacher_of(request), typed)]
