"""What must hold over years: frozen papers stay as they are, histories add up, lists go out and come in unchanged."""

import json
from base64 import b64encode
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from tests.conftest import Staffroom, devices, refs
from tests.core.every_kind import KEYED, right_answer, wrong_answer
from tests.school.test_class_lists import new_class, outcomes
from tests.school.test_teacher_side import layout, send
from versomark.core.editions import student_paper
from versomark.core.findings.facts import facts_of_criterion
from versomark.core.findings.flags import Flag
from versomark.core.items import ItemContent
from versomark.core.items.base import ContentBase
from versomark.school.bank.history import Use, record_uses
from versomark.school.bank.models import Item
from versomark.school.bank.services import ItemFilter, find_items
from versomark.school.classes import services as classes
from versomark.school.classes.models import Enrolment, SchoolClass, Student
from versomark.school.delivery import services
from versomark.school.editions import printing
from versomark.school.editions.models import Edition

pytestmark = pytest.mark.django_db
IN_ONE_SCHOOL = settings(max_examples=12, suppress_health_check=list(HealthCheck))


def test_a_frozen_paper_stays_whatever_happens_to_what_it_was_made_of(school: Staffroom) -> None:
    client = school.client
    passage = send(client, "post", "stimuli", {"title": "The bench", "body": "<p>Two lamps.</p>"}).json()
    options = [{"id": id, "text": f"Option {id}", "idea_note": ""} for id in "abcd"]
    content = {"kind": "single_choice", "stem": "Which?", "options": options, "key": "b"}
    varied = {
        "kind": "numeric",
        "stem": "@(a) + 1?",
        "value_rule": "a + 1",
        "variation": {"values": [{"draw": "range", "name": "a", "low": 1, "high": 999}]},
    }
    one = send(client, "post", "items", {"content": content, "skills": ["S"], "stimulus": passage["id"]}).json()
    two = send(client, "post", "items", {"content": varied}).json()
    test = send(client, "post", "tests", {"title": "T"}).json()["id"]
    paper = layout(one["id"], two["id"]) | {"forms": 3}
    send(client, "put", f"tests/{test}", {"title": "T", "instructions": "Read.", "layout": paper})
    edition_id = send(client, "post", f"tests/{test}/freeze").json()["id"]

    def seen() -> tuple[Any, ...]:
        frozen = Edition.objects.get(pk=edition_id)
        content = frozen.read()
        assert content.fingerprint() == frozen.fingerprint
        papers = [student_paper(content, form).model_dump_json() for form in content.form_names]
        return frozen.content, papers, printing.html(content, "guide", "C")

    before = seen()
    changes: list[tuple[str, str, Any]] = [
        ("put", f"items/{one['id']}", {"content": content | {"stem": "Other?", "key": "a"}, "revision": 1}),
        ("put", f"stimuli/{passage['id']}", {"title": "X", "body": "<p>Gone.</p>", "revision": 1}),
        ("post", "items/archive", {"ids": [one["id"], two["id"]]}),
        ("put", f"tests/{test}", {"title": "New", "instructions": "", "layout": layout()}),
        ("delete", f"tests/{test}", None),
    ]
    for method, path, body in changes:
        assert send(client, method, path, body).status_code == 200, path
        assert seen() == before, path
    Item.objects.all().delete()
    assert seen() == before


@given(contents=st.lists(KEYED, min_size=2, max_size=4))
@IN_ONE_SCHOOL
def test_right_answers_of_any_kind_earn_all_marks_through_every_door(
    school: Staffroom, contents: list[ContentBase]
) -> None:
    """From the phone's request to the findings: the same marks as the core gives."""
    ready: list[ItemContent] = [content for content in contents if not content.problems() and content.variation is None]  # type: ignore[misc]
    if not ready:
        return
    sitting = services.open_sitting(school.sitting(contents=ready, students=2))
    able, other = devices(sitting)
    items = {item.ref: item.content for item in sitting.edition.read().items()}
    for device, answer in ((able, right_answer), (other, wrong_answer)):
        device.join()
        for sequence, (ref, content) in enumerate(items.items(), start=1):
            reply = device.answer(ref, answer(content).model_dump(mode="json"), sequence)
            assert reply.status_code == 200, (content.kind, reply.content)
        assert device.post("hand-in").status_code == 200
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()
    totals = [student["total"] for student in page["students"]]
    assert totals[0] == pytest.approx(sum(content.marks for content in items.values()))
    assert totals[1] == pytest.approx(
        sum(content.score(wrong_answer(content)) or 0 for content in items.values())  # type: ignore[arg-type]
    )
    assert len(page["body"]["paper"]) == len(items)
    # And nothing of it was sent to the students as it was asked.
    assert "idea_note" not in json.dumps(able.seat().json())


FLAG = facts_of_criterion("q", Flag.GUESSING, 0.8, "", 12)
USES = st.lists(
    st.tuples(
        st.integers(0, 3),
        st.integers(1, 200),
        st.floats(0, 1),
        st.none() | st.floats(-1, 1),
        st.booleans(),
    ),
    max_size=12,
)


