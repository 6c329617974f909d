"""Who gave what, when, instead of what: every mark of a sitting that was ever kept, as a table."""

from django.utils import timezone

from versomark.core.language import N_, _
from versomark.school.delivery.public import Sitting
from versomark.school.tables_out import Cell, inert

from .models import CurrentMark, Mark, MarkState
from .numbers import names_hidden, numbered
from .queries import rubric_item
from .second_marking import unread

HEADS = (
    N_("When"), N_("By"), N_("Reading"), N_("Question"), N_("Place"), N_("Student"), N_("Family name"),
    N_("Given name"), N_("Number"), N_("Points"), N_("Of"), N_("Instead of"), N_("Comment"), N_("Stands"),
)  # fmt: skip

BESIDE: dict[str, str] = {MarkState.ASIDE: N_("beside it, to be chosen"), MarkState.PASSED: N_("not chosen")}


def history_of(sitting: Sitting) -> list[list[Cell]]:
    """A row a mark, in the order in which they were given. While names are hidden a student is a number. Marks of an
    answer that still waits for its second reading are left out: it is read blind."""
    hidden = names_hidden(sitting)
    numbers = {seat.pk: number for number, seat in numbered(sitting).items()}
    students = {} if hidden else {seat.pk: seat.student for seat in numbered(sitting).values()}
    standing = set(CurrentMark.objects.filter(seat__sitting=sitting).values_list("mark", flat=True))
    printed = {item.ref: at for at, item in enumerate(sitting.edition.read().items(), start=1)}
    before: dict[tuple[int, str, str], float] = {}
    blind = unread(sitting)
    rows: list[list[Cell]] = []
    marks = Mark.objects.filter(seat__sitting=sitting).exclude(state=MarkState.DRAFT).select_related("by")
    for mark in marks.order_by("pk"):
        if (mark.seat_id, mark.item) in blind:
            continue
        key = (mark.seat_id, mark.item, mark.turn)
        student = students.get(mark.seat_id)
        points = float(sum(mark.points.values()))
        rows.append(
            [
                f"{timezone.localtime(mark.at):%Y-%m-%d %H:%M}",
                inert(mark.by.name),
                mark.turn,
                printed[mark.item],
                numbers.get(mark.seat_id, ""),
                *(
                    map(inert, (student.full_name, student.family_name, student.given_name, student.number))
                    if student
                    else ("", "", "", "")
                ),
                points,
                rubric_item(sitting, mark.item)[1].rubric.total,
                before.get(key, ""),
                inert(mark.comment),
                _("yes") if mark.pk in standing else _(BESIDE.get(mark.state, "")),
            ]
        )
        if mark.state == MarkState.KEPT:
            before[key] = points
    return rows
