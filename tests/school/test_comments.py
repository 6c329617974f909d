"""Comments that are used again: whose they are, what a change changes, and that none keeps a student's name."""

import pytest

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import put
from tests.school.test_own_year import own
from tests.school.test_piles import ask, colleague, sat_by, signed_in
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Level, Rubric
from versomark.school.accounts.models import Department, Teacher
from versomark.school.bank.models import Material
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


def test_a_comment_goes_with_a_level_and_brings_a_material_and_a_question_to_try_next(school: Staffroom) -> None:
    levels = [Level(points=0, words="Nothing"), Level(points=3, words="All")]
    task = Written(stem="Why?", marks=3, rubric=Rubric(criteria=[Criterion(id="c", name="Why", max=3, levels=levels)]))
    sitting = school.open_sitting(contents=[task], students=2)
    ref = refs(sitting)[0]
    for device in devices(sitting):
        device.join()
        device.answer(ref, {"kind": "written", "text": "So."}, 1)
        device.post("hand-in")
    delivery.close_sitting(sitting)
    put(school.client, sitting, f"{ref}/1", {"points": {"c": 0}, "comment": "Look again, {name}."})
    put(school.client, sitting, f"{ref}/1", {"points": {"c": 0}, "comment": "Say why."})
    material = Material.objects.create(owner=school.teacher, title="Reasons: ஏன்?", link="https://example.org/why")
    comment = OwnComment.objects.get(text="Say why.")
    lines = school.client.get("/api/v1/comments").json()["comments"]
    line = next(entry for entry in lines if entry["id"] == comment.pk)
    assert [(level["criterion"], level["points"]) for level in line["levels"]] == [("c", 0), ("c", 3)]
    body = {"text": "Say why, {name}.", "every_question": False, "criterion": "c", "points": 0}
    more = {"material": str(material.pk), "follow_up": "What would happen without it?"}
    address = f"/api/v1/comments/{comment.pk}"
    changed = school.client.put(address, {**body, **more}, content_type="application/json")
    assert changed.status_code == 200
    item = school.client.get(f"/api/v1/sittings/{sitting.pk}/marking").json()["items"][0]
    assert item["level_comments"] == [{"text": "Say why, {name}.", "criterion": "c", "points": 0}]

    # Whoever reads a comment with its places filled is given what goes with it; another comment brings nothing.
    put(school.client, sitting, f"{ref}/1", {"points": {"c": 0}, "comment": "Well tried.\nSay why, Ada."})
    put(school.client, sitting, f"{ref}/2", {"points": {"c": 3}, "comment": "Say why, perhaps"})
    release(school.teacher, sitting, Shown(True, False))
    first, second = (own(sitting.school_class, f"Student{at}") for at in (1, 2))
    (shown,) = first.get(f"/api/v1/portal/sittings/{sitting.pk}/result").json()["questions"][0]["next"]
    assert (shown["follow_up"], shown["material"]["title"]) == (more["follow_up"], "Reasons: ஏன்?")
    assert second.get(f"/api/v1/portal/sittings/{sitting.pk}/result").json()["questions"][0]["next"] == []

    # A level that is not one of the question, and somebody else's material, belong to no comment.
    wrong = {**body, "points": 2}
    school.client.put(f"/api/v1/comments/{comment.pk}", wrong, content_type="application/json")
    comment.refresh_from_db()
    assert (comment.criterion, comment.points, comment.material) == ("", None, None)
    other = {**body, "material": "00000000-0000-4000-8000-000000000000"}
    refused = school.client.put(f"/api/v1/comments/{comment.pk}", other, content_type="application/json")
    assert refused.status_code == 404
