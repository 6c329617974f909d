"""Marking away from the desk: all work of a sitting as a zip, and what comes back, looked at before it counts."""

import io
import re
import zipfile
from collections.abc import Iterator
from hashlib import sha256
from html import escape
from pathlib import Path, PurePosixPath
from typing import Literal, NamedTuple
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from versomark.core.formats.marks_sheet import (
    FilledRow,
    SheetCriterion,
    SheetQuestion,
    SheetRow,
    read_sheet,
    write_sheet,
)
from versomark.core.formats.untrusted import SafeZip, UnreadableFileError
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import WrittenResponse
from versomark.core.language import _
from versomark.core.scoring import to_mark
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import EventKind, Seat, Sitting, record
from versomark.school.errors import DomainError, NotFound
from versomark.school.files import here, keep, remove

from .models import AwayUpload, HiddenNames, MarkingPass, MarkState, ReturnedFile
from .numbers import names_hidden, numbered
from .queries import by_hand, marks_by_pass, rubric_item, waived_in
from .services import MarkGiven, answer_of, give, responses_in
from .work import file_of, handwriting, work_of

MARKS = "marks.xlsx"
MOST_BYTES = 200 * 1024 * 1024
_FOLDER = re.compile(r"(?:no\.?\s*)?0*(\d+)\b", re.IGNORECASE)
_FILE = re.compile(r"question\s+(\d+)\b", re.IGNORECASE)
_RESERVED = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)(\..*)?$", re.IGNORECASE)


def safe_name(name: str) -> str:
    """A name that is one part of a path on any computer: nothing leads out of the folder or is hidden in it."""
    clean = re.sub(r"[\x00-\x1f\x7f<>:\"/\\|?*\u200e\u200f\u202a-\u202e\u2066-\u2069]", "_", name).strip(" .")[-80:]
    clean = clean.strip(" .") or "file"
    return f"_{clean}" if _RESERVED.match(clean) else clean


def folder_of(number: int, seat: Seat, hidden: bool) -> str:
    return f"{number:02d}" if hidden else safe_name(f"{number:02d} {seat.student.short_name}")


def work_as_zip(sitting: Sitting) -> bytes:
    """A folder a student with everything a person marks, and the marks sheet with what is marked so far."""
    hidden, seats = names_hidden(sitting), numbered(sitting)
    responses = responses_in(sitting, list(seats.values()))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(MARKS, _marks(sitting, seats, responses, hidden))
        for number, seat in seats.items():
            folder, used = folder_of(number, seat, hidden), set[str]()
            for name, data in _files(sitting, seat, responses[seat.pk], hidden):
                unique = name
                for again in range(2, 100):
                    if unique.casefold() not in used:
                        break
                    unique = f"{PurePosixPath(name).stem} ({again}){PurePosixPath(name).suffix}"
                used.add(unique.casefold())
                packed.writestr(f"{folder}/{unique}", data)
    return out.getvalue()


def _files(sitting: Sitting, seat: Seat, given: dict[str, ItemResponse], hidden: bool) -> Iterator[tuple[str, bytes]]:
    for ref, printed in _printed(sitting).items():
        response = given.get(ref)
        work = work_of(response, hidden)
        if isinstance(response, WrittenResponse) and response.text:
            yield (
                f"question {printed}.html",
                _page(_("Question {printed}", printed=printed), work.text),
            )
        if work.by_hand:
            yield f"question {printed}.jpg", handwriting(seat, ref, response)
        for file in work.files:
            name = f"question {printed}, {safe_name(file.name)}"
            yield name, file_of(seat, response, file.place).read_bytes()


def _page(title: str, html: str) -> bytes:
    """A written answer as a page of its own; the text was cleaned when it came in."""
    return f'<!doctype html><meta charset="utf-8"><title>{escape(title)}</title><h1>{escape(title)}</h1>{html}'.encode()


def _printed(sitting: Sitting) -> dict[str, int]:
    """By item that a person marks here, its number on the paper."""
    mine = set(by_hand(sitting)) - waived_in([sitting])[sitting.pk]
    return {item.ref: at for at, item in enumerate(sitting.edition.read().items(), start=1) if item.ref in mine}


def _questions(sitting: Sitting) -> dict[str, SheetQuestion]:
    return {
        ref: SheetQuestion(
            printed,
            tuple(
                SheetCriterion(criterion.id, criterion.name, criterion.max)
                for criterion in rubric_item(sitting, ref)[1].rubric.criteria
            ),
        )
        for ref, printed in _printed(sitting).items()
    }


