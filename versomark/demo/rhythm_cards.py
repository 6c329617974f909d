"""The part of Kestrel Bay School with checks one to one: the Rhythm Club reads rhythm cards beside the teacher."""

from datetime import timedelta

import numpy as np
from django.utils import timezone

from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Sitting
from versomark.school.editions.public import freeze, keep_described, make_described
from versomark.school.one_to_one.public import CardNote
from versomark.school.records.public import place_sitting
from versomark.school.responses import public as responses

from .sat import frozen_before

TITLE = "Rhythm cards"
CARDS = (
    ("Two crotchets", "♩ ♩", -2.0),
    ("Crotchet, two quavers", "♩ ♫", -1.2),
    ("Quavers first", "♫ ♩", -1.0),
    ("Four quavers", "♫ ♫", -0.8),
    ("A rest between", "♩ rest ♩", -0.3),
    ("Rest first", "rest ♩ ♫", 0.1),
    ("Four semiquavers", "♬♬ ♩", 0.3),
    ("Dotted crotchet", "♩. ♪ ♩", 0.9),
    ("Off the beat", "♪ ♩ ♪", 1.1),
    ("Three in the time of two", "♪♪♪ (3) ♩", 1.4),
)
STARTED, BASELINE_DAYS, NOW_DAYS, GROWTH = 5, 28, 1, 0.9


def load(teacher: Teacher, school_class: SchoolClass, rng: np.random.Generator) -> None:
    """A baseline some weeks ago, and a later try of which a part is done. Abilities are standard normal, and have grown
    by GROWTH logits; a card is known with probability 1 / (1 + exp(−1.6 (θ − difficulty)))."""
    groups = [
        ExternalGroup(ref=f"{at:x}", label=label, marks=1, skills=["Reading rhythm"], about=about)
        for at, (label, about, _) in enumerate(CARDS, start=1)
    ]
    edition = freeze(keep_described(make_described(teacher, TITLE), TITLE, ExternalAssessment(groups=groups)))
    students = school_class.places.count()
    abilities = rng.standard_normal(students)
    for days, grown, count in ((BASELINE_DAYS, 0.0, students), (NOW_DAYS, GROWTH, STARTED)):
        when = timezone.localtime().replace(hour=14, minute=30, second=0, microsecond=0) - timedelta(days=days)
        sitting = delivery.plan(teacher, edition, school_class, when)
        columns, cells = responses.columns_of(sitting), list[responses.Mark]()
        for place, seat in enumerate(sitting.seats.order_by("desk")[:count]):
            # The last one that was begun was stopped half way by the bell.
            asked = columns[: len(columns) // 2] if days == NOW_DAYS and place == count - 1 else columns
            for column, (_, _, difficulty) in zip(asked, CARDS, strict=False):
                known = rng.random() < 1 / (1 + np.exp(-1.6 * (abilities[place] + grown - difficulty)))
                cells.append(responses.Mark(seat.pk, column.ref, float(known)))
        responses.keep_marks(sitting, cells, {})
        if days == BASELINE_DAYS:
            frozen_before(edition, when - timedelta(days=1))
            delivery.close_sitting(sitting)
            Sitting.objects.filter(pk=sitting.pk).update(made_at=when, closed_at=when + timedelta(minutes=40))
            place_sitting(sitting, None, True, baseline=True)
        else:
            seat = sitting.seats.order_by("desk")[0]
            CardNote.objects.create(seat=seat, item=columns[7].ref, text="Counts the dot as a rest.", by=teacher)
