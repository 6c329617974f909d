"""Folded cards in a lesson: what a camera sees becomes answers, doubts are the teacher's, and no picture is kept."""

import re
from base64 import b64encode
from pathlib import Path
from typing import Any

import pypdfium2
import pytest

from tests.conftest import Staffroom, two_questions
from tests.school.test_room import act, choose, joined, lesson
from tests.school.test_teacher_side import send
from tests.school.whole import everything
from versomark.core.items import Option, SingleChoice
from versomark.core.items.numeric import Numeric
from versomark.core.sheets.card_reading import find_cards
from versomark.core.sheets.images import photo
from versomark.school.room import cards, practice
from versomark.school.room.models import Room, RoundAnswer
from versomark.stand_ins.camera import Classroom

pytestmark = pytest.mark.django_db


def shown(showing: dict[int, str], at: int = 0, desks: int = 3) -> bytes:
    return Classroom(range(1, desks + 1), wear=0.1).frame(showing, 1280, 720, at)


def look(school: Staffroom, room: Room, picture: bytes, still: bool = False) -> Any:
    path = f"/api/v1/cards/{room.sitting_id}/pictures?still={'true' if still else 'false'}"
    return school.client.post(path, picture, content_type="image/jpeg")


def frames(school: Staffroom, room: Room, showing: dict[int, str], count: int = 2) -> Any:
    for at in range(count):
        reply = look(school, room, shown(showing, at))
    return reply.json()


def console(school: Staffroom, room: Room) -> Any:
    return school.client.get(f"/api/v1/sittings/{room.sitting_id}/room").json()


def inside(school: Staffroom, room: Room) -> dict[int, tuple[str, str]]:
    return {line["desk"]: (line["said"], line["source"]) for line in console(school, room)["inside"]}


def test_cards_are_read_frame_by_frame_until_nobody_is_missing(school: Staffroom) -> None:
    room = lesson(school)
    assert frames(school, room, {1: "A"}, 1)["note"] == "Nothing is asked now."
    act(school, room, "go")
    first = look(school, room, shown({1: "B", 2: "C"})).json()
    assert (first["inside"], [card["state"] for card in first["seen"]]) == (0, ["seen", "seen"])  # one frame is no vote
    second = look(school, room, shown({1: "B", 2: "C"}, at=1)).json()
    assert (second["inside"], second["new"]) == (2, 2)
    assert [line["name"] for line in second["missing"]] == ["Student3 F."]
    assert inside(school, room) == {1: ("B", "card"), 2: ("C", "card")}
    # Who changes their mind folds again; a card half folded is a question for the teacher.
    third = frames(school, room, {1: "D", 2: "C", 3: "AB"})
    assert inside(school, room) == {1: ("D", "card"), 2: ("C", "card")}
    assert [(line["desk"], line["why"]) for line in third["doubts"]] == [(3, "card shows A and B at once")]
    where = {line["desk"]: (line["where"], line["trouble"]) for line in console(school, room)["waiting"]}
    assert where == {3: ("card shows A and B at once", True)}
    send(
        school.client,
        "post",
        f"sittings/{room.sitting_id}/room/answers",
        {"seat": third["doubts"][0]["seat"], "letter": "A"},
    )
    assert inside(school, room)[3] == ("A", "teacher")
    assert frames(school, room, {1: "D", 2: "C"})["missing"] == []
    # Seen again after the service was started anew, nothing is given twice.
    given = RoundAnswer.objects.count()
    cards._tallies.clear()
    frames(school, room, {1: "D", 2: "C"})
    assert RoundAnswer.objects.count() == given
    act(school, room, "stop")
    assert frames(school, room, {1: "A"})["note"] == "Collecting has stopped."
    assert inside(school, room)[1] == ("D", "card")
    # In the next round votes begin anew, and a device may answer instead of a card.
    act(school, room, "again")
    device = joined(room)[0]
    choose(device, "b")
    assert frames(school, room, {1: "C"}, 1)["new"] == 0
    assert inside(school, room) == {1: ("B", "device")}
    frames(school, room, {1: "C"})
    assert inside(school, room) == {1: ("C", "card")}


def test_a_single_picture_counts_by_itself(school: Staffroom) -> None:
    room = lesson(school)
    act(school, room, "go")
    body = look(school, room, shown({1: "A", 2: "B", 3: "C"}), still=True).json()
    assert (body["inside"], body["missing"], body["width"]) == (3, [], 1280)
    for bad in (b"", b"no picture", b"\xff\xd8\xff" + bytes(50)):
        reply = look(school, room, bad, still=True)
        assert (reply.status_code, inside(school, room)[1][0]) == (422, "A")
    assert "JPEG or PNG" in reply.json()["detail"]


