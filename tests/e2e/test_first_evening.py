"""A new teacher in an empty school: every empty place says why it is empty and leads on; and what is printed."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_main_journey import make_account


def test_every_empty_place_leads_on(browser: Browser, empty_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    make_account(page, empty_school)
    for step, heading in [
        ("Make a class", "New class"),
        ("Make a test", "New test"),
        ("Plan a sitting", "New sitting"),
    ]:
        tab(page, "Desk")
        page.get_by_role("link", name=step).click()
        expect(page.get_by_role("dialog", name=heading)).to_be_visible()
        page.keyboard.press("Escape")
    for name, words in [
        ("Classes", "No class yet."),
        ("Bank", "The bank is empty."),
        ("Tests", "No test yet."),
        ("Sittings", "No sitting yet."),
        ("Findings", "Nothing to find yet."),
    ]:
        tab(page, name)
        expect(page.get_by_text(words)).to_be_visible()
        axe_finds_nothing(page)
    tab(page, "Sittings")
    page.get_by_role("button", name="New sitting").first.click()
    expect(page.get_by_text("No test is frozen yet.")).to_be_visible()
    page.get_by_role("link", name="Make a test").click()
    page.get_by_label("Title, as students see it").fill("First")
    page.get_by_role("button", name="Choose its questions").click()
    expect(page.get_by_text("Empty so far.")).to_be_visible()
    expect(page.get_by_role("button", name="Freeze an edition")).to_be_disabled()
    axe_finds_nothing(page)
    page.get_by_role("link", name="Write a question").click()
    page.get_by_role("button", name="New question").first.click()
    page.get_by_role("menuitem", name="True or false").click()
    page.get_by_label("Statement", exact=True).fill("A battery makes charge.")
    expect(page.get_by_text("Neither true nor false is marked as the key.")).to_be_visible()
    tab(page, "Tests")
    page.get_by_role("link", name="First").click()
    page.get_by_role("button", name="Put in: A battery makes charge.").click()
    expect(page.get_by_text("Neither true nor false is marked as the key.")).to_be_visible()
    page.get_by_role("radio", name="To mend or look at: 1").click()
    expect(page.get_by_text("Question 1: Neither true nor false is marked as the key.")).to_be_visible()
    expect(page.get_by_role("button", name="Freeze an edition")).to_be_disabled()
    page.get_by_role("link", name="Open question 1").click()
    page.get_by_label("F is the key").check(force=True)
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    tab(page, "Tests")
    page.get_by_role("link", name="First").click()
    page.get_by_role("button", name="Freeze an edition").click()
    expect(page.get_by_text("Edition 1 is frozen").first).to_be_visible()
    a_class_without_students_holds_the_sitting_back(page)


def test_a_practice_leads_to_a_finding_in_a_few_clicks_and_leaves_nothing(browser: Browser, empty_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    make_account(page, empty_school)
    page.get_by_role("button", name="Begin a practice").click()
    strip = page.get_by_role("region", name="Practice", exact=True)
    strip.get_by_role("button", name="Let them answer").click()
    expect(strip).to_contain_text("All have handed in")
    axe_finds_nothing(page)
    strip.get_by_role("button", name="Close it and see the findings").click()
    expect(page.get_by_text("The paper, as 24 students sat it", exact=False)).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("table", name="Ideas, the likeliest first")).to_be_visible()
    axe_finds_nothing(page)
    tab(page, "Desk")
    expect(page.get_by_role("listitem").filter(has_text="1 · Class")).to_have_attribute("aria-current", "step")
    strip.get_by_role("button", name="End the practice").click()
    page.get_by_role("dialog").get_by_role("button", name="End it").click()
    expect(strip).to_be_hidden()
    for name, words in [("Classes", "No class yet."), ("Bank", "The bank is empty."), ("Tests", "No test yet.")]:
        tab(page, name)
        expect(page.get_by_text(words)).to_be_visible()
    tab(page, "Desk")
    expect(page.get_by_role("button", name="Begin a practice")).to_be_visible()


def a_class_without_students_holds_the_sitting_back(page: Page) -> None:
    tab(page, "Classes")
    page.keyboard.press("n")
    page.get_by_label("Name of the class").fill("9 Petrel")
    page.get_by_role("button", name="Make the class").click()
    expect(page.get_by_text("No students yet.")).to_be_visible()
    page.get_by_role("link", name="New sitting").click()
    page.get_by_label("Test").select_option(index=1)
    page.get_by_role("button", name="Plan the sitting").click()
    expect(page.get_by_text("9 Petrel has no students yet.").first).to_be_visible()
    expect(page.get_by_role("button", name="Open it")).to_be_disabled()
    tab(page, "Desk")
    expect(page.get_by_role("link", name="Complete it")).to_be_visible()
    page.get_by_role("link", name="Complete it").click()
    page.get_by_role("link", name="Add students").click()
    page.get_by_label("Names, one a line").fill("Ada Bright")
    page.get_by_role("button", name="Add 1 student").click()
    tab(page, "Desk")
    page.get_by_role("link", name="Go to it").click()
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_text("On the board")).to_be_visible()
    page.get_by_role("link", name="Findings so far").click()
    expect(page.get_by_text("No answers are counted yet.")).to_be_visible()
    axe_finds_nothing(page)


def test_findings_grow_while_the_class_hands_in(browser: Browser, demo_school: str) -> None:
    teacher = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(teacher, demo_school)
    code, pass_phrase = screenshots.last_seat(teacher, demo_school)
    teacher.get_by_role("link", name="Findings so far").click()
    expect(teacher.get_by_text("partial: 9 of 24 handed in")).to_be_visible()
    student = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    screenshots.join(student, demo_school, code, pass_phrase)
    student.locator("label:has(input[type=radio])").first.click()
    student.get_by_role("button", name="All 8").click()
    expect(student.get_by_text("No answer yet: 2, 3, 4, 5, 6, 7, 8")).to_be_visible()
    student.get_by_role("button", name="Hand in with 7 unanswered").click()
    expect(teacher.get_by_text("partial: 10 of 24 handed in")).to_be_visible()
    teacher.keyboard.press("w")
    expect(teacher.get_by_role("row", name=re.compile(r"24 Yara N\. [01]$"))).to_be_visible()
    expect(teacher.get_by_role("row", name=re.compile("not counted")).first).to_be_visible()


def test_passes_are_printed_as_slips_and_nothing_else(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(page, demo_school)
    screenshots.class_list(page)
    slip = page.locator("p", has_text="Wren Okafor")
    expect(slip).to_be_hidden()
    page.emulate_media(media="print")
    expect(slip).to_be_visible()
    box, table = slip.bounding_box(), page.get_by_role("table")
    assert box is not None
    expect(page.get_by_role("navigation")).to_be_hidden()
    expect(table).to_be_hidden()
