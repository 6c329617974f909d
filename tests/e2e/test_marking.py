"""Marking by keyboard alone, left and taken up again; what is waived and marked is what the findings say."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab


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
        expect(teacher.get_by_role("button", name=re.compile(f"^0?{place + (place > 6)} ")).first).to_have_attribute(
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
    later.goto(f"{later.url.replace('marking', 'findings')}")
    expect(later.get_by_text("Waived in this sitting: out of the total and the figures.")).to_be_visible()
    expect(later.get_by_text("to be marked; the figures leave this question out")).to_have_count(0)
    context.close()


def test_the_wrong_key_is_settled_where_it_was_found(teacher: Page) -> None:
    screenshots.findings(teacher)
    expect(teacher.get_by_role("heading", name="The key may be wrong: look at B.")).to_be_visible()
    teacher.get_by_role("button", name="Settle it…").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_role("checkbox", name="D").uncheck()
    dialog.get_by_role("checkbox", name="B").check()
    expect(dialog.get_by_text("11 totals of 24 would change: 11 up, 0 down.")).to_be_visible()
    axe_finds_nothing(teacher)
    dialog.get_by_label("The reason").fill("0.5 A less 0.3 A leaves 0.2 A.")
    dialog.get_by_role("button", name="Settle it", exact=True).click()
    expect(teacher.get_by_text("Settled: B")).to_be_visible()
    expect(teacher.get_by_role("heading", name="The key may be wrong: look at B.")).to_have_count(0)
    teacher.get_by_role("button", name="take it back").click()
    expect(teacher.get_by_role("heading", name="The key may be wrong: look at B.")).to_be_visible()
