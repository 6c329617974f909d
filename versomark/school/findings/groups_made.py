"""Groups of a class made from what was found: who gave an answer, who holds an idea."""

from collections.abc import Sequence

from versomark.core.findings.ideas import same_idea
from versomark.core.language import _
from versomark.school.classes.public import Group, keep_group, places_of
from versomark.school.delivery.public import Sitting
from versomark.school.errors import DomainError, NotFound

from .report import FindingsReport
from .services import findings_of


def group_of_idea(sitting: Sitting, idea: str, name: str) -> Group:
    """A group of the class, of those who more likely hold an idea than not."""
    findings = findings_of(sitting)
    body = FindingsReport.model_validate(findings.body) if findings else None
    figures = next((entry for entry in body.ideas if same_idea(entry.idea) == idea), None) if body else None
    if figures is None:
        raise NotFound(_("idea"))
    seats = [int(entry.student) for entry in figures.students if entry.p >= 0.5]
    return _keep(
        sitting,
        seats,
        _("{title}, who seems to think: {idea}", title=sitting.edition.content["title"], idea=figures.idea),
        name,
    )


def group_from(sitting: Sitting, ref: str, answer: str | None, name: str) -> Group:
    """A group of the class, of those who gave this answer to a question; None for those who gave none."""
    findings = findings_of(sitting)
    body = FindingsReport.model_validate(findings.body) if findings else None
    question = next((question for question in body.paper if question.ref == ref), None) if body else None
    if question is None:
        raise NotFound(_("question"))
    if answer is None:
        seats, origin = question.not_given, _("no answer")
    else:
        option = next((option for option in question.options if option.option == answer), None)
        if option is None:
            raise NotFound(_("answer"))
        seats, origin = option.seats, f"{answer}: {option.idea_note or option.text}"
    made_from = _(
        "{title}, question {number}, {origin}",
        title=sitting.edition.content["title"],
        number=question.number,
        origin=origin,
    )
    return _keep(sitting, seats, made_from, name)


def _keep(sitting: Sitting, seats: Sequence[int], made_from: str, name: str) -> Group:
    if not seats:
        raise DomainError(_("There is nobody to put together."))
    # Who has left the class since is no longer somebody to teach again.
    here = places_of(sitting.school_class).values("student_id")
    students = sitting.seats.filter(pk__in=seats, student__in=here).values_list("student_id", flat=True)
    return keep_group(sitting.school_class, name, list(students), made_from=made_from)
