"""The main pages of a teacher with ten years behind them: 2,000 students in 72 classes, 20,000 questions, 400 sittings.
Server time by page, and how many statements of SQL each asks, with a tenth of the sittings and with all of them."""

import time
from collections.abc import Iterator
from typing import Any
from uuid import uuid4

import numpy as np

from bench.in_process import staffroom

CLASSES, STUDENTS_A_CLASS, ITEMS, SITTINGS, QUESTIONS = 72, 28, 20_000, 400, 10
TIMES = 25


def run() -> None:
    with staffroom() as school:
        made = _Decade(school)
        made.sittings(SITTINGS // 10)
        before = dict(made.queries())
        made.sittings(SITTINGS - SITTINGS // 10)
        print(f"pages of one teacher: {CLASSES * STUDENTS_A_CLASS} students, {ITEMS} questions, {SITTINGS} sittings")
        print(f"  {'page':<34} {'median':>8} {'p95':>8} ms   statements at a tenth, and at all (target p95 300)")
        for name, count in made.queries():
            spent = [made.spent(name) for _ in range(TIMES)]
            p50, p95 = np.percentile(spent, [50, 95])
            print(f"  {name:<34} {p50:8.0f} {p95:8.0f}      {before[name]:>4} {count:>4}", flush=True)


class _Decade:
    def __init__(self, school: Any) -> None:
        from tests.conftest import two_questions
        from versomark.school.bank import search
        from versomark.school.bank.models import Item
        from versomark.school.bank.services import Details, make_item
        from versomark.school.classes.services import add_students, make_class
        from versomark.school.editions.services import freeze, keep_items, make_test

        self.school = school
        self.classes = []
        for at in range(CLASSES):
            made = make_class(school.teacher, f"Class {at}")
            add_students(made, [f"Given{at}x{n} Family{n}" for n in range(STUDENTS_A_CLASS)])
            self.classes.append(made)
        two = two_questions()
        asked = [make_item(school.teacher, two[at % 2], Details([f"Skill {at}"])) for at in range(QUESTIONS)]
        first = asked[0]
        words = ["current", "lamp", "battery", "series", "parallel", "meter", "charge", "resistor"]
        Item.objects.bulk_create(
            Item(
                owner=school.teacher,
                content=first.content,
                kind=first.kind,
                ready=True,
                words=f"{words[at % 8]} {words[at // 8 % 8]} number {at}",
            )
            for at in range(ITEMS - QUESTIONS)
        )
        search.index(Item.objects.filter(index_row=None))
        # A paper is given to a score of classes.
        self.editions = []
        for at in range(SITTINGS // 20):
            test = keep_items(
                make_test(school.teacher, f"T{at}"), f"Test {at}", "Read well.", [one.pk for one in asked]
            )
            self.editions.append(freeze(test))
        self.rng = np.random.default_rng(3)

    def sittings(self, count: int) -> None:
        """Given, answered by all, closed."""
        from django.utils import timezone

        from versomark.school.delivery import services
        from versomark.school.delivery.models import Seat, SeatState
        from versomark.school.responses.models import Answer, CurrentAnswer

        for at in range(count):
            edition = self.editions[at % len(self.editions)]
            items = list(edition.read().items())
            planned = services.plan(self.school.teacher, edition, self.classes[at % CLASSES], None)
            sitting = services.open_sitting(planned)
            seats, now = list(sitting.seats.all()), timezone.now()
            answers = Answer.objects.bulk_create(
                Answer(
                    seat=seat, client_id=uuid4(), sequence=1, item=item.ref, kept_at=now,
                    response={"kind": "single_choice", "option": "abcd"[int(self.rng.integers(4))]}
                    if item.content.kind == "single_choice"
                    else {"kind": "true_false", "value": bool(self.rng.integers(2))},
                )
                for seat in seats
                for item in items
            )  # fmt: skip
            CurrentAnswer.objects.bulk_create(
                CurrentAnswer(seat=answer.seat, item=answer.item, answer=answer) for answer in answers
            )
            Seat.objects.filter(sitting=sitting).update(state=SeatState.WORKING, started_at=now)
            services.close_sitting(sitting)
            self.last = sitting

    def pages(self) -> dict[str, str]:
        some_class, sitting = self.classes[0].pk, self.last.pk
        return {
            "desk": "desk",
            "classes": "classes",
            "a class": f"classes/{some_class}",
            "bank": "items?most=50",
            "bank, by words": "items?search=lamp%20batt&most=50",
            "tests": "tests",
            "sittings": "sittings",
            "a sitting": f"sittings/{sitting}",
            "results": f"sittings/{sitting}/results",
            "findings": f"sittings/{sitting}/findings",
            "marking": "marking",
            "record of a class": f"classes/{some_class}/record",
        }

    def call(self, name: str) -> None:
        reply = self.school.client.get(f"/api/v1/{self.pages()[name]}")
        assert reply.status_code == 200, (name, reply.status_code, reply.content[:200])

    def spent(self, name: str) -> float:
        begun = time.perf_counter()
        self.call(name)
        return 1000 * (time.perf_counter() - begun)

    def queries(self) -> Iterator[tuple[str, int]]:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        for name in self.pages():
            self.call(name)
            with CaptureQueriesContext(connection) as captured:
                self.call(name)
            yield name, len(captured)
