"""Rubrics that are changed while answers are marked, and students who ask to have a mark looked at once more."""

from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import put
from tests.school.test_own_year import own
from tests.school.test_pen import colleague
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Level, Rubric
from versomark.school.delivery import services
from versomark.school.delivery.events import event_words
from versomark.school.delivery.models import Sitting
from versomark.school.grading.models import LookAgain, Mark, MarkQuestion, QuestionWindow
from versomark.school.grading.release import Shown, release
from versomark.school.portal.models import Notice
from versomark.school.portal.notifications import tell_all

pytestmark = pytest.mark.django_db
LEVELS = [Level(points=0, words="Nothing"), Level(points=2, words="Half"), Level(points=4, words="All")]
REASONING = Criterion(id="why", name="Reasoning", max=4, levels=LEVELS)
TASK = Written(
    stem="Explain.", marks=6, rubric=Rubric(criteria=[REASONING, Criterion(id="units", name="Units", max=2)])
)
quarters = st.integers(0, 8).map(lambda halves: halves / 2)


@pytest.fixture
def marked(school: Staffroom) -> Sitting:
    """Five students with 0, 1, 2, 3 and 4 for their reasoning."""
    sitting = school.open_sitting(contents=[TASK], students=5)
    for device in devices(sitting):
        device.join()
        device.answer(refs(sitting)[0], {"kind": "written", "text": "Because."}, 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    for number in range(1, 6):
        put(school.client, sitting, f"{refs(sitting)[0]}/{number}", {"points": {"why": number - 1, "units": 2}})
    return sitting


def send(client: Client, method: str, sitting: Sitting, path: str, body: dict[str, Any] | None = None) -> Any:
    address = f"/api/v1/sittings/{sitting.pk}/marking/{path}".rstrip("/")
    return getattr(client, method)(address, body or {}, content_type="application/json")


def levels(*parts: tuple[float, str]) -> dict[str, Any]:
    return {"levels": {"why": [{"points": points, "words": words} for points, words in parts]}}


SPLIT = levels((0, "Nothing"), (2, "Half"), (3, "All, not shown"), (4, "All"))
MERGED = levels((0, "Nothing"), (4, "All"))
REWORDED = levels((0, "Nothing"), (2, "Half of it, with a reason"), (4, "All"))


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        # Three and those on either side of it: a level stands there now that they could not choose.
        (SPLIT, [2, 3, 4]),
        # Whoever had the level that is gone, and whoever was between it and another.
        (MERGED, [1, 2, 3]),
        (REWORDED, [1, 2, 3]),
        (levels((0, "Nothing"), (2, " Half "), (4, "All")), []),
    ],
    ids=["split", "merged", "reworded", "only a space"],
)
def test_a_changed_level_asks_for_the_marks_that_were_given_by_it_and_changes_none(
    school: Staffroom, marked: Sitting, change: dict[str, Any], wanted: list[int]
) -> None:
    """Reference: the points that each change is about, by hand."""
    item = refs(marked)[0]
    before = [(mark.points, mark.state) for mark in Mark.objects.order_by("pk")]
    effect = send(school.client, "post", marked, f"{item}/rubric/effect", change).json()
    assert effect["marks"] == len(wanted)
    assert LookAgain.objects.count() == 0
    asked = send(school.client, "put", marked, f"{item}/rubric", {**change, "reason": "After twenty."}).json()["asked"]
    assert asked == len(wanted)
    page = send(school.client, "get", marked, "").json()
    again = [entry["number"] - 1 for entry in page["entries"][item] if entry["again"]]
    assert again == wanted
    assert [(mark.points, mark.state) for mark in Mark.objects.order_by("pk")] == before
    shown = page["items"][0]["rubric"]["criteria"][0]["levels"]
    assert [level["points"] for level in shown] == sorted(level["points"] for level in change["levels"]["why"])
    if wanted:
        answer = send(school.client, "get", marked, f"{item}/{wanted[0] + 1}").json()
        assert answer["again"] == "Reasoning: After twenty."
        put(school.client, marked, f"{item}/{wanted[0] + 1}", {"points": {"why": 3.5, "units": 2}})
        assert send(school.client, "get", marked, f"{item}/{wanted[0] + 1}").json()["again"] == ""


