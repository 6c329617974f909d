"""Class lists under any order of events (Hypothesis, stateful): desk numbers and passes are kept, nobody is lost."""

from uuid import uuid4

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD
from versomark.core.formats.class_lists import StudentRow
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes import importing, merging, services
from versomark.school.classes.models import Student

NAMES = st.text("abcdefg", min_size=1, max_size=5).map(str.title)
PICK = st.integers(0, 10**6)
CLASSES = 2


class ClassMachine(RuleBasedStateMachine):
    """The model: for each class who sits at which desk and who has left, kept in plain dictionaries."""

    @initialize()
    def open_a_school(self) -> None:
        name = uuid4().hex
        self.teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        self.classes = [services.make_class(self.teacher, f"Class {n}") for n in range(CLASSES)]
        self.here: list[dict[int, int]] = [{} for _ in self.classes]
        self.away: list[dict[int, int]] = [{} for _ in self.classes]
        self.highest = [0] * CLASSES
        self.passes: dict[int, str] = {}

    def new(self, where: int, student: Student, desk: int) -> None:
        assert student.pk not in self.passes
        assert desk > self.highest[where], "a new desk number goes on from the highest ever given"
        self.highest[where] = desk
        self.here[where][student.pk] = desk
        self.passes[student.pk] = student.pass_phrase

    def someone(self, where: int, pick: int) -> int:
        return sorted(self.here[where])[pick % len(self.here[where])]

    @rule(where=st.integers(0, CLASSES - 1), names=st.lists(NAMES, min_size=1, max_size=3))
    def add(self, where: int, names: list[str]) -> None:
        for place in services.add_students(self.classes[where], [f"{name} Family" for name in names]):
            self.new(where, place.student, place.desk)

    @precondition(lambda self: self.here[0])
    @rule(pick=PICK)
    def leave(self, pick: int) -> None:
        student = self.someone(0, pick)
        services.leave_class(services.place_of(self.classes[0], student))
        self.away[0][student] = self.here[0].pop(student)

    @precondition(lambda self: self.away[0])
    @rule(pick=PICK)
    def come_back(self, pick: int) -> None:
        student = sorted(self.away[0])[pick % len(self.away[0])]
        services.come_back(self.classes[0], student)
        self.here[0][student] = self.away[0].pop(student)

    @precondition(lambda self: self.here[0])
    @rule(pick=PICK)
    def move_on(self, pick: int) -> None:
        student = self.someone(0, pick)
        place = services.move_student(services.place_of(self.classes[0], student), self.classes[1])
        self.away[0][student] = self.here[0].pop(student)
        if student in self.here[1] or student in self.away[1]:
            assert place.desk == (self.here[1] | self.away[1])[student]
        else:
            assert place.desk == self.highest[1] + 1
            self.highest[1] = place.desk
        self.away[1].pop(student, None)
        self.here[1][student] = place.desk

    @precondition(lambda self: len(self.here[0]) > 1)
    @rule(pick=PICK)
    def two_become_one(self, pick: int) -> None:
        keep = self.someone(0, pick)
        other = self.someone(0, pick + 1)
        merging.merge_students(Student.objects.get(pk=keep), Student.objects.get(pk=other))
        for here, away in zip(self.here, self.away, strict=True):
            desks = [desks[student] for desks in (here, away) for student in (keep, other) if student in desks]
            stays = keep in here or other in here
            for desks_of in (here, away):
                desks_of.pop(keep, None)
                desks_of.pop(other, None)
            if desks:
                (here if stays else away)[keep] = min(desks)
        del self.passes[other]

    @rule(where=st.integers(0, CLASSES - 1), jump=st.integers(0, 5), name=NAMES)
    def bring_a_list(self, where: int, jump: int, name: str) -> None:
        """A list with one more student, who is to have a desk further on; the same list again changes nothing."""
        number = uuid4().hex[:8]
        desk = self.highest[where] + 1 + jump
        new = StudentRow(line=2, given_name=name, family_name="New", number=number, desk=desk)
        importing.carry_out(self.teacher, self.classes[where], [new], [], without_wrong=False)
        place = self.classes[where].places.get(student__number=number)
        assert place.desk == desk
        self.new(where, place.student, place.desk)
        before = self.listed(where)
        plan = importing.plan(self.teacher, self.classes[where], [new], [])
        assert [line.outcome for line in plan.lines] == ["same"]
        assert self.listed(where) == before

    @rule(where=st.integers(0, CLASSES - 1))
    def new_passes(self, where: int) -> None:
        students = [place.student for place in services.places_of(self.classes[where])]
        services.replace_passes(students)
        for student in students:
            assert self.passes[student.pk] != student.pass_phrase
            self.passes[student.pk] = student.pass_phrase

    def listed(self, where: int) -> dict[int, int]:
        return {place.student_id: place.desk for place in services.places_of(self.classes[where])}

    @invariant()
    def the_lists_are_the_models(self) -> None:
        if not hasattr(self, "classes"):
            return
        for where in range(CLASSES):
            listed = self.listed(where)
            assert listed == self.here[where]
            assert list(listed.values()) == sorted(set(listed.values())), "in desk order, nobody twice"
        school = Student.objects.filter(school=self.teacher.school)
        assert dict(school.values_list("pk", "pass_phrase")) == self.passes
        assert len(set(self.passes.values())) == len(self.passes)


class TestClassLists(TestCase, ClassMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=20, stateful_step_count=20, deadline=None, suppress_health_check=list(HealthCheck))
