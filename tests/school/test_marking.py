"""The marking desk: marks that count when all are in, two markers who lose nothing, names that nothing gives away."""

import io
import json
import re
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from openpyxl import load_workbook

from tests.conftest import PASSWORD, Device, Staffroom, devices, refs, two_questions
from versomark.core.items import ItemContent
from versomark.core.items.by_rubric import FileTask, Performance, Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.accounts.models import School, Teacher
from versomark.school.classes.services import share_class
from versomark.school.delivery import services, supervising
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Sitting
from versomark.school.errors import DomainError
from versomark.school.findings.report import FindingsReport
from versomark.school.findings.services import findings_of
from versomark.school.grading.models import CurrentMark, Mark, MarkState
from versomark.school.grading.queries import marks_of, waiting_in
from versomark.school.grading.services import MarkGiven, give, waive

RUBRIC = Rubric(criteria=[Criterion(id="idea", name="Idea", max=3), Criterion(id="words", name="Words", max=1)])
FULL = {"idea": 3, "words": 1}


def contents() -> list[ItemContent]:
    return [
        *two_questions(),
        Written(stem="Explain.", marks=6, rubric=RUBRIC),
        FileTask(stem="Draw.", marks=2, rubric=RUBRIC),
        Performance(stem="Play.", marks=2, rubric=RUBRIC),
    ]


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    """Three students: two explained, one handed a file in that is called by their name, nobody has been marked."""
    sitting = school.open_sitting(contents=contents(), students=3)
    for at, device in enumerate(devices(sitting)):
        sit(device, sitting, at)
    return services.close_sitting(sitting)


def sit(device: Device, sitting: Sitting, at: int) -> None:
    one, _, explain, draw, _ = refs(sitting)
    device.join()
    device.answer(one, {"kind": "single_choice", "option": "b"}, 1)
    if at < 2:
        device.answer(explain, {"kind": "written", "text": "Because of the loop. " * (1 + at)}, 2)
    if at == 2:
        upload = SimpleUploadedFile("Student3 Family.pdf", b"%PDF-1.4 drawn")
        file = device.client.post(f"/api/v1/student/files/{draw}", {"file": upload}).json()
        device.answer(draw, {"kind": "file", "files": [file]}, 3)
    assert device.post("hand-in").status_code == 200


def put(client: Client, sitting: Sitting, path: str, body: dict[str, Any]) -> Any:
    return client.put(f"/api/v1/sittings/{sitting.pk}/marking/{path}", body, content_type="application/json")


def page_of(client: Client, sitting: Sitting) -> Any:
    return client.get(f"/api/v1/sittings/{sitting.pk}/marking").json()


def findings(sitting: Sitting) -> FindingsReport:
    kept = findings_of(sitting)
    assert kept is not None
    return FindingsReport.model_validate(kept.body)


