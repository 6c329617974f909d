"""Two teachers at one class, and a test built without the mouse."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import LAPTOP, tab

KEPT = re.compile(r"kept \d\d:\d\d")


def colleague(browser: Browser, address: str) -> Page:
    page = browser.new_context(viewport=LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(page, address, "varga")
    return page


def test_who_shares_an_idea_becomes_a_group_of_the_class(teacher: Page) -> None:
    screenshots.findings(teacher)
    teacher.keyboard.press("j")
    chosen = teacher.get_by_role("heading", name=re.compile(r"^Chose [A-D]: \d+"))
    count = chosen.first.inner_text().rsplit(" ", 1)[1]
    teacher.get_by_role("button", name="make a group").first.click()
    teacher.get_by_label("Name of the group").fill("Talk about lamps")
    teacher.get_by_role("button", name="Make the group").click()
    expect(teacher.get_by_text(f"is a group of 8 Heron now: {count} students").first).to_be_visible()
    # The same name once more is refused where it is typed, and what was typed stays.
    teacher.get_by_role("button", name="make a group").first.click()
    teacher.get_by_label("Name of the group").fill("Talk about lamps")
    teacher.get_by_role("button", name="Make the group").click()
    expect(teacher.get_by_text("has a group called Talk about lamps already")).to_be_visible()
    axe_finds_nothing(teacher)
    screenshots.class_list(teacher)
    group = teacher.get_by_role("main").get_by_role("listitem").filter(has_text="Talk about lamps")
    expect(group).to_contain_text(f"{count} students, made from: Electric circuits, unit check, question")
    group.get_by_role("button", name="change").click()
    teacher.get_by_role("button", name="Take it away").click()
    expect(group).to_have_count(0)
    teacher.get_by_role("button", name="Undo").click()
    expect(group).to_contain_text(f"{count} students, made from: Electric circuits, unit check, question")


def test_a_test_is_built_without_the_mouse_and_undone_after_loading_again(teacher: Page) -> None:
    page, keys = teacher, teacher.keyboard
    tab(page, "Tests")
    keys.press("n")
    expect(page.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
    keys.type("By keys alone")
    keys.press("Enter")
    title = page.get_by_label("Title", exact=True)
    expect(title).to_have_value("By keys alone")
    page.get_by_label("Find questions").focus()
    keys.type("lamp")
    page.get_by_label("Only this kind").select_option("single_choice")
    put_in = page.get_by_role("button", name=re.compile("^Put in"))
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("button", name=re.compile("Put in: Join an ammeter"))).to_have_count(0)
    for _ in range(2):
        put_in.first.focus()
        keys.press("Enter")
    marks = page.get_by_label(re.compile("^Marks of question"))
    expect(marks).to_have_count(2)
    expect(page.get_by_text(KEPT)).to_be_visible()
    # The whole question stands on the left, as students will see it.
    paper = page.get_by_role("region", name="The test")
    expect(paper.locator("label:has(input[type=radio])").first).to_be_visible()
    stems = page.locator("[id^=row-] .rich.font-serif")
    before = stems.all_inner_texts()
    page.wait_for_timeout(400)  # what follows within 300 ms is one step to undo
    page.get_by_role("button", name=re.compile("^Move question 2")).focus()
    keys.press("ArrowUp")
    expect(stems.first).to_have_text(before[1])
    page.wait_for_timeout(400)
    marks.first.focus()
    keys.press("Control+a")
    keys.type("3")
    keys.press("Tab")
    expect(page.get_by_text("2 questions, 4 marks")).to_be_visible()
    page.wait_for_timeout(400)
    title.focus()
    keys.press("End")
    keys.type(" alone")
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.wait_for_timeout(600)
    page.reload()
    expect(title).to_have_value("By keys alone alone")
    title.focus()
    keys.press("Control+z")
    expect(title).to_have_value("By keys alone")
    keys.press("Control+z")
    expect(page.get_by_text("2 questions, 2 marks")).to_be_visible()
    keys.press("Control+z")
    expect(stems.first).to_have_text(before[0])
    keys.press("Control+Shift+z")
    expect(stems.first).to_have_text(before[1])
    page.wait_for_timeout(600)
    page.reload()
    expect(stems.first).to_have_text(before[1])
    page.get_by_role("button", name="first lines only").focus()
    keys.press("Enter")
    expect(paper.locator("label:has(input[type=radio])")).to_have_count(0)
    axe_finds_nothing(page)
    # Frozen, it cannot be lost; so it is put away and not deleted.
    page.get_by_role("button", name="Freeze an edition").focus()
    keys.press("Enter")
    expect(page.get_by_text("Edition 1 is frozen: 2 questions, 2 marks.").first).to_be_visible()
    page.get_by_role("button", name="More to do with this test").focus()
    keys.press("Enter")
    page.get_by_role("menuitem", name="Put away").focus()
    keys.press("Enter")
    expect(page.get_by_text("The test is put away. Its results stay.").first).to_be_visible()


def test_the_focus_is_never_lost_and_single_keys_can_be_turned_off(teacher: Page) -> None:
    """WCAG 2.2, 2.4.3 and 2.1.4: a sheet that closes gives the focus back to what opened it."""
    page, keys = teacher, teacher.keyboard
    tab(page, "Tests")
    # A key opened it: where one was, and on a fresh page its head; a button or the entry of a menu did: that button.
    stage = page.get_by_role("link", name="Tests", exact=True)
    keys.press("n")
    expect(page.get_by_role("dialog")).to_be_visible()
    keys.press("Escape")
    expect(stage).to_be_focused()
    stage.blur()
    keys.press("n")
    expect(page.get_by_role("dialog")).to_be_visible()
    keys.press("Escape")
    expect(page.get_by_role("heading", name="Tests")).to_be_focused()
    new = page.get_by_role("button", name="New test")
    new.press("Enter")
    expect(page.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
    keys.press("Escape")
    expect(new).to_be_focused()
    page.get_by_role("link", name="Explaining with energy").press("Enter")
    expect(page.get_by_role("heading", level=1, name="Explaining with energy")).to_be_focused()
    more = page.get_by_role("button", name="More to do with this test")
    more.press("Enter")
    page.get_by_role("menuitem", name="Delete").press("Enter")
    expect(page.get_by_role("dialog", name="Delete this test?")).to_be_visible()
    keys.press("Escape")
    expect(more).to_be_focused()
    # A button that goes when it is pressed.
    tab(page, "Sittings")
    page.get_by_role("button", name="Several at once").press("Enter")
    expect(page.get_by_role("button", name="Tick all")).to_be_focused()
    page.get_by_role("button", name="Done").press("Enter")
    expect(page.get_by_role("button", name="Several at once")).to_be_focused()
    # Who dictates turns letters off; Find stays, since it is no single key.
    keys.press("?")
    page.get_by_role("checkbox", name="Single letters").uncheck()
    keys.press("Escape")
    keys.press("n")
    keys.press("?")
    expect(page.get_by_role("dialog")).to_have_count(0)
    keys.press("Control+k")
    expect(page.get_by_role("dialog")).to_be_visible()
    keys.press("Escape")
    page.get_by_role("button", name="Help").click()
    page.get_by_role("checkbox", name="Single letters").check()
    keys.press("Escape")
    keys.press("n")
    expect(page.get_by_role("dialog")).to_be_visible()


def test_a_colleague_runs_a_sitting_once_allowed(browser: Browser, teacher: Page, demo_school: str) -> None:
    other = colleague(browser, demo_school)
    tab(other, "Classes")
    expect(other.get_by_role("link", name="8 Heron")).to_be_visible()
    expect(other.get_by_role("link", name="8 Tern")).to_have_count(0)
    tab(teacher, "Classes")
    teacher.get_by_role("link", name="8 Tern", exact=True).click()
    teacher.get_by_label("Share the class with").select_option(label="P. Varga")
    shared = teacher.get_by_role("listitem").filter(has_text="P. Varga")
    expect(shared).to_contain_text("may see")
    other.reload()
    # The planned sitting of the class is there to be seen, and cannot be opened.
    tab(other, "Classes")
    other.get_by_role("link", name="8 Tern", exact=True).click()
    expect(other.get_by_role("heading", name="8 Tern")).to_be_visible()
    expect(other.get_by_label("Add a student")).to_have_count(0)
    axe_finds_nothing(other)
    tab(other, "Sittings")
    other.get_by_role("link", name="Go to it").first.click()
    other.get_by_role("button", name="Open it", exact=True).click()
    expect(other.get_by_text("has not given you leave to run")).to_be_visible()
    shared.get_by_label("may run sittings").click()
    expect(shared.get_by_label("may run sittings")).to_be_checked()
    other.get_by_role("button", name="Open it", exact=True).click()
    expect(other.get_by_text("On the board")).to_be_visible()
    # Both see the same sitting; and it is put back as it was found.
    address = other.url
    teacher.goto(address)
    expect(teacher.get_by_text("On the board")).to_be_visible()
    teacher.get_by_role("button", name="Close it…").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Close it").click()
    expect(other.get_by_role("button", name="Open it again")).to_be_visible()
    tab(teacher, "Classes")
    teacher.get_by_role("link", name="8 Tern", exact=True).click()
    teacher.get_by_role("button", name="Stop sharing with P. Varga").click()
    teacher.get_by_role("button", name="Undo").click()
    expect(teacher.get_by_role("button", name="Stop sharing with P. Varga")).to_be_visible()
    teacher.get_by_role("button", name="Stop sharing with P. Varga").click()
    expect(teacher.get_by_role("button", name="Stop sharing with P. Varga")).to_have_count(0)
    tab(other, "Classes")
    other.reload()
    expect(other.get_by_role("link", name="8 Heron")).to_be_visible()
    expect(other.get_by_role("link", name="8 Tern")).to_have_count(0)
