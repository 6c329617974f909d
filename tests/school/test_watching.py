"""Marking while it is done: several students, a watch, evidence, and what a student and a colleague see of it."""

from collections.abc import Callable
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tests.conftest import Staffroom, devices, refs
from tests.school.test_own_year import own
from tests.school.test_own_year import release as released
from tests.school.test_pen import TICK, change, colleague, remark, white
from versomark.core.items.by_rubric import Performance, Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.delivery import services
from versomark.school.delivery.models import SeatState, Sitting, SittingState
from versomark.school.files import here
from versomark.school.grading.numbers import hide_names
from versomark.school.grading.totals import results_in
from versomark.school.privacy.erasing import erase
from versomark.school.responses.files import path_of
from versomark.school.responses.models import HandedInFile
from versomark.school.responses.on_behalf import move_answers

pytestmark = pytest.mark.django_db
RUBRIC = Rubric(criteria=[Criterion(id="says", name="Says it", max=4), Criterion(id="sound", name="Sound", max=2)])
TALK = Performance(stem="Speak for two minutes.", marks=6, minutes=2, rubric=RUBRIC)
ESSAY = Written(stem="Write.", marks=2, rubric=Rubric(criteria=[Criterion(id="c", name="Sense", max=2)]))
SOUND = b"\x1a\x45\xdf\xa3" + bytes(range(256)) * 8


def at(sitting: Sitting, path: str = "") -> str:
    return f"/api/v1/sittings/{sitting.pk}/marking/watching/{path}".rstrip("/")


def give(client: Client, sitting: Sitting, desk: int, ref: str, says: float | None, **more: Any) -> Any:
    points = {} if says is None else {"says": says, "sound": 1}
    body = {"points": points, **more}
    return client.put(at(sitting, f"{seat_at(sitting, desk)}/{ref}"), body, content_type="application/json")


def keep(client: Client, sitting: Sitting, desk: int, ref: str, name: str, data: bytes = SOUND) -> Any:
    return client.post(
        at(sitting, f"{seat_at(sitting, desk)}/{ref}/evidence"), {"file": SimpleUploadedFile(name, data)}
    )


def seat_at(sitting: Sitting, desk: int) -> int:
    return sitting.seats.get(desk=desk).pk


def states(sitting: Sitting) -> list[str]:
    return list(sitting.seats.order_by("desk").values_list("state", flat=True))


