from functools import lru_cache
from json import dumps

from django.db import models

from versomark.core.giving import Rules
from versomark.school.accounts.models import Teacher
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.editions.models import Edition


class SittingState(models.TextChoices):
    PLANNED = "planned"
    READY = "ready"
    OPEN = "open"
    PAUSED = "paused"
    CLOSED = "closed"
    RELEASED = "released"


class SeatState(models.TextChoices):
    EXPECTED = "expected"
    AT_THE_DOOR = "at the door"
    WORKING = "working"
    PAUSED = "paused"
    HANDED_IN = "handed in"
    ABSENT = "absent"
    EXCUSED = "excused"


class Way(models.TextChoices):
    """How a sitting is given where that decides what students meet."""

    ONLINE = "online"
    """Each with the whole paper, at their own pace; on paper sheets too."""
    ROOM = "room"
    """Asked together, question by question."""
    ALONE = "alone"
    """Begun in the room, and now each at their own pace."""


class Sitting(models.Model):
    """One occasion on which students of a class sit an edition."""

    owner = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="sittings")
    edition = models.ForeignKey(Edition, on_delete=models.PROTECT, related_name="sittings")
    school_class = models.ForeignKey(SchoolClass, on_delete=models.PROTECT, related_name="sittings")
    state = models.CharField(max_length=10, choices=SittingState, default=SittingState.PLANNED)
    way = models.CharField(max_length=8, choices=Way, default=Way.ONLINE)
    code = models.CharField(max_length=20, db_index=True)
    planned_for = models.DateTimeField(null=True, blank=True)
    closes_at = models.DateTimeField(null=True, blank=True)
    """When it closes by itself; null where the teacher closes it."""
    opens_itself = models.BooleanField(default=False)
    """Whether it opens when it is planned for, without the teacher's word."""
    name = models.CharField(max_length=120, blank=True)
    """What the teacher calls it; empty where class, test and day name it."""
    rules = models.JSONField(default=dict)
    """The JSON of `core.giving.Rules`; empty for those without fuss."""
    paused_at = models.DateTimeField(null=True, blank=True)
    """Since when all of it stands still."""
    for_some = models.BooleanField(default=False)
    """Whether its students were chosen, so that whoever joins the class later has no seat."""
    opened_at = models.DateTimeField(null=True, blank=True)
    closed_at = models.DateTimeField(null=True, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.edition} · {self.school_class}"

    def read_rules(self) -> Rules:
        return _read_rules(dumps(self.rules))


@lru_cache(maxsize=256)
def _read_rules(rules: str) -> Rules:
    """Read once: whoever watches a class asks for them for every seat, every second."""
    return Rules.model_validate_json(rules)


class EventKind(models.TextChoices):
    """What can be done with a sitting or a seat of it. Its facts and its words stand in `events.py`."""

    EARLIER = "earlier"
    """From before kinds were kept: its sentence."""
    OPENED = "opened"
    OPENED_AS_PLANNED = "opened as planned"
    PAUSED_FOR_ALL = "paused for all"
    CLOSED = "closed"
    CLOCK_JUMPED = "clock jumped"
    END_MOVED = "end moved"
    BEGINNING_MOVED = "beginning moved"
    LET_IN = "let in"
    SENT_BACK = "sent back"
    SEAT_MOVED = "seat moved"
    PAUSED = "paused"
    GOES_ON = "goes on"
    TIME_GIVEN = "time given"
    GIVEN_BACK = "given back"
    LOCKED = "locked"
    UNLOCKED = "unlocked"
    HANDED_IN_BY_TEACHER = "handed in by the teacher"
    MAY_SIT_NOW = "may sit now"
    RELEASED = "released"
    RELEASE_TAKEN_BACK = "release taken back"
    LATENESS_SET = "lateness set"
    LATENESS_ENDED = "lateness ended"
    TOTAL_SET = "total set"
    TOTAL_TAKEN_BACK = "total taken back"
    LEFT_OUT = "left out of the figures"
    TAKEN_IN = "taken into the figures"
    ABSENCE_SET = "absence set"
    WAIVED = "waived"
    WAIVED_NO_MORE = "waived no more"
    KEY_SETTLED = "key settled"
    KEY_HOLDS_AGAIN = "key holds again"
    SECOND_PLANNED = "second marking planned"
    SECOND_ENDED = "second marking ended"
    NAMES_HIDDEN = "names hidden"
    NAMES_SHOWN = "names shown"
    MARKED_AWAY = "marked away"
    ANSWER_JUDGED = "answer judged"
    PILE_SHARED = "pile shared"
    PILE_ENDED = "pile ended"
    SEVERITY_ADJUSTED = "severity adjusted"
    SEVERITY_AS_MARKED = "severity as marked"
    RUBRIC_CHANGED = "rubric changed"
    RUBRIC_AS_BEFORE = "rubric as before"
    EVIDENCE_TAKEN_AWAY = "evidence taken away"
    QUESTIONS_OPENED = "questions about marks taken"
    MARK_QUESTION_ANSWERED = "question about a mark answered"
    ARRIVED_LATER = "answers arrived after the end"
    BREAK_BEGAN = "break began"
    BREAK_ENDED = "break ended"
    HANDED_IN_UNHEARD = "handed in without a connection"


