"""Work given for a window of time, with real clicks: the student finds it on a page of their own, and a first part
decides the second."""

import re
from datetime import datetime, timedelta

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_marks_only import pass_of


def assign(teacher: Page, test: str) -> None:
    """A test of 8 Heron, open since a minute ago and for two days, of which the students are told."""
    tab(teacher, "Sittings")
    teacher.get_by_role("button", name="New sitting").click()
    dialog = teacher.get_by_role("dialog")
    for label, name in (("Test", test), ("Class", "8 Heron")):
        choice = dialog.get_by_label(label, exact=True)
        choice.select_option(choice.locator("option", has_text=name).first.get_attribute("value"))
    # Whom it is for comes in once the class is known, and moves what is below it.
    expect(dialog.get_by_label("For", exact=True)).to_be_visible()
    dialog.get_by_text("In a window of time").click()
    now = datetime.now()
    for label, at in (("Opens", now - timedelta(minutes=1)), ("Closes", now + timedelta(days=2))):
        dialog.get_by_label(label, exact=True).fill(at.strftime("%Y-%m-%dT%H:%M"))
    dialog.get_by_role("button", name="Plan the sitting").click()
    expect(teacher.get_by_role("button", name="Close it…")).to_be_visible()


def test_a_student_finds_the_work_and_the_first_part_decides_the_second(teacher: Page, browser: Browser) -> None:
    school = teacher.url.split("/sittings")[0].rstrip("/")
    assign(teacher, "Series and parallel")
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Placement by score…").click()
    for band, recommends in ((1, "Course B"), (2, "Course A")):
        teacher.get_by_label(f"Band {band} recommends").fill(recommends)
    follows = teacher.get_by_label("Goes on at once with").last
    follows.select_option(follows.locator("option", has_text="Circuits, first look").first.get_attribute("value"))
    teacher.get_by_role("button", name="Keep the table").click()
    expect(teacher.get_by_text("from 50% · 0 students")).to_be_visible()
    axe_finds_nothing(teacher)
    placement = teacher.url

    word = pass_of(teacher, "Wren O.")
    tab(teacher, "Classes")
    teacher.get_by_role("link", name="8 Heron").click()
    link = teacher.get_by_role("link", name="/mine/").get_attribute("href")
    phone = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    phone.goto(str(link))
    phone.get_by_label("Your pass").fill("kelp-111")
    phone.get_by_role("button", name="Come in").click()
    expect(phone.get_by_role("alert")).to_contain_text("not on the list of this class")
    phone.get_by_label("Your pass").fill(word)
    phone.get_by_role("button", name="Come in").click()
    expect(phone.get_by_text("new · ")).to_be_visible(timeout=30_000)
    axe_finds_nothing(phone)

    phone.locator("section", has_text="Series and parallel").get_by_role("button", name="Go to it").click()
    # Nothing is answered, so it is the lower band, and that one goes on.
    phone.get_by_role("button", name=re.compile("^All ")).click()
    phone.get_by_role("button", name=re.compile("^Hand in")).click()
    expect(phone.get_by_text("It goes on with Circuits, first look.")).to_be_visible()
    axe_finds_nothing(phone)
    phone.get_by_role("button", name="Go on", exact=True).click()
    expect(phone.get_by_text(re.compile("Question 1 of", re.IGNORECASE))).to_be_visible()

    teacher.goto(placement)
    expect(teacher.get_by_role("row", name=re.compile("Wren O."))).to_contain_text("0%")
    with teacher.expect_download() as letters:
        teacher.get_by_role("button", name="Letters, PDF").click()
    assert letters.value.suggested_filename.endswith(".pdf")
    tab(teacher, "Sittings")
    expect(
        teacher.get_by_text("Circuits, first look, after Series and parallel, quick check: Course A")
    ).to_be_visible()
    assert school in phone.url
