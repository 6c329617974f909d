"""Marking by keyboard alone, left and taken up again; what is waived and marked is what the findings say."""

import re
from pathlib import Path
from zipfile import ZipFile

from openpyxl import load_workbook
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_marks_only import own_result


def progress(page: Page, marked: int, of: int) -> None:
    expect(page.get_by_text(f"Question 12: {marked} of {of} marked")).to_be_visible()


def give(page: Page, *points: str, keep: bool = True) -> None:
    """Only keys: a level for each criterion, and on to the next answer."""
    page.get_by_role("button", name="Keep and next").wait_for()
    for key in points:
        page.keyboard.press(key)
    if keep:
        expect(page.get_by_role("button", name="Keep and next")).to_be_enabled()
        page.keyboard.press("Enter")


def test_a_pile_is_marked_by_keyboard_left_and_taken_up_again(
    teacher: Page, demo_school: str, browser: Browser
) -> None:
    tab(teacher, "Marking")
    axe_finds_nothing(teacher)
    teacher.get_by_role("link", name="Mark", exact=True).click()
    progress(teacher, 0, 21)
    for place in range(1, 8):
        answers = teacher.get_by_role("navigation", name="Answers")
        expect(answers.get_by_role("button", name=re.compile(f"^0?{place + (place > 6)} "))).to_have_attribute(
            "aria-current", "true"
        )
        give(teacher, "2", "1", "1")
    progress(teacher, 7, 21)
    # The eighth with half a point and a comment, which comes back at the ninth by a few of its letters.
    give(teacher, "2", ".", "1", "0", keep=False)
    teacher.keyboard.press("c")
    teacher.keyboard.type("Say why it is the same.")
    teacher.keyboard.press("Control+Enter")
    progress(teacher, 8, 21)
    expect(teacher.get_by_text("of 6 so far, 0 of 100")).to_be_visible()
    teacher.keyboard.press("c")
    teacher.keyboard.type("why")
    teacher.keyboard.press("Tab")
    expect(teacher.get_by_label("Comment")).to_have_value("Say why it is the same.")
    teacher.keyboard.press("Escape")
    teacher.keyboard.press("3")
    expect(
        teacher.get_by_role("button", name="10 draft").or_(teacher.get_by_role("button", name="10 …"))
    ).to_be_visible()
    expect(teacher.get_by_text("not sent yet")).to_have_count(0)
    axe_finds_nothing(teacher)

    # Another day, another machine: the same place, with what was begun.
    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    later = context.new_page()
    screenshots.sign_in(later, demo_school)
    tab(later, "Marking")
    later.get_by_role("link", name="Go on marking").click()
    progress(later, 8, 21)
    expect(later.get_by_text("of 6 so far, 50 of 100")).to_be_visible()
    expect(later.get_by_label("Comment")).to_have_value("Say why it is the same.")
    for marked in range(9, 21):
        give(later, "ArrowUp", "ArrowUp", "1", "0", "1")
        progress(later, marked, 21)
    give(later, "1", "0", "1")
    # With the last of them it goes on to the next question that waits.
    expect(later.get_by_text("Question 14: 0 of 22 marked")).to_be_visible()

    # The rest is not marked: it is waived, and no mark is made up for it.
    later.get_by_role("button", name="More", exact=True).click()
    later.get_by_role("menuitem", name="Waive question 14").click()
    expect(later.get_by_text("Waived here: question 14.")).to_be_visible()
    expect(later.get_by_text("not sent yet")).to_have_count(0)
    later.goto(f"{later.url.replace('marking', 'findings')}")
    expect(later.get_by_text("Waived in this sitting: out of the total and the figures.")).to_be_visible()
    expect(later.get_by_text("to be marked; the figures leave this question out")).to_have_count(0)

    # Eight answers are read a second time by keyboard alone, blind to the first; where the two are apart, one is taken.
    later.goto(later.url.replace("findings", "marking") + "/second")
    later.get_by_label("Percent of the answers").fill("38")
    later.get_by_role("button", name="Have them read twice").click()
    later.get_by_role("link", name="Give second marks: 8").click()
    progress(later, 0, 8)
    expect(later.get_by_text("of 6 so far, 0 of 100")).to_be_visible()
    for marked in range(1, 9):
        give(later, "0", "0", "0" if marked < 8 else "1")
        if marked < 8:
            progress(later, marked, 8)
    later.get_by_role("link", name="How far the two agree").click()
    expect(later.get_by_text("Of 8 answers with two marks")).to_be_visible()
    axe_finds_nothing(later)
    later.get_by_role("link", name=re.compile("^Agree on")).click()
    expect(later.get_by_role("table", name="Two marks")).to_be_visible()
    axe_finds_nothing(later)
    left = int(re.findall(r"0 of (\d+)", later.get_by_text(re.compile("0 of .* marked")).inner_text())[0])
    for marked in range(left):
        progress(later, marked, left)
        later.keyboard.press("f")
        expect(later.get_by_role("button", name="Keep and next")).to_be_enabled()
        later.keyboard.press("Enter")
    expect(later.get_by_role("heading", name="All marked.")).to_be_visible()

    # Released; a student reads their own, with the comment.
    later.get_by_role("dialog").get_by_role("link", name="Results").click()
    later.get_by_role("button", name="Release…").click()
    later.get_by_role("button", name="Release to all").click()
    expect(later.get_by_text("released to all")).to_be_visible()
    axe_finds_nothing(later)
    name = later.get_by_role("table", name="Totals").get_by_role("button").first.inner_text()
    expect(later.get_by_role("heading", name=re.compile("sees it", re.IGNORECASE))).to_be_visible()
    reads_their_own(browser, teacher, name)
    context.close()


