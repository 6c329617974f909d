"""The bank in the school: pictures, skills, search, history, versions, questions and skills in and out, the shelf."""

import io
import json
import time
from base64 import b64decode, b64encode
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from tests.conftest import Staffroom, devices, problems_of, refs
from tests.school.test_teacher_side import layout, send
from versomark.core.findings.facts import facts_of_criterion
from versomark.core.findings.flags import Flag
from versomark.core.items import read_content
from versomark.core.items.by_rubric import FileTask
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.bank.history import Use, record_uses
from versomark.school.bank.models import Item, ItemUse, Picture, Skill
from versomark.school.delivery import services
from versomark.school.editions import printing
from versomark.school.editions.models import Edition
from versomark.school.findings.services import record_history
from versomark.school.responses.models import HandedInFile

pytestmark = pytest.mark.django_db

FLAG = facts_of_criterion("q", Flag.GUESSING, 0.8, "", 12)
TRUE_FALSE = {"kind": "true_false", "stem": "So?", "key": True}


def picture(width: int = 40, height: int = 30, format: str = "PNG", **more: Any) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "teal").save(out, format, **more)
    return out.getvalue()


def upload(school: Staffroom, data: bytes, name: str = "p.png") -> Any:
    return school.client.post("/api/v1/pictures", {"file": SimpleUploadedFile(name, data)})


def item(school: Staffroom, content: dict[str, Any] | None = None, **details: Any) -> dict[str, Any]:
    return send(school.client, "post", "items", {"content": content or TRUE_FALSE, **details}).json()  # type: ignore[no-any-return]


def found(school: Staffroom, query: str = "") -> list[str]:
    return [line["words"] for line in school.client.get(f"/api/v1/items?{query}").json()["items"]]


def test_a_picture_is_sized_stripped_kept_once_and_served_to_whoever_has_its_address(school: Staffroom) -> None:
    exif = Image.Exif()
    exif[0x010E] = "taken at home"
    body = upload(school, picture(4000, 3000, "JPEG", exif=exif)).json()
    assert (body["width"], body["height"]) == (1600, 1200)
    again = upload(school, picture(4000, 3000, "JPEG", exif=exif)).json()
    assert (again["id"], Picture.objects.count()) == (body["id"], 1)
    school.client.logout()
    served = school.client.get(body["address"])
    data = b"".join(served.streaming_content)
    assert served["Content-Type"] == "image/jpeg"
    assert b"taken at home" not in data
    assert Image.open(io.BytesIO(data)).size == (1600, 1200)
    assert school.client.get("/pictures/00000000-0000-4000-8000-000000000000").status_code == 404


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"<svg onload='alert(1)'/>", "not a picture"),
        (b"\x89PNG\r\n\x1a\nbroken", "not a picture"),
        (picture()[:60], "not a picture"),
        (b"x" * (12 * 2**20 + 1), "at most 12 MB"),
    ],
)
def test_what_is_no_picture_is_refused_in_words(school: Staffroom, data: bytes, words: str) -> None:
    reply = upload(school, data)
    assert reply.status_code == 422
    assert words in reply.json().get("detail", "") + " ".join(problems_of(reply))
    assert not list((Path(settings.DATA) / "pictures").glob("*.tmp"))


def test_a_picture_bomb_is_refused_before_it_unpacks(school: Staffroom) -> None:
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    assert len(out.getvalue()) < 200_000
    reply = upload(school, out.getvalue())
    assert reply.status_code == 422
    assert "pixels" in reply.json()["detail"] or "not a picture" in reply.json()["detail"]


def test_rich_text_is_cleaned_on_the_way_in_and_pictures_come_from_the_bank_only(school: Staffroom) -> None:
    stem = (
        '<p onclick="x()">A <b>bold</b> <script>alert(1)</script><span style="color:red">word</span></p>'
        '<p><img src="http://elsewhere/x.png" alt="x"><a href="javascript:1">link</a></p>'
        "<table><tr><td>1</td></tr></table>"
    )
    made = item(school, {**TRUE_FALSE, "stem": stem})["content"]["stem"]
    assert made == (
        '<p>A <strong>bold</strong> word</p><p><img alt="x">link</p><table><tbody><tr><td>1</td></tr></tbody></table>'
    )
    assert item(school, {**TRUE_FALSE, "stem": "3 < 5 & 7 > 2"})["content"]["stem"] == "3 &lt; 5 &amp; 7 &gt; 2"


