"""Scans: taken in, read page by page, and concluded. Whatever is read stands on the disk before the next page."""

from collections.abc import Iterable
from hashlib import sha256
from pathlib import Path
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from django_tasks import task

from versomark.core.language import _, in_language
from versomark.core.sheets import BadScan, PageReading
from versomark.core.sheets.images import MAX_BYTES
from versomark.core.sheets.scanning import Readers, Task, picture_path
from versomark.core.sheets.sheet_map import batch_of
from versomark.school import disk, files
from versomark.school.accounts.public import Teacher, languages
from versomark.school.delivery.public import sittings_of
from versomark.school.errors import DomainError, NotFound
from versomark.school.turns import Area, working_on

from .models import Batch, Page, Reading, Scan, ScanState, Sheet, Source
from .outcome import checked, conclude
from .printing import maps_folder

UNFINISHED = (ScanState.WAITING, ScanState.READING)


def scans_of(teacher: Teacher) -> QuerySet[Scan]:
    return Scan.objects.filter(owner=teacher)


def scan_of(teacher: Teacher, scan_id: UUID) -> Scan:
    scan = scans_of(teacher).filter(pk=scan_id).first()
    if scan is None:
        raise NotFound(_("scan"))
    return scan


def folder_of(scan: Scan) -> Path:
    return Path(settings.DATA) / "paper" / "scans" / str(scan.pk)


def file_of(scan: Scan) -> Path:
    """Named by its id alone: what the sender called it becomes part of no path."""
    return folder_of(scan) / "scan"


def picture_of(page: Page) -> Path:
    path = picture_path(folder_of(page.scan) / "pages", page.number - 1, page.place)
    files.here(path)
    return path


