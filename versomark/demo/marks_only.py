"""The part of Kestrel Bay School with a test given elsewhere: its marks are being keyed in."""

from datetime import timedelta

import numpy as np
from django.utils import timezone

from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.core.items.marks_only import MarksOnlyResponse
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery import public as delivery
from versomark.school.editions.public import freeze, keep_described, make_described
from versomark.school.responses import public as responses
from versomark.stand_ins.answers_of_any_kind import respond

TITLE = "Density, practical test"
LINES = (
    ("1", 3, "Measuring", "read a balance and a measuring cylinder", ""),
    ("2a", 2, "Measuring; Units", "volume of a stone by displacement", "Volume of a key in a cylinder, from a picture"),
    ("2b", 3, "Density", "its density, with the unit", "Density of 54 g of metal that displaces 20 cm³"),
    ("3", 4, "Density", "which of three liquids floats on which, and why", "Where would oil of 0.9 g/cm³ settle?"),
    ("4–5", 6, "Planning", "plan a fair test; name what is kept the same", ""),
    ("6", 4, "Explaining with particles", "why ice floats, with a drawing", ""),
)
KEYED_IN, AWAY, DAYS_AGO = 17, 6, 5


def load(teacher: Teacher, school_class: SchoolClass, rng: np.random.Generator) -> None:
    """Most of the class keyed in, one student away, one row half done."""
    groups = [
        ExternalGroup(
            ref=f"{at:x}", label=label, marks=marks, skills=skills.split("; "), about=about, follow_up=follow_up
        )
        for at, (label, marks, skills, about, follow_up) in enumerate(LINES, start=1)
    ]
    test = keep_described(make_described(teacher, TITLE), TITLE, ExternalAssessment(groups=groups))
    when = timezone.localtime().replace(hour=12, minute=0, second=0, microsecond=0) - timedelta(days=DAYS_AGO)
    sitting = delivery.plan(teacher, freeze(test), school_class, when)
    columns = responses.columns_of(sitting)
    cells, presence = list[responses.Mark](), dict[int, responses.Presence]()
    for place, seat in enumerate(sitting.seats.order_by("desk")[: KEYED_IN + 1], start=1):
        if place == AWAY:
            presence[seat.pk] = "absent"
            continue
        ability = float(rng.standard_normal())
        for at, column in enumerate(columns[: 3 if place > KEYED_IN else None]):
            earned = respond(column.content, ability, 0.5 * at - 1, rng)
            points = earned.points if isinstance(earned, MarksOnlyResponse) else 0.0
            cells.append(responses.Mark(seat.pk, column.ref, points))
    responses.keep_marks(sitting, cells, presence)
