"""What students are told ahead, on their own page and by mail; and that nobody comes to another one's page."""

from datetime import UTC, datetime, timedelta
from email import message_from_bytes, policy
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.mail import EmailMessage
from django.test import Client
from django.utils import timezone
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from hypothesis.stateful import RuleBasedStateMachine, initialize, precondition, rule, run_state_machine_as_test

from tests.conftest import PASSWORD, Staffroom, devices, refs
from versomark.core.giving import Rules
from versomark.school import guesses
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.models import Student
from versomark.school.classes.services import places_of, replace_passes
from versomark.school.delivery import planning, services, supervising
from versomark.school.delivery.models import Sitting
from versomark.school.delivery.queries import sitting_of
from versomark.school.portal.mail import TRIES, letter, send_waiting
from versomark.school.portal.models import Mail, Notice
from versomark.school.portal.notice_words import notice_words, when_words
from versomark.school.portal.notifications import tell_all, when

pytestmark = pytest.mark.django_db


def homework(school: Staffroom, tell: bool = True, days: int = 3) -> Sitting:
    """A sitting in a window that opened an hour from now and is open for some days."""
    sitting, now = school.sitting(), timezone.now()
    plan = planning.Plan(now + timedelta(hours=1), now + timedelta(days=days), True, "", Rules(tell=tell))
    return planning.change_plan(school.teacher, sitting, plan)


def students_of(sitting: Sitting) -> list[Student]:
    return [place.student for place in places_of(sitting.school_class)]


def enter(sitting: Sitting, pass_phrase: str) -> tuple[Client, Any]:
    client = Client()
    body = {"link": sitting.school_class.link, "pass_phrase": pass_phrase}
    return client, client.post("/api/v1/portal/enter", body, content_type="application/json")


def test_each_thing_is_told_once_and_only_where_the_teacher_said_so(school: Staffroom) -> None:
    sitting, quiet = homework(school), homework(school, tell=False)
    assert tell_all() == 3
    assert tell_all() == 0
    assert not quiet.notices.exists()

    # Moved twice before anybody looked: one piece of news, with how it stands now.
    plan = planning.Plan(sitting.planned_for, sitting.closes_at, True, "", Rules(tell=True))
    for days in (4, 5):
        end = timezone.now() + timedelta(days=days)
        sitting = planning.change_plan(
            school.teacher, sitting, planning.Plan(plan.planned_for, end, True, "", plan.rules)
        )
    assert tell_all() == 3
    changed = Notice.objects.filter(kind="changed").first()
    assert changed is not None
    assert f"{timezone.localtime(sitting.closes_at):%-d %b, %H:%M}" in notice_words(changed)

    # A day before the end those hear of it who have not handed in.
    services.open_sitting(sitting)
    one = devices(sitting)[0]
    one.join()
    one.post("hand-in")
    assert sitting.closes_at is not None
    assert tell_all(sitting.closes_at - timedelta(hours=25)) == 0
    assert tell_all(sitting.closes_at - timedelta(hours=23)) == 2
    # A student who joins the class late is told as the others were.
    lines = school.client.get(f"/api/v1/sittings/{sitting.pk}/notices").json()
    assert [(line["kind"], line["students"]) for line in lines] == [("due soon", 2), ("changed", 3), ("assigned", 3)]


