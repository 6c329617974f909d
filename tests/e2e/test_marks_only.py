"""A test given and marked elsewhere: described, keyed in, entered by students, brought in, analysed."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab

LINES = "label\tmarks\tskills\n1–2a\t6\tDensity\twater and oil\n2b\t4\tUnits; Density\n3\t12\tPlanning\n"


def test_marks_are_described_keyed_entered_by_students_and_brought_in(
    browser: Browser, teacher: Page, tmp_path: Path
) -> None:
    page = teacher
    describe(page)
    key_in(page)
    work_with_blocks(page)
    students_enter_their_own(browser, page)
    a_student_more(page)
    bring_a_workbook(page, tmp_path)
    finish_and_find(page)


def cell(page: Page, student: str, label: str) -> object:
    return page.get_by_role("textbox", name=f"{student}, {label}")


def values(page: Page, row: int) -> list[str]:
    """What stands in a row of the grid, from the first column to the total; the open cell is a field."""
    cells = page.locator("tbody tr").nth(row).locator("td")
    return [
        field.input_value() if (field := found.locator("input")).count() else found.inner_text().strip()
        for found in cells.all()
    ]


def describe(page: Page) -> None:
    tab(page, "Tests")
    page.get_by_role("button", name="Marks only").click()
    page.get_by_label("Title").fill("Density practical")
    page.get_by_role("button", name="Describe it").click()
    page.get_by_role("button", name="Paste lines").click()
    page.get_by_role("textbox", name="Lines").fill(LINES + "4\tmany\n")
    page.get_by_role("button", name="Add the lines").click()
    expect(page.get_by_text("Line 5: “many” is no maximum")).to_be_visible()
    page.get_by_role("button", name="Take the 3 that can").click()
    expect(page.get_by_text("3 lines, 22 marks")).to_be_visible()
    # Without a maximum a line is not finished, and the grid is not reached.
    page.get_by_label("Label, line 4").fill("4")
    expect(page.get_by_text("4 has no maximum.")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Enter marks for a class").click()
    page.get_by_role("dialog").get_by_label("Class").select_option(index=1)
    page.get_by_role("button", name="To the grid").click()
    expect(page.get_by_role("alert").get_by_text("4 has no maximum.")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label("Marks, 4").fill("3")
    expect(page.get_by_text("4 lines, 25 marks")).to_be_visible()
    page.get_by_role("button", name="Enter marks for a class").click()
    page.get_by_role("dialog").get_by_label("Class").select_option(index=2)
    page.get_by_label("Given on").fill("2026-11-03")
    page.get_by_role("button", name="To the grid").click()
    expect(page.get_by_role("grid", name="Marks")).to_be_visible()
    axe_finds_nothing(page)


def key_in(page: Page) -> None:
    """Tab across, Enter down; a mark over the maximum stays where it is, with the limit."""
    page.locator("tbody tr").nth(0).locator("td input").click()
    for typed in "53", "4", "11", "2":
        page.keyboard.type(typed)
        if typed == "53":
            page.keyboard.press("Tab")
            expect(page.get_by_role("alert").get_by_text("at most 6")).to_be_visible()
            page.keyboard.press("Backspace")
        page.keyboard.press("Tab")
    assert values(page, 0) == ["5", "4", "11", "2", "22"]
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    page.keyboard.type("6")
    page.keyboard.press("ArrowUp")
    assert [values(page, row)[0] for row in (1, 2)] == ["4", "6"]
    page.keyboard.press("a")
    expect(page.locator("tbody tr").nth(1)).to_contain_text("absent")
    page.keyboard.press("e")
    expect(page.locator("tbody tr").nth(2)).to_contain_text("excused")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.locator("tbody tr").nth(1)).not_to_contain_text("absent")
    page.keyboard.press("Control+Shift+z")
    expect(page.locator("tbody tr").nth(1)).to_contain_text("absent")
    expect(page.get_by_text("kept")).to_be_visible()
    page.reload()
    expect(page.locator("tbody tr").nth(1)).to_contain_text("absent")
    assert values(page, 0) == ["5", "4", "11", "2", "22"]
    # A mark for somebody who was away makes them present.
    page.locator("tbody tr").nth(1).locator("td").nth(1).click()
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(page.locator("tbody tr").nth(1)).not_to_contain_text("absent")


def work_with_blocks(page: Page) -> None:
    page.locator("tbody tr").nth(3).locator("td").nth(0).click()
    page.evaluate(
        """text => {
          const data = new DataTransfer();
          data.setData("text/plain", text);
          document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true}));
        }""",
        "3\t2\t9\t1\n6\t9\t12\t3\na\n",
    )
    expect(page.get_by_text("1 cell not taken; the rest is in.")).to_be_visible()
    expect(page.get_by_text("2b: “9”, at most 4")).to_be_visible()
    page.get_by_role("button", name="I have seen it").click()
    assert values(page, 3) == ["3", "2", "9", "1", "15"]
    assert values(page, 4)[2:] == ["12", "3", "21"]
    expect(page.locator("tbody tr").nth(5)).to_contain_text("absent")
    page.locator("tbody tr").nth(6).locator("td").nth(0).click()
    page.keyboard.type("4")
    page.keyboard.press("Tab")
    page.keyboard.press("ArrowLeft")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Control+d")
    assert [values(page, row)[0] for row in range(6, 10)] == ["4"] * 4
    page.keyboard.press("Delete")
    assert [values(page, row)[0] for row in range(6, 10)] == [""] * 4
    page.keyboard.press("Control+z")
    assert [values(page, row)[0] for row in range(6, 10)] == ["4"] * 4
    # One key a mark: a digit that can grow no more leads on.
    page.get_by_label("Move on after each mark").check()
    page.locator("tbody tr").nth(10).locator("td").nth(0).click()
    page.keyboard.type("649311")
    page.keyboard.press("Tab")
    assert values(page, 10) == ["6", "4", "9", "3", "22"]
    assert values(page, 11)[:2] == ["1", "1"]
    page.get_by_label("Move on after each mark").uncheck()


def students_enter_their_own(browser: Browser, page: Page) -> None:
    page.get_by_role("button", name="Let students enter theirs").click()
    entry = page.get_by_role("region", name="Students enter their own marks")
    code = entry.locator("strong").nth(1).inner_text()
    expect(entry.get_by_role("img")).to_be_visible()
    assert entry.get_by_role("img").evaluate("image => image.decode().then(() => image.naturalWidth)") > 0
    name = page.locator("tbody tr").nth(12).locator("th span").last.inner_text()
    phone = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    address = page.url.split("/sittings")[0]
    phone.goto(f"{address}/join?code={code}")
    phone.get_by_label("Your pass").fill(pass_of(page, name))
    phone.get_by_role("button", name="Come in").click()
    expect(phone.get_by_text("Copy the marks from your marked paper.")).to_be_visible()
    phone.get_by_label("Your mark for 1–2a").fill("7")
    phone.get_by_label("Your mark for 2b").fill("3")
    expect(phone.get_by_role("alert")).to_have_text("It has at most 6.")
    phone.get_by_label("Your mark for 1–2a").fill("5")
    phone.get_by_label("Your mark for 3").fill("10")
    expect(phone.get_by_text("1 still empty")).to_be_visible()
    # The teacher sees the row fill, without asking again.
    row = page.locator("tbody tr").nth(12)
    expect(row).to_contain_text("18")
    expect(row.locator("em").first).to_have_text("5")
    axe_finds_nothing(phone)
    phone.get_by_label("Your mark for 4").fill("2")
    phone.get_by_role("button", name="Hand in", exact=True).click()
    expect(phone.get_by_role("heading", name="Handed in.")).to_be_visible()
    page.get_by_role("button", name="Close entry").click()
    expect(page.get_by_role("button", name="Let students enter theirs")).to_be_visible()
    late = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    late.goto(f"{address}/join?code={code}")
    late.get_by_label("Your pass").fill(
        pass_of(page, page.locator("tbody tr").nth(13).locator("th span").last.inner_text())
    )
    late.get_by_role("button", name="Come in").click()
    expect(late.get_by_role("heading", name="Entry is closed.")).to_be_visible()


def pass_of(page: Page, name: str) -> str:
    """As the slips have it."""
    body = page.request.get(f"{page.url.split('/sittings')[0]}/api/v1/classes").json()
    for line in body:
        students = page.request.get(f"{page.url.split('/sittings')[0]}/api/v1/classes/{line['id']}").json()["list"]
        for student in students:
            if student["short_name"] == name:
                return str(student["pass_phrase"])
    raise AssertionError(name)


def own_result(browser: Browser, teacher: Page, name: str, class_name: str, title: str) -> Page:
    """A student on a phone with their result open, by the class's link and their pass."""
    tab(teacher, "Sittings")
    word = pass_of(teacher, name)
    tab(teacher, "Classes")
    teacher.get_by_role("link", name=class_name).click()
    link = teacher.get_by_role("link", name="/mine/").get_attribute("href")
    phone = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    phone.goto(str(link))
    phone.get_by_label("Your pass").fill(word)
    phone.get_by_role("button", name="Come in").click()
    phone.get_by_role("button", name=re.compile(f"^See your result.*{title}$")).click()
    return phone


