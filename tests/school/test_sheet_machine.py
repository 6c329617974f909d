"""Sheets scanned, settled, taken back and scanned again in any order, against a plain model of what counts."""

from typing import Any
from uuid import uuid4

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD, Staffroom, refs
from versomark.core.items import Option, SingleChoice
from versomark.core.sheets import PageReading, Read
from versomark.core.sheets.marks import PageRegion
from versomark.school.accounts.models import School, Teacher
from versomark.school.delivery.queries import sitting_of
from versomark.school.paper import doubtful_marks
from versomark.school.paper.models import Page, ReviewDecision, Scan, ScanState
from versomark.school.paper.outcome import conclude
from versomark.school.paper.printing import print_batch
from versomark.school.paper.scanning import keep_page
from versomark.school.responses.models import Answer
from versomark.school.responses.services import responses_of

LETTERS = ["", "A", "B", "C"]
places = st.lists(st.sampled_from([*LETTERS, "?"]), min_size=2, max_size=2)
"""What the reader sees in each of two questions: a letter, nothing, or a doubt."""


class SheetMachine(RuleBasedStateMachine):
    @initialize()
    def print_sheets(self) -> None:
        school = School.objects.create(name=uuid4().hex)
        self.teacher = Teacher.objects.create_teacher(school, "B", f"b{uuid4().hex[:8]}", PASSWORD)
        options = [Option(id=letter.casefold(), text=letter) for letter in "ABC"]
        questions: list[Any] = [SingleChoice(stem=f"Which {n}?", options=options, key="a") for n in (1, 2)]
        self.sitting = Staffroom(self.teacher, None).sitting(questions, students=2)  # type: ignore[arg-type]
        self.refs = refs(self.sitting)
        self.batch = print_batch(self.teacher, self.sitting)
        self.seats = list(self.sitting.seats.order_by("desk"))
        # Per seat: the page that counts, and what each page says by now; None for a doubt.
        self.counts: dict[int, str] = {}
        self.says: dict[str, list[str | None]] = {}
        self.read: dict[str, list[str]] = {}
        self.asked: dict[str, int] = {}
        self.done: list[tuple[int, Any]] = []
        self.log = 0

    def page(self, pk: str) -> Page:
        from uuid import UUID

        return doubtful_marks.page_of(self.teacher, UUID(pk))

    @rule(at=st.integers(0, 1), seen=places)
    def scan(self, at: int, seen: list[str]) -> None:
        sheet = self.batch.sheets.get(seat=self.seats[at])
        scan = Scan.objects.create(owner=self.teacher, name="s", digest=uuid4().hex, bytes=1, state=ScanState.READING)
        reads = tuple(
            Read(ref, "" if letter == "?" else letter, _state(letter), 0.5, PageRegion(1, 1, 1, 1))
            for ref, letter in zip(self.refs, seen, strict=True)
        )
        reading = PageReading(0, "", sheet.name, 1, str(self.seats[at].desk), reads)
        page = keep_page(Page(scan=scan, number=1), reading, {self.batch.code})
        conclude(scan)
        key, seat = str(page.pk), self.seats[at].pk
        self.read[key] = seen
        self.says[key] = [None if letter == "?" else letter for letter in seen]
        if seat not in self.counts:
            self.counts[seat] = key
        elif self.read[self.counts[seat]] != seen:
            self.asked[key] = seat
        # The same again is laid aside: what was settled on the first stands.

    @precondition(lambda self: self.counts)
    @rule(data=st.data(), at=st.integers(0, 1), letter=st.sampled_from(LETTERS))
    def settle(self, data: st.DataObject, at: int, letter: str) -> None:
        key = self.counts[data.draw(st.sampled_from(sorted(self.counts)))]
        reading = self.page(key).readings.get(item=self.refs[at])
        before = list(self.says[key])
        settling = doubtful_marks.settle(self.teacher, doubtful_marks.reading_of(self.teacher, reading.pk), letter)
        self.says[key][at] = letter
        self.done.append((settling.pk, ("place", key, before)))

    @precondition(lambda self: self.asked)
    @rule(data=st.data(), use=st.booleans())
    def decide(self, data: st.DataObject, use: bool) -> None:
        key = data.draw(st.sampled_from(sorted(self.asked)))
        seat = self.asked.pop(key)
        settling = doubtful_marks.settle_page(self.teacher, self.page(key), "use" if use else "aside")
        self.done.append((settling.pk, ("page", key, seat, self.counts[seat])))
        if use:
            self.counts[seat] = key

    @precondition(lambda self: self.done)
    @rule()
    def take_back(self) -> None:
        """The last thing said, where nothing has been scanned over it since."""
        pk, (what, key, *before) = self.done.pop()
        if what == "place":
            doubtful_marks.take_back(self.teacher, pk)
            self.says[key] = before[0]
            return
        seat, other = before
        if self.counts[seat] not in (key, other):
            return
        doubtful_marks.take_back(self.teacher, pk)
        self.counts[seat] = other
        self.asked[key] = seat

    @invariant()
    def what_counts_is_what_stands(self) -> None:
        given = responses_of([seat.pk for seat in self.seats])
        waiting = {row.page_id for row in doubtful_marks.open_readings(self.teacher, self.sitting)}
        for seat in self.seats:
            seat.refresh_from_db()
            key = self.counts.get(seat.pk)
            said = self.says[key] if key else [None, None]
            stands = {ref: letter.casefold() for ref, letter in zip(self.refs, said, strict=True) if letter}
            assert {ref: one.option for ref, one in given[str(seat.pk)].items()} == stands
            whole = key is not None and None not in said
            assert seat.state == ("handed in" if whole else "working" if key else "expected")
            if key:
                assert (key in {str(page) for page in waiting}) == (None in said)
        assert {str(page.pk) for page in doubtful_marks.open_pages(self.teacher, self.sitting)} == set(self.asked)
        assert sitting_of(self.teacher, self.sitting.pk).state == ("open" if self.counts else "ready")

    @invariant()
    def nothing_is_ever_lost(self) -> None:
        log = Answer.objects.filter(seat__sitting=self.sitting).count() + ReviewDecision.objects.count()
        assert log >= self.log
        self.log = log


def _state(letter: str) -> Any:
    return "several" if letter == "?" else "answer" if letter else "blank"


class TestSheets(TestCase, SheetMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=12, stateful_step_count=14, deadline=None, suppress_health_check=list(HealthCheck))
