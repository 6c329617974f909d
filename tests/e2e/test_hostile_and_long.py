"""Names as long as they may be and full of markup: shown as typed, run nowhere, and every screen still fits."""

from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from versomark.demo.sign_in import PASSWORD

from .screenshots import PHONE, join, tab
from .serving import code_of, served
from .test_any_width import looks_right

EVIL = "<img src=x onerror=hit(1)><script>hit(2)</script>"


# A word of a hundred letters on a laptop; on a phone what people really write, only longer.
FILL = {1280: "w" * 200, 360: "and on it goes " * 20}
fill_with = FILL[1280]


def long(words: str, most: int) -> str:
    """The words, the markup, and filling up to the limit."""
    return f"{words} {EVIL} {fill_with}"[:most].strip()


class School:
    """The teacher's API through the browser's own session."""

    def __init__(self, context: BrowserContext, address: str) -> None:
        self.context, self.address = context, address

    def send(self, method: str, path: str, body: Any = None) -> Any:
        cookies = {cookie["name"]: cookie["value"] for cookie in self.context.cookies()}
        reply = self.context.request.fetch(
            f"{self.address}/api/v1/{path}",
            method=method,
            data=body,
            headers={"X-Verso-Csrf": cookies.get("verso_csrf", ""), "Referer": self.address},
        )
        assert reply.ok, (path, reply.status, reply.text()[:300])
        return reply.json()


def fill(school: School) -> dict[str, Any]:
    """A class, a question, a test and an open sitting whose every name is hostile and long."""
    class_id = school.send("post", "classes", {"name": long("8", 60)})["id"]
    names = [f"{long('Ann', 60)}, {long('Bee', 60)}", "Ann Lee", f"{fill_with[:50].strip()}, {fill_with[:50].strip()}"]
    page = school.send("post", f"classes/{class_id}/students", {"lines": [f"{EVIL} Last", *names[1:]]})
    students = [student["id"] for student in page["list"]]
    school.send("post", f"classes/{class_id}/groups", {"name": long("Red", 60), "students": students})
    options = [{"id": id, "text": f"{id} {EVIL} {'long ' * 12}", "idea_note": long("idea", 200)} for id in "abcde"]
    content = {"kind": "single_choice", "stem": f"Which {EVIL} {fill_with[:90]}?", "options": options, "key": "b"}
    details = {"skills": [long("Skill", 120)], "keywords": [long("key", 60)], "source": long("source", 200)}
    item = school.send("post", "items", {"content": content, **details})["id"]
    test = school.send("post", "tests", {"title": long("A test", 200)})["id"]
    sections = [{"ref": "1", "title": long("Part", 120), "entries": [{"entry": "item", "ref": item}]}]
    body = {"title": long("A test", 200), "instructions": f"Read {EVIL}", "layout": {"sections": sections}}
    school.send("put", f"tests/{test}", body)
    edition = school.send("post", f"tests/{test}/freeze")["id"]
    sitting = school.send("post", "sittings", {"edition": edition, "class_id": class_id})
    school.send("post", f"sittings/{sitting['id']}/steps/open")
    groups = [
        {"ref": f"{n:x}", "label": long(f"{n}", 300), "marks": 6, "about": long("about", 300),
         "skills": [long("Skill", 120)], "follow_up": long("again", 300)}
        for n in range(1, 5)
    ]  # fmt: skip
    elsewhere = school.send("post", "tests/marks-only", {"title": long("Elsewhere", 200)})["id"]
    body = {"title": long("Elsewhere", 200), "described": {"groups": groups}}
    school.send("put", f"tests/{elsewhere}/described", body)
    frozen = school.send("post", f"tests/{elsewhere}/freeze")["id"]
    marks = school.send("post", "sittings", {"edition": frozen, "class_id": class_id})["id"]
    seats = [row["seat"] for row in school.send("get", f"sittings/{marks}/marks")["rows"]]
    cells = [{"seat": seat, "item": group["ref"], "points": 3} for seat in seats for group in groups]
    school.send("put", f"sittings/{marks}/marks", {"marks": cells, "presence": []})
    school.send("post", f"sittings/{marks}/steps/close")
    term = {"name": long("Term", 40), "starts": "2000-01-01", "ends": "2100-01-01"}
    school.send("put", "terms", {"terms": [term]})
    school.send("put", f"classes/{class_id}/record/categories", {"categories": [{"name": long("Kind", 40)}]})
    total = {"total": 5, "reason": long("since", 300)}
    school.send("put", f"sittings/{marks}/results/seats/{seats[0]}/total", total)
    other = school.send("post", "classes", {"name": long("9", 60)})["id"]
    lesson = school.send("post", "room", {"class_id": class_id, "edition": edition})
    school.send("put", f"sittings/{lesson['sitting']}/room/wall", {"names": True})
    school.send("post", f"sittings/{lesson['sitting']}/room/acts", {"act": "go"})
    for seat in school.send("get", f"sittings/{lesson['sitting']}/room")["waiting"]:
        school.send("post", f"sittings/{lesson['sitting']}/room/answers", {"seat": seat["seat"], "letter": "A"})
    return {
        "lesson": lesson["sitting"],
        "marks": marks,
        "other": other,
        "student": students[0],
        "elsewhere": elsewhere,
        "class": class_id,
        "item": item,
        "test": test,
        "sitting": sitting["id"],
        "code": sitting["code"],
        "pass": page["list"][-1]["pass_phrase"],
        "edition": edition,
    }


