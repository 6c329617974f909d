"""A grid of marks against a plain dictionary (Hypothesis, stateful): teacher, students and tables in any order."""

import csv
import io
from base64 import b64encode
from typing import Any
from uuid import uuid4

from django.db import connection
from django.test import Client
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.conftest import PASSWORD, Staffroom, devices
from tests.school.test_marks_only import LINES, described_sitting, grid, keep
from tests.school.test_teacher_side import send
from versomark.school.accounts.models import School, Teacher
from versomark.school.delivery.models import Sitting

ROWS = 3
MAXIMA = {ref: marks for ref, _, marks in LINES}
CELL = st.tuples(st.integers(0, ROWS - 1), st.sampled_from(sorted(MAXIMA)), st.integers(0, 14) | st.none())


class MarksMachine(RuleBasedStateMachine):
    """The model: marks by row and column, who is away, and whether entry is open or over."""

    @initialize()
    def describe_a_test(self) -> None:
        name = uuid4().hex
        teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        client = Client()
        client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
        self.school = Staffroom(teacher, client)
        self.sitting = described_sitting(self.school, students=ROWS)
        self.marks: dict[tuple[int, str], int] = {}
        self.away: dict[int, str] = {}
        self.state = "ready"
        self.open_rows: set[int] = set()
        """Rows that a student filled and has not handed in: theirs while entry is open."""

    def begin(self) -> None:
        self.state = "paused" if self.state == "ready" else self.state

    @rule(cells=st.lists(CELL, min_size=1, max_size=4, unique_by=lambda cell: cell[:2]))
    def key_in(self, cells: list[tuple[int, str, int | None]]) -> None:
        reply = keep(self.school, self.sitting, *cells)
        if any(points is not None and points > MAXIMA[item] for _, item, points in cells):
            assert reply.status_code == 422
            return
        assert reply.status_code == 200
        self.begin()
        for row, item, points in cells:
            if self.marks.get((row, item)) == points:
                continue  # what stands already changes nothing, so nobody comes back by it
            self.away.pop(row, None)
            self.open_rows.discard(row)
            if points is None:
                self.marks.pop((row, item), None)
            else:
                self.marks[row, item] = points

    @rule(row=st.integers(0, ROWS - 1), how=st.sampled_from(["absent", "excused", "here"]))
    def say_who_was_away(self, row: int, how: str) -> None:
        assert keep(self.school, self.sitting, **{f"row{row}": how}).status_code == 200
        self.begin()
        self.open_rows.discard(row)
        if how == "here":
            self.away.pop(row, None)
        else:
            self.away[row] = how

    @precondition(lambda self: self.state in ("ready", "paused"))
    @rule()
    def open_entry(self) -> None:
        assert self.entry(True).status_code == 200
        self.state = "open"

    @precondition(lambda self: self.state == "open")
    @rule()
    def close_entry(self) -> None:
        assert self.entry(False).status_code == 200
        self.state, self.open_rows = "paused", set()

    def entry(self, by_students: bool) -> Any:
        return send(self.school.client, "put", f"sittings/{self.sitting.pk}/marks/entry", {"by_students": by_students})

    @precondition(lambda self: self.state in ("open", "paused"))
    @rule()
    def all_marks_are_in(self) -> None:
        send(self.school.client, "post", f"sittings/{self.sitting.pk}/steps/close")
        self.state, self.open_rows = "closed", set()

    @rule(row=st.integers(0, ROWS - 1), item=st.sampled_from(sorted(MAXIMA)), points=st.integers(0, 14))
    def a_student_enters(self, row: int, item: str, points: int) -> None:
        device = devices(Sitting.objects.get(pk=self.sitting.pk))[row]
        joined = device.join()
        assert joined.status_code == 200
        full = self.is_full(row) and row not in self.away and row not in self.open_rows
        # As a device does: on from the number that the seat had reached.
        number = joined.json()["sequence"] + 1
        reply = device.answer(item, {"kind": "marks_only", "points": points}, number)
        # Coming in while entry is open is being there; a full row has been handed in.
        if self.state == "open":
            self.away.pop(row, None)
        may = self.state == "open" and not full and points <= MAXIMA[item]
        assert (reply.status_code == 200) == may, reply.content
        if may:
            self.marks[row, item] = points
        if self.state == "open" and self.is_full(row) and not full:
            self.open_rows.add(row)

    @rule(
        cells=st.dictionaries(st.tuples(st.integers(0, ROWS - 1), st.sampled_from(sorted(MAXIMA))), st.integers(0, 4))
    )
    def bring_a_table(self, cells: dict[tuple[int, str], int]) -> None:
        text = io.StringIO()
        writer = csv.writer(text)
        writer.writerow(["Name", *(label for _, label, _ in LINES)])
        for row in range(ROWS):
            writer.writerow([f"Student{row + 1} Family", *(cells.get((row, ref), "") for ref, _, _ in LINES)])
        data = b64encode(text.getvalue().encode()).decode()
        reply = send(
            self.school.client, "post", f"sittings/{self.sitting.pk}/marks/table", {"name": "m.csv", "data": data}
        )
        assert reply.status_code == 200
        self.begin()
        for (row, item), points in cells.items():
            if self.marks.get((row, item)) != points:
                self.marks[row, item] = points
                self.away.pop(row, None)
                self.open_rows.discard(row)

    @invariant()
    def the_grid_says_what_the_model_says(self) -> None:
        if not hasattr(self, "school"):
            return
        page = grid(self.school, self.sitting)
        assert page["sitting"]["state"] == self.state
        for row, line in enumerate(page["rows"]):
            own = {item: points for (at, item), points in self.marks.items() if at == row}
            assert {item: mark["points"] for item, mark in line["marks"].items()} == own
            assert line["total"] == sum(own.values())
            assert (line["state"] if line["state"] in ("absent", "excused") else None) == self.said_away(row, own)
            full = self.is_full(row) and row not in self.open_rows
            counts = row not in self.away and (full or (self.state == "closed" and bool(own)))
            assert (line["state"] == "handed in") == counts, line

    def teardown(self) -> None:
        connection.needs_rollback = False

    def is_full(self, row: int) -> bool:
        return all((row, ref) in self.marks for ref in MAXIMA)

    def said_away(self, row: int, own: dict[str, int]) -> str | None:
        return self.away.get(row) or ("absent" if self.state == "closed" and not own else None)


class TestMarks(TestCase, MarksMachine.TestCase):  # type: ignore[misc,name-defined]
    settings = settings(max_examples=9, stateful_step_count=14, deadline=None, suppress_health_check=list(HealthCheck))