def test_letters_that_the_question_has_not_and_desks_that_nobody_has(school: Staffroom) -> None:
    options = [Option(id=letter, text=letter) for letter in "ab"]
    room = lesson(school, contents=[SingleChoice(stem="?", options=options, key="a"), two_questions()[1]])
    act(school, room, "go")
    body = look(school, room, shown({1: "D", 2: "B", 5: "A"}, desks=5), still=True).json()
    assert {line["desk"]: line["why"] for line in body["doubts"]} == {
        1: "card shows D, which is no answer here",
        5: "nobody has this desk number",
    }
    assert inside(school, room) == {2: ("B", "card")}
    # True and false are the first two letters of the card.
    act(school, room, "go")
    look(school, room, shown({1: "A", 2: "B", 3: "C"}), still=True)
    assert {desk: said for desk, (said, _) in inside(school, room).items()} == {1: "T", 2: "F"}


def test_a_question_that_no_card_can_answer_says_so(school: Staffroom) -> None:
    options = [Option(id=letter, text=letter) for letter in "abcde"]
    room = lesson(school, contents=[Numeric(stem="?", value=1), SingleChoice(stem="?", options=options, key="a")])
    for _ in range(2):
        page = act(school, room, "go").json()
        assert page["cards_fit"] is False
        body = look(school, room, shown({1: "A"}), still=True).json()
        assert (body["inside"], "another answer" in body["note"]) == (0, True)


def test_no_picture_is_kept(school: Staffroom, settings: Any, tmp_path: Path) -> None:
    """Neither on disk nor in the database: pictures of a class are nobody's business afterwards."""
    settings.DATA = tmp_path  # the tests beside this one keep theirs elsewhere
    room = lesson(school)
    act(school, room, "go")
    picture = shown({1: "A"})
    look(school, room, picture, still=True)
    assert not [path for path in tmp_path.rglob("*") if path.is_file()]
    assert b64encode(picture)[:200].decode() not in everything()


def test_a_class_set_to_print(school: Staffroom) -> None:
    room = lesson(school, students=5)
    path = f"/api/v1/cards/classes/{room.sitting.school_class_id}/print"
    document = pypdfium2.PdfDocument(school.client.get(path).content)
    desks = [re.findall(r"desk (\d+)", page.get_textpage().get_text_range()) for page in document]
    assert desks == [[str(desk)] * 4 for desk in range(1, 6)]
    letter = pypdfium2.PdfDocument(school.client.get(f"{path}?paper=Letter").content)
    assert [round(side) for side in letter[0].get_size()] == [612, 792]
    room.sitting.school_class.places.filter(desk=5).update(desk=62)
    reply = school.client.get(path)
    assert (reply.status_code, reply.json()["detail"]) == (
        422,
        "There are cards for desk numbers 1 to 61; 62 is not one of them.",
    )


def test_the_practice_class_holds_up_what_it_answers(school: Staffroom) -> None:
    """Rehearsed by card: the pictures say what the model of the class says, once each has made up their mind."""
    school.teacher.school.is_demo = True
    school.teacher.school.save()
    room = lesson(school, students=12)
    assert send(school.client, "post", f"sittings/{room.sitting_id}/room/practice", {"by": "card"}).status_code == 200
    room.refresh_from_db()
    act(school, room, "go")
    round = room.rounds.get()
    desks = dict(room.sitting.seats.values_list("pk", "desk"))
    meant = {desks[soon.seat]: soon.response.option.upper() for soon in practice.answers_of(round, "card")}  # type: ignore[union-attr]
    assert len(meant) > 6
    path = f"/api/v1/cards/{room.sitting_id}/practice"
    assert find_cards(photo(school.client.get(path).content)) == []  # nobody has decided yet
    room.rounds.update(asked_at=round.asked_at.replace(year=2020))
    for at in range(6):
        look(school, room, school.client.get(f"{path}?at={at}").content)
    said = {desk: letter for desk, (letter, source) in inside(school, room).items() if source == "card"}
    assert len(said) >= len(meant) - 2
    assert said == {desk: meant[desk] for desk in said}
    school.teacher.school.is_demo = False
    school.teacher.school.save()
    assert send(school.client, "post", f"sittings/{room.sitting_id}/room/practice", {"by": "card"}).status_code == 403
