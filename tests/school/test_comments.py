"""Comments that are used again: whose they are, what a change changes, and that none keeps a student's name."""

import pytest

from tests.conftest import Staffroom, devices, refs
from tests.school.test_piles import ask, colleague, sat_by, signed_in
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Level, Rubric
from versomark.school.accounts.models import Department, Teacher
from versomark.school.delivery import services as delivery
from versomark.school.delivery.models import Sitting
from versomark.school.grading.models import CurrentMark, OwnComment
from versomark.school.grading.release import Shown, release


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    return sat_by(school, 4)


def department(school: Staffroom, *members: Teacher) -> Department:
    made = Department.objects.create(school=school.teacher.school, name="Physics")
    made.members.set([school.teacher, *members])
    return made


def say(school: Staffroom, sitting: Sitting, desk: int, comment: str) -> None:
    body = {"points": {"idea": 1, "words": 1}, "comment": comment}
    ask(school.client, f"sittings/{sitting.pk}/marking/{refs(sitting)[-1]}/{desk}", body, "put")


def said(sitting: Sitting) -> list[str]:
    rows = CurrentMark.objects.filter(seat__sitting=sitting).order_by("seat__desk")
    return [row.mark.comment for row in rows.select_related("mark")]


def test_a_comment_changed_once_is_changed_where_no_student_sees_it_yet(school: Staffroom, sat: Sitting) -> None:
    desks = [seat.desk for seat in sat.seats.order_by("desk")]
    for desk in desks[:3]:
        say(school, sat, desk, "Well begun.\nSay why.")
    seen = sat.seats.get(desk=desks[0])
    release(school.teacher, sat, Shown(True, False), [seen])
    comment = OwnComment.objects.get(text="Say why.")
    assert comment.used == 3
    page = ask(school.client, f"comments/{comment.pk}", {"text": "Say why it is so.", "every_question": False}, "put")
    assert page["changed"] == 2
    assert said(sat) == ["Well begun.\nSay why.", *["Well begun.\nSay why it is so."] * 2]
    # Every mark that was given stays in the history.
    assert [mark.comment for mark in seen.marks.all()] == ["Well begun.\nSay why."]
    assert sat.seats.get(desk=desks[1]).marks.count() == 2
    assert list(OwnComment.objects.filter(text__startswith="Say").values_list("text", flat=True)) == [
        "Say why it is so."
    ]


def test_a_department_is_offered_a_comment_and_only_its_writer_changes_it(school: Staffroom, sat: Sitting) -> None:
    ann, ben = colleague(school, "Ann"), colleague(school, "Ben")
    physics = department(school, ann)
    made = ask(school.client, "comments", {"text": "Mind the units.", "department": physics.pk})["comments"][0]
    assert [entry["text"] for entry in ask(signed_in(ann), "comments")["comments"]] == ["Mind the units."]
    assert ask(signed_in(ben), "comments")["comments"] == []
    for who, status in ((ann, 403), (ben, 404)):
        body = {"text": "Otherwise."}
        address = f"/api/v1/comments/{made['id']}"
        assert signed_in(who).put(address, body, content_type="application/json").status_code == status
        assert signed_in(who).delete(address).status_code == status
    refused = signed_in(ben).post(
        "/api/v1/comments", {"text": "Ours.", "department": physics.pk}, content_type="application/json"
    )
    assert refused.status_code == 404
    offered = ask(school.client, f"sittings/{sat.pk}/marking")["items"][0]["comments"]
    assert "Mind the units." in offered
    again = school.client.post("/api/v1/comments", {"text": "Mind the units."}, content_type="application/json")
    assert again.status_code == 409


def test_what_is_made_of_a_comment_with_places_keeps_no_name(school: Staffroom, sat: Sitting) -> None:
    ask(school.client, "comments", {"text": "{name}, {criterion} has {mark}."})
    desks = [seat.desk for seat in sat.seats.order_by("desk")]
    say(school, sat, desks[0], "தமிழ்ச்செல்வி, the idea has 2 of 4.\nNothing else.")
    rows = {row.text: row.used for row in OwnComment.objects.all()}
    assert rows == {"{name}, {criterion} has {mark}.": 1, "Nothing else.": 1}


def test_the_words_of_a_level_are_offered_by_the_rubric_and_not_kept_again(school: Staffroom) -> None:
    levels = [Level(points=0, words="missing"), Level(points=2, words="said")]
    rubric = Rubric(criteria=[Criterion(id="idea", name="Idea", max=2, levels=levels)])
    sitting = school.open_sitting(contents=[Written(stem="Why?", marks=2, rubric=rubric)], students=1)
    (device,) = devices(sitting)
    device.join()
    device.answer(refs(sitting)[0], {"kind": "written", "text": "So."}, 1)
    device.post("hand-in")
    delivery.close_sitting(sitting)
    body = {"points": {"idea": 2}, "comment": "Idea: said\nGo on like this."}
    ask(school.client, f"sittings/{sitting.pk}/marking/{refs(sitting)[0]}/{sitting.seats.get().desk}", body, "put")
    assert [row.text for row in OwnComment.objects.all()] == ["Go on like this."]
