"""A teacher at work in the demo school: changing, undoing, finding, pausing; with real clicks and keys."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab


def kept(page: Page) -> None:
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()


def test_signing_in_and_out(browser: Browser, demo_school: str) -> None:
    page = browser.new_context().new_page()
    page.goto(demo_school)
    page.get_by_label("Name you sign in with").fill("brandt")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    screenshots.sign_in(page, demo_school)
    page.get_by_role("button", name="sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    page.goto(f"{demo_school}/bank")
    expect(page.get_by_label("Password")).to_be_visible()


def test_a_wrong_address_leads_back(teacher: Page, demo_school: str) -> None:
    teacher.goto(f"{demo_school}/no/such/page")
    expect(teacher.get_by_text("There is nothing at this address.")).to_be_visible()
    teacher.get_by_role("link", name="Back to the desk").click()
    expect(teacher.get_by_role("heading", name="Desk")).to_be_visible()
    teacher.goto(f"{demo_school}/sittings/9999")
    expect(teacher.get_by_role("alert")).to_contain_text("There is no such sitting")


def test_a_question_is_changed_taken_out_and_brought_back(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.get_by_label("Find questions").fill("halfway needle")
    expect(teacher.get_by_role("listitem")).to_have_count(1)
    teacher.get_by_text("The needle stands halfway").click()
    teacher.get_by_role("button", name="Add an option").click()
    expect(teacher.get_by_text("Option E is empty.")).to_be_visible()
    teacher.get_by_label("Option E", exact=True).fill("0.4 A")
    teacher.get_by_label("What choosing E shows").fill("one reads the lower mark")
    expect(teacher.get_by_text("Option E is empty.")).to_be_hidden()
    teacher.get_by_role("button", name="Take out option D").click()
    kept(teacher)
    teacher.reload()
    expect(teacher.get_by_label("Option D", exact=True)).to_have_text("0.4 A")
    # Undo outlives the page: the option that was taken out comes back, with what it said.
    teacher.get_by_role("button", name="One step back").click()
    expect(teacher.get_by_label("Option E", exact=True)).to_have_text("0.4 A")
    teacher.get_by_label("Option E", exact=True).press("Control+Shift+z")
    expect(teacher.get_by_label("Option E", exact=True)).to_have_count(0)
    expect(teacher.get_by_label("What choosing D shows")).to_have_value("one reads the lower mark")
    teacher.get_by_role("button", name="Take it out of the bank").click()
    teacher.get_by_role("button", name="Undo", exact=True).click()
    expect(teacher.get_by_label("Option D", exact=True)).to_have_text("0.4 A")


def test_the_bank_by_skill_and_two_windows_on_one_question(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.get_by_label("Only this skill").select_option("Reading meters")
    expect(teacher.get_by_role("listitem")).to_have_count(3)
    teacher.get_by_text("Where must an ammeter stand").click()
    question = teacher.get_by_label("Question", exact=True)
    other = teacher.context.new_page()
    other.goto(teacher.url)
    other.get_by_label("Question", exact=True).fill("Changed in the other window")
    kept(other)
    question.fill("Changed here, too late")
    expect(teacher.get_by_role("alert")).to_contain_text("changed in another window")
    teacher.reload()
    expect(question).to_have_text("Changed in the other window")


def test_a_test_is_reordered_and_a_question_taken_off_and_put_back(teacher: Page) -> None:
    tab(teacher, "Tests")
    teacher.get_by_role("link", name="Series and parallel, quick check").click()
    lines = teacher.get_by_role("region", name="The test").get_by_role("listitem")
    lines = lines.filter(has=teacher.get_by_role("button", name=re.compile("Take off question")))
    expect(lines).to_have_count(8)
    # Whole questions are for reading; to put them in order their first lines are enough.
    teacher.get_by_role("button", name="first lines only").click()
    first = lines.first.locator("p").first.inner_text()
    source, target = (teacher.get_by_role("button", name=f"Move question {n}").bounding_box() for n in (1, 3))
    assert source is not None
    assert target is not None
    teacher.mouse.move(source["x"] + 6, source["y"] + 6)
    teacher.mouse.down()
    teacher.mouse.move(target["x"] + 6, target["y"] + 30, steps=15)
    teacher.mouse.up()
    expect(lines.nth(2)).to_contain_text(first)
    # The hand that drops lets go before it presses again: a click within 50 ms of a drop belongs to the drop.
    kept(teacher)
    teacher.get_by_role("button", name="Take off question 3").click()
    expect(lines).to_have_count(7)
    teacher.get_by_role("button", name="Undo").click()
    expect(lines).to_have_count(8)
    kept(teacher)
    teacher.reload()
    expect(lines.nth(2)).to_contain_text(first)
    teacher.get_by_role("button", name="Freeze it again").click()
    expect(teacher.get_by_text("Edition 2 is frozen").first).to_be_visible()


def test_a_student_is_renamed_gets_a_new_pass_and_leaves(teacher: Page) -> None:
    tab(teacher, "Classes")
    teacher.get_by_role("link", name="Rhythm Club").click()
    row = teacher.get_by_role("row", name=re.compile("Ivo Petrov"))
    before = row.get_by_role("cell").nth(2).inner_text()
    row.get_by_role("button").click()
    teacher.get_by_label("Family name").fill("Petrova")
    teacher.get_by_label("Extra time in percent").fill("25")
    teacher.get_by_label("Extra time in percent").press("Enter")
    row = teacher.get_by_role("row", name=re.compile(r"Ivo Petrova .* \+25% time"))
    expect(row).to_be_visible()
    teacher.get_by_role("button", name="Give a new pass").click()
    expect(row.get_by_role("cell").nth(2)).not_to_have_text(before)
    teacher.get_by_role("button", name="Leaves the class").click()
    expect(row).to_be_hidden()
    expect(teacher.get_by_text("Have left")).to_be_visible()
    teacher.get_by_label("Name of a late student").fill("Late Comer")
    teacher.get_by_role("button", name="Add", exact=True).click()
    expect(teacher.get_by_role("row", name=re.compile("10 Late Comer"))).to_be_visible()


def test_the_evening_desk_is_remembered(teacher: Page) -> None:
    def theme() -> object:
        return teacher.evaluate("document.documentElement.dataset.theme")

    before = theme()
    teacher.get_by_role("button", name="Light, dark").click()
    assert theme() != before
    teacher.reload()
    expect(teacher.get_by_role("heading", name="Desk")).to_be_visible()
    assert theme() != before


def test_keys_are_listed_and_quiet_while_typing(teacher: Page) -> None:
    teacher.keyboard.press("?")
    expect(teacher.get_by_role("dialog").get_by_label("Search the help")).to_be_visible()
    # Beside the page, which stays in use: the help goes along to the next one.
    tab(teacher, "Bank")
    axe_finds_nothing(teacher)
    expect(teacher.get_by_role("dialog", name="The bank")).to_be_visible()
    teacher.get_by_label("Search the help").fill("kappa")
    expect(teacher.get_by_role("dialog", name="Several markers")).to_be_visible()
    teacher.get_by_role("dialog").get_by_role("button", name="Close").click()
    teacher.get_by_label("Find questions").click()
    teacher.keyboard.type("n?")
    expect(teacher.get_by_label("Find questions")).to_have_value("n?")
    expect(teacher.get_by_role("dialog")).to_be_hidden()


def test_a_sitting_is_planned_moved_to_the_desk_and_removed(teacher: Page) -> None:
    tab(teacher, "Sittings")
    teacher.keyboard.press("n")
    dialog = teacher.get_by_role("dialog", name="New sitting")
    dialog.get_by_label("Test").select_option(index=1)
    dialog.get_by_label("Class").select_option(label="Rhythm Club (9 students)")
    dialog.get_by_label("Planned for").fill("2030-05-06T10:30")
    dialog.get_by_role("button", name="Plan the sitting").click()
    expect(teacher.get_by_text("ready for Mon 6 May, 10:30")).to_be_visible()
    expect(teacher.get_by_text("Students can come to the door already.")).to_be_visible()
    tab(teacher, "Desk")
    expect(teacher.get_by_text("· Rhythm Club", exact=True)).to_be_visible()
    tab(teacher, "Sittings")
    teacher.locator("div", has_text=re.compile(r"^6 May.*Rhythm Club")).get_by_role(
        "link", name="Go to it"
    ).first.click()
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Remove it…").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Remove it").click()
    expect(teacher.get_by_role("heading", name="Sittings")).to_be_visible()
    expect(teacher.locator("div", has_text=re.compile(r"^6 May.*Rhythm Club"))).to_have_count(0)