def test_skills_stand_in_a_tree_and_a_search_finds_the_branch(school: Staffroom) -> None:
    item(school, skills=["Loops"])
    item(school, {**TRUE_FALSE, "stem": "Other?"}, skills=["Meters", "Loops"])
    ids = {line["name"]: line["id"] for line in school.client.get("/api/v1/skills").json()}
    top = Skill.objects.create(owner=school.teacher, name="Electricity").pk
    for name in ("Loops", "Meters"):
        body = {"name": name, "parent": top, "code": f"8.{name[0]}"}
        assert send(school.client, "put", f"skills/{ids[name]}", body).json()["parent"] == top
    assert sorted(found(school, "skill=Electricity")) == ["Other?", "So?"]
    assert found(school, "skill=Meters") == ["Other?"]
    circle = send(school.client, "put", f"skills/{top}", {"name": "Electricity", "parent": ids["Loops"]})
    assert "below itself" in circle.json()["detail"]
    send(school.client, "delete", f"skills/{top}")
    assert {line["parent"] for line in school.client.get("/api/v1/skills").json()} == {None}


CASE = {
    "CFDocument": {"title": "Bay framework"},
    "CFItems": [
        {"identifier": "b", "fullStatement": "Loops " + "and more " * 30, "humanCodingScheme": "8.E.1"},
        {"identifier": "a", "fullStatement": "Electricity", "humanCodingScheme": "8.E"},
        {"identifier": "c", "abbreviatedStatement": "Meters", "fullStatement": "Reads meters"},
    ],
    "CFAssociations": [
        {"associationType": kind, "originNodeURI": {"identifier": one}, "destinationNodeURI": {"identifier": other}}
        for kind, one, other in [("isChildOf", "b", "a"), ("isChildOf", "c", "b"), ("isRelatedTo", "c", "a")]
    ],
}  # fmt: skip


def brought(document: object) -> dict[str, str]:
    data = document if isinstance(document, bytes) else json.dumps(document).encode()
    return {"name": "f", "data": b64encode(data).decode()}


def test_a_case_framework_becomes_the_tree_and_the_same_again_changes_nothing(school: Staffroom) -> None:
    """The shape is 1EdTech's CASE 1.0 CFPackage (from memory)."""
    look = send(school.client, "post", "skills/bring?look=true", brought(CASE)).json()
    assert (look["title"], len(look["new"]), look["lost"]) == (
        "Bay framework", 3, ["a relation other than “is child of”"],
    )  # fmt: skip
    assert Skill.objects.count() == 0
    send(school.client, "post", "skills/bring", brought(CASE))
    tree = {s.identifier: (s.code, s.parent.identifier if s.parent else None) for s in Skill.objects.all()}
    assert tree == {"a": ("8.E", None), "b": ("8.E.1", "a"), "c": ("", "b")}
    assert max(len(skill.name) for skill in Skill.objects.all()) <= 120
    again = send(school.client, "post", "skills/bring", brought(CASE)).json()
    assert (again["new"], again["changed"], again["same"]) == ([], [], 3)
    sent = json.loads(school.client.get("/api/v1/skills/send").content)
    same = send(school.client, "post", "skills/bring?look=true", brought(sent)).json()
    assert (same["new"], same["changed"], same["same"]) == ([], [], 3)
    circle = json.loads(json.dumps(CASE))
    circle["CFAssociations"][0]["destinationNodeURI"]["identifier"] = "c"
    assert send(school.client, "post", "skills/bring?look=true", brought(circle)).status_code == 200
    for bad, words in [(b"{", "not JSON"), ({"a": 1}, "no CFItems"), (b"[" * 10**5, "not JSON")]:
        reply = send(school.client, "post", "skills/bring", brought(bad))
        assert (reply.status_code, words in reply.json()["detail"]) == (422, True)


