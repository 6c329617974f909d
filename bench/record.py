"""The record of a class of 35 over 120 sittings, through the whole of Django in process: opened for the first time, as
every sitting has to be analysed, and again."""

import time
from datetime import timedelta
from typing import TYPE_CHECKING
from uuid import uuid4

import numpy as np

from bench.in_process import staffroom

if TYPE_CHECKING:
    from tests.conftest import Staffroom

STUDENTS, SITTINGS, QUESTIONS, TESTS = 35, 120, 20, 12
REPEATS = 5


def run() -> None:
    with staffroom() as staff:
        _measure(staff)


def _measure(staff: "Staffroom") -> None:
    from django.db import transaction
    from django.utils import timezone

    from tests.conftest import refs
    from versomark.core.items import ItemContent, Option, SingleChoice
    from versomark.core.items.single_choice import SingleChoiceResponse
    from versomark.school.delivery import services
    from versomark.school.delivery.models import Sitting
    from versomark.school.responses import answer_log

    rng, options = np.random.default_rng(1), [Option(id=letter, text=letter) for letter in "abcd"]

    def contents(test: int) -> list[ItemContent]:
        return [SingleChoice(stem=f"T{test} K{n}", options=options, key="a") for n in range(QUESTIONS)]

    first = staff.sitting(contents=contents(0), students=STUDENTS)
    editions = [first.edition, *(staff.sitting(contents=contents(n), students=0).edition for n in range(1, TESTS))]
    for number in range(SITTINGS):
        edition = editions[number % TESTS]
        sitting = services.open_sitting(services.plan(staff.teacher, edition, first.school_class, None))
        named = refs(sitting)
        with transaction.atomic():
            for seat in sitting.seats.values_list("pk", flat=True):
                for at, ref in enumerate(named, start=1):
                    response = SingleChoiceResponse(option=str(rng.choice(list("aaabcd"))))
                    answer_log.add(seat, uuid4(), at, ref, response, False)
            sitting.seats.update(state="handed in")
        begun = timezone.now() - timedelta(days=SITTINGS - number)
        Sitting.objects.filter(pk=sitting.pk).update(state="closed", opened_at=begun)

    def opened() -> float:
        begun = time.perf_counter()
        reply = staff.client.get(f"/api/v1/classes/{first.school_class_id}/record")
        assert len(reply.json()["sittings"]) == SITTINGS
        return 1000 * (time.perf_counter() - begun)

    new = opened()
    spent = [opened() for _ in range(REPEATS)]
    print(f"record, {STUDENTS} students x {SITTINGS} sittings: opens in {np.median(spent):.0f} ms (target 500)")
    print(f"  the first time, with every sitting analysed on the way: {new:.0f} ms")