def _marks(
    sitting: Sitting, seats: dict[int, Seat], responses: dict[int, dict[str, ItemResponse]], hidden: bool
) -> bytes:
    needed = to_mark(sitting.edition.read(), {str(seat): given for seat, given in responses.items()})
    standing = marks_by_pass(sitting)[MarkingPass.FIRST]
    pages = []
    for ref, question in _questions(sitting).items():
        rows = []
        for number, seat in seats.items():
            if str(seat.pk) not in needed[ref]:
                continue
            mark = standing.get((seat.pk, ref))
            kept_mark = mark if mark and mark.state == MarkState.KEPT else None
            name = "" if hidden else seat.student.full_name
            rows.append(
                SheetRow(number, name, kept_mark.points if kept_mark else {}, kept_mark.comment if kept_mark else "")
            )
        pages.append((question, rows))
    return write_sheet(pages, names=not hidden)


Found = Literal["new", "other", "same"]


class UploadedMark(NamedTuple):
    """A mark of the sheet, beside what stands."""

    seat: Seat
    number: int
    ref: str
    row: FilledRow
    found: Found
    instead_of: int | None
    """The mark that stood when it was looked at."""


class FoundFile(NamedTuple):
    """A file of a student's folder that is not what went out."""

    seat: Seat
    number: int
    ref: str
    name: str
    data: bytes


class UploadPreview(NamedTuple):
    """What an upload would do; nothing is written by looking."""

    marks: list[UploadedMark]
    files: list[FoundFile]
    unchanged: int
    """Files that are as they went out."""
    problems: list[str]
    """What was not understood, in words."""


def look(sitting: Sitting, data: bytes) -> UploadPreview:
    """Raises NotPossible for what is neither such a zip nor a marks sheet."""
    try:
        return _look(sitting, data)
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None


