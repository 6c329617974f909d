"""Makes the pictures in docs/screenshots from the demo school: `./verso screenshots [name …]`."""

import os
import re
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pypdfium2
from playwright.sync_api import Browser, Page

from versomark.demo.sign_in import PASSWORD, USERNAME

from .serving import ROOT, chromium, served

LAPTOP = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 780}
TO = ROOT / "docs" / "screenshots"


_signed_in: dict[tuple[str, str], Any] = {}
"""By address and name, the cookies of the first sign-in of this run."""


def sign_in(page: Page, address: str, username: str = USERNAME) -> None:
    """By the form the first time; whoever comes after that has been there before."""
    name, within = page.get_by_label("Name you sign in with"), page.get_by_role("link", name="Findings", exact=True)
    page.context.add_cookies(_signed_in.get((address, username), []))
    page.goto(address)
    within.or_(name).first.wait_for()
    if within.is_visible() and (address, username) in _signed_in:
        return
    name.fill(username)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    within.wait_for()
    _signed_in[address, username] = page.context.cookies(address)


def tab(page: Page, name: str) -> None:
    page.get_by_role("navigation").get_by_role("link", name=name, exact=True).click()
    page.get_by_role("heading", level=1, name=name, exact=True).wait_for()


def findings(page: Page) -> None:
    tab(page, "Findings")
    page.get_by_role("link", name="Electric circuits, unit check").first.click()
    page.get_by_text("What to do", exact=True).wait_for()


def marking_desk(page: Page) -> None:
    tab(page, "Marking")
    page.get_by_role("link", name=re.compile("Mark$|Go on marking")).first.click()
    page.get_by_role("button", name="Keep and next").wait_for()


def marking(page: Page) -> None:
    """A written answer beside its rubric, two criteria marked."""
    marking_desk(page)
    page.keyboard.press("2")
    page.keyboard.press("1")
    page.get_by_role("button", name=re.compile("draft$")).first.wait_for()


def item_map(page: Page) -> None:
    """Every question by difficulty and discrimination."""
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Map").click()
    page.get_by_role("img", name=re.compile("^Map of")).wait_for()


def student_table(page: Page) -> None:
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Students").click()
    page.get_by_role("table", name="Students by questions").wait_for()


def scale(page: Page) -> None:
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Scale").click()
    page.get_by_text("separation reliability").wait_for()


def totals(page: Page) -> None:
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Totals").click()
    page.get_by_role("table", name="Alpha without each question").wait_for()


def time(page: Page) -> None:
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Time").click()
    page.get_by_role("table", name="Time on each question").wait_for()


def summary(page: Page) -> None:
    findings(page)
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="In one table").click()
    page.get_by_role("table", name="All questions in figures").wait_for()


def of_record(link: str) -> Callable[[Page], None]:
    """Another page of the record."""

    def go(page: Page) -> None:
        record(page)
        page.get_by_role("navigation", name="Of this record").get_by_role("link", name=link).click()
        page.get_by_role("heading", level=1, name=re.compile(link)).wait_for()

    return go


def student_report(page: Page) -> None:
    record(page)
    page.get_by_role("link", name="Wren O.").click()
    page.get_by_role("table", name="Skills").wait_for()


def answers(page: Page) -> None:
    """Students down, questions across."""
    results(page)
    page.get_by_role("link", name="By question").click()
    page.get_by_role("table", name="Answers by question").wait_for()


def one_to_one(page: Page) -> None:
    """A card, in the middle of a second try."""
    tab(page, "Sittings")
    line = page.locator("main div", has_text=re.compile("^.{0,12}Rhythm cards · Rhythm Club. of 9"))
    line.get_by_role("link", name="Marks").first.click()
    page.get_by_role("link", name="One to one").click()
    page.get_by_role("table", name="Cards, the least known first").wait_for()


def materials(page: Page) -> None:
    tab(page, "Bank")
    page.get_by_role("link", name="Materials").click()
    page.get_by_role("button", name="New material").click()


def groups(page: Page) -> None:
    """Two classes beside each other: what the first sat, the other sat too."""
    tab(page, "Findings")
    page.get_by_role("link", name="Read").last.click()
    page.get_by_role("button", name="Change and see").click()
    page.get_by_text("Together with other sittings").click()
    page.get_by_role("checkbox", name=re.compile("8 Tern")).click()
    page.get_by_role("button", name="See them").click()
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Groups").click()
    page.get_by_role("img", name=re.compile("^Difference between")).wait_for()


