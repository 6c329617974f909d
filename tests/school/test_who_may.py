"""Whose things are whose: every operation of the teacher's API, tried on somebody else's things."""

import re
from collections.abc import Callable, Iterator
from datetime import date
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tests.conftest import PASSWORD, Staffroom, devices, two_questions
from tests.school.test_teacher_side import layout, send
from tests.school.whole import everything
from versomark.core.editions import ExternalAssessment, ExternalGroup
from versomark.school.accounts.models import Department, SignedIn, Teacher
from versomark.school.bank.models import Material
from versomark.school.bank.services import keep_version, make_stimulus
from versomark.school.classes.services import keep_group, share_class
from versomark.school.comparison.models import Comparison
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.external import keep_described, make_described
from versomark.school.editions.services import freeze
from versomark.school.grading.models import OwnComment, Pile, Stamp
from versomark.school.paper.models import Page, Reading, ReviewDecision, Scan
from versomark.school.paper.printing import print_batch
from versomark.school.paper.scanning import picture_of
from versomark.school.records.models import Term
from versomark.school.reports.models import SavedView
from versomark.school.room.setting_up import start
from versomark.site.api import teacher_api

pytestmark = pytest.mark.django_db
DAY = date(2026, 9, 1)

GIVEN = {
    "content": {"kind": "true_false", "stem": "So?", "key": True},
    "layout": layout(),
    "place": {"kind": "stretch", "start": 0, "end": 1},
}
SCHEMA = teacher_api.get_openapi_schema(path_prefix="/api/v1/")