def test_a_change_is_on_record_is_read_by_the_student_and_can_be_taken_back(
    school: Staffroom, marked: Sitting, staffroom: Callable[[str], Staffroom]
) -> None:
    item, seat = refs(marked)[0], marked.seats.get(desk=3)
    eyes = f"/api/v1/sittings/{marked.pk}/results/seats/{seat.pk}"
    assert school.client.get(eyes).json()["questions"][0]["levels"][0]["words"] == "Half"
    assert send(school.client, "put", marked, f"{item}/rubric", {**REWORDED, "reason": " "}).status_code == 422
    too_much = {**levels((5, "More")), "reason": "So."}
    assert send(school.client, "put", marked, f"{item}/rubric", too_much).status_code == 422
    send(school.client, "put", marked, f"{item}/rubric", {**REWORDED, "reason": "After twenty.", "look_again": False})
    assert LookAgain.objects.count() == 0
    assert school.client.get(eyes).json()["questions"][0]["levels"][0]["words"] == "Half of it, with a reason"
    assert "After twenty." in event_words(marked.events.order_by("-pk")[0])
    page = send(school.client, "get", marked, f"{item}/rubric").json()
    assert [line["reason"] for line in page["revisions"]] == ["After twenty."]
    # A colleague who may mark changes it as well; the last change holds, and goes first when it is taken back.
    other = colleague(school, staffroom, marked)
    send(other, "put", marked, f"{item}/rubric", {**SPLIT, "reason": "Finer."})
    send(school.client, "delete", marked, f"{item}/rubric")
    assert school.client.get(eyes).json()["questions"][0]["levels"][0]["words"] == "Half of it, with a reason"
    send(school.client, "delete", marked, f"{item}/rubric")
    assert school.client.get(eyes).json()["questions"][0]["levels"][0]["words"] == "Half"
    assert send(school.client, "delete", marked, f"{item}/rubric").status_code == 404


@given(st.lists(st.tuples(quarters, st.sampled_from("abc")), unique_by=lambda level: level[0], max_size=6), quarters)
def test_levels_that_stay_touch_nothing(parts: list[tuple[float, str]], points: float) -> None:
    criterion = Criterion(id="c", max=4, levels=[Level(points=at, words=words) for at, words in parts])
    assert not criterion.says_other_of(points, criterion)
    worded = criterion.model_copy(update={"levels": [Level(points=at, words=words + "!") for at, words in parts]})
    below, above = criterion.about(points)
    assert worded.says_other_of(points, criterion) == (below is not None or above is not None)