@pytest.mark.django_db
def test_an_item_counts_once_all_of_it_is_marked_and_a_waived_one_does_not(school: Staffroom, sat: Sitting) -> None:
    explain, draw, play = refs(sat)[2:]
    waiting = {entry.ref: (entry.marked, entry.to_mark) for entry in waiting_in(sat)}
    assert waiting == {explain: (0, 2), draw: (0, 1), play: (0, 3)}
    assert findings(sat).test.max == 2
    assert [question.waiting for question in findings(sat).paper] == [0, 0, 2, 1, 3]

    def on_the_desk() -> list[int]:
        return [line["answers"] for line in school.client.get("/api/v1/desk").json()["to_mark"]]

    assert on_the_desk() == [6]
    half = {"idea": 1.5, "words": 0.5}
    assert put(school.client, sat, f"{explain}/1", {"points": FULL}).json()["entry"]["marks"] == 6
    # One answer of two: the item stays out of every figure, and no zero is made up for the other.
    assert findings(sat).test.max == 2
    assert put(school.client, sat, f"{explain}/2", {"points": half}).json()["entry"]["marks"] == 3
    body = findings(sat)
    assert (body.test.max, body.paper[2].waiting) == (8, 0)
    assert on_the_desk() == [4]
    desk = {seat.desk: body.totals[seat.pk] for seat in sat.seats.all()}
    assert desk == {1: 7, 2: 4, 3: 1}  # the third left it empty: that is nothing, and nobody had to say so
    # Their teacher has it on paper, and says what it is worth: then it counts.
    third = sat.seats.get(desk=3)
    give(school.teacher, third, explain, MarkGiven(half, "On paper.", False, None))
    assert findings(sat).totals[third.pk] == 4
    give(school.teacher, third, explain, MarkGiven({"idea": 0, "words": 0}, "Not this.", False, None))
    assert findings(sat).totals[third.pk] == 1

    for path, points, says in (
        (f"{explain}/1", {"idea": 3.5, "words": 0}, "Idea has at most 3."),
        (f"{explain}/1", {"idea": 1}, "A criterion has no points yet."),
        (f"{explain}/1", {"idea": 1, "other": 1}, "not in the rubric"),
        (f"{explain}/9", FULL, "answer"),
        (f"{refs(sat)[0]}/1", FULL, "question"),
    ):
        assert says in json.dumps(put(school.client, sat, path, {"points": points}).json())

    # Waived: out of the total and the analysis, on record, and back again with the marks it had.
    page = put(school.client, sat, f"{explain}/waived", {"waived": True}).json()
    assert [item["waived"] for item in page["items"]] == [True, False, False]
    assert findings(sat).test.max == 2
    assert [question.waived for question in findings(sat).paper] == [False, False, True, False, False]
    assert "waived" in put(school.client, sat, f"{explain}/1", {"points": FULL}).json()["detail"]
    put(school.client, sat, f"{explain}/waived", {"waived": False})
    assert findings(sat).test.max == 8
    sentences = [event_words(event) for event in sat.events.order_by("pk")]
    assert sentences[-2:] == ["question 3 waived", "question 3 no longer waived"]


@pytest.mark.django_db
def test_a_draft_waits_a_kept_mark_stays_and_the_history_only_grows(school: Staffroom, sat: Sitting) -> None:
    explain = refs(sat)[2]
    path = f"{explain}/1"
    assert put(school.client, sat, path, {"points": {"idea": 2}, "draft": True}).json()["entry"]["state"] == "draft"
    put(school.client, sat, path, {"points": {"idea": 2, "words": 0}, "draft": True})
    assert Mark.objects.count() == 1
    assert marks_of(sat) == {}
    body = put(school.client, sat, path, {"points": {"idea": 2, "words": 0}, "comment": "Say why."}).json()
    assert (body["entry"]["state"], body["comments"]) == ("kept", ["Say why."])
    # A draft that was on its way takes no kept mark's place; the same mark again is no news.
    put(school.client, sat, path, {"points": {"idea": 0}, "draft": True})
    put(school.client, sat, path, {"points": {"idea": 2, "words": 0}, "comment": "Say why."})
    assert Mark.objects.count() == 1
    put(school.client, sat, path, {"points": FULL, "comment": "Say why.\nName the path."})
    answer = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{path}").json()
    assert [entry["points"] for entry in answer["history"]] == [FULL, {"idea": 2, "words": 0}]
    assert answer["mark"]["points"] == FULL
    page = page_of(school.client, sat)
    assert page["items"][0]["comments"] == ["Say why.", "Name the path."]
    # Days later, another browser: the same place.
    put(school.client, sat, "at", {"item": explain, "number": 2, "by_student": True, "order": "short"})
    page = page_of(school.client, sat)
    assert (page["item"], page["number"], page["by_student"], page["order"]) == (explain, 2, True, "short")


