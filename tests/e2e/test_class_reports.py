"""What a teacher takes from a sitting and a year: results as they want them, numbers typed along the record, classes
beside each other, feedback sheets to hand out and to change; what was saved is opened again."""

import re
import time
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import pypdfium2
from playwright.sync_api import Page, Route, expect
from python_calamine import CalamineWorkbook

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_results_and_looks import saved

WORD = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"


def lines(page: Page, caption: str) -> list[list[str]]:
    rows = page.get_by_role("table", name=caption, exact=True).locator("tbody tr").all()
    return [[cell.split("\n")[0].strip() for cell in row.locator("td, th").all_inner_texts()] for row in rows]


def lines_become(page: Page, caption: str, expected: list[list[str]]) -> None:
    """What stands in the table once the answer to the last change is there: averages are asked for again after it."""
    deadline = time.monotonic() + 10
    while lines(page, caption) != expected and time.monotonic() < deadline:
        page.wait_for_timeout(100)
    assert lines(page, caption) == expected


def test_results_in_an_order_of_a_group_with_every_mark_are_saved_as_they_stand(teacher: Page, tmp_path: Path) -> None:
    screenshots.results(teacher)
    everybody = lines(teacher, "Totals")
    assert [int(row[0]) for row in everybody] == list(range(1, 27))
    teacher.get_by_label("Order").select_option("lowest total first")
    expect(teacher.locator("tbody tr").first).not_to_contain_text(everybody[0][1])
    totals = [float(row[2]) for row in lines(teacher, "Totals") if row[2] != "–"]
    assert totals == sorted(totals)
    assert all(row[2] == "–" for row in lines(teacher, "Totals")[len(totals) :])  # without a total at the end
    teacher.get_by_role("combobox", name="Totals").select_option("under 50%")
    expect(teacher.get_by_text(re.compile(r"^\d+ of 26 students$"))).to_be_visible()
    under = lines(teacher, "Totals")
    assert under == [row for row in lines(teacher, "Totals") if float(row[2]) < 0.5 * float(row[3])]
    assert 3 < len(under) < 26
    teacher.get_by_label("Students", exact=True).select_option("Window table")
    expect(teacher.get_by_text(re.compile(r"^\d of 26 students$"))).to_be_visible()
    teacher.get_by_label("every question").check()
    expect(teacher.get_by_role("columnheader", name="16", exact=True)).to_be_visible()
    shown = lines(teacher, "Totals")
    assert 0 < len(shown) < 6
    for row in shown:  # the marks of all questions are the total
        assert sum(float(entry) for entry in row[4:-2] if entry != "–") == float(row[2])
    book = CalamineWorkbook.from_path(str(saved(teacher, "Workbook, open format", tmp_path)))
    heads, *rows = book.get_sheet_by_index(0).to_python(skip_empty_area=True)
    assert heads[:6] == ["Family name", "Given name", "Number", "Desk", "Total", "Of"]
    assert [[row[3], row[4]] for row in rows] == [[float(row[0]), float(row[2])] for row in shown]

    # The address holds all of it: opened again, it is the same.
    teacher.reload()
    expect(teacher.get_by_label("every question")).to_be_checked()
    expect(teacher.get_by_role("columnheader", name="16", exact=True)).to_be_visible()
    assert lines(teacher, "Totals") == shown
    teacher.get_by_role("link", name="By group").click()
    expect(teacher.get_by_role("img", name=re.compile("^Means of 2 groups"))).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="joined this year").click()
    newcomers = lines(teacher, "Students of joined this year")
    share = sum(float(row[1].split(" of ")[0]) / float(row[1].split(" of ")[1]) for row in newcomers) / len(newcomers)
    by_group = {row[0]: row[2] for row in lines(teacher, "Share of the marks by group")}
    assert by_group["joined this year"] == f"{share:.0%}"