class SittingEvent(models.Model):
    """What a teacher did with a sitting or a seat of it, and when; only added to."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="events")
    seat = models.ForeignKey("Seat", null=True, on_delete=models.CASCADE, related_name="events")
    by = models.ForeignKey(Teacher, null=True, on_delete=models.PROTECT, related_name="+")
    """Null where the clock did it."""
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=32)
    """An `EventKind`."""
    facts = models.JSONField(default=dict)
    """What its kind needs to be put into words."""

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.sitting}: {self.kind}"


class Seat(models.Model):
    """One student's place in a sitting, with the name and number it had then."""

    sitting = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="seats")
    student = models.ForeignKey(Student, on_delete=models.PROTECT, related_name="seats")
    desk = models.PositiveSmallIntegerField()
    form = models.CharField(max_length=1, default="A")
    """Which order of the questions this student has."""
    state = models.CharField(max_length=12, choices=SeatState, default=SeatState.EXPECTED)
    started_at = models.DateTimeField(null=True, blank=True)
    handed_in_at = models.DateTimeField(null=True, blank=True)
    ended_by_closing = models.BooleanField(default=False)
    ended_by_time = models.BooleanField(default=False)
    """Whether their time ran out before they handed in."""
    paused_at = models.DateTimeField(null=True, blank=True)
    break_since = models.DateTimeField(null=True, blank=True)
    """Since when they are on a break of their own; their seat is paused meanwhile."""
    break_seconds = models.PositiveIntegerField(default=0)
    """Of breaks of their own that are over."""
    paused_seconds = models.PositiveIntegerField(default=0)
    """In pauses that are over, their own and those of all."""
    extra_minutes = models.PositiveSmallIntegerField(default=0)
    """What the teacher gave on top of what the student needs."""
    locked = models.BooleanField(default=False)
    """Whether its student can do nothing more with it by themselves: not begin, go on, take back or try again."""
    returned_with = models.CharField(max_length=500, blank=True)
    """What the teacher said when giving the work back to be revised."""
    sits_later = models.BooleanField(default=False)
    """Whether they may sit it by themselves, also while the sitting is closed."""
    device = models.UUIDField(null=True, blank=True)
    """The device that took the seat last; another one that held it before is set aside."""
    device_since = models.DateTimeField(null=True, blank=True)
    second_device = models.BooleanField(default=False)
    """Whether one took over while another held it."""
    at_item = models.CharField(max_length=36, blank=True)
    """The question they have before them."""
    furthest = models.PositiveSmallIntegerField(default=0)
    """The place of the furthest question they came to, in their own order; matters where there is no going back."""
    last_seen = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["desk"]
        constraints = [models.UniqueConstraint(fields=["sitting", "student"], name="seat_once_per_sitting")]

    def __str__(self) -> str:
        return f"{self.desk} {self.student}"


class TimeAway(models.Model):
    """A student left the page of a sitting for a while. Noted for the teacher to judge; nothing follows from it."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="times_away")
    client_id = models.UUIDField()
    left_at = models.DateTimeField()
    seconds = models.PositiveIntegerField()

    class Meta:
        ordering = ["left_at"]
        constraints = [models.UniqueConstraint(fields=["seat", "client_id"], name="time_away_noted_once")]

    def __str__(self) -> str:
        return f"{self.seat}: {self.seconds} s"


BEFORE = (SittingState.PLANNED, SittingState.READY)


RUNNING = (SittingState.OPEN, SittingState.PAUSED)


AFTER = (SittingState.CLOSED, SittingState.RELEASED)
