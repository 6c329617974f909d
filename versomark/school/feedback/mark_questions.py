"""What students ask about their marks, with what a teacher needs to answer it: the answer, and its history."""

from typing import NamedTuple

from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.grading.public import MarkQuestion, Shown, answer_question, ask, asked_in, by_hand

from .student_result import ShownQuestion, StudentResult, student_result


class AskedLine(NamedTuple):
    question: MarkQuestion
    label: str
    stem: str
    gave: str
    of: float | None
    now: float | None
    """What the answer earns now."""
    by_hand: bool


def asked_lines(sitting: Sitting) -> list[AskedLine]:
    """Those that wait first."""
    hand, results, lines = by_hand(sitting), dict[int, StudentResult](), list[AskedLine]()
    for question in asked_in(sitting):
        if question.seat_id not in results:
            results[question.seat_id] = student_result(question.seat, Shown(True, False))
        shown = _shown(results[question.seat_id], question.item)
        if shown is not None:
            lines.append(
                AskedLine(
                    question,
                    shown.label,
                    plain(shown.stem),
                    shown.gave or plain(shown.text),
                    shown.of,
                    shown.marks,
                    question.item in hand,
                )
            )
    return lines


def _shown(result: StudentResult, item: str) -> ShownQuestion | None:
    return next((question for question in result.questions if question.item == item), None)


def ask_about(seat: Seat, item: str, reason: str, result: StudentResult) -> MarkQuestion:
    """Asked by its student, who has this result before them."""
    shown = _shown(result, item)
    return ask(seat, item, reason, shown.marks if shown else None)


def answer_asked(by: Teacher, sitting: Sitting, question_id: int, answer: str) -> MarkQuestion:
    question = MarkQuestion.objects.filter(pk=question_id, seat__sitting=sitting).select_related("seat").first()
    earned = None
    if question is not None:
        shown = _shown(student_result(question.seat, Shown(True, False)), question.item)
        earned = shown.marks if shown else None
    return answer_question(by, sitting, question_id, answer, earned)