def test_how_a_question_did_stands_beside_it_and_narrows_a_search(school: Staffroom) -> None:
    sitting = school.open_sitting(students=4)
    one = refs(sitting)[0]
    for device, option in zip(devices(sitting), "bbba", strict=True):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": option}, 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    record_history(sitting)
    record_history(sitting)  # again is the same
    page = school.client.get(f"/api/v1/items/{one}/history").json()
    assert [(use["students"], use["difficulty"]) for use in page["uses"]] == [(4, 0.75)]
    assert [version["reason"] for version in page["versions"]] == ["A test, edition 1"]
    assert found(school, "difficulty=middle&used=used") == ["Which one?"]
    other = Item.objects.get(pk=one)
    record_uses("sitting 0", "Later", date(2026, 5, 1), [Use(other.pk, 12, 0.35, 0.2, [FLAG])])
    other.refresh_from_db()
    assert other.difficulty == pytest.approx((4 * 0.75 + 12 * 0.35) / 16)
    record_uses("sitting 0", "Later", date(2026, 5, 1), [])
    assert ItemUse.objects.filter(occasion="sitting 0").count() in (0, 1)


def test_a_question_in_use_changes_freely_and_can_be_put_back(school: Staffroom) -> None:
    sitting = school.sitting()
    ref = refs(sitting)[1]
    changed = {"kind": "true_false", "stem": "Changed", "key": False}
    assert send(school.client, "put", f"items/{ref}", {"content": changed, "revision": 1}).status_code == 200
    assert [i.content.stem for i in sitting.edition.read().items()] == ["Which one?", "Is it so?"]
    back = send(school.client, "post", f"items/{ref}/versions/1/put-back?revision=2").json()
    assert (back["content"]["stem"], back["revision"]) == ("Is it so?", 3)
    reasons = [version["reason"] for version in school.client.get(f"/api/v1/items/{ref}/history").json()["versions"]]
    assert reasons == ["before an earlier version was put back", "A test, edition 1"]
    assert send(school.client, "post", f"items/{ref}/versions/1/put-back?revision=2").status_code == 409


def test_drawn_numbers_are_looked_at_with_what_was_refused(school: Staffroom) -> None:
    content = {
        "kind": "numeric",
        "stem": "@(a) + 1?",
        "value_rule": "a + 1",
        "variation": {"values": [{"draw": "range", "name": "a", "low": 1, "high": 6}], "constraints": ["a > 4"]},
    }
    draws = send(school.client, "post", "items/draws", {"content": content}).json()["draws"]
    assert len(draws) == 10
    assert {(draw["values"]["a"], draw["key"]) for draw in draws} <= {("5", "6"), ("6", "7")}
    assert all(draw["item"]["stem"] == f"{draw['values']['a']} + 1?" for draw in draws)
    assert any("a > 4 does not hold" in refused for draw in draws for refused in draw["refused"])


def test_two_equivalent_editions_come_from_one_test(school: Staffroom) -> None:
    varied = {
        "kind": "numeric",
        "stem": "@(a)·2?",
        "value_rule": "2a",
        "variation": {"values": [{"draw": "range", "name": "a", "low": 1, "high": 999}]},
    }
    body = send(school.client, "post", "tests", {"title": "T"}).json()
    path = f"tests/{body['id']}"
    plain = layout(item(school)["id"])
    send(school.client, "put", path, {"title": "T", "layout": plain})
    assert "Nothing in this test varies" in send(school.client, "post", f"{path}/freeze-pair").json()["detail"]
    send(school.client, "put", path, {"title": "T", "layout": layout(item(school, varied)["id"])})
    pair = send(school.client, "post", f"{path}/freeze-pair").json()
    assert [(edition["number"], edition["label"]) for edition in pair] == [
        (1, "before teaching"),
        (2, "after teaching"),
    ]
    stems = [next(Edition.objects.get(pk=edition["id"]).read().items()).content.stem for edition in pair]
    assert stems[0] != stems[1]
    copy = send(school.client, "post", f"{path}/copy").json()
    assert (copy["title"], copy["questions"]) == ("T (copy)", 1)


