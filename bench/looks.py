"""Change and see: the figures of a class, and of five sittings of 400 put together, without a question, without a
student, with other groups; through the whole of Django in process, as the page asks for them."""

import time
from typing import TYPE_CHECKING
from uuid import uuid4

import numpy as np

from bench.in_process import staffroom

if TYPE_CHECKING:
    from tests.conftest import Staffroom

QUESTIONS, CLASS, SITTINGS, EACH = 40, 30, 5, 400
REPEATS = 5
LOOKS = ("", "/table", "/totals", "/scale")


def run() -> None:
    with staffroom() as staff:
        _measure(staff)


def _measure(staff: "Staffroom") -> None:
    from django.db import transaction

    from tests.conftest import refs
    from versomark.core.items import ItemContent, Option, SingleChoice
    from versomark.core.items.single_choice import SingleChoiceResponse
    from versomark.school.classes.services import add_students, make_class
    from versomark.school.delivery import services
    from versomark.school.delivery.models import Sitting
    from versomark.school.responses import answer_log

    teacher, client = staff.teacher, staff.client
    options = [Option(id=letter, text=letter) for letter in "abcd"]
    contents: list[ItemContent] = [SingleChoice(stem=f"K{n}", options=options, key="a") for n in range(QUESTIONS)]
    rng = np.random.default_rng(1)

    def answered(sitting: Sitting) -> Sitting:
        named = refs(sitting)
        with transaction.atomic():
            for seat in sitting.seats.values_list("pk", flat=True):
                able = rng.normal()
                for at, ref in enumerate(named, start=1):
                    right = able + rng.logistic() > (at / QUESTIONS - 0.5) * 3
                    option = "a" if right else str(rng.choice(list("bcd")))
                    answer_log.add(seat, uuid4(), at, ref, SingleChoiceResponse(option=option), False)
            sitting.seats.update(state="handed in")
        return services.close_sitting(sitting)

    def beside(first: Sitting, students: int) -> Sitting:
        other = make_class(teacher, f"Class {uuid4().hex[:6]}")
        add_students(other, [f"Student{n} Family" for n in range(students)])
        return answered(services.open_sitting(services.plan(teacher, first.edition, other, None)))

    def timed(path: str, **query: object) -> float:
        begun = time.perf_counter()
        reply = client.get(path, query)
        assert reply.status_code == 200, (path, reply.content[:200])
        return 1000 * (time.perf_counter() - begun)

    small = answered(staff.open_sitting(contents=contents, students=CLASS))
    large = answered(staff.open_sitting(contents=contents, students=EACH))
    others = ",".join(str(beside(large, EACH).pk) for _ in range(SITTINGS - 1))
    print(f"change and see, {QUESTIONS} questions, median of {REPEATS}")
    for sitting, students, also, target in (
        (small, CLASS, "", 300),
        (large, SITTINGS * EACH, others, 2000),
    ):
        ref, seat = refs(sitting)[3], sitting.seats.all()[0].pk
        for look in LOOKS:
            path = f"/api/v1/sittings/{sitting.pk}/findings{look}"
            scopes = [{"without": ref}, {"out": seat}, {"share": 33}]
            spent = [timed(path, also=also, **scopes[at % 3]) for at in range(REPEATS)]
            name = look.lstrip("/") or "paper"
            print(f"  {students:>5} students  {name:<7} {np.median(spent):6.0f} ms (target {target})")