@given(uses=USES)
@IN_ONE_SCHOOL
def test_a_history_is_the_mean_over_students_and_filters_follow_it(
    school: Staffroom, uses: list[tuple[int, int, float, float | None, bool]]
) -> None:
    Item.objects.all().delete()
    content = {"kind": "true_false", "stem": "So?", "key": True}
    items = [
        Item.objects.get(pk=send(school.client, "post", "items", {"content": content}).json()["id"]) for _ in "abcd"
    ]
    for at, (which, students, p, r, flagged) in enumerate(uses):
        use = Use(items[which].pk, students, p, r, [FLAG] if flagged else [])
        for _ in range(2):  # what is recorded twice counts once
            record_uses(f"sitting {at}", f"Sitting {at}", date(2026, 1, 1) + timedelta(days=at), [use])
    for which, item in enumerate(items):
        item.refresh_from_db()
        own = [use for use in uses if use[0] == which]
        assert item.times_used == len(own)
        if not own:
            assert (item.difficulty, item.discrimination, item.flagged) == (None, None, False)
            continue
        assert item.difficulty == pytest.approx(np.average([u[2] for u in own], weights=[u[1] for u in own]))
        known = [u for u in own if u[3] is not None]
        if known:
            assert item.discrimination == pytest.approx(
                np.average([u[3] for u in known], weights=[u[1] for u in known])
            )
        assert item.flagged == own[-1][4]
    kept = list(Item.objects.all())
    for wanted, rule in {
        ItemFilter(difficulty="easy"): lambda i: i.difficulty is not None and i.difficulty >= 0.8,
        ItemFilter(difficulty="middle"): lambda i: i.difficulty is not None and 0.4 <= i.difficulty < 0.8,
        ItemFilter(difficulty="hard"): lambda i: i.difficulty is not None and i.difficulty < 0.4,
        ItemFilter(difficulty="unknown"): lambda i: i.difficulty is None,
        ItemFilter(used="used", flagged="flagged"): lambda i: i.times_used > 0 and i.flagged,
        ItemFilter(used="unused"): lambda i: i.times_used == 0,
        ItemFilter(flagged="clean", besides=(items[0].pk,)): lambda i: not i.flagged and i.pk != items[0].pk,
    }.items():
        pks = {item.pk for item in find_items(school.teacher, wanted)}
        assert pks == {item.pk for item in kept if rule(item)}, wanted


# What spreadsheets trip over: signs that begin formulas, quotes, separators, accents, other scripts.
PART = st.text("ab=+-@'\"é李;, ", min_size=1, max_size=8).map(lambda text: " ".join(text.split())).filter(bool)
NAME = PART.filter(lambda text: any(letter.isalpha() for letter in text) and not set(text) & set(";,"))


@given(
    students=st.lists(st.tuples(NAME, NAME, st.sets(PART, max_size=2), st.sets(PART, max_size=2)), max_size=4),
    form=st.sampled_from(["csv", "xlsx"]),
)
@IN_ONE_SCHOOL
def test_a_list_that_goes_out_comes_in_as_it_was(
    school: Staffroom, students: list[tuple[str, str, set[str], set[str]]], form: str
) -> None:
    client = school.client
    SchoolClass.objects.filter(owner=school.teacher).delete()
    path = new_class(client)
    school_class = SchoolClass.objects.get(pk=int(path.split("/")[1]))
    for at, (given_name, family_name, tags, groups) in enumerate(students):
        student = classes.new_student(school.teacher.school, given_name, family_name, f"N{at}{id(students)}")
        classes.seat_student(school_class, student)
        classes.tag_students(school.teacher, [student], sorted(tags))
        for name in groups:
            there = school_class.groups.filter(name=name.replace(";", ",")).first()
            ids = [*there.students.values_list("pk", flat=True)] if there else []
            classes.keep_group(school_class, name, [*ids, student.pk], there)
    sent = client.get(f"/api/v1/{path}/list/{form}")
    sheets = send(client, "post", "lists/read", {"data": b64encode(sent.content).decode()}).json()["sheets"]
    if not students:
        return
    body = {key: sheets[0][key] for key in ("rows", "first_line", "header", "columns")}
    planned = send(client, "post", f"{path}/list/preview", body)
    assert {outcome for _, outcome in outcomes(planned)} == {"same"}, planned.json()
    assert not planned.json()["wrong"]
    # And no cell of it is a formula to a spreadsheet.
    if form == "xlsx":
        import io

        for row in load_workbook(io.BytesIO(sent.content)).active.iter_rows(min_row=2):
            assert all(cell.data_type != "f" for cell in row)
    Enrolment.objects.filter(school_class=school_class).delete()
    Student.objects.filter(school=school.teacher.school).delete()


def test_a_class_of_last_year_is_put_away_with_its_results_and_taken_out_again(school: Staffroom) -> None:
    sitting = school.open_sitting(students=2)
    for device in devices(sitting):
        device.join()
        device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    before = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()
    path = f"classes/{sitting.school_class_id}"
    assert send(school.client, "post", f"{path}/archive").status_code == 200
    listed = [line["id"] for line in school.client.get("/api/v1/classes").json()]
    assert sitting.school_class_id not in listed
    assert school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"] == before["body"]
    send(school.client, "post", f"{path}/archive?archived=false")
    listed = [line["id"] for line in school.client.get("/api/v1/classes").json()]
    assert sitting.school_class_id in listed