def test_questions_go_out_and_come_in_without_doubles(school: Staffroom) -> None:
    kept = upload(school, picture()).json()
    first = item(
        school, {**TRUE_FALSE, "stem": f'<p>Look: <img src="{kept["address"]}" alt="teal"></p>'}, skills=["Colour"]
    )
    options = [{"id": id, "text": id.upper(), "idea_note": ""} for id in "abc"]
    item(school, {"kind": "single_choice", "stem": "Pick", "options": options, "key": "b", "marks": 2}, keywords=["k"])
    item(school, {"kind": "expression", "stem": "Add", "key": "a+b"})
    sent = send(school.client, "post", "items/send/qti", {"ids": []}).json()
    assert [line["words"] for line in sent["unsent"]] == ["Add"]
    body = {"name": sent["name"], "data": sent["data"]}
    look = send(school.client, "post", "items/bring/look", body).json()
    assert [line["outcome"] for line in look["items"]] == ["same", "same"]
    Item.objects.filter(pk=first["id"]).delete()
    Picture.objects.all().delete()
    assert send(school.client, "post", "items/bring", body).json()["wrong"] == []
    again = Item.objects.get(words__contains="look")
    assert (again.skills.get().name, Picture.objects.count()) == ("Colour", 1)
    assert str(Picture.objects.get().pk) in again.content["stem"]
    table = send(school.client, "post", "items/send/xlsx", {"ids": []}).json()
    look = send(school.client, "post", "items/bring/look", {"name": "q.xlsx", "data": table["data"]}).json()
    assert {line["words"]: line["outcome"] for line in look["items"]}["Pick"] == "same"
    assert b64decode(table["data"])[:2] == b"PK"


TABLE = """question,key,A,B,C,A means,marks,skills,colour
What is 2+2?,B,22,4,5,digits are joined,1,Adding; Tens,red
Is 1 < 2?,true,,,,,,
How long?,12.5 cm ± 2%,,,,,2,Length
The unit of mass?,kilogram | kg,,,,,1,
Broken,D,1,2,,,1,
,A,1,2,,,1,
Too much,true,,,,,999,
"""


def test_questions_from_a_table_with_what_is_wrong_by_line_and_column(school: Staffroom) -> None:
    body = brought(TABLE.encode()) | {"name": "q.csv"}
    look = send(school.client, "post", "items/bring/look", body).json()
    assert [line["kind"] for line in look["items"]] == ["single_choice", "true_false", "numeric", "short_text"]
    assert [(wrong["place"], wrong["says"].split(" ")[0]) for wrong in look["wrong"]] == [
        ("line 1, column I", "“colour”"),
        ("line 6, column B", "The"),
        ("line 7, column A", "The"),
        ("line 8, column G", "Input"),
    ]  # fmt: skip
    refused = send(school.client, "post", "items/bring", body)
    assert (refused.status_code, Item.objects.count()) == (409, 0)
    send(school.client, "post", "items/bring", body | {"without_wrong": True})
    assert Item.objects.count() == 4
    assert Item.objects.get(kind="true_false").content["stem"] == "Is 1 &lt; 2?"
    assert send(school.client, "post", "items/bring/look", body).json()["items"][0]["outcome"] == "same"


def test_the_shelf_is_found_by_topic_and_copied_without_doubles(staffroom: Callable[[str], Staffroom]) -> None:
    school = staffroom("one")
    lines = school.client.get("/api/v1/shelf").json()
    assert {line["key"] for line in lines} == {"reading-scales", "what-a-fraction-is"}
    for key in ("reading-scales", "what-a-fraction-is", "what-a-fraction-is"):
        body = send(school.client, "post", f"shelf/{key}/copy").json()
        assert [check for check in body["checks"] if check["stops"]] == []
        assert send(school.client, "post", f"tests/{body['id']}/freeze").status_code == 200
    assert Item.objects.count() == 9
    assert body["pages"] == 3
    path = f"tests/{body['id']}/sharing"
    assert send(school.client, "put", path, {"shared": True}).status_code == 422
    send(school.client, "put", path, {"shared": True, "topic": "Fractions", "summary": "Mine"})
    colleague = send(school.client, "post", "people", {"name": "P. Varga", "username": "varga"}).json()["person"]
    from versomark.school.accounts.models import Teacher

    other = Staffroom(Teacher.objects.get(pk=colleague["id"]), type(school.client)())
    other.client.force_login(other.teacher, backend="django.contrib.auth.backends.ModelBackend")
    key = next(line["key"] for line in other.client.get("/api/v1/shelf?typed=mine frac").json())
    copied = send(other.client, "post", f"shelf/{key}/copy").json()
    assert (copied["title"], copied["questions"], copied["pages"]) == ("What a fraction is", 3, 3)
    assert Item.objects.filter(owner=other.teacher).count() == 3
    stranger = staffroom("stranger")
    assert send(stranger.client, "post", f"shelf/{key}/copy").status_code == 404
    assert len(stranger.client.get("/api/v1/shelf").json()) == 2


