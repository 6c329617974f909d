"""Work that goes away from the desk and comes back. Students are known by number here, never by seat."""

from pathlib import Path
from uuid import UUID

from django.http import FileResponse, HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile

from versomark.core.language import _
from versomark.school.delivery.public import Seat, sitting_of
from versomark.school.errors import NotFound
from versomark.school.http import attachment, file_out, played, teacher_of
from versomark.school.responses import public as responses
from versomark.school.responses.public import HandedInFile

from . import offline_package, services
from .models import ReturnedFile
from .numbers import names_hidden
from .queries import rubric_item
from .schemas import AwayDone, AwayFile, AwayLook, AwayMark

router = Router(tags=["marking"])


@router.get("/sittings/{int:sitting_id}/marking/away/zip", response={200: None})
def work_as_zip(request: HttpRequest, sitting_id: int) -> HttpResponse:
    """All work that a person marks, a folder a student, with a marks sheet."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    return file_out(offline_package.work_as_zip(sitting), "application/zip", f"work-{sitting.pk}.zip")


@router.post("/sittings/{int:sitting_id}/marking/away/look", response=AwayLook)
def look(request: HttpRequest, sitting_id: int, file: File[UploadedFile]) -> AwayLook:
    """What of it is understood; nothing is written before it is put in."""
    teacher = teacher_of(request)
    sitting = sitting_of(teacher, sitting_id, "mark")
    upload, results = offline_package.keep_upload(teacher, sitting, file.read())
    hidden = names_hidden(sitting)

    def name(seat: Seat) -> str:
        return "" if hidden else seat.student.short_name

    return AwayLook(
        upload=upload.pk,
        marks=[
            AwayMark(
                number=mark.number,
                name=name(mark.seat),
                question=mark.row.question,
                points=sum(mark.row.points.values()),
                of=rubric_item(sitting, mark.ref)[1].rubric.total,
                comment=mark.row.comment,
                found=mark.found,
            )
            for mark in results.marks
            if mark.found != "same"
        ],
        same=sum(mark.found == "same" for mark in results.marks),
        files=[
            AwayFile(
                number=file.number,
                name=name(file.seat),
                question=services.number_of(sitting, file.ref),
                file=file.name,
                bytes=len(file.data),
            )
            for file in results.files
        ],
        unchanged=results.unchanged,
        problems=results.problems,
    )


@router.post("/sittings/{int:sitting_id}/marking/away/{uuid:upload_id}", response=AwayDone)
def put_in(request: HttpRequest, sitting_id: int, upload_id: UUID) -> AwayDone:
    """Everything that was understood."""
    teacher = teacher_of(request)
    done = offline_package.put_in(teacher, sitting_of(teacher, sitting_id, "mark"), upload_id)
    return AwayDone(**done._asdict())


@router.get("/sittings/{int:sitting_id}/marking/returned/{uuid:file_id}", response={200: None})
def returned_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file that was put in with remarks, as an attachment."""
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    returned = ReturnedFile.objects.filter(pk=file_id, seat__sitting=sitting).first()
    return attachment(offline_package.stored_file(returned))


@router.get("/sittings/{int:sitting_id}/marking/handed-in/{uuid:file_id}", response={200: None})
def handed_in_file(request: HttpRequest, sitting_id: int, file_id: UUID) -> FileResponse:
    """A file as its student handed it in, as an attachment."""
    return attachment(_handed_in(request, sitting_id, file_id))


@router.get("/sittings/{int:sitting_id}/marking/handed-in/{uuid:file_id}/played", response={200: None})
def handed_in_file_played(request: HttpRequest, sitting_id: int, file_id: UUID) -> HttpResponse | FileResponse:
    """The same, where it is sound or a film, to hear or to look at."""
    return played(request, _handed_in(request, sitting_id, file_id))


def _handed_in(request: HttpRequest, sitting_id: int, file_id: UUID) -> tuple[Path, str]:
    sitting = sitting_of(teacher_of(request), sitting_id, "mark")
    file = HandedInFile.objects.filter(pk=file_id, seat__sitting=sitting).first()
    stored = responses.stored_file(file)
    if stored is None or names_hidden(sitting):
        raise NotFound(_("file"))  # its name may be its student's; the marking desk gives it out without
    return stored
