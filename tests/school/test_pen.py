"""What a marker puts on an answer: whose it is, when it stands, who sees it, and that it is where it was put."""

import io
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import numpy as np
import pypdfium2
import pytest
from django.test import Client
from PIL import Image

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import contents, put
from tests.school.test_marking_work import handed_in, marking_of
from tests.school.test_own_year import own
from versomark.school.classes.services import share_class
from versomark.school.delivery import services, supervising
from versomark.school.delivery.models import Sitting
from versomark.school.delivery.supervising import reopen
from versomark.school.grading.models import Remark
from versomark.school.grading.release import Shown, release
from versomark.school.privacy.erasing import erase

pytestmark = pytest.mark.django_db
TICK = {"kind": "sign", "file": 1, "page": 1, "sign": "tick", "x": 0.5, "y": 0.5}


def remark(place: dict[str, Any], text: str = "", **more: Any) -> dict[str, Any]:
    return {"key": str(uuid4()), "place": place, "text": text, **more}


def change(client: Client, sitting: Sitting, path: str, *added: dict[str, Any], **more: Any) -> Any:
    return client.patch(
        f"/api/v1/sittings/{sitting.pk}/marking/{path}/remarks",
        {"added": list(added), **more},
        content_type="application/json",
    )


def colleague(school: Staffroom, staffroom: Callable[[str], Staffroom], sitting: Sitting) -> Client:
    """Of the same school, who marks in this sitting."""
    second = staffroom("varga")
    second.teacher.school = school.teacher.school
    second.teacher.save()
    share_class(sitting.school_class, second.teacher.pk, may_mark=True, may_run=False)
    return second.client


def white(width: int = 800, height: int = 600) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "white").save(out, "PNG")
    return out.getvalue()


def test_remarks_belong_to_the_answer_and_the_reading_and_reach_the_student_with_it(school: Staffroom) -> None:
    sitting = school.open_sitting(contents=contents(), students=1)
    explain = refs(sitting)[2]
    device = devices(sitting)[0]
    device.join()
    device.answer(explain, {"kind": "written", "text": "It is used up."}, 1)
    device.post("hand-in")
    services.close_sitting(sitting)
    path = f"{explain}/1"
    stretch = {"kind": "stretch", "start": 6, "end": 13}
    note = remark(stretch, "Is it?", criterion="idea")
    body = change(school.client, sitting, path, note).json()
    assert [(entry["place"], entry["text"], entry["criterion"], entry["mine"]) for entry in body["added"]] == [
        (stretch, "Is it?", "idea", True)
    ]
    # Blind: the second reading has remarks of its own.
    assert marking_of(school, sitting, f"{path}?turn=second").json()["remarks"] == []
    for wrong in (
        remark({"kind": "stretch", "start": 5, "end": 5}),
        remark({"kind": "area", "file": 0, "page": 1, "x": 0, "y": 0, "w": 2, "h": 1}),
        remark({"kind": "stroke", "file": 1, "page": 1, "points": [1, 2]}),
        remark({"kind": "words", "file": 1, "page": 1, "x": 0, "y": 0}, "  "),
    ):
        assert change(school.client, sitting, path, wrong).status_code == 422, wrong
    assert change(school.client, sitting, path, remark(stretch, criterion="none of it")).status_code == 404

    put(school.client, sitting, path, {"points": {"idea": 1, "words": 1}})
    seat = sitting.seats.get()
    eyes = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/seats/{seat.pk}").json()
    shown = eyes["questions"][2]["remarks"]
    assert [(entry["place"], entry["says"], entry["criterion"]) for entry in shown] == [(stretch, "Is it?", "Idea")]
    # Given back and changed, the remarks stay with what they were made on.
    reopen(school.teacher, supervising.seat_in(sitting, seat.pk), 0, "Say where it goes.")
    device.answer(explain, {"kind": "written", "text": "It is the same everywhere."}, 2)
    device.post("hand-in")
    second = marking_of(school, sitting, path).json()
    assert second["remarks"] == []
    # The first draft stands beside the second, with what it had earned.
    assert sum(second["before"]["mark"]["points"].values()) == 2
    assert [(entry["fate"], entry["words"]) for entry in second["before"]["passages"]] == [
        ("same", "It is"), ("gone", "used up."), ("new", "the same everywhere."),
    ]  # fmt: skip
    assert marking_of(school, sitting, f"{path}?turn=second").json()["before"] is None