def test_a_search_of_many_thousand_questions_uses_the_index(school: Staffroom) -> None:
    from versomark.school.bank import search

    content = read_content(TRUE_FALSE).model_dump(mode="json")
    Item.objects.bulk_create(
        Item(owner=school.teacher, content=content, kind="true_false", ready=True, words=f"lamp{n} loop battery")
        for n in range(3000)
    )
    search.index(Item.objects.filter(owner=school.teacher))
    start = time.perf_counter()
    total = school.client.get("/api/v1/items?search=lamp2999").json()["total"]
    assert total == 1
    assert time.perf_counter() - start < 30  # speed itself is measured in bench/
    assert school.client.get("/api/v1/items?search=lamp29&most=5").json()["total"] == 111
    Item.objects.filter(words__startswith="lamp2999").delete()
    assert found(school, "search=lamp2999") == []


def test_a_paper_is_printed_in_every_way_and_fetches_nothing(school: Staffroom) -> None:
    sitting = school.sitting()
    content = sitting.edition.read()
    for what in ("booklet", "large-18", "large-24", "answers", "guide"):
        document = pypdfium2.PdfDocument(printing.pdf(content, what))  # type: ignore[arg-type]
        text = " ".join(document[at].get_textpage().get_text_range() for at in range(len(document)))
        assert "Which one?" in text
        assert ("the idea behind it" in text) == (what == "guide")
    page = printing.html(content, "booklet")
    assert "http:" not in page.replace("http://www.w3.org", "")
    assert "https:" not in page


def test_files_handed_in_are_checked_on_arrival_and_belong_to_one_seat(school: Staffroom) -> None:
    rubric = Rubric(criteria=[Criterion(id="a", name="A")])
    task = FileTask(stem="Hand in", rubric=rubric, file_kinds=["pdf"], most_megabytes=1)
    sitting = school.open_sitting(contents=[task], students=2)
    one, other = devices(sitting)
    (ref,) = refs(sitting)
    for device in (one, other):
        device.join()

    def hand(name: str, data: bytes, item: str = ref) -> Any:
        return one.client.post(f"/api/v1/student/files/{item}", {"file": SimpleUploadedFile(name, data)})

    for name, data, words in [
        ("a.exe", b"MZ", "not taken here"),
        ("a.pdf", b"MZ evil", "not what its ending says"),
        ("a.pdf", b"%PDF-" + b"0" * 1_000_001, "larger than 1 MB"),
    ]:
        reply = hand(name, data)
        assert (reply.status_code, words in reply.json()["detail"]) == (422, True), reply.json()
    assert hand("a.pdf", b"%PDF-1", "0").status_code == 404
    body = hand("../../evil\\name.pdf", b"%PDF-1.4").json()
    assert ("/" in body["name"], "\\" in body["name"]) == (False, False)
    answer = {"kind": "file", "files": [body]}
    assert one.answer(ref, answer, 1).status_code == 200
    assert other.answer(ref, answer, 1).json()["detail"] == "That file is not one of yours."
    assert one.answer(ref, {"kind": "file", "files": [body, body]}, 2).status_code == 422
    assert HandedInFile.objects.count() == 1
    services.close_sitting(sitting)
    assert hand("b.pdf", b"%PDF-1").status_code == 410
