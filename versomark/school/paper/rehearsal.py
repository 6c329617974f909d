"""A scan without a printer or a copier, in the demo school: simulated students fill the sheets, a simulated copier
scans them, and the file comes in through the same door as a real one."""

import re
import tempfile
from pathlib import Path

import numpy as np

from versomark.core.items import EditionContent
from versomark.core.sheets.sheet_map import SheetMap
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, SeatState
from versomark.school.errors import DomainError
from versomark.stand_ins.answers_of_any_kind import respond
from versomark.stand_ins.copier import Answers, copy

from .doubtful_marks import open_readings, settle
from .models import Batch, Scan, Source
from .outcome import contents_of
from .printing import sheets_pdf
from .scanning import read_scan, take_scan

_GRID = re.compile(r"-?\d*\.?\d*")
AWAY = 0.08
"""Share of the class that has no sheet in the pile."""


def rehearse(teacher: Teacher, batch: Batch, wear: float, seed: int) -> Scan:
    """Fill and scan the sheets of a batch whose students have not answered yet."""
    if not teacher.school.is_demo:
        raise DomainError("Sheets can be filled by simulated students in the demo school only.", status=403)
    sheet_map = batch.read_map()
    rng = np.random.default_rng(seed)
    answers = _answers(batch, sheet_map, rng)
    if not answers:
        raise DomainError("Every student of this batch has answered already.")
    return _scanned(teacher, batch, f"Rehearsal {batch.code}.pdf", answers, wear, seed)


def fill_and_read(teacher: Teacher, batch: Batch, answers: Answers, seed: int) -> Scan:
    """Sheets filled with these answers, scanned and read at once; what the reader doubts is looked at by the teacher,
    who sees what stands there.

    answers: desk number -> question -> what is filled in, as `rehearse` makes them.
    """
    scan = _scanned(teacher, batch, f"{batch.sitting.school_class.name}.pdf", answers, 0.2, seed)
    read_scan.call(str(scan.pk))
    scan.refresh_from_db()
    for reading in open_readings(teacher, batch.sitting):
        if reading.page.seat is not None:
            settle(teacher, reading, answers[str(reading.page.seat.desk)].get(reading.item, ""))
    return scan


def _scanned(teacher: Teacher, batch: Batch, name: str, answers: Answers, wear: float, seed: int) -> Scan:
    with tempfile.TemporaryDirectory() as folder:
        sheets, scan = Path(folder) / "sheets.pdf", Path(folder) / "scan.pdf"
        sheets.write_bytes(sheets_pdf(batch))
        # At 300 dpi the simulation takes long enough to bore a newcomer; 200 is what copiers are usually set to.
        copy(sheets, batch.read_map(), answers, scan, seed=seed, wear=wear, most_dpi=200)
        return take_scan(teacher, name, [scan.read_bytes()], Source.REHEARSAL)


def _answers(batch: Batch, sheet_map: SheetMap, rng: np.random.Generator) -> dict[str, dict[str, str]]:
    expected = (SeatState.EXPECTED, SeatState.ABSENT, SeatState.AT_THE_DOOR)
    seats = Seat.objects.filter(sheets__batch=batch, state__in=expected).select_related("sitting__edition")
    answers = {}
    for seat in seats.order_by("desk"):
        ability = float(rng.normal(0.3, 1))
        given = {
            ref: _circles(content, sheet_map, ref, ability, rng)
            for ref, content in contents_of(seat.sitting, seat.form).items()
            if ref in sheet_map.kinds
        }
        if rng.random() >= AWAY:
            answers[str(seat.desk)] = given
    return answers


def _circles(content: EditionContent, sheet_map: SheetMap, ref: str, ability: float, rng: np.random.Generator) -> str:
    """What this student fills in; the circles of a digit grid take digits only."""
    response = respond(content, ability, 0.0, rng)
    if response is None:
        return ""
    sheet = content.to_sheet(response)
    if sheet_map.kinds[ref] == "numeric":
        digits = _GRID.match(sheet.replace("−", "-"))
        sheet = digits[0] if digits else ""
        columns = 1 + max(int(b.option.split(":")[0]) for b in sheet_map.sheets[0].bubbles if b.item == ref)
        return sheet if len(sheet) <= columns else ""
    return sheet