def test_numbers_are_typed_along_the_record_and_none_is_lost(teacher: Page) -> None:
    screenshots.record(teacher)
    before = lines(teacher, "Students by sittings, newest first")
    teacher.get_by_role("button", name="Type numbers").click()
    reason, status = teacher.get_by_label("The reason"), teacher.get_by_role("status")
    expect(reason).to_be_focused()
    reason.press("Enter")
    teacher.keyboard.type("12")
    teacher.keyboard.press("Enter")
    expect(teacher.get_by_role("alert")).to_have_text("◆ first the reason, above")
    teacher.keyboard.press("Escape")
    reason.fill("Oral test.")
    reason.press("Enter")
    for typed in ("12", "75%", "21"):
        teacher.keyboard.type(typed)
        teacher.keyboard.press("Enter")
    expect(teacher.get_by_role("alert")).to_have_text("◆ at most 20")
    axe_finds_nothing(teacher)
    teacher.keyboard.press("Escape")
    expect(status).to_have_text("kept")
    field = teacher.locator("table input")
    expect(field).to_have_attribute("aria-label", re.compile(r"^Wren O\., Electric circuits, unit check"))
    for total in ("12 of 20 T", "15 of 20 T"):
        expect(teacher.get_by_role("cell", name=total, exact=True)).to_have_count(1)

    # Without a connection what was typed is in the browser, and goes out by itself or when one asks for it.
    def broken(route: Route) -> None:
        route.abort()

    teacher.route("**/record/numbers", broken)
    with teacher.expect_event("requestfailed"):
        teacher.keyboard.type("20")
        teacher.keyboard.press("Enter")
    expect(status).to_have_text("1 number not sent yet: kept in this browser")
    expect(teacher.locator("td em", has_text="20")).to_be_visible()
    with teacher.expect_event("requestfailed"):
        teacher.keyboard.type("19")
        teacher.keyboard.press("Enter")
    teacher.unroute("**/record/numbers")
    teacher.get_by_role("button", name="send now").click()
    for total in ("20 of 20 T", "19 of 20 T"):
        expect(teacher.get_by_role("cell", name=total, exact=True)).to_have_count(1)
    expect(status).to_have_text("kept")

    # A column from a spreadsheet, one cell of which cannot stand; then all of it is taken back, step by step.
    field.evaluate(
        """(field, text) => {
          const data = new DataTransfer();
          data.setData("text/plain", text);
          field.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true}));
        }""",
        "11\n\nsick\n13",
    )
    expect(teacher.get_by_text("1 cell not taken; the rest is in.")).to_be_visible()
    expect(teacher.get_by_text(re.compile("“sick”, marks, or A or E"))).to_be_visible()
    expect(teacher.get_by_role("cell", name="13 of 20 T", exact=True)).to_have_count(1)
    expect(field).to_have_value("11")
    for _ in range(5):
        expect(teacher.get_by_role("button", name="Undo")).to_be_enabled()
        teacher.get_by_role("button", name="Undo").click()
    expect(teacher.get_by_role("button", name="Undo")).to_be_disabled()
    expect(teacher.get_by_role("cell", name=re.compile("of 20 T$"))).to_have_count(0)
    teacher.get_by_role("button", name="Done typing").click()
    lines_become(teacher, "Students by sittings, newest first", before)


def test_classes_stand_beside_each_other_and_a_view_of_them_is_kept(teacher: Page, tmp_path: Path) -> None:
    screenshots.side_by_side(teacher)
    caption = "Share of the marks by class and period"
    table = lines(teacher, caption)
    assert [row[0] for row in table] == ["8 Heron", "8 Tern", "Rhythm Club"]
    teacher.get_by_role("button", name="3 classes…").click()
    teacher.get_by_label("Rhythm Club").uncheck()
    axe_finds_nothing(teacher)
    teacher.keyboard.press("Escape")
    expect(teacher.get_by_role("button", name="2 classes…")).to_be_visible()
    teacher.get_by_label("Against").select_option("against 8 Tern")
    expect(teacher.get_by_role("row", name=re.compile("^8 Heron")).get_by_text("differs").first).to_be_attached()
    teacher.get_by_label("Over").select_option("Third term")
    heron = next(row for row in lines(teacher, caption) if row[0] == "8 Heron")
    expect(teacher.get_by_role("img", name=re.compile("^Means of 2 groups"))).to_contain_text(heron[4].split(" ")[0])
    book = CalamineWorkbook.from_path(str(saved(teacher, "Workbook, open format", tmp_path)))
    assert "Tests that several classes sat" in [name[:31] for name in book.sheet_names]
    teacher.get_by_role("button", name="Views").click()
    teacher.get_by_label("Keep what is shown now as").fill("Heron and Tern")
    teacher.get_by_role("button", name="Keep the view").click()
    teacher.keyboard.press("Escape")
    tab(teacher, "Records")
    teacher.get_by_role("link", name="Classes side by side").click()
    expect(teacher.get_by_role("button", name="3 classes…")).to_be_visible()
    teacher.get_by_role("button", name="Views").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Heron and Tern", exact=True).click()
    expect(teacher.get_by_role("button", name="2 classes…")).to_be_visible()
    # From a test in common to its questions side by side.
    teacher.get_by_role("table", name="Tests that several classes sat").get_by_role("link").first.click()
    expect(teacher.get_by_role("table", name="The test in its sittings")).to_be_visible()


