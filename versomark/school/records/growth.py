"""Growth of a class from one sitting to a later one: each student's gain, and the class's with its interval."""

import numpy as np
from pydantic import BaseModel

from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.core.language import _, in_figures
from versomark.core.stats import known
from versomark.core.stats.gains import gains
from versomark.school.errors import NotFound

from .class_record import ClassRecord, RecordSitting


class GrowthStudent(BaseModel):
    """Shares of the marks; None where a student has no total in one of the two."""

    student: int
    name: str
    before: float | None
    after: float | None
    gain: float | None
    normalised: float | None
    """What was gained of what could be (Hake 1998); None for who gained nothing, of whom it says nothing."""


class Growth(BaseModel):
    opening: str
    before: int | None
    after: int | None
    choices: list[RecordSitting]
    """Newest first."""
    students: list[GrowthStudent]
    """Who gained least first."""
    both: int
    """Students with a total in both."""
    mean_before: float | None
    mean_after: float | None
    normalised: float | None
    effect: float | None
    low: float | None
    high: float | None


def growth_in(record: ClassRecord, before: int | None, after: int | None) -> Growth:
    """From the baseline, or the oldest, to the newest, unless others are named. Shares are compared, so that a test of
    20 marks and one of 24 stand beside each other; that they ask as much is for the teacher to know."""
    places = {sitting.id: at for at, sitting in enumerate(record.sittings) if sitting.mean is not None}
    if (before is not None and before not in places) or (after is not None and after not in places):
        raise NotFound(_("sitting in this record"))
    marked = next((sitting.id for sitting in record.sittings if sitting.baseline and sitting.id in places), None)
    in_order = list(places)
    before = before or marked or (in_order[-1] if len(in_order) > 1 else None)
    # A short check that a few sat says nothing of the class.
    many = [entry for entry in in_order if 2 * _with_total(record, places[entry]) >= len(record.students)]
    after = after or next((entry for entry in [*many, *in_order] if entry != before), None)
    students = []
    for row in record.students:
        shares = [
            cell.share if at is not None and (cell := row.cells[at]) is not None else None
            for at in (places.get(before or 0), places.get(after or 0))
        ]
        one, other = shares
        gain = other - one if one is not None and other is not None else None
        room = 1 - one if one is not None else 0.0
        students.append(
            GrowthStudent(
                student=row.student,
                name=row.name,
                before=one,
                after=other,
                gain=gain,
                normalised=gain / room if gain is not None and gain >= 0 and room > 1e-9 else None,
            )
        )
    students.sort(key=lambda student: (student.gain is None, student.gain or 0.0))
    pairs = np.array([(s.before, s.after) for s in students if s.gain is not None], float).reshape(-1, 2)
    result = gains(pairs[:, 0], pairs[:, 1], 1.0) if len(pairs) else None
    growth = Growth(
        opening="",
        before=before,
        after=after,
        choices=[sitting for sitting in record.sittings if sitting.id in places],
        students=students,
        both=len(pairs),
        mean_before=float(pairs[:, 0].mean()) if len(pairs) else None,
        mean_after=float(pairs[:, 1].mean()) if len(pairs) else None,
        normalised=known(result.mean_normalised) if result else None,
        effect=result.effect if result else None,
        low=result.low if result else None,
        high=result.high if result else None,
    )
    return growth.model_copy(update={"opening": _opening(growth)})


def _with_total(record: ClassRecord, at: int) -> int:
    return sum(cell is not None and cell.share is not None for cell in (row.cells[at] for row in record.students))


def _opening(growth: Growth) -> str:
    """The sentences that matter, for a teacher."""
    if len(growth.choices) < 2:
        return _("Growth needs two sittings that are over.")
    if growth.mean_before is None or growth.mean_after is None:
        return _("No student has a total in both.")
    apart = growth.mean_after - growth.mean_before
    sentences = [
        _(
            "From {mean_before} of the marks to {mean_after}, over the {both} students who have both.",
            mean_before=in_figures(growth.mean_before, ".0%"),
            mean_after=in_figures(growth.mean_after, ".0%"),
            both=growth.both,
        )
    ]
    if growth.both < FEWEST_STUDENTS or growth.effect is None or growth.low is None or growth.high is None:
        sentences.append(_("Too few to say whether that is more than chance."))
    elif growth.low > 0:
        sentences.append(
            _("The class has grown by {effect} standard deviations.", effect=in_figures(growth.effect, ".1f"))
        )
    elif growth.high < 0:
        sentences.append(
            _("The class has fallen back by {value} standard deviations.", value=in_figures(-growth.effect, ".1f"))
        )
    else:
        sentences.append(_("Chance alone could make as large a difference."))
    fallen = [student.name for student in growth.students if student.gain is not None and student.gain <= -0.1]
    if fallen and apart > 0:
        more = _(" and {value} more", value=len(fallen) - 4) if len(fallen) > 4 else ""
        sentences.append(_("Against the others went down: {list}{more}.", list=", ".join(fallen[:4]), more=more))
    return " ".join(sentences)
