"""Feedback sheets of a class of 32 with five questions to ask again: in one piece, in steps that tell how far they are,
and as a document, all in one run."""

import time
from typing import TYPE_CHECKING
from uuid import uuid4

import numpy as np

from bench.in_process import staffroom

if TYPE_CHECKING:
    from tests.conftest import Staffroom

STUDENTS, QUESTIONS = 32, 4
SKILLS = ("Current", "Voltage", "Resistance", "Power", "Energy")
REPEATS = 3


def run() -> None:
    with staffroom() as staff:
        _measure(staff)


def _measure(staff: "Staffroom") -> None:
    from tests.conftest import refs
    from versomark.core.items import Option, SingleChoice
    from versomark.core.items.single_choice import SingleChoiceResponse
    from versomark.school.bank.services import Details, make_item
    from versomark.school.classes.services import add_students, make_class
    from versomark.school.delivery import services
    from versomark.school.editions.services import freeze, keep_items, make_test
    from versomark.school.feedback import feedback_sheets
    from versomark.school.responses import answer_log

    rng, options = np.random.default_rng(1), [Option(id=letter, text=f"the answer {letter}") for letter in "abcd"]

    def question(skill: str, number: int) -> object:
        content = SingleChoice(stem=rf"{skill} {number}: what is $\frac{{U}}{{I}}$ here?", options=options, key="a")
        return make_item(staff.teacher, content, Details([skill])).pk

    asked = [question(skill, number) for skill in SKILLS for number in range(QUESTIONS)]
    for skill in SKILLS:
        question(skill, QUESTIONS)
    school_class = make_class(staff.teacher, "8 Bench")
    add_students(school_class, [f"Student{n} Bench" for n in range(STUDENTS)])
    test = keep_items(make_test(staff.teacher, "Bench"), "Bench", "", asked)  # type: ignore[arg-type]
    sitting = services.open_sitting(services.plan(staff.teacher, freeze(test), school_class, None))
    for seat in sitting.seats.values_list("pk", flat=True):
        for at, ref in enumerate(refs(sitting), start=1):
            response = SingleChoiceResponse(option=str(rng.choice(list("aabcd"))))
            answer_log.add(seat, uuid4(), at, ref, response, False)
    sitting.seats.update(state="handed in")
    sitting = services.close_sitting(sitting)

    def spent(at_once: int, form: feedback_sheets.Form = "pdf") -> tuple[float, float]:
        """Seconds to the first word of how far it is, and to the file; the best of some."""
        results = []
        for _ in range(REPEATS):
            feedback_sheets.AT_ONCE, begun, first = at_once, time.perf_counter(), 0.0
            for step in feedback_sheets.written(staff.teacher, sitting, form=form):
                if step.done and not first:
                    first = time.perf_counter() - begun
            results.append((first, time.perf_counter() - begun))
        return min(results, key=lambda result: result[1])

    steps = feedback_sheets.AT_ONCE
    spent(STUDENTS)  # fonts and formulas are read once
    _, whole = spent(STUDENTS)
    first, told = spent(steps)
    _, document = spent(steps, "docx")
    print(f"feedback sheets, {STUDENTS} students, {len(SKILLS)} questions to ask again (target 6 s)")
    print(f"  in one piece       {whole:.2f} s")
    print(f"  in steps of {steps}      {told:.2f} s, {told / whole:.2f} of it; the first word after {first:.2f} s")
    print(f"  as a document      {document:.2f} s")