def other_sittings(page: Page) -> None:
    tab(page, "Findings")
    page.get_by_role("link", name="Read").last.click()
    page.get_by_role("navigation", name="Looks").get_by_role("link", name="Other sittings").click()
    page.get_by_role("table", name="The test in its sittings").wait_for()


def record(page: Page) -> None:
    tab(page, "Records")
    page.get_by_role("link", name="8 Heron", exact=True).click()
    page.get_by_role("table", name="Students by sittings, newest first").wait_for()


def skills(page: Page) -> None:
    results(page)
    page.get_by_role("link", name="By skill").click()
    page.get_by_role("table", name=re.compile("^Students by skill")).wait_for()


def same(page: Page) -> None:
    """What was typed to one question, judged once for all who typed it."""
    tab(page, "Marking")
    page.get_by_role("link", name="Same answers").first.click()
    page.get_by_text("The key:").wait_for()


def results(page: Page) -> None:
    """Totals, and one student's result through their eyes."""
    findings(page)
    page.goto(page.url.replace("/findings/", "/results/"))
    page.get_by_role("heading", name=re.compile("sees it", re.IGNORECASE)).wait_for()
    page.get_by_text("Question 1", exact=True).wait_for()


def results_in_full(page: Page) -> None:
    """Every question and every comment beside the totals."""
    results(page)
    page.get_by_label("every question").check()
    page.get_by_label("what was said").check()
    page.get_by_role("columnheader", name="What was said").wait_for()
    page.get_by_role("columnheader", name="16", exact=True).wait_for()


def by_group(page: Page) -> None:
    results(page)
    page.get_by_role("link", name="By group").click()
    page.get_by_role("table", name="Share of the marks by group").wait_for()


def side_by_side(page: Page) -> None:
    tab(page, "Records")
    page.get_by_role("link", name="Classes side by side").click()
    page.get_by_role("table", name="Tests that several classes sat").wait_for()


def typed(page: Page) -> None:
    """The record while numbers are typed along it."""
    record(page)
    page.get_by_role("button", name="Type numbers").click()
    page.get_by_label("The reason").fill("Oral test.")
    page.get_by_label("The reason").press("Enter")


def second(page: Page) -> None:
    """The plan of a second reading."""
    marking_desk(page)
    page.goto(re.sub(r"\?.*", "", page.url) + "/second")
    page.get_by_role("button", name="Have them read twice").wait_for()


def away(page: Page) -> None:
    marking_desk(page)
    page.goto(re.sub(r"\?.*", "", page.url) + "/away")
    page.get_by_role("button", name="Save all work as a zip").wait_for()


def question(page: Page) -> None:
    """The most pressing question of the findings."""
    findings(page)
    page.keyboard.press("j")
    page.get_by_text("Who chooses what, from weakest to strongest").wait_for()


def bank(page: Page) -> None:
    tab(page, "Bank")
    page.get_by_label("Find questions").fill("third identical lamp")
    page.get_by_text("A third identical lamp is added in parallel").click()
    page.get_by_text("shows they think that").first.wait_for()


def test(page: Page) -> None:
    tab(page, "Tests")
    page.get_by_role("link", name="Circuits, a bit of everything").click()
    page.get_by_role("button", name="As students see it").wait_for()


def plan(page: Page) -> None:
    tab(page, "Tests")
    page.get_by_role("link", name="Circuits, a bit of everything").click()
    page.get_by_role("radio", name="Plan").click()
    page.get_by_text("What to expect").wait_for()


LIST = """Kestrel Bay School;;;
No.;Surname;First name;Extra time
4;Diallo;Malik;25%
9;Nkrumah;Kofi;
27;Aydin;Defne;10
28;;;
29;Osei;Yaw;lots
"""


def bring_a_list(page: Page) -> None:
    class_list(page)
    page.get_by_role("button", name="Bring in a list").click()
    file = {"name": "list.csv", "mimeType": "text/csv", "buffer": LIST.encode()}
    page.get_by_label("File with the class list").set_input_files(files=file)  # type: ignore[arg-type]
    page.get_by_text("1 new, 2 as they are, 2 wrong").wait_for()


def sheets(page: Page) -> None:
    """Sheets printed for the class that is ready to sit."""
    tab(page, "Sittings")
    page.get_by_role("link", name="Go to it").first.click()
    page.get_by_role("link", name="Answer sheets").click()
    with page.context.expect_page() as printed:
        page.get_by_role("button", name="Make the sheets").click()
    printed.value.close()
    page.get_by_text("Rehearse a scan").first.wait_for()