@pytest.mark.django_db
def test_two_markers_on_one_answer_lose_nothing_and_the_second_is_told(
    school: Staffroom, sat: Sitting, staffroom: Callable[[str], Staffroom]
) -> None:
    second = staffroom("varga")
    second.teacher.school = school.teacher.school
    second.teacher.save()
    path = f"{refs(sat)[2]}/1"
    assert second.client.get(f"/api/v1/sittings/{sat.pk}/marking").status_code == 404
    share_class(sat.school_class, second.teacher.pk, may_mark=False, may_run=True)
    assert second.client.get(f"/api/v1/sittings/{sat.pk}/marking").status_code == 403
    share_class(sat.school_class, second.teacher.pk, may_mark=True, may_run=False)

    first = put(school.client, sat, path, {"points": FULL, "seen": None}).json()
    late = put(second.client, sat, path, {"points": {"idea": 1, "words": 0}, "seen": None}).json()
    assert (late["stands"], late["other"]["by"]) == (False, "Brandt")
    assert marks_of(sat)[str(sat.seats.get(desk=1).pk)] == {refs(sat)[2]: 6}
    assert Mark.objects.filter(state=MarkState.ASIDE).count() == 1
    # Both are told, in the list and at the answer, and one of the two is chosen by a person.
    assert [line["to_choose"] for line in school.client.get("/api/v1/marking").json()] == [1]
    assert [entry["beside"] for entry in page_of(school.client, sat)["entries"][refs(sat)[2]]] == [True, False, False]
    for client in (school.client, second.client):
        answer = client.get(f"/api/v1/sittings/{sat.pk}/marking/{path}").json()
        assert (answer["mark"]["by"], [entry["by"] for entry in answer["beside"]]) == ("Brandt", ["Varga"])
    choice = f"/api/v1/sittings/{sat.pk}/marking/{path}/choice"
    body = {"mark": late["mark"]["id"]}
    assert school.client.post(choice, body, content_type="application/json").status_code == 200
    assert "chosen meanwhile" in second.client.post(choice, body, content_type="application/json").json()["detail"]
    assert marks_of(sat)[str(sat.seats.get(desk=1).pk)] == {refs(sat)[2]: 1.5}
    # Having seen it, the first puts theirs in its place; all are in the history.
    seen = late["mark"]["id"]
    again = put(school.client, sat, path, {"points": {"idea": 1, "words": 1}, "seen": seen}).json()
    assert again["stands"]
    history = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{path}").json()["history"]
    assert [(entry["by"], entry["state"]) for entry in history] == [
        ("Brandt", "kept"),
        ("Varga", "kept"),
        ("Brandt", "kept"),
    ]

    # The same as a table, in the order in which it happened; read again by another library.
    put(second.client, sat, path, {"points": FULL, "comment": "=1+1", "seen": None})
    assert first["mark"]["id"] < again["mark"]["id"]
    root = f"/api/v1/sittings/{sat.pk}/marking/history"
    sheet = load_workbook(io.BytesIO(school.client.get(f"{root}/xlsx").content)).active
    rows = [[cell.value for cell in row][1:6] + [cell.value for cell in row][9:] for row in sheet.iter_rows()]  # type: ignore[union-attr]
    assert rows == [
        ["By", "Reading", "Question", "Place", "Student", "Points", "Of", "Instead of", "Comment", "Stands"],
        ["Brandt", "first", 3, 1, "Student1 Family", 4, 4, None, None, None],
        ["Varga", "first", 3, 1, "Student1 Family", 1, 4, 4, None, None],
        ["Brandt", "first", 3, 1, "Student1 Family", 2, 4, 1, None, "yes"],
        ["Varga", "first", 3, 1, "Student1 Family", 4, 4, 2, "'=1+1", "beside it, to be chosen"],
    ]
    assert len(school.client.get(f"{root}/csv").content.splitlines()) == 5


@pytest.mark.django_db
def test_a_colleagues_word_on_the_whole_work_is_never_covered_unseen(
    school: Staffroom, sat: Sitting, staffroom: Callable[[str], Staffroom]
) -> None:
    second = staffroom("varga")
    second.teacher.school = school.teacher.school
    second.teacher.save()
    share_class(sat.school_class, second.teacher.pk, may_mark=True, may_run=False)

    def write(who: Staffroom, text: str, seen: int | None = None) -> Any:
        return put(who.client, sat, "students/1/overall", {"text": text, "seen": seen})

    def stands() -> tuple[str, str]:
        answer = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{refs(sat)[2]}/1").json()
        return answer["overall"], answer["overall_by"]

    first = write(school, "Well begun.").json()["id"]
    assert write(school, "Well begun indeed.").status_code == 200  # one's own is changed while one types
    refused = write(second, "Careless.")
    assert (refused.status_code, "Brandt has written" in refused.json()["detail"]) == (409, True)
    assert write(second, "Careless.", first).status_code == 409  # there is a newer one by now
    assert stands() == ("Well begun indeed.", "Brandt")
    seen = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{refs(sat)[2]}/1").json()["overall_id"]
    assert write(second, "Well begun indeed.\n\nCareless at the end.", seen).status_code == 200
    assert stands()[1] == "Varga"
    assert write(school, "Well begun.", seen).status_code == 409