def test_feedback_sheets_say_how_far_they_are_and_come_as_pdf_and_document(teacher: Page, tmp_path: Path) -> None:
    screenshots.skills(teacher)
    teacher.get_by_role("button", name="Feedback sheets…").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_label("What it says first").fill("Look at this, and ask me.")
    with teacher.expect_download(timeout=60_000) as download:
        dialog.get_by_role("button", name="Save as PDF").click()
        expect(dialog.get_by_role("progressbar", name="sheets that are written")).to_be_visible()
    expect(dialog.get_by_text("24 sheets, saved.")).to_be_visible()
    pages = [page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(download.value.path())]
    assert len(pages) > 24
    assert "Look at this, and ask me." in pages[0]
    assert "For the teacher" in " ".join(pages[24:])
    axe_finds_nothing(teacher)
    with teacher.expect_download(timeout=60_000) as download:
        dialog.get_by_role("button", name="Save as a document to change").click()
    assert download.value.suggested_filename == "feedback sheets.docx"
    tree = ElementTree.fromstring(zipfile.ZipFile(download.value.path()).read("word/document.xml"))
    sentences = ["".join(entry.text or "" for entry in line.iter(f"{WORD}t")) for line in tree.iter(f"{WORD}p")]
    assert sentences.count("Look at this, and ask me.") == 24
    assert sentences[0] in pages[0]
    # What cannot be written is said in the dialog, and the form stays.
    teacher.route(re.compile("feedback/written"), lambda route: route.abort())
    dialog.get_by_role("button", name="Save as PDF").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Nothing was lost; try again.")
    expect(dialog.get_by_label("What it says first")).to_have_value("Look at this, and ask me.")


def test_a_bar_of_totals_says_who_is_in_it_and_who_has_none(teacher: Page) -> None:
    screenshots.findings(teacher)
    rows = lines(teacher, "Totals by student")
    bars = teacher.get_by_role("img", name=re.compile("^Students per total")).locator("g.cursor-pointer")
    assert bars.count() == len({row[2] for row in rows} - {"not counted"})
    for at in (0, bars.count() - 1):
        bars.nth(at).click()
        inner_text = teacher.get_by_text(re.compile(r"^\d+ marks: \d+ students?$")).inner_text()
        expected = [row[1] for row in rows if row[2] == inner_text.split(" ")[0]]
        assert inner_text.split(": ")[1].split(" ")[0] == str(len(expected))
        shown = teacher.locator("p", has=teacher.get_by_text(inner_text, exact=True)).inner_text()
        assert [name for name in expected if name not in shown] == []
    missing = [row[1] for row in rows if row[2] == "not counted"]
    expect(teacher.get_by_text(f"Without a total: {', '.join(missing)}")).to_be_visible()
    axe_finds_nothing(teacher)


def test_answers_by_question_lead_to_the_question_and_the_student_and_are_saved(teacher: Page, tmp_path: Path) -> None:
    screenshots.results(teacher)
    teacher.get_by_role("link", name="By question").click()
    grid = teacher.get_by_role("table", name="Answers by question")
    expect(grid.get_by_role("row")).to_have_count(1 + 24 + 2)  # heads, who handed in, key and shares
    axe_finds_nothing(teacher)
    opening = teacher.locator("[data-opening]")
    expect(opening).to_contain_text("reach 50% of the marks")
    cut = teacher.get_by_label("Percent of the marks at the cut")
    cut.fill("80")
    cut.press("Tab")
    expect(opening).to_contain_text("reach 80% of the marks")
    groups = teacher.get_by_label("Students", exact=True)
    groups.select_option(groups.locator("option", has_text="Window table").get_attribute("value"))
    expect(grid.get_by_role("row")).not_to_have_count(1 + 24 + 2)
    shown = [[cell.inner_text().strip() for cell in row.locator("td").all()] for row in grid.locator("tbody tr").all()]
    book = CalamineWorkbook.from_path(str(saved(teacher, "WorkbookXLSX", tmp_path)))
    rows = book.get_sheet_by_name("Answers by question").to_python()
    assert [row[4:-2] for row in rows[1 : 1 + len(shown)]] == [row[:-2] for row in shown]
    marks = book.get_sheet_by_name("Marks by question").to_python()
    assert [sum(map(float, row[4:-2])) for row in marks[1:]] == [float(row[-2]) for row in shown]
    name = grid.locator("tbody th a").first.inner_text()
    grid.locator("tbody th a").first.click()
    expect(teacher.locator("button[aria-current=true]")).to_have_text(name)
    teacher.go_back()

    def out(route: Route) -> None:
        route.abort()

    # An outage says nothing of what there is.
    teacher.route("**/api/v1/sittings/*/answers?*", out)
    teacher.reload()
    expect(teacher.get_by_role("alert")).to_be_visible(timeout=20_000)
    expect(teacher.get_by_text("There are no answers by question yet.")).to_have_count(0)
    teacher.unroute("**/api/v1/sittings/*/answers?*", out)
    teacher.reload()
    grid.get_by_role("link", name="10", exact=True).first.click()
    expect(teacher.get_by_text("Question 10", exact=False).first).to_be_visible()
