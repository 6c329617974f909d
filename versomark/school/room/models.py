from uuid import uuid4

from django.db import models

from versomark.core.editions import LessonStep
from versomark.school.accounts.models import Teacher
from versomark.school.classes.models import SchoolClass
from versomark.school.delivery.models import Seat, Sitting


class Shows(models.TextChoices):
    """What the wall shows, from the way in to the answer."""

    JOINING = "joining"
    PAGE = "page"
    QUESTION = "question"
    SPREAD = "spread"
    ANSWER = "answer"


class Room(models.Model):
    """A sitting held in the room: its steps, where the class is in them, and what the wall shows."""

    sitting = models.OneToOneField(Sitting, on_delete=models.CASCADE, related_name="room")
    steps = models.JSONField(default=list)
    """The JSON of `core.editions.LessonStep`, in the order of this lesson; what is skipped is only passed over."""
    quick = models.JSONField(default=dict)
    """ref -> the JSON of a question made up on the spot."""
    place = models.PositiveSmallIntegerField(default=0)
    """The step that is on, from 1; 0 while students come in."""
    shows = models.CharField(max_length=10, choices=Shows, default=Shows.JOINING)
    names_on_wall = models.BooleanField(default=False)
    names_to_pick = models.BooleanField(default=False)
    """Whether students may come in by picking their name, without a pass."""
    seconds = models.PositiveSmallIntegerField(default=0)
    """Time for a round; 0 where the teacher says when to stop."""

    practice = models.JSONField(default=dict)
    """In the demo school: seats that simulated students have taken -> by what they answer: `device`, `pad`, `card`."""
    version = models.UUIDField(default=uuid4)
    """Another with every change of the lesson, so that what all students are shown is worked out once."""

    def __str__(self) -> str:
        return f"{self.sitting}, in the room"

    def read_steps(self) -> list[LessonStep]:
        return [LessonStep.model_validate(step) for step in self.steps]

    @property
    def step(self) -> LessonStep | None:
        """What the class is at; None while students come in."""
        return LessonStep.model_validate(self.steps[self.place - 1]) if 0 < self.place <= len(self.steps) else None


class Round(models.Model):
    """One asking of a question. Collecting may stop and go on; every such moment is a `RoundEvent`."""

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="rounds")
    item = models.CharField(max_length=36)
    number = models.PositiveSmallIntegerField()
    asked_at = models.DateTimeField()
    ends_at = models.DateTimeField(null=True, blank=True)
    """When its time is over, where it has a time."""
    stopped_at = models.DateTimeField(null=True, blank=True)
    answer_shown = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["room", "item", "number"], name="round_once")]

    def __str__(self) -> str:
        return f"{self.item}, round {self.number}"


class RoundEvent(models.Model):
    """What the teacher did with a round, and when; only added to, so that what stood at any moment can be told."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="events")
    what = models.CharField(max_length=12)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.round}: {self.what}"


class RoundAnswer(models.Model):
    """Everything that was ever given in a round; only added to. The last of a seat stands."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="answers")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="round_answers")
    # Made by the device, so that sending again is recognised and changes nothing.
    client_id = models.UUIDField()
    response = models.JSONField(null=True)
    source = models.CharField(max_length=8, default="device")
    """`device`, `pad`, `card`, or `teacher`, who answered for the student."""
    kept_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["seat", "client_id"], name="round_answer_kept_once")]

    def __str__(self) -> str:
        return f"{self.round}: {self.response}"


class ResponseTransfer(models.Model):
    """A lesson's answers brought into an earlier sitting of the same edition; both stay, and it can be taken back."""

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="brought_over")
    into = models.ForeignKey(Sitting, on_delete=models.CASCADE, related_name="brought_in")
    how = models.CharField(max_length=8)
    """`add` fills in what was missing there; `replace` puts these answers in the place of those."""
    by = models.ForeignKey(Teacher, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    changes = models.JSONField(default=list)
    """What changed, answer by answer, with what stood before and after; and the states of seats."""
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.room} into {self.into}"


class PadReceiver(models.Model):
    """What hears a teacher's response pads. One key for all of a teacher's receivers; whoever has it may press."""

    owner = models.OneToOneField(Teacher, on_delete=models.CASCADE, related_name="pad_receiver")
    key = models.CharField(max_length=40, unique=True)

    def __str__(self) -> str:
        return f"pads of {self.owner}"


class Pad(models.Model):
    """A pad that was heard."""

    receiver = models.ForeignKey(PadReceiver, on_delete=models.CASCADE, related_name="pads")
    number = models.PositiveIntegerField()
    battery = models.PositiveSmallIntegerField(null=True)
    """Percent, where the pad tells it."""
    last_heard = models.DateTimeField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["receiver", "number"], name="pad_once")]

    def __str__(self) -> str:
        return f"pad {self.number}"


class PadDesk(models.Model):
    """A pad that is not at the desk of its own number: a spare, or one that was swapped."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="pad_desks")
    pad = models.PositiveIntegerField()
    desk = models.PositiveSmallIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["school_class", "pad"], name="pad_at_one_desk"),
            models.UniqueConstraint(fields=["school_class", "desk"], name="one_pad_at_a_desk"),
        ]

    def __str__(self) -> str:
        return f"pad {self.pad} at desk {self.desk}"