@pytest.mark.django_db
def test_the_answer_to_a_draft_is_never_a_sight_of_a_colleagues_mark(
    school: Staffroom, sat: Sitting, staffroom: Callable[[str], Staffroom]
) -> None:
    """Two open the same answer; whatever a draft of either was told, the second mark covers nothing in silence."""
    second = staffroom("varga")
    second.teacher.school = school.teacher.school
    second.teacher.save()
    share_class(sat.school_class, second.teacher.pk, may_mark=True, may_run=False)
    path, low = f"{refs(sat)[2]}/1", {"idea": 0, "words": 1}
    address = f"/api/v1/sittings/{sat.pk}/marking/{path}"

    begun = put(school.client, sat, path, {"points": {"idea": 3}, "draft": True}).json()
    # What the first has begun is in nobody else's form, nor in the way of their own draft.
    assert second.client.get(address).json()["mark"] is None
    drafted = put(second.client, sat, path, {"points": {"idea": 0}, "draft": True}).json()
    assert (drafted["stands"], drafted["mark"]["points"]) == (True, {"idea": 0})
    body = put(school.client, sat, path, {"points": FULL, "comment": "Yes."}).json()
    told = put(second.client, sat, path, {"points": low, "draft": True}).json()
    assert (told["stands"], told["other"]["id"]) == (False, body["mark"]["id"])
    for seen in (None, begun["mark"]["id"], drafted["mark"]["id"]):
        late = put(second.client, sat, path, {"points": low, "seen": seen}).json()
        assert (late["stands"], late["other"]["comment"]) == (False, "Yes.")
    assert marks_of(sat)[str(sat.seats.get(desk=1).pk)] == {refs(sat)[2]: 6}
    assert [entry["points"] for entry in second.client.get(address).json()["beside"]] == [low]


@pytest.mark.django_db
def test_a_change_that_is_sent_again_under_its_key_is_carried_out_once(school: Staffroom, sat: Sitting) -> None:
    path = f"/api/v1/sittings/{sat.pk}/marking/{refs(sat)[2]}/1"

    def send(idea: float, key: str) -> Any:
        body = {"points": {"idea": idea, "words": 1}, "seen": None}
        headers = {"Idempotency-Key": key}
        return school.client.put(path, body, content_type="application/json", headers=headers)

    early, late = str(uuid4()), str(uuid4())
    first = send(1, early)
    assert send(2, late).json()["mark"]["points"]["idea"] == 2
    again = send(1, early)
    assert (again.status_code, again.json()) == (200, first.json())
    assert Mark.objects.count() == 2
    assert marks_of(sat)[str(sat.seats.get(desk=1).pk)] == {refs(sat)[2]: 4.5}
    # A refusal is not kept: the same change may be sent again once its reason is gone.
    waive(school.teacher, sat, refs(sat)[2], True)
    refused = str(uuid4())
    assert send(3, refused).status_code == 409
    waive(school.teacher, sat, refs(sat)[2], False)
    assert send(3, refused).status_code == 200
    assert send(3, "not a key").status_code == 422


def every_answer(client: Client, sitting: Sitting) -> dict[str, bytes]:
    """All that the marking desk sends of a sitting, by address."""
    root = f"/api/v1/sittings/{sitting.pk}/marking"
    page = client.get(root)
    sent = {root: page.content, "list": client.get("/api/v1/marking").content}
    sent |= {path: client.get(f"{root}{path}").content for path in ("?turn=second", "?turn=agreed", "/second")}
    for ref, entries in page.json()["entries"].items():
        for entry in entries:
            path = f"{root}/{ref}/{entry['number']}"
            answer = client.get(path)
            sent[path] = answer.content
            for file in answer.json()["files"]:
                given = client.get(f"{path}/files/{file['place']}")
                assert given["Content-Disposition"].startswith("attachment")
                sent[f"{path} file"] = " ".join(f"{k}: {v}" for k, v in given.headers.items()).encode()
    return sent


