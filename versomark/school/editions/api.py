from datetime import datetime
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.core.editions import StudentPaper
from versomark.school.bank.api import ItemPage, item_page
from versomark.school.http import Done, teacher_of

from . import services
from .models import Edition, Test

router = Router(tags=["tests"])


class EditionLine(Schema):
    id: int
    number: int
    title: str
    questions: int
    marks: float
    frozen_at: datetime


class TestLine(Schema):
    id: int
    title: str
    questions: int
    changed_at: datetime
    editions: list[EditionLine]


class TestPage(TestLine):
    instructions: str
    items: list[ItemPage]
    problems: list[str]


class NewTest(Schema):
    title: str = Field("", max_length=200)


class TestChange(Schema):
    title: str = Field(max_length=200)
    instructions: str = Field("", max_length=4000)
    items: list[UUID] = Field(max_length=300)


def edition_line(edition: Edition) -> EditionLine:
    content = edition.read()
    return EditionLine(
        id=edition.pk,
        number=edition.number,
        title=content.title,
        questions=sum(1 for _ in content.items()),
        marks=content.total_marks,
        frozen_at=edition.frozen_at,
    )


def _line(test: Test) -> TestLine:
    return TestLine(
        id=test.pk,
        title=test.title,
        questions=len(test.places.all()),
        changed_at=test.changed_at,
        editions=[edition_line(edition) for edition in test.editions.all()],
    )


def _page(test: Test) -> TestPage:
    return TestPage(
        **_line(test).model_dump(),
        instructions=test.instructions,
        items=[item_page(item) for item in services.items_in(test)],
        problems=services.problems(test),
    )


@router.get("/tests", response=list[TestLine])
def tests(request: HttpRequest) -> list[TestLine]:
    return [_line(test) for test in services.tests_of(teacher_of(request))]


@router.post("/tests", response=TestPage)
def make_test(request: HttpRequest, body: NewTest) -> TestPage:
    return _page(services.make_test(teacher_of(request), body.title))


@router.get("/tests/{int:test_id}", response=TestPage)
def test_page(request: HttpRequest, test_id: int) -> TestPage:
    return _page(services.test_of(teacher_of(request), test_id))


@router.put("/tests/{int:test_id}", response=TestPage)
def keep_test(request: HttpRequest, test_id: int, body: TestChange) -> TestPage:
    test = services.test_of(teacher_of(request), test_id)
    return _page(services.keep_test(test, body.title, body.instructions, body.items))


@router.delete("/tests/{int:test_id}", response=Done)
def remove_test(request: HttpRequest, test_id: int) -> Done:
    services.remove_test(services.test_of(teacher_of(request), test_id))
    return Done()


@router.get("/tests/{int:test_id}/preview", response=StudentPaper)
def preview(request: HttpRequest, test_id: int) -> StudentPaper:
    return services.preview(services.test_of(teacher_of(request), test_id))


@router.post("/tests/{int:test_id}/freeze", response=EditionLine)
def freeze(request: HttpRequest, test_id: int) -> EditionLine:
    return edition_line(services.freeze(services.test_of(teacher_of(request), test_id)))