def reads_their_own(browser: Browser, teacher: Page, name: str) -> None:
    """A student of 8 Tern on a phone, by the class's link and their pass."""
    phone = own_result(browser, teacher, name, "8 Tern", "a bit of everything")
    expect(phone.get_by_role("heading", name="Circuits, a bit of everything")).to_be_visible()
    expect(phone.get_by_text(re.compile("of .* marks"))).to_be_visible()
    expect(phone.get_by_text("Question 14").first).to_be_visible()
    axe_finds_nothing(phone)
    phone.get_by_role("button", name="Back to your page").click()
    expect(phone.get_by_role("heading", name=re.compile("^Your page"))).to_be_visible()
    phone.context.close()


def test_highlights_same_answers_and_work_away_from_the_desk(teacher: Page, tmp_path: Path) -> None:
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Same answers").click()
    teacher.get_by_role("button", name="Question 6").click()
    expect(teacher.get_by_text("ammeter or ampere meter")).to_be_visible()
    axe_finds_nothing(teacher)
    first = teacher.get_by_role("region").filter(has_text="0 of 1").first
    expect(first).to_be_visible()
    teacher.keyboard.press("r")
    expect(teacher.get_by_text("by you").first).to_be_visible()
    teacher.get_by_role("button", name="Add to the key in the bank").click()
    expect(teacher.get_by_text("In the bank this question now accepts").first).to_be_visible()

    # A stretch of an answer is highlighted with a note, by mouse and keys; it is there after a reload, and taken back.
    tab(teacher, "Marking")
    teacher.get_by_role("link", name=re.compile("^(Mark|Go on marking|Look through)$")).first.click()
    text = teacher.locator("article .rich").first
    text.wait_for()
    text.click(click_count=3)
    expect(teacher.get_by_role("button", name="Note")).to_be_visible()
    teacher.keyboard.press("n")
    expect(teacher.get_by_label(re.compile("^Note on "))).to_be_focused()
    teacher.keyboard.type("Where does it go?")
    teacher.keyboard.press("Enter")
    expect(teacher.get_by_role("list", name="Remarks")).to_contain_text("Where does it go?")
    expect(text.locator("mark").first).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.reload()
    expect(text.locator("mark").first).to_be_visible()
    teacher.get_by_role("button", name="take it back").click()
    expect(text.locator("mark")).to_have_count(0)

    # All of it taken along, and brought back as it was: nothing in it is new.
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name=re.compile("^Away from the desk")).click()
    with teacher.expect_download() as work:
        teacher.get_by_role("button", name="Save all work as a zip").click()
    work.value.save_as(tmp_path / "work.zip")
    teacher.get_by_label("The zip or the marks sheet").set_input_files(tmp_path / "work.zip")
    expect(teacher.get_by_text("Nothing in it is new.")).to_be_visible()
    axe_finds_nothing(teacher)
    with ZipFile(tmp_path / "work.zip") as packed:
        (tmp_path / "marks.xlsx").write_bytes(packed.read("marks.xlsx"))
    book = load_workbook(tmp_path / "marks.xlsx")
    page = book["Question 12"]
    for column, value in ((3, 1), (4, 1), (5, 9), (6, "Too much.")):
        page.cell(2, column, value)
    for column, value in ((3, 1), (4, 0), (5, 1), (6, "From away.")):
        page.cell(3, column, value)
    book.save(tmp_path / "marks.xlsx")
    teacher.get_by_role("button", name="Another file").click()
    teacher.get_by_label("The zip or the marks sheet").set_input_files(tmp_path / "marks.xlsx")
    expect(teacher.get_by_text(re.compile("has at most 1"))).to_be_visible()
    expect(teacher.get_by_role("table", name="Marks that came back")).to_contain_text("From away.")
    teacher.get_by_role("button", name="Put them in").click()
    expect(teacher.get_by_text("1 mark and 0 files put in.").first).to_be_visible()


def test_the_wrong_key_is_settled_where_it_was_found(teacher: Page) -> None:
    screenshots.findings(teacher)
    teacher.get_by_role("button", name="The key is almost certainly wrong: look at B.").click()
    expect(teacher.get_by_role("heading", name="The key is almost certainly wrong: look at B.")).to_be_visible()
    teacher.get_by_role("button", name="Settle it…").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_role("checkbox", name=re.compile("^D ")).uncheck()
    dialog.get_by_role("checkbox", name=re.compile("^B ")).check()
    expect(dialog.get_by_text("11 totals of 24 would change: 11 up, 0 down.")).to_be_visible()
    axe_finds_nothing(teacher)
    dialog.get_by_label("The reason").fill("0.5 A less 0.3 A leaves 0.2 A.")
    dialog.get_by_role("button", name="Settle it", exact=True).click()
    expect(teacher.get_by_text("Settled: B")).to_be_visible()
    expect(teacher.get_by_role("heading", name="The key is almost certainly wrong: look at B.")).to_have_count(0)
    teacher.get_by_role("button", name="take it back").click()
    expect(teacher.get_by_role("heading", name="The key is almost certainly wrong: look at B.")).to_be_visible()