def take_scan(
    teacher: Teacher, name: str, chunks: Iterable[bytes], source: Source = Source.UPLOAD, reply_to: str = ""
) -> Scan:
    """Keep a file and have it read. The same file again is the scan it was before, unless that was broken off."""
    scan = Scan(owner=teacher, name=_plain(name), source=source, reply_to=reply_to[:200])
    disk.refuse_when_full()
    path = file_of(scan)
    path.parent.mkdir(parents=True, exist_ok=True)
    digest, size = sha256(), 0
    with path.open("wb") as stored:
        for chunk in chunks:
            size += len(chunk)
            if size > MAX_BYTES:
                break
            digest.update(chunk)
            stored.write(chunk)
    if size <= MAX_BYTES:
        files.keep(path)
    else:
        _forget(path)
        raise DomainError(
            _("{name} is larger than {value} MB. Send it in parts.", name=scan.name, value=MAX_BYTES // 2**20),
            status=413,
        )
    with transaction.atomic():
        scan.digest, scan.bytes = digest.hexdigest(), size
        known = scans_of(teacher).filter(digest=scan.digest).exclude(state=ScanState.REFUSED).first() if size else None
        if known is not None:
            _forget(path)
            return again(known) if known.state == ScanState.CANCELLED else known
        scan.save()
        transaction.on_commit(lambda: read_scan.enqueue(str(scan.pk)))
    return scan


def cancel(scan: Scan) -> Scan:
    """Stop reading. What was read stays and counts for nothing until the reading goes on."""
    if not Scan.objects.filter(pk=scan.pk, state__in=UNFINISHED).update(state=ScanState.CANCELLED):
        raise DomainError(_("This scan has been read already."))
    scan.refresh_from_db()
    return scan


def again(scan: Scan) -> Scan:
    """Go on where it was broken off: a page that was read is not read twice."""
    if Scan.objects.filter(pk=scan.pk, state=ScanState.CANCELLED).update(state=ScanState.WAITING):
        transaction.on_commit(lambda: read_scan.enqueue(str(scan.pk)))
    scan.refresh_from_db()
    return scan


def remove(scan: Scan) -> None:
    """Take a scan out of the inbox that brought nothing: no sheet of any class is on it."""
    if scan.state in UNFINISHED or scan.pages.exclude(sheet=None).exists():
        raise DomainError(_("This scan holds sheets of a class; it stays, so that every answer can be looked up."))
    folder = folder_of(scan)
    scan.delete()
    files.remove_folder(folder)


def resume_unfinished() -> None:
    """Have everything read that was waiting or half read when the service stopped."""
    Scan.objects.filter(state=ScanState.READING).update(state=ScanState.WAITING)
    for scan in Scan.objects.filter(state=ScanState.WAITING):
        read_scan.enqueue(str(scan.pk))


@task()
def read_scan(scan_id: str) -> None:
    """Read a scan from where it stands to its end. Doing it twice is the same as once."""
    if not Scan.objects.filter(pk=scan_id, state=ScanState.WAITING).update(state=ScanState.READING):
        return
    scan = Scan.objects.select_related("owner__school").get(pk=scan_id)
    # What is doubtful is kept as it is said, so it is said in the language of whoever sent the scan.
    with in_language(languages.of_teacher(scan.owner)), working_on(Area(scan.owner.school_id)):
        _read_to_the_end(scan)


def _read_to_the_end(scan: Scan) -> None:
    # Their maps are large, and most lie in the folder already.
    batches = list(Batch.objects.filter(sitting__in=sittings_of(scan.owner).values("pk")).only("code"))
    files.here(file_of(scan))
    with Readers(maps_folder(batches)) as readers:
        try:
            scan.page_count = readers.count(file_of(scan))
        except BadScan as error:
            scan.refusal, scan.state, scan.done_at = str(error), ScanState.REFUSED, timezone.now()
            scan.save(update_fields=["refusal", "state", "done_at"])
            _answered(scan)
            return
        scan.save(update_fields=["page_count"])
        _read_rest(scan, readers, {batch.code for batch in batches})
    if Scan.objects.filter(pk=scan.pk, state=ScanState.READING).exists():
        conclude(scan)
        _answered(scan)


def read_as(page: Page, sheet: Sheet, sheet_page: int) -> PageReading:
    """Read a page again as the sheet a person says it is."""
    files.here(file_of(page.scan))
    task = Task(
        file_of(page.scan),
        page.number - 1,
        folder_of(page.scan) / "pages",
        (sheet.name, sheet_page),
        languages.of_teacher(page.scan.owner),
    )
    with Readers(maps_folder([sheet.batch]), 1) as readers:
        for _first, results in readers.read([task]):
            _keep_pictures(folder_of(page.scan) / "pages", page.number - 1, len(results))
            return results[0]
    raise DomainError(_("The page could not be opened again."))


def _read_rest(scan: Scan, readers: Readers, known: set[str]) -> None:
    done = set(scan.pages.values_list("number", flat=True))
    pictures, spoken = folder_of(scan) / "pages", languages.of_teacher(scan.owner)
    tasks = [Task(file_of(scan), at, pictures, language=spoken) for at in range(scan.page_count) if at + 1 not in done]

    def stopped() -> bool:
        return not Scan.objects.filter(pk=scan.pk, state=ScanState.READING).exists()

    for read, results in readers.read(tasks, stopped):
        number = (read.page or 0) + 1
        _keep_pictures(pictures, number - 1, len(results))
        with transaction.atomic():
            for place, reading in enumerate(results):
                keep_page(Page(scan=scan, number=number, place=place), reading, known)
            scan.pages_read = scan.pages.values("number").distinct().count()
            scan.save(update_fields=["pages_read"])


def _keep_pictures(folder: Path, page: int, count: int) -> None:
    for place in range(count):
        path = picture_path(folder, page, place)
        if path.exists():
            files.keep(path)


def keep_page(page: Page, reading: PageReading, known: set[str]) -> Page:
    """Store what was read. A sheet of a batch this teacher has no part in is a foreign page, whoever printed it."""
    sheet = None
    if reading.sheet and batch_of(reading.sheet) in known:
        sheet = Sheet.objects.select_related("batch__sitting", "seat").filter(name=reading.sheet).first()
    page.problem = reading.problem if sheet or not reading.sheet else "foreign"
    page.note, page.sheet, page.sheet_page = reading.note[:300], sheet, reading.sheet_page if sheet else 0
    page.form = reading.form
    page.boxes = [{"item": box.item, **vars(box.place)} for box in reading.boxes if box.written]
    page.seat = sheet.seat if sheet else None
    if sheet and page.seat is None and reading.student.isdigit():
        page.seat = sheet.batch.sitting.seats.filter(desk=int(reading.student)).first()
    if sheet and page.seat is None and not page.problem:
        page.problem = "which student"
    page.save()
    if sheet:
        reads = checked(sheet.batch.sitting, reading)
        page.readings.all().delete()
        Reading.objects.bulk_create(
            Reading(
                page=page,
                item=read.item,
                answer=read.answer[:200],
                state=read.state,
                confidence=read.confidence,
                note=read.note[:300],
                **vars(read.place),
            )
            for read in reads
        )
    return page


def _answered(scan: Scan) -> None:
    from .scan_summary import tell

    tell(scan)


def _plain(name: str) -> str:
    return "".join(letter if letter.isprintable() and letter not in "/\\" else "_" for letter in name)[-200:] or "scan"


def _forget(path: Path) -> None:
    files.remove(path)
    path.parent.rmdir()