def test_a_student_asks_inside_the_window_and_reads_what_came_of_it(
    school: Staffroom, marked: Sitting, staffroom: Callable[[str], Staffroom]
) -> None:
    item, seat = refs(marked)[0], marked.seats.get(desk=2)
    student = own(marked.school_class, seat.student.given_name)
    base = f"/api/v1/portal/sittings/{marked.pk}"
    reason = {"reason": "My units are right. எனக்குப் புரியவில்லை."}

    def ask(who: Client = student, body: dict[str, str] = reason) -> Any:
        return who.post(f"{base}/questions/{item}", body, content_type="application/json")

    assert ask().status_code == 404  # nothing is released
    release(school.teacher, marked, Shown(True, False))
    assert student.get(f"{base}/result").json()["ask_until"] is None
    assert ask().status_code == 409
    until = (timezone.now() + timedelta(days=1)).isoformat()
    late = (timezone.now() - timedelta(minutes=1)).isoformat()
    assert send(school.client, "put", marked, "questions/window", {"until": late}).status_code == 422
    assert send(school.client, "put", marked, "questions/window", {"until": until}).status_code == 200
    assert ask(body={"reason": "Why?"}).status_code == 422
    assert ask().json()["questions"][0]["asked"]["state"] == "open"
    assert ask().status_code == 409  # once for each answer
    assert student.delete(f"{base}/questions/{item}").json()["questions"][0]["asked"] is None
    assert ask().status_code == 200
    assert school.client.get(f"/api/v1/sittings/{marked.pk}/results").json()["asked"] == 1

    line = send(school.client, "get", marked, "questions").json()["lines"][0]
    assert (line["student"], line["then"], line["now"], line["marker"]) == (seat.student.short_name, 3, 3, "Brandt")
    # The mark is changed at the desk; what is said of it follows from the marks and not from the answer.
    put(school.client, marked, f"{item}/2", {"points": {"why": 3, "units": 2}})
    other = colleague(school, staffroom, marked)
    path = f"questions/{line['id']}"
    assert send(other, "put", marked, path, {"answer": "  "}).status_code == 422
    answered = send(other, "put", marked, path, {"answer": "You are right."}).json()["lines"][0]
    assert (answered["state"], answered["then"], answered["now"]) == ("changed", 3, 5)
    assert send(school.client, "put", marked, path, {"answer": "I found it too."}).status_code == 409
    seen = student.get(f"{base}/result").json()["questions"][0]["asked"]
    assert (seen["state"], seen["answer"], seen["by"]) == ("changed", "You are right.", "Varga")
    assert student.delete(f"{base}/questions/{item}").status_code == 409
    tell_all()
    tell_all()
    assert Notice.objects.filter(student=seat.student, kind="answered").count() == 1

    # Another student, whose mark stays; and one who asks too late, and one in words only.
    third = own(marked.school_class, marked.seats.get(desk=3).student.given_name)
    ask(third)
    line = send(school.client, "get", marked, "questions").json()["lines"][0]
    send(school.client, "put", marked, f"questions/{line['id']}", {"answer": "It is half."})
    assert MarkQuestion.objects.get(pk=line["id"]).state == "kept"
    QuestionWindow.objects.update(until=timezone.now() - timedelta(minutes=1))
    fourth = own(marked.school_class, marked.seats.get(desk=4).student.given_name)
    assert ask(fourth).status_code == 409
    QuestionWindow.objects.update(until=timezone.now() + timedelta(days=1))
    release(school.teacher, marked, Shown(False, False))
    assert ask(fourth).status_code == 409
    assert fourth.get(f"{base}/result").json()["ask_until"] is None


def test_a_criterion_that_several_questions_share_is_one_sum_and_what_waits_is_not_in_it(school: Staffroom) -> None:
    """Reference: the sums by hand."""
    third = Written(stem="Say it.", marks=2, rubric=Rubric(criteria=[Criterion(id="x", name=" UNITS ", max=4)]))
    sitting = school.open_sitting(contents=[TASK, TASK, third], students=1)
    device, named = devices(sitting)[0], refs(sitting)
    device.join()
    for at, item in enumerate(named, start=1):
        device.answer(item, {"kind": "written", "text": "Because."}, at)
    device.post("hand-in")
    services.close_sitting(sitting)
    eyes = f"/api/v1/sittings/{sitting.pk}/results/seats/{sitting.seats.get().pk}"

    def shared() -> list[tuple[str, float, float, int]]:
        criteria = school.client.get(eyes).json()["criteria"]
        return [(entry["name"], entry["points"], entry["of"], entry["questions"]) for entry in criteria]

    put(school.client, sitting, f"{named[0]}/1", {"points": {"why": 1, "units": 2}})
    assert shared() == []
    put(school.client, sitting, f"{named[2]}/1", {"points": {"x": 3}})
    assert shared() == [("Units", 5, 6, 2)]
    full = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/full").json()
    assert full["students"][0]["criteria"] == [None, None]  # in the class's table a sum waits for all of its parts
    put(school.client, sitting, f"{named[1]}/1", {"points": {"why": 4, "units": 0.5}})
    assert shared() == [("Reasoning", 5, 8, 2), ("Units", 5.5, 8, 3)]
    full = school.client.get(f"/api/v1/sittings/{sitting.pk}/results/full").json()
    assert full["criteria"] == [{"name": "Reasoning", "of": 8}, {"name": "Units", "of": 8}]
    assert full["students"][0]["criteria"] == [5, 5.5]
    table = school.client.get(f"/api/v1/sittings/{sitting.pk}/results.csv?each=true").content.decode("utf-8-sig")
    assert "Units, of 8" in table.splitlines()[0]
    assert "5.5" in table.splitlines()[1]
    put(school.client, sitting, f"{named[1]}/waived", {"waived": True})
    assert shared() == [("Units", 5, 6, 2)]
    in_words = school.client.get(f"{eyes}?marks=false").json()
    assert in_words["criteria"] == []