def first_account(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("School", exact=True).fill(long("School", 80))
    page.get_by_label("Your name, as students see it").fill(long("T.", 60))
    page.get_by_label("Name you sign in with").fill("teacher")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_label("Code").fill(code_of(address))
    page.get_by_role("button", name="Make the account").click()
    page.get_by_role("link", name="Findings", exact=True).wait_for()


def watched(context: BrowserContext) -> Page:
    page = context.new_page()
    page.add_init_script("window.hits = []; window.hit = (n) => window.hits.push(n)")
    return page


@pytest.mark.parametrize("width", [1280, 360])
def test_everything_is_shown_as_typed_and_fits(
    browser: Browser, tmp_path: Path, width: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(f"{__name__}.fill_with", FILL[width])
    with served(tmp_path) as address:
        context = browser.new_context(viewport={"width": width, "height": 800}, reduced_motion="reduce")
        page = watched(context)
        first_account(page, address)
        made = fill(School(context, address))
        for path in (
            f"classes/{made['class']}", f"bank/{made['item']}", f"tests/{made['test']}", f"sittings/{made['sitting']}",
            f"tests/{made['elsewhere']}", f"sittings/{made['marks']}", f"findings/{made['marks']}",
            f"results/{made['marks']}?each=1&said=1", f"results/{made['marks']}/groups",
            f"results/{made['marks']}/skills", f"records/{made['class']}", f"records/{made['class']}/rules",
            f"records/{made['class']}/growth", f"records/{made['class']}/not-tested",
            f"records/{made['class']}/students/{made['student']}", "records/side-by-side", "materials",
            f"sittings/{made['lesson']}", f"wall/{made['lesson']}",
        ):  # fmt: skip
            page.goto(f"{address}/{path}")
            page.get_by_role("heading", level=1).wait_for()
            page.wait_for_timeout(500)
            looks_right(page, path)
            assert page.evaluate("window.hits") == [], path
        page.goto(address)  # the wall has no way out
        for name in ("Desk", "Classes", "Bank", "Tests", "Sittings"):
            tab(page, name)
            looks_right(page, name)
            assert page.evaluate("window.hits") == [], name
        # What was a name is read as that name; what was rich text has lost what could run.
        page.goto(f"{address}/classes/{made['class']}")
        expect(page.get_by_text("<img src=x onerror=hit(1)>").first).to_be_visible()
        stored = School(context, address).send("get", f"items/{made['item']}")["content"]
        assert "onerror" not in stored["stem"]
        assert "script" not in stored["stem"]
        for what in ("booklet", "guide"):
            printed = context.request.get(f"{address}/api/v1/editions/{made['edition']}/print/{what}")
            assert printed.body().startswith(b"%PDF-")
        phone = watched(browser.new_context(viewport=PHONE, reduced_motion="reduce"))  # type: ignore[arg-type]
        join(phone, address, made["code"], made["pass"])
        expect(phone.get_by_text("Question 1 of 1")).to_be_visible()
        looks_right(phone, "the student's question")
        phone.locator("label:has(input[type=radio])").nth(1).click()
        expect(phone.get_by_text("all answers kept")).to_be_visible()
        assert phone.evaluate("window.hits") == []
        context.close()
