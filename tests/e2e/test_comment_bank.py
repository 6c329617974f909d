"""Comments that are said again: dictated on this device, offered with a level, with a question to try next."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab

HEARS_HERE = """
window.SpeechRecognition = class {
  static async available({ processLocally }) { return processLocally ? "available" : "unavailable" }
  start() {
    if (!this.processLocally) throw new Error("what is said would leave this device")
    const result = Object.assign([{ transcript: " Name the path. " }], { isFinal: true })
    setTimeout(() => this.onresult({ results: [result], resultIndex: 0 }), 50)
  }
  stop() { this.onend() }
}
"""


def test_a_comment_is_dictated_here_offered_with_its_level_and_brings_a_question(
    teacher: Page, browser: Browser, demo_school: str
) -> None:
    # A browser that hears elsewhere, or not at all, offers no dictation.
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Mark", exact=True).click()
    expect(teacher.get_by_label("Comment", exact=True)).to_be_visible()
    expect(teacher.get_by_role("button", name="Dictate")).to_have_count(0)

    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    context.add_init_script(HEARS_HERE)
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    tab(page, "Marking")
    page.get_by_role("link", name="Mark", exact=True).click()
    field = page.get_by_label("Comment", exact=True)
    field.fill("Well tried.")
    desk = page.url
    page.get_by_role("button", name="Dictate").click()
    expect(field).to_have_value("Well tried. Name the path.")
    page.get_by_role("button", name="Stop dictating").click()
    field.fill("Say why, {name}.")
    field.press("Escape")
    for key in ("1", "1", "1", "Enter"):
        page.keyboard.press(key)

    page.goto(f"{demo_school}/marking/comments")
    page.get_by_role("button", name="Change “Say why, {name}.”").click()
    page.get_by_label("With which level it is offered").select_option(index=1)
    page.get_by_label("A question to try next").nth(1).fill("What if there were two?")
    axe_finds_nothing(page)
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_text(re.compile("to try next: What if there were two"))).to_be_visible()

    # Offered with that level, before any other comment, and with no other level.
    page.goto(desk)
    offers = page.get_by_role("region", name="Your comments on this question")
    levels = page.get_by_role("group", name="The idea")
    levels.get_by_role("button").nth(1).click()
    expect(offers.get_by_role("button", name="Say why")).to_have_count(0)
    levels.get_by_role("button").nth(0).click()
    expect(offers.get_by_role("button").first).to_have_text("Say why, {name}.")
    context.close()