@pytest.mark.django_db
def test_hidden_names_are_in_no_byte_and_the_numbers_lead_back_to_nobody(school: Staffroom, sat: Sitting) -> None:
    assert any(b"Student3" in body for body in every_answer(school.client, sat).values())
    assert put(school.client, sat, "names", {"hidden": True}).json()["names_hidden"]
    sent = every_answer(school.client, sat)
    sent["history"] = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/history/csv").content
    for body in sent.values():
        assert not re.search(rb"Student\d|Family(?! name)", body), body
        assert not re.search(rb'"(seat|desk|student)s?"', body), body
    # Numbers of chance, that stay: over many sittings every order of the desks comes up, and none is kept.
    orders = set()
    for _ in range(12):
        other = school.open_sitting(contents=contents(), students=3)
        for at, device in enumerate(devices(other)):
            sit(device, other, at)
        put(school.client, other, "names", {"hidden": True})
        words = {entry["number"]: entry["words"] for entry in page_of(school.client, other)["entries"][refs(other)[2]]}
        assert page_of(school.client, other)["names"] == {}
        orders.add(tuple(words[number] for number in (1, 2, 3)))
    assert len(orders) > 2

    number = next(
        entry["number"] for entry in page_of(school.client, sat)["entries"][refs(sat)[2]] if entry["words"] == 4
    )
    put(school.client, sat, f"{refs(sat)[2]}/{number}", {"points": FULL})
    assert list(marks_of(sat)) == [str(sat.seats.get(desk=1).pk)]
    shown = put(school.client, sat, "names", {"hidden": False}).json()
    assert shown["names"]["1"].startswith("Student1")
    assert "cannot be hidden again" in put(school.client, sat, "names", {"hidden": True}).json()["detail"]


@pytest.mark.django_db
def test_a_mark_is_of_the_answer_it_was_given_for(school: Staffroom, sat: Sitting) -> None:
    """Work that is given back and changed waits for its mark once more; handed in again as it was, it keeps it."""
    explain = refs(sat)[2]
    for number in (1, 2):
        put(school.client, sat, f"{explain}/{number}", {"points": FULL, "comment": "Good."})
    seats = {seat.desk: seat for seat in sat.seats.all()}
    services.open_sitting(sat)
    for desk, text in ((1, None), (2, "Another thought.")):
        device = devices(sat)[desk - 1]
        supervising.reopen(school.teacher, supervising.seat_in(sat, seats[desk].pk))
        page = device.join().json()
        if text:
            device.answer(explain, {"kind": "written", "text": text}, page["sequence"] + 1)
        device.post("hand-in")
    assert marks_of(sat) == {str(seats[1].pk): {explain: 6}}
    entries = {entry["number"]: entry["state"] for entry in page_of(school.client, sat)["entries"][explain]}
    assert (entries[1], entries[2]) == ("kept", "waiting")
    answer = school.client.get(f"/api/v1/sittings/{sat.pk}/marking/{explain}/2").json()
    # The desk begins anew, the history knows what was given before, and the next mark needs nobody's leave.
    assert (answer["mark"], [entry["comment"] for entry in answer["history"]]) == (None, ["Good."])
    assert put(school.client, sat, f"{explain}/2", {"points": {"idea": 1, "words": 0}}).json()["stands"]
    assert marks_of(sat)[str(seats[2].pk)] == {explain: 1.5}


@pytest.mark.django_db
def test_marks_given_without_names_are_beside_no_name_before_those_are_shown(school: Staffroom, sat: Sitting) -> None:
    put(school.client, sat, "names", {"hidden": True})
    explain = refs(sat)[2]
    for entry in page_of(school.client, sat)["entries"][explain]:
        if entry["state"] == "waiting":
            put(school.client, sat, f"{explain}/{entry['number']}", {"points": FULL})
    assert set(marks_of(sat)) == {str(sat.seats.get(desk=desk).pk) for desk in (1, 2)}
    page = school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()
    assert (page["names_hidden"], page["body"]["test"]["max"]) == (True, 2)
    assert page["body"]["paper"][2]["earned"] == []
    # What is left to do is what is not marked, and not what does not count yet.
    assert [line["answers"] for line in school.client.get("/api/v1/desk").json()["to_mark"]] == [4]
    put(school.client, sat, "names", {"hidden": False})
    page = school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()
    assert (page["names_hidden"], page["body"]["test"]["max"]) == (False, 8)


