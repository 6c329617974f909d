"""Answer sheets for a sitting: made once as a batch with its map, drawn again whenever they are printed."""

import secrets
from collections.abc import Sequence
from pathlib import Path
from typing import Literal, NamedTuple

from django.conf import settings
from django.db import transaction

from versomark.core.language import N_, _, in_language, is_right_to_left
from versomark.core.sheets import SheetSpec, SheetStudent, lay_out
from versomark.core.sheets.drawing import draw
from versomark.core.sheets.layout import DoesNotFit
from versomark.core.sheets.lettering import missing_in
from versomark.core.sheets.of_edition import SheetPlan, sheet_plan
from versomark.core.sheets.spec import CODE_LENGTH, CODE_LETTERS, Paper
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting, settle_readiness
from versomark.school.errors import DomainError, NotFound

from .models import Batch, Sheet

LargePoints = Literal[18, 24]
FEW_QUESTIONS = N_("A sheet cannot take any question of this test; print the booklet with room for answers.")


def plan_of(sitting: Sitting) -> SheetPlan:
    return sheet_plan(sitting.edition.read())


@transaction.atomic
def print_batch(
    teacher: Teacher,
    sitting: Sitting,
    paper: Paper = "A4",
    spare: int = 0,
    date: str = "",
    large: LargePoints = 18,
    seat_ids: Sequence[int] | None = None,
    halves: bool = False,
) -> Batch:
    """Sheets for the whole class in desk order, or for some of it. The date is words on the paper and nothing else."""
    settle_readiness(sitting)
    seats = list(sitting.seats.select_related("student").order_by("desk"))
    if seat_ids is not None:
        seats = [seat for seat in seats if seat.pk in set(seat_ids)]
        if len(seats) < len(set(seat_ids)):
            raise NotFound(_("seat"))
    if not seats and not spare:
        raise DomainError(
            _("{name} has no students yet, so there is nobody to print for.", name=sitting.school_class.name)
        )
    plan = plan_of(sitting)
    if not plan.items:
        raise DomainError(_(FEW_QUESTIONS))
    language = sitting.edition.read().language
    with in_language(language):
        mirrored = is_right_to_left()
    spec = SheetSpec(
        title=sitting.edition.content["title"],
        subtitle=" · ".join(part for part in (sitting.school_class.name, teacher.name, date.strip()) if part),
        paper=paper,
        halves=halves,
        items=plan.items,
        forms=plan.forms,
        numbers=plan.numbers,
        students=[
            SheetStudent(
                number=seat.desk,
                name=seat.student.full_name,
                form=seat.form,
                points=large if seat.student.large_print else 0,
            )
            for seat in seats
        ],
        spare=spare,
        cover=seat_ids is None,
        right_to_left=mirrored,
        code=_unused_code(),
    )
    try:
        with in_language(language):
            layout = lay_out(spec)
    except DoesNotFit as error:
        raise DomainError(_("{error} Print whole pages.", error=error), status=422) from None
    batch = Batch.objects.create(
        sitting=sitting,
        code=layout.map.batch,
        made_by=teacher,
        spec=spec.model_dump(mode="json"),
        packed_map=Batch.pack(layout.map),
    )
    pages: dict[str, int] = {}
    for page in layout.map.sheets:
        pages[page.sheet] = page.page
    owners: list[Seat | None] = [*seats, *([None] * (len(pages) - len(seats)))]
    Sheet.objects.bulk_create(
        Sheet(batch=batch, name=name, seat=seat, pages=count)
        for (name, count), seat in zip(pages.items(), owners, strict=True)
    )
    return batch


class Unprintable(NamedTuple):
    """Something that is to be printed with letters that no shipped typeface has."""

    name: str
    letters: str


def unprintable(sitting: Sitting) -> list[Unprintable]:
    """Of the title, the class and the names of its students: told before anything is printed."""
    names = [sitting.edition.content["title"], sitting.school_class.name]
    names += [seat.student.full_name for seat in sitting.seats.select_related("student").order_by("desk")]
    return [Unprintable(name, letters) for name in names if (letters := missing_in(name))]


def sheets_pdf(batch: Batch) -> bytes:
    """The sheets, as they were when the batch was made: the same spec gives the same drawing."""
    spec = SheetSpec.model_validate(batch.spec)
    with in_language(batch.sitting.edition.read().language):
        return draw(spec, lay_out(spec))


def maps_folder(batches: Sequence[Batch]) -> Path:
    """A folder with the map of each batch, for the reader. The database holds them; here they are at hand."""
    folder = Path(settings.DATA) / "paper" / "maps"
    folder.mkdir(parents=True, exist_ok=True)
    for batch in batches:
        path = folder / f"{batch.code}.json"
        if not path.exists():
            fresh = path.with_suffix(".new")
            fresh.write_bytes(batch.map_json())
            fresh.rename(path)
    return folder


def _unused_code() -> str:
    while True:
        code = "".join(secrets.choice(CODE_LETTERS) for _ in range(CODE_LENGTH))
        if not Batch.objects.filter(code=code).exists():
            return code
