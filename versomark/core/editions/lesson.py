"""An edition as a lesson: pages and questions one after another, as a teacher goes through them in the room."""

from typing import Literal

from versomark.core.items.base import Frozen

from .edition import Edition, Ref, TeachingPage


class LessonStep(Frozen):
    """One thing to show. `quick`: a question made up on the spot, spoken, with letters only."""

    ref: Ref
    kind: Literal["page", "question", "quick"]


def lesson_steps(edition: Edition) -> list[LessonStep]:
    """Pages and questions in printed order."""
    steps = list[LessonStep]()
    for section in edition.sections:
        before = {group.at: group.pages for group in section.pages}
        for at, item in enumerate(section.items):
            steps += [LessonStep(ref=page.ref, kind="page") for page in before.get(at, [])]
            steps.append(LessonStep(ref=item.ref, kind="question"))
        steps += [LessonStep(ref=page.ref, kind="page") for page in before.get(len(section.items), [])]
    return steps


def lesson_page(edition: Edition, ref: str) -> TeachingPage | None:
    pages = (page for section in edition.sections for group in section.pages for page in group.pages)
    return next((page for page in pages if page.ref == ref), None)
