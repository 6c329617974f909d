"""A teacher with a class, questions and a sitting, for the tests that need a school."""

import os
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import settings

from versomark.core.items import ItemContent, Option, SingleChoice, TrueFalse
from versomark.school.accounts import watch
from versomark.school.accounts.models import Role, School, Teacher
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.models import Student
from versomark.school.classes.services import add_students, make_class, places_of
from versomark.school.delivery import services, steady
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, make_test

# A busy machine, or a first import of a large library, is slow and not wrong; speed is measured in bench/.
# The same way twice, so that a change is what a failure is about; `./verso test --long` looks elsewhere, and longer.
settings.register_profile("verso", deadline=None, derandomize=True)
settings.register_profile("long", deadline=None, max_examples=1000)
settings.load_profile(os.environ.get("VERSO_PROPERTIES", "verso"))

PASSWORD = "correct-horse-9"


def two_questions(key: str = "b", truth: bool = True, note: str = "the idea behind it") -> list[ItemContent]:
    options = [Option(id=name, text=f"Option {name}", idea_note=note) for name in "abcd"]
    return [
        SingleChoice(stem="Which one?", options=options, key=key),
        TrueFalse(stem="Is it so?", key=truth, idea_note=note),
    ]


@dataclass
class Staffroom:
    """One teacher, signed in, with what they need to hold a sitting."""

    teacher: Teacher
    client: Client

    def sitting(self, contents: list[ItemContent] | None = None, students: int = 3, skill: str = "A skill") -> Sitting:
        school_class = make_class(self.teacher, f"Class {uuid4().hex[:6]}")
        if students:
            add_students(school_class, [f"Student{n} Family" for n in range(1, students + 1)])
        items = [make_item(self.teacher, content, Details([skill])) for content in contents or two_questions()]
        test = keep_items(make_test(self.teacher, "T"), "A test", "Read well.", [item.pk for item in items])
        return services.plan(self.teacher, freeze(test), school_class, None)

    def open_sitting(self, **parts: Any) -> Sitting:
        return services.open_sitting(self.sitting(**parts))


def problems_of(refused: Any) -> list[str]:
    """What a refusal lists."""
    return [error["detail"] for error in refused.json().get("errors", [])]


def names_given_back() -> None:
    """Rename everybody there is, so that who comes now is shown as if they were the first of their name."""
    Student.objects.update(given_name="Somebody", family_name="Else", display_name="Somebody E.")


@dataclass
class Device:
    """A student's device at the API."""

    client: Client
    code: str
    pass_phrase: str

    def join(self) -> Any:
        return self.post("join", {"code": self.code, "pass_phrase": self.pass_phrase})

    def post(self, path: str, body: dict[str, Any] | None = None) -> Any:
        return self.client.post(f"/api/v1/student/{path}", body or {}, content_type="application/json")

    def seat(self) -> Any:
        return self.client.get("/api/v1/student/seat")

    def answer(self, item: str, response: dict[str, Any] | None, sequence: int, **more: Any) -> Any:
        change = {"client_id": str(uuid4()), "sequence": sequence, "item": item, "response": response, **more}
        return self.post("answers", {"changes": [change]})


def devices(sitting: Sitting) -> list[Device]:
    places = places_of(sitting.school_class)
    return [Device(Client(), sitting.code, place.student.pass_phrase) for place in places]


def refs(sitting: Sitting) -> list[str]:
    return [item.ref for item in sitting.edition.read().items()]


@pytest.fixture
def staffroom(db: None) -> Callable[[str], Staffroom]:
    """Makes teachers by name, each of a school of their own."""

    # Numbers begin anew with every test, and what was seen today is remembered by them.
    watch._seen.clear()

    def make(name: str = "brandt") -> Staffroom:
        school = School.objects.create(name=f"School of {name}")
        teacher = Teacher.objects.create_teacher(school, name.title(), name, PASSWORD, Role.ADMIN)
        client = Client()
        client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
        return Staffroom(teacher, client)

    return make


@pytest.fixture
def still(monkeypatch: pytest.MonkeyPatch) -> datetime:
    """A noon at which the clock stands: neither midnight nor a slow machine comes between two steps of a test."""
    noon = timezone.localtime().replace(hour=12, minute=0, second=0, microsecond=0)
    monkeypatch.setattr(timezone, "now", lambda: noon)
    monkeypatch.setattr(steady, "now", lambda: noon)
    monkeypatch.setattr(steady.clock, "jump", lambda: None)
    return noon


@pytest.fixture
def school(staffroom: Callable[[str], Staffroom]) -> Staffroom:
    return staffroom("brandt")


def pytest_configure() -> None:
    from django.conf import settings as django

    # Else every client of a test reads through all built pages first, which takes 40 ms.
    django.WHITENOISE_AUTOREFRESH = True
    # A good hash takes a third of a second by intent, and hundreds of teachers are made here. What the product uses is
    # said in `tests/school/test_teacher_side.py`.
    django.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher", *django.PASSWORD_HASHERS]


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Browser tests go last: once a browser has started, its event loop runs on until the end of the session,
    and no test with a loop of its own can run beside it."""
    items.sort(key=lambda item: "/e2e/" in item.path.as_posix())


@pytest.fixture(autouse=True)
def _nothing_left_over() -> None:
    """What the service holds in memory: wrong tries, and who has a connection. Ids come again in every test."""
    from django.core.cache import cache

    from versomark.school import shared
    from versomark.school.delivery import presence

    cache.clear()
    presence._open.clear()
    presence._look_again()
    shared.shared.cache_clear()