def test_letters_go_to_a_folder_and_what_cannot_be_sent_is_said(
    school: Staffroom, settings: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.EMAIL_BACKEND, settings.EMAIL_FILE_PATH = "django.core.mail.backends.filebased.EmailBackend", tmp_path
    settings.ADDRESS = "https://marks.example"
    sitting = homework(school)
    wren, ines, _ = students_of(sitting)
    for student, address in ((wren, "wren@school.example"), (ines, "ines@school.example")):
        path = f"/api/v1/classes/{sitting.school_class_id}/students/{student.pk}"
        body = {"given_name": student.given_name, "family_name": "Family", "email": address}
        assert school.client.put(path, body, content_type="application/json").status_code == 200
    bad = {"given_name": "Ines", "email": "ines@school\nBcc: all@school.example"}
    path = f"/api/v1/classes/{sitting.school_class_id}/students/{ines.pk}"
    assert school.client.put(path, bad, content_type="application/json").status_code == 422
    tell_all()

    refused = set[str]()
    send = EmailMessage.send

    def unreliable(self: EmailMessage, *rest: Any) -> int:
        if self.to[0] in refused:
            raise OSError("the server is not there")
        return send(self, *rest)

    monkeypatch.setattr(EmailMessage, "send", unreliable)
    refused.add("ines@school.example")
    assert send_waiting() == 1
    assert send_waiting() == 0
    letters = [message_from_bytes(path.read_bytes(), policy=policy.default) for path in tmp_path.iterdir()]
    assert [letter["To"] for letter in letters] == ["wren@school.example"]
    assert letters[0]["Subject"] == "A test for you: A test"
    assert f"https://marks.example/mine/{sitting.school_class.link}" in letters[0].get_content()
    for _ in range(TRIES):
        send_waiting()
    line = school.client.get(f"/api/v1/sittings/{sitting.pk}/notices").json()[0]
    assert (line["sent"], line["waiting"], line["failed"]) == (1, 0, [ines.short_name])
    assert len(line["no_address"]) == 1
    assert Notice.objects.get(mail=Mail.FAILED).problem == "the server is not there"


def test_a_student_signs_in_sees_their_own_and_goes_to_the_test_that_is_open(school: Staffroom) -> None:
    sitting, quiet = homework(school), homework(school, tell=False)
    tell_all()
    wren = students_of(sitting)[0]
    client, reply = enter(sitting, wren.pass_phrase.upper())
    page = reply.json()
    assert [(sitting["title"], sitting["stage"]) for sitting in page["sittings"]] == [("A test", "coming")]
    assert [notice["new"] for notice in page["notices"]] == [True]
    assert [notice["new"] for notice in client.get("/api/v1/portal/page").json()["notices"]] == [False]
    assert client.post(f"/api/v1/portal/sittings/{sitting.pk}/go").status_code == 409

    services.open_sitting(sitting)
    assert client.get("/api/v1/portal/page").json()["sittings"][0]["stage"] == "open"
    assert client.post(f"/api/v1/portal/sittings/{sitting.pk}/go").status_code == 200
    seat = client.get("/api/v1/student/seat").json()
    assert (seat["student"], seat["stage"]) == (wren.short_name, "working")
    assert len(seat["paper"]["items"]) == len(refs(sitting))
    client.post("/api/v1/student/hand-in", content_type="application/json")
    done = client.get("/api/v1/portal/page").json()["sittings"][0]
    # What was handed in can be gone back to while it is open: to take it back, try it again, or go on.
    assert (done["stage"], done["may_go"]) == ("handed in", True)
    assert client.post(f"/api/v1/portal/sittings/{sitting.pk}/go").status_code == 200
    assert client.get("/api/v1/student/seat").json()["stage"] == "handed in"
    services.close_sitting(sitting)
    assert client.get("/api/v1/portal/page").json()["sittings"][0]["may_go"] is False
    assert client.post(f"/api/v1/portal/sittings/{sitting.pk}/go").status_code == 409
    # Somebody else's test, and one that does not exist, are the same to them.
    services.open_sitting(quiet)
    for other in (quiet.pk, 10**9, 10**30):
        assert client.post(f"/api/v1/portal/sittings/{other}/go").status_code == 404


def test_nobody_comes_to_a_page_that_is_not_theirs(school: Staffroom, staffroom: Any) -> None:
    sitting, other = homework(school), homework(staffroom("other"))
    wren, ines, _ = students_of(sitting)
    tell_all()
    stranger = Client().get("/api/v1/portal/page")
    assert (stranger.status_code, stranger.json()["code"], "your pass" in stranger.json()["detail"]) == (
        401,
        "signed_out",
        True,
    )
    # A pass of another class opens nothing through this link, and a cookie is good for its own student alone.
    assert enter(sitting, students_of(other)[0].pass_phrase)[1].status_code == 404
    client, _ = enter(sitting, wren.pass_phrase)
    cookie = client.cookies["verso_own"].value
    for forged in (cookie.replace(str(wren.pk), str(ines.pk), 1), f"{wren.pk}", "x", "²:a", f"{'9' * 40}:a", ""):
        client.cookies["verso_own"] = forged
        if forged != cookie:
            assert client.get("/api/v1/portal/page").status_code == 401
    client.cookies["verso_own"] = cookie
    assert client.get("/api/v1/portal/page").json()["student"] == wren.short_name
    # With a new pass the device that had the old one is signed out.
    replace_passes([wren])
    assert client.get("/api/v1/portal/page").status_code == 401
    # Wrong passes are counted, and a right one always gets in.
    for _ in range(guesses.FROM_ONE_ADDRESS + 1):
        _, refused = enter(sitting, "kelp-1")
    assert refused.status_code == 429
    assert enter(sitting, wren.pass_phrase)[1].status_code == 200


def test_a_letter_says_when_in_words_and_no_title_becomes_a_second_header(school: Staffroom, settings: Any) -> None:
    settings.ADDRESS = ""
    sitting = homework(school)
    sitting.planned_for = datetime(2026, 11, 3, 8, 0, tzinfo=UTC)
    sitting.closes_at = datetime(2026, 11, 4, 20, 30, tzinfo=UTC)
    assert when_words(when(sitting)) == "from Tue 3 Nov, 08:00, to Wed 4 Nov, 20:30"
    sitting.closes_at, sitting.rules = None, {"minutes": 40}
    assert when_words(when(sitting)) == "from Tue 3 Nov, 08:00, with 40 minutes to work"
    sitting.planned_for = None
    assert when_words(when(sitting)) == "once your teacher opens it, with 40 minutes to work"

    student = students_of(sitting)[0]
    student.email = "wren@school.example"
    sitting.edition.content["title"] = "Circuits\nBcc: all@school.example"
    sitting.edition.fingerprint = "another"
    sent = letter(Notice(student=student, sitting=sitting, kind="assigned", facts={"words": "So it is."}))
    assert sent.subject == "A test for you: Circuits Bcc: all@school.example"
    assert sent.message()["To"] == "wren@school.example"
    assert sent.message()["Bcc"] is None
    assert "Your own page" not in sent.body  # without an address of the service there is no link to give


class TellingMachine(RuleBasedStateMachine):
    """Any order of moving, opening, handing in, closing and time passing (Hypothesis, stateful): each thing is told
    once, to those whom it concerns, and a tick that comes again tells nothing."""

    @initialize()
    def plan_it(self) -> None:
        name = uuid4().hex
        teacher = Teacher.objects.create_teacher(School.objects.create(name=name), name, name, PASSWORD)
        self.room = Staffroom(teacher, Client())
        self.now = timezone.now()
        self.end = self.now + timedelta(days=4)
        self.sitting = self.room.sitting(students=2)
        self.change(self.end)
        self.done = {device.pass_phrase: False for device in devices(self.sitting)}
        self.moved = False
        tell_all()

    def change(self, end: datetime) -> None:
        sitting = sitting_of(self.sitting.owner, self.sitting.pk)
        plan = planning.Plan(sitting.planned_for, end, False, "", Rules(tell=True))
        self.sitting = planning.change_plan(self.sitting.owner, sitting, plan)

    @precondition(lambda self: self.sitting.state != "closed")
    @rule(hours=st.sampled_from([60, 80, 100, 200]))
    def move_the_end(self, hours: int) -> None:
        end = timezone.now() + timedelta(hours=hours, seconds=len(self.sitting.events.all()))
        self.change(end)
        self.end, self.moved = end, True

    @precondition(lambda self: self.sitting.state == "ready")
    @rule()
    def open_it(self) -> None:
        self.sitting = services.open_sitting(sitting_of(self.sitting.owner, self.sitting.pk))

    @precondition(lambda self: self.sitting.state == "open" and not all(self.done.values()))
    @rule()
    def somebody_hands_in(self) -> None:
        device = next(device for device in devices(self.sitting) if not self.done[device.pass_phrase])
        device.join()
        device.post("hand-in")
        self.done[device.pass_phrase] = True

    @rule(hours=st.sampled_from([0, 30, 90]))
    def a_tick(self, hours: int) -> None:
        at = timezone.now() + timedelta(hours=hours)
        open_to = sum(not done for done in self.done.values())
        before, told = self.counts(), self.told("assigned")
        news = self.open_ids() & told if self.moved else set[int]()
        tell_all(at)
        after = self.counts()
        # Whoever has handed in is told nothing more; a move is news only to those who had been told how it stood.
        assert self.told("assigned") == told | self.open_ids()
        assert after["changed"] - before["changed"] == len(news)
        assert after["due soon"] - before["due soon"] in range(open_to + 1)
        self.moved = False
        if at < self.end - timedelta(hours=24):
            assert after["due soon"] == before["due soon"]
        else:
            due = self.sitting.notices.filter(kind="due soon", about=f"{self.end:%Y-%m-%dT%H:%M}")
            assert self.open_ids() <= set(due.values_list("student", flat=True))
        assert tell_all(at) == 0

    def counts(self) -> dict[str, int]:
        return {kind: self.sitting.notices.filter(kind=kind).count() for kind in ("assigned", "changed", "due soon")}

    def told(self, kind: str) -> set[int]:
        return set(self.sitting.notices.filter(kind=kind).values_list("student", flat=True))

    def open_ids(self) -> set[int]:
        return set(self.sitting.seats.exclude(state="handed in").values_list("student", flat=True))


class TestTelling(TestCase):
    def test_telling(self) -> None:
        run_state_machine_as_test(TellingMachine, settings=settings(max_examples=10, stateful_step_count=12))


def test_who_has_work_given_back_is_told_what_to_revise_once(school: Staffroom) -> None:
    """Also of a sitting that is over and that nobody was told of, since they are not there to see it."""
    sitting = school.open_sitting(students=2)
    device = devices(sitting)[0]
    device.join()
    device.post("hand-in")
    services.close_sitting(sitting)
    assert tell_all() == 0
    seat = supervising.seat_in(sitting, sitting.seats.get(desk=1).pk)
    supervising.reopen(school.teacher, seat, 0, "Say why.")
    assert tell_all() == 1
    assert tell_all() == 0
    notice = Notice.objects.get()
    assert notice_words(notice) == "A test was given back to you: Say why."
    client, page = enter(sitting, seat.student.pass_phrase)
    assert [sitting["may_go"] for sitting in page.json()["sittings"]] == [True]
    device.post("hand-in")
    seat.refresh_from_db()
    supervising.reopen(school.teacher, supervising.seat_in(sitting, seat.pk), 0, "And name the part.")
    assert tell_all() == 1
    assert client.get("/api/v1/portal/page").json()["notices"][0]["says"].endswith("And name the part.")