def a_student_more(page: Page) -> None:
    rows = page.locator("tbody tr").count()
    page.get_by_label("Add a student").fill("Ines Late")
    page.get_by_role("button", name="Add a row, and to").click()
    expect(page.locator("tbody tr")).to_have_count(rows + 1)
    expect(page.locator("tbody tr").last).to_contain_text("Ines L.")


def bring_a_workbook(page: Page, tmp_path: Path) -> None:
    """The grid is saved as a workbook, filled in elsewhere, and brought back; what cannot stand is named first."""
    with page.expect_download() as saved:
        page.get_by_role("button", name="Save").click()
        page.get_by_role("menuitem", name="As a workbook").click()
    path = tmp_path / "marks.xlsx"
    saved.value.save_as(path)
    from openpyxl import load_workbook

    book = load_workbook(path)
    sheet = book.active
    assert sheet is not None
    assert [c.value for c in sheet[1]] == [
        "Desk",
        "Family name",
        "Given name",
        "Number",
        "1–2a",
        "2b",
        "3",
        "4",
        "Total",
    ]
    for row in sheet.iter_rows(min_row=2):
        for at, value in enumerate((4, 2, 7, 1), start=4):
            if row[at].value is None:
                row[at].value = value
    sheet.cell(row=sheet.max_row, column=5).value = 99
    sheet.append([None, "Known", "Nobody", None, 1, 1, 1, 1])
    book.save(path)
    page.get_by_role("button", name="Bring in a table").click()
    page.get_by_label("Table of marks").set_input_files(path)
    expect(page.get_by_text("2 things that cannot be taken:")).to_be_visible()
    expect(page.get_by_text("Ines Late, 1–2a: “99”. 1–2a has at most 6.")).to_be_visible()
    expect(page.get_by_text("Nobody Known is not on the list.")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Bring them in").click()
    expect(page.locator("tbody tr").last).to_contain_text("10")


def finish_and_find(page: Page) -> None:
    page.get_by_role("button", name="All marks are in…").click()
    expect(page.get_by_text("1 row has gaps")).to_be_visible()
    page.get_by_role("button", name="All marks are in", exact=True).click()
    page.get_by_role("link", name="Findings", exact=True).last.click()
    question = page.locator("article").first
    expect(question).to_contain_text("1–2a")
    question.get_by_role("button", name="water and oil").click()
    expect(page.get_by_role("region", name="Question 1–2a")).to_contain_text("Who earned what")
    expect(page.get_by_role("row", name=re.compile("^6 .*Elio C."))).to_be_visible()
    axe_finds_nothing(page)


def test_marks_keyed_in_without_a_connection_wait_in_the_browser(browser: Browser, demo_school: str) -> None:
    """A laptop that loses the network, and is closed and opened meanwhile, brings its marks in when it is back."""
    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    screenshots.marks(page)
    address = page.url
    row = page.locator("tbody tr").nth(20)
    row.locator("td").nth(0).click()
    context.set_offline(True)
    for typed in "213":
        page.keyboard.type(typed)
        page.keyboard.press("Tab")
    expect(page.get_by_text("no connection: the marks are kept in this browser")).to_be_visible()
    assert values(page, 20)[:3] == ["2", "1", "3"]
    page.close()
    context.set_offline(False)
    again = context.new_page()
    again.goto(address)
    expect(again.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    again.reload()
    expect(again.locator("tbody tr").nth(20)).to_contain_text("6")
    assert values(again, 20)[:3] == ["2", "1", "3"]


def test_a_wrong_maximum_is_mended_in_the_middle_of_keying_in(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(page, demo_school)
    screenshots.lines(page)
    page.get_by_label("Marks, 4–5").fill("2")
    expect(page.get_by_text("6 lines, 18 marks")).to_be_visible()
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    page.get_by_role("link", name="Marks", exact=True).click()
    expect(page.get_by_text("The description of this test has changed since.")).to_be_visible()
    page.get_by_role("button", name="Use it as it is now").click()
    # Somebody has earned more than that already, and the refusal says who.
    expect(page.get_by_text("Some marks do not fit the new description.")).to_be_visible()
    expect(page.get_by_text(re.compile("4–5 has at most 2")).first).to_be_visible()
    page.get_by_role("link", name="The lines").click()
    page.get_by_label("Marks, 4–5").fill("8")
    page.get_by_label("Label, 6").press("Control+z")  # one step back, whichever field one is in
    expect(page.get_by_label("Marks, 4–5")).not_to_have_value("8")
    page.get_by_label("Marks, 4–5").fill("8")
    expect(page.get_by_text("6 lines, 24 marks")).to_be_visible()
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    page.get_by_role("link", name="Marks", exact=True).click()
    page.get_by_role("button", name="Use it as it is now").click()
    expect(page.get_by_role("columnheader", name=re.compile("^4–5 of 8"))).to_be_visible()
    expect(page.get_by_text("The description of this test has changed since.")).to_have_count(0)
    # Keyboard alone: into the grid, a mark, and out again.
    page.get_by_role("button", name="Redo").focus()
    page.locator("td input").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Add a student")).to_be_focused()