def scan(page: Page) -> None:
    """What became of a scan: the class that is ready to sit has sat on paper, and the copier was a bad one."""
    tab(page, "Sittings")
    page.get_by_role("link", name="Scan inbox").click()
    page.get_by_text("The copier can save into your folder").wait_for()
    # A file of some months ago is there from the beginning.
    if not page.get_by_text(re.compile(r"Rehearsal \w+\.pdf")).count():
        sheets(page)
        page.get_by_label("How rough").select_option("the worst there is")
        page.get_by_role("button", name="Rehearse a scan").last.click()
    page.get_by_role("link", name="Settle them").first.wait_for(timeout=60_000)


def settle(page: Page) -> None:
    scan(page)
    page.get_by_role("link", name="Settle them").click()
    page.get_by_role("img", name="as scanned").wait_for()
    page.evaluate("() => Promise.all([...document.images].map((picture) => picture.decode()))")


def paper(page: Page) -> None:
    """A class's sheets: what has come back, what was printed."""
    settle(page)
    number = page.url.rsplit("=", 1)[1]
    page.goto(f"{page.url.split('/sittings')[0]}/sittings/{number}/paper")
    page.get_by_role("table", name="Sheets by student").wait_for()


def booklet(address: str, page: Page, folder: Path) -> None:
    """The first page of the printed test, as a picture."""
    sent = page.request.get(f"{address}/api/v1/editions").json()
    edition = next(line["id"] for line in sent if "everything" in line["title"])
    document = pypdfium2.PdfDocument(
        page.request.get(f"{address}/api/v1/editions/{edition}/print/booklet?form=B").body()
    )
    document[0].render(scale=1.3).to_pil().save(folder / "booklet.png")


def sitting(page: Page) -> None:
    tab(page, "Sittings")
    page.get_by_role("link", name="Watch").first.click()
    page.get_by_text("On the board").wait_for()


def marks(page: Page) -> None:
    tab(page, "Sittings")
    page.get_by_role("link", name="Marks", exact=True).first.click()
    page.get_by_role("grid", name="Marks").wait_for()


def lines(page: Page) -> None:
    marks(page)
    page.get_by_role("link", name="The lines").click()
    page.get_by_label("Label, 4–5").wait_for()


def class_list(page: Page) -> None:
    tab(page, "Classes")
    page.get_by_role("link", name="8 Heron", exact=True).click()
    page.get_by_role("table").get_by_text("Noor Qureshi").wait_for()


def desk(page: Page) -> None:
    tab(page, "Desk")
    page.get_by_text("Open now").wait_for()


def finder(page: Page) -> None:
    desk(page)
    page.keyboard.press("Control+k")
    page.get_by_label("Type a name or a few words").fill("lamp par")
    page.get_by_role("option").first.wait_for()


VIEWS: dict[str, Callable[[Page], None]] = {
    "desk": desk,
    "class": class_list,
    "class-list": bring_a_list,
    "bank": bank,
    "test": test,
    "plan": plan,
    "sitting": sitting,
    "marks": marks,
    "lines": lines,
    "marking": marking,
    "same": same,
    "results": results,
    "answers": answers,
    "results-in-full": results_in_full,
    "by-group": by_group,
    "second": second,
    "away": away,
    "findings": findings,
    "question": question,
    "map": item_map,
    "table": student_table,
    "scale": scale,
    "totals": totals,
    "skills": skills,
    "record": record,
    "typed": typed,
    "side-by-side": side_by_side,
    "growth": of_record("Growth"),
    "not-tested": of_record("Not tested"),
    "rules": of_record("Terms and scale"),
    "student-report": student_report,
    "one-to-one": one_to_one,
    "materials": materials,
    "time": time,
    "summary": summary,
    "groups": groups,
    "other-sittings": other_sittings,
    "finder": finder,
}
NOT_KEPT = {
    "totals",
    "results-in-full",
    "by-group",
    "typed",
    "side-by-side",
    "finder",
    "lines",
    "class-list",
    "second",
    "away",
    "plan",
    "map",
    "settle",
    "same",
    "groups",
    "other-sittings",
    "scale",
    "table",
    "sheets",
    "growth",
    "not-tested",
    "rules",
    "student-report",
    "materials",
    "time",
    "summary",
}
"""Looked at by tests, and no main view: a layer over any page, and what is done once a term."""
PAPER: dict[str, Callable[[Page], None]] = {"scan": scan, "settle": settle, "sheets": paper}
"""Apart from the others, since a class has to sit on paper for them."""


