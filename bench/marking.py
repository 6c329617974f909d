"""The marking desk with 300 students and 6 written questions, and a key settled in a test of 60 questions: through the
whole of Django in process, the next answer as the desk asks for it ahead."""

import time
from typing import TYPE_CHECKING, Any
from uuid import uuid4

import numpy as np

from bench.in_process import staffroom

if TYPE_CHECKING:
    from tests.conftest import Staffroom

STUDENTS, WRITTEN, KEYED = 300, 6, 60
ANSWERS = 60
"""Marked one after another."""


def run() -> None:
    with staffroom() as staff:
        _measure(staff)


def _measure(staff: "Staffroom") -> None:
    from django.db import transaction

    from tests.conftest import refs
    from versomark.core.items import ItemContent, Option, SingleChoice
    from versomark.core.items.by_rubric import Written
    from versomark.core.items.rubric import Criterion, Rubric
    from versomark.school.delivery import services
    from versomark.school.responses import answer_log

    rubric = Rubric(criteria=[Criterion(id="a", name="A", max=3), Criterion(id="b", name="B", max=2)])
    options = [Option(id=letter, text=letter) for letter in "abcd"]
    keyed: list[ItemContent] = [SingleChoice(stem=f"K{n}", options=options, key="a") for n in range(KEYED)]
    written: list[ItemContent] = [Written(stem=f"W{n}", marks=5, rubric=rubric) for n in range(WRITTEN)]
    rng = np.random.default_rng(1)

    def sat(contents: list[ItemContent]) -> tuple[int, list[str]]:
        sitting = staff.open_sitting(contents=contents, students=STUDENTS)
        named = refs(sitting)
        kinds = {item.ref: item.content for item in sitting.edition.read().items()}
        with transaction.atomic():
            for seat in sitting.seats.values_list("pk", flat=True):
                for at, ref in enumerate(named, start=1):
                    answer_log.add(seat, uuid4(), at, ref, _answer(kinds[ref], rng), False)
            sitting.seats.update(state="handed in")
        services.close_sitting(sitting)
        return sitting.pk, named

    def timed(method: str, path: str, body: Any = None) -> float:
        begun = time.perf_counter()
        reply = getattr(staff.client, method)(path, body, content_type="application/json")
        assert reply.status_code == 200, (path, reply.content[:200])
        return 1000 * (time.perf_counter() - begun)

    sitting, named = sat(written)
    root = f"/api/v1/sittings/{sitting}/marking"
    timed("get", root)
    page = timed("get", root)
    order = [(ref, number) for ref in named for number in range(1, STUDENTS + 1)][:ANSWERS]
    asked = [timed("get", f"{root}/{ref}/{number}") for ref, number in order]
    kept = [timed("put", f"{root}/{ref}/{number}", {"points": {"a": 2, "b": 1}}) for ref, number in order]
    print(f"marking, {STUDENTS} students x {WRITTEN} written questions")
    print(f"  the desk opens in {page:.0f} ms")
    for name, spent, target in (("the next answer", asked, " (target 100)"), ("a mark kept", kept, "")):
        print(f"  {name:<16} median {np.median(spent):5.1f} ms   p95 {np.percentile(spent, 95):5.1f} ms{target}")
    sitting, named = sat(keyed)
    path = f"/api/v1/sittings/{sitting}/settling/{named[0]}/effect"
    effects = [timed("post", path, {"accepted": [letter]}) for letter in "abcdab"]
    print(f"settling, {STUDENTS} students x {KEYED} questions: the effect in {np.median(effects):.0f} ms (target 500)")


def _answer(content: Any, rng: Any) -> Any:
    from versomark.core.items.by_rubric import WrittenResponse
    from versomark.core.items.single_choice import SingleChoiceResponse

    if content.kind == "written":
        return WrittenResponse(text="So it is, because the loop is one. " * int(rng.integers(2, 12)))
    return SingleChoiceResponse(option=str(rng.choice(list("abcd"))))