def test_a_sign_is_moved_and_taken_back_and_the_history_still_has_it(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    sitting, path = handed_in(school, {"page.png": white()})
    tick = remark(TICK)
    for _ in range(2):  # a request that is repeated is the same once
        assert len(change(school.client, sitting, path, tick).json()["added"]) == 1
    # A number that stands for another student by now.
    elsewhere = change(school.client, sitting, path, remark(TICK), work="0" * 16)
    assert elsewhere.status_code == 409
    put(school.client, sitting, path, {"points": {"idea": 1, "words": 0}})
    overall = {"text": "Well done.", "item": path.split("/")[0], "work": "0" * 16}
    assert put(school.client, sitting, "students/1/overall", overall).status_code == 409
    overall["work"] = marking_of(school, sitting, path).json()["work"]
    assert put(school.client, sitting, "students/1/overall", overall).status_code == 200
    first = marking_of(school, sitting, path).json()["mark"]["id"]
    moved = remark({**TICK, "x": 0.75}, replaces=tick["key"])
    assert change(school.client, sitting, path, moved).json()["gone"] == [tick["key"]]
    # Drawn and undone before there was a connection: both arrive at once, and nothing stands.
    undone = remark({**TICK, "sign": "cross"})
    body = change(school.client, sitting, path, undone, gone=[undone["key"]]).json()
    assert (body["added"], body["gone"]) == ([], [undone["key"]])
    now = marking_of(school, sitting, path).json()["remarks"]
    assert [(entry["key"], entry["place"]["x"]) for entry in now] == [(moved["key"], 0.75)]
    then = marking_of(school, sitting, f"{path}/remarks?mark={first}").json()
    assert [(entry["key"], entry["place"]["x"]) for entry in then] == [(tick["key"], 0.5)]
    assert Remark.objects.count() == 3  # nothing is deleted
    assert marking_of(school, sitting, f"{path}/remarks?mark={first + 99}").status_code == 404

    other = colleague(school, staffroom, sitting)
    assert change(other, sitting, path, gone=[moved["key"]]).status_code == 409
    assert change(other, sitting, path, {**moved, "place": TICK}).status_code == 409
    assert len(marking_of(school, sitting, path).json()["remarks"]) == 1


def test_an_answer_takes_a_page_of_ink_and_no_more_than_that(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("versomark.school.grading.remarks.MOST_STROKES", 5)
    sitting, path = handed_in(school, {"page.png": white()})
    stroke = {"kind": "stroke", "file": 1, "page": 1, "points": [0, 0, 5000, 10000, 10000, 5000]}
    assert change(school.client, sitting, path, *[remark(stroke) for _ in range(5)]).status_code == 200
    assert change(school.client, sitting, path, remark(stroke)).status_code == 409
    assert change(school.client, sitting, path, remark(TICK)).status_code == 200
    assert len(marking_of(school, sitting, path).json()["remarks"]) == 6


def words_of(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(pdf)
    return " ".join(" ".join(page.get_textpage().get_text_range() for page in document).split())


def ink_on(pdf: bytes) -> list[tuple[float, float]]:
    """Where the pen's colour is in the last page of a file, in shares of the picture on it, whose edge is grey."""
    document = pypdfium2.PdfDocument(pdf)
    page = document[len(document) - 1].render(scale=3).to_numpy().astype(int)
    grey = np.abs(page - 200).max(axis=2) < 12
    # Its edge is long; that of a letter is grey as well.
    rows, columns = np.flatnonzero(grey.sum(axis=1) > 300), np.flatnonzero(grey.sum(axis=0) > 300)
    top, left = rows[0], columns[0]
    high, wide = rows[-1] - top, columns[-1] - left
    plum = np.abs(page[..., ::-1] - np.array([0x8E, 0x2A, 0x63])).max(axis=2) < 30
    plum |= np.abs(page - np.array([0x8E, 0x2A, 0x63])).max(axis=2) < 30
    ys, xs = np.nonzero(plum[top : top + high, left : left + wide])
    return sorted(zip((xs / wide).tolist(), (ys / high).tolist(), strict=True))


def test_the_student_sees_it_in_place_online_and_on_the_sheet_that_goes_home(school: Staffroom) -> None:
    """Reference: the pixels of the printed page, by PDFium."""
    sitting, path = handed_in(school, {"page.png": framed(), "other.png": white()})
    line = {"kind": "stroke", "file": 1, "page": 1, "points": [2500, 5000, 5000, 7500, 5000, 5000]}
    change(school.client, sitting, path, remark(line), remark({**TICK, "x": 0.25, "y": 0.25}, criterion="words"))
    words = {"kind": "words", "file": 1, "page": 1, "x": 0.6, "y": 0.7}
    change(school.client, sitting, path, remark(words, "எங்கே?"))
    put(school.client, sitting, path, {"points": {"idea": 1, "words": 1}})
    seat = sitting.seats.get()
    item = path.split("/")[0]

    base = f"/api/v1/sittings/{sitting.pk}/results/seats/{seat.pk}"
    eyes = school.client.get(base).json()["questions"][0]
    assert [entry["place"]["kind"] for entry in eyes["remarks"]] == ["stroke", "sign", "words"]
    assert eyes["remarks"][1]["criterion"] == "Words"
    assert school.client.get(f"{base}/pictures/{item}/1/1.jpg")["Content-Type"] == "image/jpeg"
    # Only what was written on is a picture of the result.
    assert school.client.get(f"{base}/pictures/{item}/2/1.jpg").status_code == 404

    sheet = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/feedback.pdf?seat={seat.pk}")
    assert "question 1 · 1 of 2" in words_of(sheet.content)
    points = ink_on(sheet.content)
    at_half = [x for x, y in points if abs(y - 0.5) < 0.01]
    assert min(at_half) == pytest.approx(0.25, abs=0.01)
    assert max(at_half) == pytest.approx(0.75, abs=0.01)
    assert any(abs(x - 0.25) < 0.05 and abs(y - 0.25) < 0.07 for x, y in points)
    assert any(0.6 <= x < 0.75 and 0.68 < y < 0.8 for x, y in points)  # letters of another alphabet
    put(school.client, sitting, f"{item}/waived", {"waived": True})
    waived = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/feedback.pdf?seat={seat.pk}")
    assert "question 1 · " not in words_of(waived.content)  # it counts for nothing, and so nothing is said of it
    put(school.client, sitting, f"{item}/waived", {"waived": False})
    settings = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/feedback").json()
    kept = {key: settings[key] for key in ("intro", "closing", "marks", "secure", "nearly")}
    without = {**kept, "work": False, "follow_ups": {}}
    school.client.put(f"/api/v1/sittings/{sitting.pk}/results/feedback", without, content_type="application/json")
    again = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/feedback.pdf?seat={seat.pk}").content
    assert len(pypdfium2.PdfDocument(again)) < len(pypdfium2.PdfDocument(sheet.content))


def framed() -> bytes:
    """A white picture with a grey edge."""
    out = io.BytesIO()
    picture = Image.new("RGB", (800, 600), (200, 200, 200))
    picture.paste("white", (8, 8, 792, 592))
    picture.save(out, "PNG")
    return out.getvalue()


def test_students_have_their_own_pages_and_only_once_they_are_released(school: Staffroom) -> None:
    sitting, path = handed_in(school, {"page.png": white()})
    change(school.client, sitting, path, remark(TICK))
    put(school.client, sitting, path, {"points": {"idea": 1, "words": 1}})
    seat = sitting.seats.get()
    picture = f"/api/v1/portal/sittings/{sitting.pk}/pictures/{path.split('/')[0]}/1/1.jpg"
    student = own(sitting.school_class, seat.student.given_name)
    stranger = own(school.open_sitting(students=2).school_class, "Student2")
    assert student.get(picture).status_code == 404
    release(school.teacher, sitting, Shown(True, False))
    assert student.get(picture).status_code == 200
    assert stranger.get(picture).status_code == 404
    assert Client().get(picture).status_code == 401


def test_what_a_pen_wrote_goes_with_the_name(school: Staffroom) -> None:
    sitting, path = handed_in(school, {"page.png": white()})
    stroke = {"kind": "stroke", "file": 1, "page": 1, "points": [0, 0, 5000]}
    words = {"kind": "words", "file": 1, "page": 1, "x": 0.1, "y": 0.1}
    change(school.client, sitting, path, remark(stroke), remark(words, "Ada, no!"), remark(TICK, "Ada"))
    erase(sitting.seats.get().student, school.teacher)
    assert [(entry.place["kind"], entry.text) for entry in Remark.objects.all()] == [("sign", "")]


def test_stamps_are_ones_own(school: Staffroom, staffroom: Callable[[str], Staffroom]) -> None:
    def stamps(words: str) -> Any:
        return school.client.post("/api/v1/marking/stamps", {"words": words}, content_type="application/json")

    assert [entry["words"] for entry in stamps("  Read   again ").json()] == ["Read again"]
    assert [entry["words"] for entry in stamps("Read again").json()] == ["Read again"]
    assert stamps("   ").status_code == 422
    mine = stamps("நன்று").json()
    assert [entry["words"] for entry in mine] == ["Read again", "நன்று"]
    other = staffroom("varga").client
    assert other.get("/api/v1/marking/stamps").json() == []
    assert other.delete(f"/api/v1/marking/stamps/{mine[0]['id']}").status_code == 404
    assert len(school.client.get("/api/v1/marking/stamps").json()) == 2