def _look(sitting: Sitting, data: bytes) -> UploadPreview:
    if len(data) > MOST_BYTES:
        raise UnreadableFileError(_("This file is larger than {value} MB.", value=MOST_BYTES // 2**20))
    problems, files, unchanged = list[str](), list[FoundFile](), 0
    sheet: bytes | None = data
    zipped = SafeZip(data) if data.startswith(b"PK") else None
    if zipped is not None and "[Content_Types].xml" not in zipped.names:
        sheets = [name for name in zipped.names if PurePosixPath(name).name.casefold() == MARKS]
        sheet = zipped.read(sheets[0]) if sheets else None
        files, unchanged = _look_at_files(sitting, zipped, problems)
    marks = _look_at_marks(sitting, sheet, problems) if sheet is not None else []
    return UploadPreview(marks, files, unchanged, problems)


def _look_at_marks(sitting: Sitting, sheet: bytes, problems: list[str]) -> list[UploadedMark]:
    questions, seats, were_hidden = _questions(sitting), numbered(sitting), _were_hidden(sitting)
    refs = {question.number: ref for ref, question in questions.items()}
    filled = read_sheet(sheet, list(questions.values()))
    problems += filled.problems
    standing, results = marks_by_pass(sitting)[MarkingPass.FIRST], dict[tuple[int, str], UploadedMark]()
    for row in filled.rows:
        ref, seat = refs[row.question], seats.get(row.number)
        where = _("Question {question}, number {number}", question=row.question, number=row.number)
        if seat is None:
            problems.append(_("{where}: nobody who handed in has this number.", where=where))
            continue
        if problem := _another(seat, row.name, were_hidden):
            problems.append(f"{where}: {problem}")
            continue
        if refused := rubric_item(sitting, ref)[1].rubric.refuses(row.points):
            problems.append(f"{where}: {refused[0]}")
            continue
        if any(value < 0 or value % 0.5 for value in row.points.values()):
            problems.append(_("{where}: points go by halves from 0.", where=where))
            continue
        if (seat.pk, ref) in results:
            problems.append(_("{where} stands twice; the first row is taken.", where=where))
            continue
        mark = standing.get((seat.pk, ref))
        kept_mark = mark if mark and mark.state == MarkState.KEPT else None
        # A workbook does not keep where the lines of a comment ended.
        same = (
            kept_mark is not None
            and kept_mark.points == row.points
            and kept_mark.comment.split() == row.comment.split()
        )
        state: Found = "same" if same else "other" if kept_mark else "new"
        results[seat.pk, ref] = UploadedMark(seat, row.number, ref, row, state, mark.pk if mark else None)
    return list(results.values())


def _were_hidden(sitting: Sitting) -> bool:
    """Whether names were hidden once and are shown now: numbers that went out then mean others."""
    return HiddenNames.objects.filter(sitting=sitting).exclude(shown_at=None).exists()


def _another(seat: Seat, name: str, were_hidden: bool) -> str:
    """Why a number may mean somebody else by now, in words; empty where it does not. Numbers change when names are
    shown, and when a student gets another desk."""
    if not name and were_hidden:
        return _("it went out while names were hidden, under numbers that hold no more. Take the work out again.")
    if name and name.casefold().split() != seat.student.full_name.casefold().split():
        return _(
            "the sheet says {name}, and the number is that of {other} now.", name=name, other=seat.student.full_name
        )
    return ""


def _look_at_files(sitting: Sitting, zipped: SafeZip, problems: list[str]) -> tuple[list[FoundFile], int]:
    seats, printed = numbered(sitting), _printed(sitting)
    refs = {number: ref for ref, number in printed.items()}
    responses, hidden = responses_in(sitting, list(seats.values())), names_hidden(sitting)
    went_out = {
        seat.pk: {sha256(data).digest() for _, data in _files(sitting, seat, responses[seat.pk], hidden)}
        for seat in seats.values()
    }
    results, unchanged, were_hidden = [], 0, _were_hidden(sitting)
    for path in zipped.names:
        parts = PurePosixPath(path).parts
        if parts[-1].casefold() == MARKS or parts[-1].startswith((".", "~$")) or "__MACOSX" in parts:
            continue
        folder = _FOLDER.match(parts[-2]) if len(parts) > 1 else None
        seat = seats.get(int(folder[1])) if folder and len(folder[1]) < 6 else None
        question = _FILE.match(parts[-1])
        ref = refs.get(int(question[1])) if question and len(question[1]) < 5 else None
        if seat is None or folder is None:
            problems.append(_("{path}: its folder is no number of a student.", path=path[:120]))
        elif were_hidden and parts[-2].strip().isdigit():
            problems.append(_("{path}: it went out while names were hidden. Take the work out again.", path=path[:120]))
        elif ref is None:
            problems.append(_("{path}: its name does not begin with the question it belongs to.", path=path[:120]))
        elif sha256(data := zipped.read(path)).digest() in went_out[seat.pk]:
            unchanged += 1
        else:
            results.append(FoundFile(seat, int(folder[1]), ref, safe_name(parts[-1]), data))
    return results, unchanged


@transaction.atomic
def keep_upload(by: Teacher, sitting: Sitting, data: bytes) -> tuple[AwayUpload, UploadPreview]:
    """Look at an upload and keep it aside, to be put in when its teacher says so."""
    preview = look(sitting, data)
    upload = AwayUpload.objects.create(sitting=sitting, by=by)
    path = upload_path(upload)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)
    keep(path)
    return upload, preview


def upload_path(upload: AwayUpload) -> Path:
    return Path(settings.DATA) / "away" / str(upload.pk)


def returned_path(file: ReturnedFile) -> Path:
    """Named by its id alone."""
    return Path(settings.DATA) / "returned" / str(file.pk)


def stored_file(returned: ReturnedFile | None) -> tuple[Path, str] | None:
    """Where a file that was put in with remarks lies, and what it is called."""
    return None if returned is None else (returned_path(returned), returned.name)


class PutIn(NamedTuple):
    marks: int
    aside: int
    """Given while a colleague gave another; kept beside it."""
    files: int


@transaction.atomic
def put_in(by: Teacher, sitting: Sitting, upload_id: UUID) -> PutIn:
    """Everything that was understood, at once. Doing it twice is the same as once."""
    upload = AwayUpload.objects.filter(pk=upload_id, sitting=sitting, by=by).first()
    if upload is None:
        raise NotFound(_("upload"))
    if upload.put_in_at is not None:
        return PutIn(0, 0, 0)
    if not here(upload_path(upload)):
        raise NotFound(_("upload"))
    preview = look(sitting, upload_path(upload).read_bytes())
    marks = aside = 0
    for mark in preview.marks:
        if mark.found != "same":
            # A mark that a colleague gave since the zip was made was seen by nobody who filled in the sheet.
            seen = mark.instead_of if _was_there(mark, upload) else None
            outcome = give(
                by, mark.seat, mark.ref, MarkGiven(mark.row.points, mark.row.comment, draft=False, seen=seen)
            )
            marks, aside = marks + outcome.stands, aside + (not outcome.stands)
    for file in preview.files:
        returned_file = ReturnedFile.objects.create(
            seat=file.seat,
            item=file.ref,
            answer_id=answer_of(file.seat, file.ref),
            name=file.name,
            bytes=len(file.data),
            by=by,
        )
        path = returned_path(returned_file)
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(file.data)
        keep(path)
    upload.put_in_at = timezone.now()
    upload.save(update_fields=["put_in_at"])
    record(sitting, by, EventKind.MARKED_AWAY, marks=marks, files=len(preview.files))
    transaction.on_commit(lambda: remove(upload_path(upload)))
    return PutIn(marks, aside, len(preview.files))


def _was_there(found_mark: UploadedMark, upload: AwayUpload) -> bool:
    """Whether the mark that stands stood when the upload was looked at."""
    mark = marks_by_pass(upload.sitting, [found_mark.seat.pk])[MarkingPass.FIRST].get(
        (found_mark.seat.pk, found_mark.ref)
    )
    return mark is not None and mark.at <= upload.at


def returned_to(seat: Seat, ref: str | None = None) -> list[ReturnedFile]:
    """Files with the marker's remarks, of the answers that stand."""
    returned_files = seat.returned_files.select_related("by")
    if ref is not None:
        returned_files = returned_files.filter(item=ref)
    return [entry for entry in returned_files if entry.answer_id == answer_of(seat, entry.item)]
