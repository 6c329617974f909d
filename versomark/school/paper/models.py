from uuid import uuid4
from zlib import compress, decompress

from django.db import models

from versomark.core.sheets import SheetMap
from versomark.school.accounts.models import Teacher
from versomark.school.delivery.models import Seat, Sitting


class Batch(models.Model):
    """Sheets printed together for a sitting. The map never changes: what is on paper cannot."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="batches")
    code = models.CharField(max_length=6, unique=True)
    made_by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    spec = models.JSONField()
    """The JSON of `core.sheets.SheetSpec`: the same sheets can be drawn again from it."""
    packed_map = models.BinaryField()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.code} for {self.sitting}"

    def map_json(self) -> bytes:
        return decompress(self.packed_map)

    def read_map(self) -> SheetMap:
        return SheetMap.model_validate_json(self.map_json())

    @staticmethod
    def pack(sheet_map: SheetMap) -> bytes:
        return compress(sheet_map.model_dump_json().encode(), 6)


class Sheet(models.Model):
    """One student's sheet, of one page or several; a spare one belongs to nobody until its number is read."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="sheets")
    name = models.CharField(max_length=20, unique=True)
    seat = models.ForeignKey(Seat, on_delete=models.SET_NULL, null=True, related_name="sheets")
    pages = models.PositiveSmallIntegerField()

    def __str__(self) -> str:
        return self.name


class ScanState(models.TextChoices):
    WAITING = "waiting"
    READING = "reading"
    READ = "read"
    REFUSED = "refused"
    CANCELLED = "cancelled"


class Source(models.TextChoices):
    UPLOAD = "upload"
    FOLDER = "folder"
    MAIL = "mail"
    REHEARSAL = "rehearsal"


class Scan(models.Model):
    """A file that came from a copier or a phone."""

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="scans")
    name = models.CharField(max_length=200)
    source = models.CharField(max_length=10, choices=Source, default=Source.UPLOAD)
    reply_to = models.CharField(max_length=200, blank=True)
    """Whom to tell by mail what became of it."""
    digest = models.CharField(max_length=64)
    bytes = models.PositiveBigIntegerField()
    arrived_at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=ScanState, default=ScanState.WAITING)
    refusal = models.CharField(max_length=300, blank=True)
    page_count = models.PositiveIntegerField(default=0)
    pages_read = models.PositiveIntegerField(default=0)
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-arrived_at", "-pk"]

    def __str__(self) -> str:
        return self.name


class Page(models.Model):
    """A sheet seen in a scan: usually one a picture. What the reader saw of it never changes."""

    id = models.UUIDField(primary_key=True, default=uuid4, editable=False)
    scan = models.ForeignKey(Scan, on_delete=models.CASCADE, related_name="pages")
    number = models.PositiveIntegerField()
    """Of the scan, from 1."""
    place = models.PositiveSmallIntegerField(default=0)
    problem = models.CharField(max_length=20, blank=True)
    note = models.CharField(max_length=300, blank=True)
    sheet = models.ForeignKey(Sheet, on_delete=models.CASCADE, null=True, related_name="read_pages")
    sheet_page = models.PositiveSmallIntegerField(default=0)
    seat = models.ForeignKey(Seat, on_delete=models.SET_NULL, null=True, related_name="sheet_pages")
    """Whose it is: as printed, or by the number on a spare sheet, or as a person said."""
    aside = models.BooleanField(default=False)
    """Whether it counts no more: a later scan took its place, or a person laid it aside."""
    form = models.CharField(max_length=1, default="A")
    """Of the questions on this sheet: a spare one need not have the form of the seat."""
    boxes = models.JSONField(default=list)
    """The ruled boxes in which something is written: item, x_mm, y_mm, w_mm, h_mm."""
    read_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["scan", "number", "place"]
        constraints = [models.UniqueConstraint(fields=["scan", "number", "place"], name="page_once_per_scan")]

    def __str__(self) -> str:
        return f"{self.scan}, page {self.number}"


class Reading(models.Model):
    """What the reader saw for one item of a page. Never changed; what a person says of it is a `ReviewDecision`."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="readings")
    item = models.CharField(max_length=80)
    answer = models.CharField(max_length=200, blank=True)
    state = models.CharField(max_length=10)
    confidence = models.FloatField()
    note = models.CharField(max_length=300, blank=True)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    w_mm = models.FloatField()
    h_mm = models.FloatField()

    class Meta:
        ordering = ["page", "pk"]
        constraints = [models.UniqueConstraint(fields=["page", "item"], name="reading_once_per_page")]

    def __str__(self) -> str:
        return f"{self.item}: {self.answer or self.state}"


class ReviewDecision(models.Model):
    """What a person said about a place on a sheet, or about a page. Only added to; the last one not taken back counts.

    For a reading: the `answer`. For a page: `act`, and the seat where it says whose it is.
    """

    reading = models.ForeignKey(Reading, on_delete=models.CASCADE, null=True, related_name="settlings")
    page = models.ForeignKey(Page, on_delete=models.CASCADE, null=True, related_name="settlings")
    answer = models.CharField(max_length=200, blank=True)
    act = models.CharField(max_length=10, blank=True)
    seat = models.ForeignKey(Seat, on_delete=models.SET_NULL, null=True, related_name="+")
    before = models.JSONField(null=True)
    """For a page: what it was, for taking back."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.reading or self.page}: {self.answer or self.act}"