def example(schema: dict[str, Any]) -> Any:
    """The smallest body that a schema lets in."""
    if "$ref" in schema:
        return example(SCHEMA["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]])
    for one_of in ("anyOf", "oneOf"):
        if one_of in schema:
            return example(schema[one_of][0])
    if "default" in schema or "const" in schema:
        return schema.get("default", schema.get("const"))
    if "enum" in schema:
        return schema["enum"][0]
    match schema.get("type"):
        case "object":
            parts = schema.get("properties", {}).items()
            wanted = schema.get("required", [])
            return {n: GIVEN.get(n) or example(part) for n, part in parts if n in wanted}
        case "array":
            return [example(schema["items"])] * schema.get("minItems", 0)
        case "string":
            return {"uuid": "0" * 8 + "-0000-4000-8000-" + "0" * 12, "date-time": "2026-11-03T09:00:00Z"}.get(
                schema.get("format", ""), "x" * max(1, schema.get("minLength", 1))
            )
        case "integer" | "number":
            return schema.get("minimum", 1)
        case "boolean":
            return False
    return None


def operations() -> Iterator[tuple[str, str, Any]]:
    """Method, path and a body for every operation that is about one thing."""
    for path, methods in SCHEMA["paths"].items():
        if "_id}" not in path:
            continue
        for method, described in methods.items():
            content = described.get("requestBody", {}).get("content", {})
            asked = [part for part in described.get("parameters", []) if part["in"] == "query"]
            wanted = [(part["name"], part["schema"].get("format")) for part in asked if part.get("required")]
            values = (f"{name}={DAY if form == 'date' else 1}" for name, form in wanted)
            query = f"?{'&'.join(values)}" if wanted else ""
            body = example(content["application/json"]["schema"]) if "application/json" in content else None
            yield method, path + query, body


def ids(school: Staffroom) -> tuple[Sitting, dict[str, str]]:
    """A class with a group, a question with a version, a test, an edition and a sitting, by the names paths have."""
    sitting = school.sitting(contents=two_questions(), skill="Ohm’s law")
    students = [place.student_id for place in sitting.school_class.places.all()]
    group = keep_group(sitting.school_class, "Red", students[:1])
    item = school.teacher.items.order_by("made_at")[0]
    keep_version(item, "for looking back")
    stimulus = make_stimulus(school.teacher, "Passage", "Text")
    page = scanned_page(school, sitting)
    reading = Reading.objects.create(page=page, item="x", state="faint", confidence=0, x_mm=0, y_mm=0, w_mm=1, h_mm=1)
    pile = Pile.objects.create(edition=sitting.edition, head=school.teacher, way="next", seed=1)
    pile.of_sittings.create(sitting=sitting)
    marker = pile.markers.create(teacher=school.teacher)
    agreed = pile.agreed.create(seat=sitting.seats.all()[0], item="x", points={}, by=school.teacher)
    compared = Comparison.objects.create(edition=sitting.edition, item="x", criterion="x", head=school.teacher)
    compared.sittings.add(sitting)
    settling = ReviewDecision.objects.create(reading=reading, answer="", by=school.teacher)
    return sitting, {
        "department_id": str(Department.objects.create(school=school.teacher.school, name="Physics").pk),
        "passkey_id": "1",
        "batch_id": str(sitting.batches.get().pk),
        "scan_id": str(page.scan_id),
        "page_id": str(page.pk),
        "reading_id": str(reading.pk),
        "settling_id": str(settling.pk),
        "class_id": str(sitting.school_class_id),
        "student_id": str(students[0]),
        "group_id": str(group.pk),
        "teacher_id": str(school.teacher.pk),
        "item_id": str(item.pk),
        "item": sitting.edition.read().sections[0].items[0].ref,
        "place": "1",
        "number": "1",
        "file": "1",
        "request_id": "1",
        "file_id": "00000000-0000-4000-8000-000000000000",
        "upload_id": "00000000-0000-4000-8000-000000000000",
        "page": "1",
        "pad": "1",
        "stimulus_id": str(stimulus.pk),
        "skill_id": str(school.teacher.skills.all()[0].pk),
        "test_id": str(sitting.edition.test_id),
        "edition_id": str(sitting.edition_id),
        "sitting_id": str(sitting.pk),
        "seat_id": str(sitting.seats.all()[0].pk),
        "room_id": str(start(school.teacher, sitting.edition, sitting.school_class).sitting_id),
        "marks_id": str(given_elsewhere(school, sitting).pk),
        "material_id": str(Material.objects.create(owner=school.teacher, title="Help").pk),
        "term_id": str(Term.objects.create(owner=school.teacher, name="Autumn", starts=DAY, ends=DAY).pk),
        "question_id": "1",
        "stamp_id": str(Stamp.objects.create(teacher=school.teacher, words="Again").pk),
        "comment_id": str(OwnComment.objects.create(teacher=school.teacher, text="Say why.").pk),
        "comparison_id": str(compared.pk),
        "pile_id": str(pile.pk),
        "marker_id": str(marker.pk),
        "agreed_id": str(agreed.pk),
        "person_id": str(school.teacher.pk),
        "entry_id": str(SignedIn.objects.filter(teacher=school.teacher)[0].pk),
        "view_id": str(SavedView.objects.create(owner=school.teacher, name="Mine", address="/records/1").pk),
        "form": "xlsx",
        "view": "paper",
        "document": "docx",
        "what": "booklet",
        "step": "open",
    }


def given_elsewhere(school: Staffroom, sitting: Sitting) -> Sitting:
    """Another sitting of the same class, of a test of which only marks are known."""
    group = ExternalGroup(ref="a", label="1", marks=1)
    test = keep_described(make_described(school.teacher, "Elsewhere"), "Elsewhere", ExternalAssessment(groups=[group]))
    return services.plan(school.teacher, freeze(test), sitting.school_class, None)


def scanned_page(school: Staffroom, sitting: Sitting) -> Page:
    """A page of a sheet of this sitting, with its picture, in a scan of its teacher."""
    batch = print_batch(school.teacher, sitting)
    scan = Scan.objects.create(owner=school.teacher, name="scan.pdf", digest="0", bytes=1, state="read", page_count=1)
    page = Page.objects.create(scan=scan, number=1, sheet=batch.sheets.all()[0], sheet_page=1)
    picture_of(page).parent.mkdir(parents=True, exist_ok=True)
    picture_of(page).write_bytes(b"picture")
    return page


def colleague_of(sitting: Sitting, may_run: bool, may_mark: bool = False) -> tuple[Teacher, Client]:
    """A teacher of the same school with whom the class is shared, signed in."""
    colleague = Teacher.objects.create_teacher(sitting.owner.school, "C. League", "league", PASSWORD)
    share_class(sitting.school_class, colleague.pk, may_mark=may_mark, may_run=may_run)
    client = Client()
    client.force_login(colleague, backend="django.contrib.auth.backends.ModelBackend")
    return colleague, client


def call(client: Client, method: str, path: str, named: dict[str, str], body: Any) -> Any:
    if path.endswith("/wall") or "/room" in path or "/cards/{sitting_id}" in path:
        named = named | {"sitting_id": named["room_id"]}
    if "/marks" in path or "/one-to-one" in path:
        named = named | {"sitting_id": named["marks_id"]}
    filled = re.sub(r"\{(\w+)\}", lambda found: named[found[1]], path)
    if path.endswith(("/away/look", "/evidence")):
        return client.post(filled, {"file": SimpleUploadedFile("a.zip", b"PK")})
    return (
        getattr(client, method)(filled, body, content_type="application/json")
        if body is not None
        else getattr(client, method)(filled, content_type="application/json")
    )


# Ready-made tests are everybody's.
SHARED = {path for path in SCHEMA["paths"] if path.startswith("/api/v1/shelf")}


def test_a_stranger_reaches_nothing_and_changes_nothing(staffroom: Callable[[str], Staffroom]) -> None:
    owner, stranger = staffroom("owner"), staffroom("stranger")
    _, named = ids(owner)
    before, tried = everything(), 0
    for method, path, body in operations():
        if path in SHARED:
            continue
        reply = call(stranger.client, method, path, named, body)
        assert reply.status_code == 404, (method, path, reply.status_code, reply.content[:200])
        tried += 1
    assert tried > 40
    assert everything() == before


def test_a_student_and_nobody_reach_nothing_of_a_teacher(staffroom: Callable[[str], Staffroom]) -> None:
    owner = staffroom("owner")
    sitting, named = ids(owner)
    services.open_sitting(sitting)
    device = devices(sitting)[0]
    assert device.join().status_code == 200
    page_of_own = device.client.post(
        "/api/v1/portal/enter",
        {"link": sitting.school_class.link, "pass_phrase": device.pass_phrase},
        content_type="application/json",
    )
    assert page_of_own.status_code == 200
    before, tried = everything(), 0
    for client in (device.client, Client()):
        for method, path, body in operations():
            reply = call(client, method, path, named, body)
            assert reply.status_code == 401, (method, path, reply.status_code, reply.content[:200])
            tried += 1
    assert tried > 200
    assert everything() == before


def test_many_at_once_are_ones_own(staffroom: Callable[[str], Staffroom]) -> None:
    owner, stranger = staffroom("owner"), staffroom("stranger")
    _, named = ids(owner)
    before = everything()
    body = {"ids": [named["item_id"]], "add_skills": ["Ohm’s law"], "take_skills": ["Ohm’s law"], "content": {}}
    bulk = [path for path in SCHEMA["paths"] if path.startswith("/api/v1/items/") and "_id}" not in path]
    for path in bulk:
        if "post" in SCHEMA["paths"][path] and "bring" not in path:
            reply = call(stranger.client, "post", path, named | {"form": "qti"}, body)
            assert "Which one?" not in str(reply.content), path
            assert reply.json().get("count", 0) == 0
    assert len(bulk) >= 4
    stranger.teacher.skills.all().delete()  # one of that name was made for the one who asked
    assert everything() == before


# What a colleague who may only see a class may still ask for: it is read and nothing is changed.
READS = {"get"}
OF_A_CLASS = ("{class_id}", "{sitting_id}", "{batch_id}", "{page_id}", "{reading_id}", "{settling_id}")


NOT_YET = (
    *(f"/findings/{look}" for look in ("table", "scale", "totals", "compared", "time")),
    *(f"/results/{look}" for look in ("skills", "groups", "feedback", "feedback.pdf", "feedback/written/{document}")),
    *("/answers", "/answers.{form}", "/skills.{form}", "/results/groups.{form}"),
    "/findings/{view}.{form}",
)
"""Looks that say so while nobody has handed in."""


def test_a_colleague_who_may_see_changes_nothing_and_reads_all_of_the_class(
    staffroom: Callable[[str], Staffroom],
) -> None:
    owner = staffroom("owner")
    sitting, named = ids(owner)
    _, client = colleague_of(sitting, may_run=False)
    before, read, refused = everything(), set(), set()
    for method, path, body in operations():
        about_class = any(name in path for name in OF_A_CLASS)
        reply = call(client, method, path, named, body)
        if path in SHARED:
            continue
        if not about_class:
            # The bank and the tests stay each teacher's own, and accounts and privacy an administrator's.
            admins = path.startswith(("/api/v1/people", "/api/v1/privacy", "/api/v1/departments"))
            assert reply.status_code == (403 if admins else 404), (method, path, reply.status_code)
        elif path.endswith("/practice") and method in READS:
            assert reply.status_code == 409  # there is none outside the demo
        elif path.endswith(NOT_YET) and (method in READS or path.endswith(".{form}")):
            assert reply.status_code == 409  # nobody has handed in yet
        elif path.endswith(("/letters.pdf", "/pictures/{item}/{file}/{page}.jpg")):
            assert reply.status_code == 404  # there is no table, and no picture with anything on it
        elif "/marking" in path:
            # Work that waits for its marks is for those who may mark.
            assert reply.status_code == 403, (method, path, reply.status_code)
            refused.add(path)
        elif method in READS:
            assert reply.status_code == 200, (method, path, reply.status_code)
            read.add(path)
        elif reply.status_code == 200:
            assert path.endswith(("/preview", "/divided", ".{form}")), (method, path)  # keeps nothing of it
        else:
            assert reply.status_code == 403, (method, path, reply.status_code, reply.content[:200])
            refused.add(path)
    assert len(read) >= 4
    assert len(refused) >= 12
    assert everything() == before


def test_who_may_run_opens_and_closes_and_does_no_more(staffroom: Callable[[str], Staffroom]) -> None:
    owner = staffroom("owner")
    sitting, named = ids(owner)
    colleague, client = colleague_of(sitting, may_run=True)
    for step, state in (("open", "open"), ("pause", "paused"), ("open", "open"), ("close", "closed")):
        reply = send(client, "post", f"sittings/{sitting.pk}/steps/{step}")
        assert (reply.status_code, reply.json()["state"]) == (200, state)
    assert send(client, "delete", f"classes/{named['class_id']}/students/{named['student_id']}").status_code == 403
    body = {"title": "Mine now", "instructions": "", "layout": layout()}
    assert send(client, "put", f"tests/{named['test_id']}", body).status_code == 404
    # The same person without the class again.
    send(owner.client, "delete", f"classes/{named['class_id']}/co-teachers/{colleague.pk}")
    assert send(client, "post", f"sittings/{sitting.pk}/steps/open").status_code == 404


WRITES_OF_A_MARKER = re.compile(
    r"/sittings/\{sitting_id\}/(marking|marks|one-to-one/\{seat_id\}|results(?!/skills)|settling)"
    r"|/(batches|scans|pages|readings|settlings|queries)"
    r"|/record/numbers"
)
"""What a second marker changes: marks, and what becomes of them; and what a scan left open."""


def test_a_second_marker_marks_and_changes_nothing_else(staffroom: Callable[[str], Staffroom]) -> None:
    """Every operation that changes something, of which all but those about marks are refused."""
    owner = staffroom("owner")
    sitting, named = ids(owner)
    _, client = colleague_of(sitting, may_run=False, may_mark=True)
    before, refused, marked = everything(), 0, set()
    for method, path, body in operations():
        if method in READS or path in SHARED or not any(part in path for part in OF_A_CLASS):
            continue
        if WRITES_OF_A_MARKER.search(path):
            marked.add(path)
            continue
        reply = call(client, method, path, named, body)
        if reply.status_code == 200 or path.endswith(".{form}"):
            assert path.endswith(("/preview", "/divided", ".{form}")), (method, path)
        else:
            assert reply.status_code == 403, (method, path, reply.status_code, reply.content[:200])
            refused += 1
    assert everything() == before
    assert refused > 30
    # And of those about marks none is refused for who asks, whatever else may be wrong with it.
    for method, path, body in operations():
        if path in marked and method not in READS and "/sittings/{sitting_id}" in path:
            reply = call(client, method, path, named, body)
            assert reply.status_code != 403 or "Ask them" not in reply.content.decode(), (method, path, reply.content)