@pytest.mark.django_db
def test_students_see_nothing_of_marks(school: Staffroom, sat: Sitting) -> None:
    """Non-interference: with marks and comments, a device is sent the same bytes as without."""
    services.open_sitting(sat)
    device = devices(sat)[0]
    device.join()

    def sent() -> list[bytes]:
        # The time goes on, and is signed.
        seat = re.sub(rb'"moment":"[^"]*"', b"", device.seat().content)
        return [seat, device.client.get("/api/v1/student/next").content]

    before = sent()
    for number, points in ((1, FULL), (2, {"idea": 0, "words": 0})):
        put(school.client, sat, f"{refs(sat)[2]}/{number}", {"points": points, "comment": "TELLTALE"})
    assert sent() == before


@pytest.mark.django_db
def test_nobody_is_marked_who_has_not_handed_in(school: Staffroom) -> None:
    sitting = school.open_sitting(contents=contents(), students=2)
    devices(sitting)[0].join()
    assert put(school.client, sitting, f"{refs(sitting)[4]}/1", {"points": FULL}).status_code == 404
    with pytest.raises(DomainError):
        give(school.teacher, sitting.seats.get(desk=1), refs(sitting)[2], MarkGiven(FULL, "", False, None))
    # What is watched is marked while it is done: see `test_watching`.
    given = give(school.teacher, sitting.seats.get(desk=1), refs(sitting)[4], MarkGiven(FULL, "", False, None))
    assert given.stands


class MarksByTwo(TestCase):
    """Any order of drafts, marks and waivers by two markers (Hypothesis), against a model of a few lines."""

    @settings(max_examples=15)
    @given(
        st.lists(
            st.tuples(
                st.integers(0, 1),  # who
                st.sampled_from(["draft", "keep", "keep without looking", "waive", "unwaive"]),
                st.integers(0, 6).map(lambda halves: halves / 2),
            ),
            max_size=14,
        )
    )
    def test_the_mark_that_stands_is_the_last_one_given_in_sight_of_the_one_before(
        self, acts: list[tuple[int, str, float]]
    ) -> None:
        school = School.objects.create(name="S")
        markers = [Teacher.objects.create_teacher(school, name, name, PASSWORD) for name in ("one", "two")]
        sitting = Staffroom(markers[0], Client()).open_sitting(contents=contents(), students=1)
        device = devices(sitting)[0]
        sit(device, sitting, 0)
        seat, ref = sitting.seats.get(), refs(sitting)[2]
        stands: tuple[int, float] | None = None  # who, idea: of the kept mark
        out, given_marks = False, 0
        for who, act, idea in acts:
            seat.refresh_from_db()
            now = CurrentMark.objects.filter(seat=seat, item=ref).first()
            if act in ("waive", "unwaive"):
                out = act == "waive"
                waive(markers[who], sitting, ref, out)
                continue
            seen = now.mark_id if now and act != "keep without looking" else None
            wanted = MarkGiven({"idea": idea, "words": 1}, "", act == "draft", seen)
            if out:
                with pytest.raises(DomainError):
                    give(markers[who], seat, ref, wanted)
                continue
            told = give(markers[who], seat, ref, wanted)
            if act == "draft":
                continue
            covered = stands is not None and stands[0] != who and act == "keep without looking" and stands[1] != idea
            assert told.stands is not covered
            given_marks += stands != (who, idea)
            if not covered and not (stands is not None and stands[1] == idea):
                stands = (who, idea)
            assert marks_of(sitting)[str(seat.pk)][ref] == pytest.approx(6 * (stands[1] + 1) / 4) if stands else True
        kept = Mark.objects.filter(seat=seat, item=ref).exclude(state=MarkState.DRAFT).count()
        assert kept <= given_marks
        assert (kept > 0) == (stands is not None)