def test_a_class_of_three_is_marked_while_it_speaks_and_marks_say_who_was_there(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    sitting = school.sitting([TALK, TALK], students=3)
    first, second = refs(sitting)
    page = school.client.get(at(sitting)).json()
    assert (page["alone"], page["tasks"][0]["minutes"], len(page["students"])) == (True, 2, 3)
    assert page["students"][0]["work"][first] == {"mark": None, "beside": False, "seconds": None, "evidence": []}

    # A draft says that somebody is here; the last mark, that all of it is in. Nobody is let in by it.
    drafted = give(school.client, sitting, 1, first, None, draft=True, seconds=75).json()
    assert (drafted["work"][first]["mark"]["state"], drafted["work"][first]["seconds"]) == ("draft", 75)
    sitting.refresh_from_db()
    assert (sitting.state, states(sitting)) == (SittingState.PAUSED, ["working", "expected", "expected"])
    assert give(school.client, sitting, 1, first, 4).json()["work"][first]["seconds"] == 75
    give(school.client, sitting, 1, second, 2)
    services.mark_absence(sitting, seat_at(sitting, 2), SeatState.ABSENT)
    give(school.client, sitting, 2, first, 3)
    assert states(sitting) == ["handed in", "working", "expected"]

    # Two who watch the same student: neither covers the other, and a person chooses.
    ben = colleague(school, staffroom, sitting)
    beside = give(ben, sitting, 1, first, 1).json()["work"][first]
    assert (beside["mark"]["points"]["says"], beside["mark"]["mine"], beside["beside"]) == (4, False, True)
    assert give(school.client, sitting, 1, first, 9).status_code == 422

    services.close_sitting(sitting)
    assert states(sitting) == ["handed in", "handed in", "absent"]
    totals = {result.seat.desk: result.total for result in results_in(sitting)}
    assert totals[1] == 5 + 3
    assert totals[3] is None  # who has shown nothing was not there


def test_evidence_is_kept_heard_and_written_on_and_never_takes_a_mark_away(school: Staffroom) -> None:
    sitting = school.sitting([TALK], students=2)
    (talk,) = refs(sitting)
    give(school.client, sitting, 1, talk, 3)
    shows = keep(school.client, sitting, 1, talk, "பேச்சு 1.weba").json()["work"][talk]
    assert (shows["mark"]["points"]["says"], shows["evidence"][0]["kind"]) == (3, "sound")
    shows = keep(school.client, sitting, 1, talk, "pose.png", white()).json()["work"][talk]
    assert [line["name"] for line in shows["evidence"]] == ["பேச்சு 1.weba", "pose.png"]
    for name, data, says in (
        ("talk.exe", SOUND, "is not taken here"),
        ("talk.weba", b"no sound", "is not what its ending says"),
        ("talk.mp3", b"", "is empty"),
    ):
        refused = keep(school.client, sitting, 1, talk, name, data)
        assert (refused.status_code, says in refused.json()["detail"]) == (422, True)

    # Where it is marked the sound is played, in parts if a player asks so (RFC 9110, 14.2), and the picture written on.
    desk = f"/api/v1/sittings/{sitting.pk}/marking/{talk}/1"
    answer = school.client.get(desk).json()
    assert (answer["mark"]["points"]["says"], [file["name"] for file in answer["files"]][1]) == (3, "pose.png")
    player = at(sitting, f"{seat_at(sitting, 1)}/evidence/{shows['evidence'][0]['file']}")
    for address in (f"{desk}/files/1/played", player):
        part = school.client.get(address, headers={"Range": "bytes=4-9"})
        assert (part.status_code, part.content, part["Content-Type"]) == (206, SOUND[4:10], "audio/webm")
        assert part["Content-Range"] == f"bytes 4-9/{len(SOUND)}"
        assert school.client.get(address, headers={"Range": "bytes=-3"}).content == SOUND[-3:]
        assert b"".join(school.client.get(address).streaming_content) == SOUND  # type: ignore[attr-defined]
        beyond = school.client.get(address, headers={"Range": f"bytes={len(SOUND)}-"})
        assert beyond.status_code == 200
    assert change(school.client, sitting, f"{talk}/1", remark({**TICK, "file": 2})).status_code == 200
    first, picture = (line["file"] for line in shows["evidence"])
    for file in (first, picture):
        written_on = school.client.delete(at(sitting, f"{seat_at(sitting, 1)}/{talk}/evidence/{file}"))
        assert "Somebody has written on it" in written_on.json()["detail"]
    other = keep(school.client, sitting, 1, talk, "more.weba").json()["work"][talk]["evidence"][2]["file"]
    left = school.client.delete(at(sitting, f"{seat_at(sitting, 1)}/{talk}/evidence/{other}")).json()
    assert len(left["work"][talk]["evidence"]) == 2
    for number in range(8):
        assert keep(school.client, sitting, 1, talk, f"{number}.weba").status_code == 200
    assert keep(school.client, sitting, 1, talk, "eleventh.weba").status_code == 422

    # It reaches its student with the result, and nobody else's page.
    sitting.refresh_from_db()
    services.close_sitting(sitting)
    released(school, sitting)
    shown = own(sitting.school_class, "Student1").get(f"/api/v1/portal/sittings/{sitting.pk}/result").json()
    assert [file["name"] for file in shown["questions"][0]["files"]][:2] == ["பேச்சு 1.weba", "pose.png"]
    address = f"/api/v1/portal/sittings/{sitting.pk}/files/{first}"
    assert own(sitting.school_class, "Student1").get(address).status_code == 200
    assert own(sitting.school_class, "Student2").get(address).status_code == 404
    # There it is heard and seen, and called what it is: nothing of it was handed in.
    assert (shown["questions"][0]["watched"], shown["questions"][0]["files"][0]["plays"]) == (True, "sound")
    assert own(sitting.school_class, "Student1").get(f"{address}/played")["Content-Type"] == "audio/webm"
    assert own(sitting.school_class, "Student2").get(f"{address}/played").status_code == 404
    paths = [path_of(file) for file in HandedInFile.objects.all()]
    assert all(here(path) for path in paths)


def test_beside_other_questions_a_mark_waits_for_what_is_handed_in(school: Staffroom) -> None:
    sitting = school.sitting([ESSAY, TALK], students=2)
    essay, talk = refs(sitting)
    give(school.client, sitting, 1, talk, 4)
    assert states(sitting) == ["expected", "expected"]  # nobody's time begins with it
    services.open_sitting(sitting)
    device = devices(sitting)[0]
    device.join()
    forged = device.answer(talk, {"kind": "performance", "files": []}, 1)
    assert forged.status_code == 422
    device.answer(essay, {"kind": "written", "text": "Words."}, 1)
    device.post("hand-in")
    assert give(school.client, sitting, 2, talk, 2).status_code == 200
    services.close_sitting(sitting)
    body = {"points": {"c": 2}}
    marked = school.client.put(
        f"/api/v1/sittings/{sitting.pk}/marking/{essay}/1", body, content_type="application/json"
    )
    assert marked.status_code == 200
    totals = {result.seat.desk: result.total for result in results_in(sitting)}
    # The second student has spoken and was not there to write: absent, as for everybody else, and the mark is kept.
    assert (totals[1], totals[2], states(sitting)[1]) == (5 + 2, None, "absent")
    work = school.client.get(at(sitting)).json()["students"][1]["work"][talk]
    assert work["mark"]["points"]["says"] == 2


def test_who_may_watch_and_what_the_second_reading_sees(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    sitting = school.sitting([TALK], students=2)
    (talk,) = refs(sitting)
    hide_names(school.teacher, sitting)
    assert "names of this sitting are hidden" in school.client.get(at(sitting)).json()["detail"]
    sitting = school.sitting([TALK], students=2)
    (talk,) = refs(sitting)
    give(school.client, sitting, 1, talk, 3)
    plan = {"which": "all", "tolerance": 1, "mean": True}
    begun = school.client.put(f"/api/v1/sittings/{sitting.pk}/marking/second", plan, content_type="application/json")
    assert begun.status_code == 200, begun.content
    second = colleague(school, staffroom, sitting)
    blind = second.get(at(sitting), {"turn": "second"}).json()
    assert (blind["second"], blind["students"][0]["work"][talk]["mark"]) == (True, None)
    assert give(second, sitting, 1, talk, 1, turn="second").json()["work"][talk]["mark"]["points"]["says"] == 1
    stranger = staffroom("kite").client
    assert stranger.get(at(sitting)).status_code == 404
    nothing = school.sitting([ESSAY], students=1)
    assert school.client.get(at(nothing)).status_code == 404


def test_what_was_kept_of_a_student_stays_with_their_name_and_goes_with_them(school: Staffroom) -> None:
    sitting = school.sitting([TALK], students=2)
    seat = sitting.seats.get(desk=1)
    (talk,) = refs(sitting)
    keep(school.client, sitting, 1, talk, "Student1 speaks.weba")
    file = HandedInFile.objects.get()
    move_answers(seat, to=sitting.seats.get(desk=2))
    assert school.client.get(at(sitting)).json()["students"][0]["work"][talk]["evidence"]
    erase(seat.student, school.teacher)
    file.refresh_from_db()
    assert "Student1" not in file.name