def in_the_room(page: Page, class_name: str, how: str) -> None:
    """A lesson with a practice class that answers so."""
    tab(page, "Tests")
    row = page.locator("div", has=page.get_by_role("link", name="Circuits, first look", exact=True)).last
    row.locator("xpath=..").get_by_role("button", name="Ask in the room").click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile(class_name)).click()
    page.get_by_role("button", name="Bring in a practice class").click()
    page.get_by_role("button", name=how).click()
    page.get_by_text("Bring in a practice class").wait_for(state="hidden")


def room(page: Page, folder: Path, suffix: str) -> None:
    """A lesson with a practice class, and its wall."""
    in_the_room(page, "8 Heron", "On devices")
    for key in ("ArrowRight", "g"):
        page.keyboard.press(key)
        page.wait_for_timeout(10_000)  # they take their time, as a class does
    picture(page, folder, f"room{suffix}")
    page.keyboard.press("r")
    wall = page.context.new_page()
    wall.set_viewport_size({"width": 1280, "height": 720})
    wall.goto(page.url.replace("/sittings/", "/wall/"))
    wall.get_by_text("✓").first.wait_for()
    picture(wall, folder, f"wall{suffix}")
    wall.close()


def cards(page: Page, folder: Path, suffix: str) -> None:
    """A practice class holds its cards up."""
    in_the_room(page, "8 Tern", "With folded cards")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("c")
    page.get_by_role("button", name="Look at the practice class").click()
    page.wait_for_timeout(7_000)
    picture(page, folder, f"cards{suffix}")
    page.get_by_role("button", name="Stop the camera").click()


def picture(page: Page, folder: Path, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.evaluate("document.fonts.ready")
    page.mouse.move(0, 0)
    page.screenshot(path=folder / f"{name}.png")


def last_seat(teacher: Page, address: str) -> tuple[str, str]:
    """The code of the open sitting, and the pass of a student of it who has not come yet."""
    sitting(teacher)
    code = teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).inner_text()
    listed = teacher.request.get(f"{address}/api/v1/classes").json()
    class_id = next(line["id"] for line in listed if line["name"] == "8 Tern")
    return code, teacher.request.get(f"{address}/api/v1/classes/{class_id}").json()["list"][-1]["pass_phrase"]


def join(page: Page, address: str, code: str, pass_phrase: str) -> None:
    page.goto(f"{address}/join")
    page.get_by_label("Code on the board").fill(code)
    page.get_by_label("Your pass").fill(pass_phrase)
    page.get_by_role("button", name="Come in").click()


def student(browser: Browser, address: str, teacher: Page, folder: Path, theme: str, suffix: str) -> None:
    """The student's screens, in the open sitting."""
    page = browser.new_context(viewport=PHONE, color_scheme=theme, reduced_motion="reduce").new_page()
    page.goto(f"{address}/join")
    page.get_by_label("Code on the board").wait_for()
    join(page, address, *last_seat(teacher, address))
    for option in (2, 1, 0):
        page.locator("label:has(input[type=radio])").nth(option).click()
        page.get_by_role("button", name="Next").click()
    page.locator("label:has(input[type=radio])").nth(2).click()
    page.get_by_text("all answers kept").wait_for()
    picture(page, folder, f"student{suffix}")
    page.get_by_label("Come back to this one").click()
    page.get_by_role("button", name="All 8").click()
    page.get_by_text("all answers kept").wait_for()


def main(names: list[str], folder: Path = TO, theme: str = "light", suffix: str = "") -> None:
    folder.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        served(Path(data), demo=True) as address,
        chromium() as browser,
    ):
        page = browser.new_context(viewport=LAPTOP, color_scheme=theme, reduced_motion="reduce").new_page()
        page.goto(address)
        page.get_by_label("Password").wait_for()
        sign_in(page, address)
        _take(page, folder, VIEWS, names, suffix)
        if (not names or "booklet" in names) and theme == "light":
            booklet(address, page, folder)
        if not names or "student" in names:
            student(browser, address, page, folder, theme, suffix)
        _take(page, folder, PAPER, names, suffix)
        if not names or "room" in names:
            room(page, folder, suffix)
        if "cards" in names:
            cards(page, folder, suffix)


def _take(page: Page, folder: Path, views: dict[str, Callable[[Page], None]], names: list[str], suffix: str) -> None:
    for name, go in views.items():
        if not names or name in names:
            go(page)
            if name not in NOT_KEPT:
                picture(page, folder, f"{name}{suffix}")
            page.keyboard.press("Escape")


if __name__ == "__main__":
    # What a school sees that has set its address, and the same in every picture.
    os.environ["VERSO_ADDRESS"] = "https://marks.school.example"
    main(sys.argv[1:])
