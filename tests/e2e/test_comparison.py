"""Answers compared in pairs by clicks and keys: two judges at once, a phone, a lost connection, a scale, marks."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab


def test_two_judges_compare_in_pairs_one_on_a_phone_and_the_scale_becomes_marks(
    teacher: Page, browser: Browser, demo_school: str
) -> None:
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Mark", exact=True).first.click()
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Compare in pairs").click()
    teacher.get_by_label("What judges are asked").fill("Which explains it better?")
    teacher.get_by_label("P. Varga").check()
    teacher.get_by_label("How often each answer").fill("2")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Begin comparing").click()
    expect(teacher.get_by_text("Nothing has been compared yet.")).to_be_visible()

    phone = browser.new_context(viewport={"width": 360, "height": 740}, has_touch=True).new_page()
    screenshots.sign_in(phone, demo_school, "varga")
    tab(phone, "Marking")
    phone.get_by_role("link", name="Compare", exact=True).click()
    one = phone.get_by_role("region", name="The left one").get_by_role("button", name="This one")
    one.tap()
    expect(phone.get_by_text("1 pair by you")).to_be_visible()
    axe_finds_nothing(phone)
    assert phone.evaluate("document.documentElement.scrollWidth") <= 360
    phone.context.set_offline(True)
    one.tap()
    expect(phone.get_by_text("There is no connection.")).to_be_visible()
    phone.context.set_offline(False)
    expect(phone.get_by_text("2 pairs by you")).to_be_visible()

    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Compare", exact=True).click()
    axe_finds_nothing(teacher)
    for count in range(1, 20):
        expect(teacher.get_by_role("button", name="This one").first).to_be_enabled()
        teacher.keyboard.press("ArrowLeft" if count % 2 else "ArrowRight")
        expect(teacher.get_by_text(f"{count} pair" + ("s" if count > 1 else "") + " by you")).to_be_visible()
    expect(teacher.get_by_text("Nothing more for you to compare.")).to_be_visible()
    # One was a slip: it is taken back, and said anew.
    teacher.keyboard.press("Backspace")
    expect(teacher.get_by_text("18 pairs by you")).to_be_visible()
    expect(teacher.get_by_role("button", name="This one").first).to_be_enabled()
    teacher.keyboard.press("ArrowLeft")
    expect(teacher.get_by_text("Nothing more for you to compare.")).to_be_visible()
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="The scale").click()
    # The order of before is shown until that of all pairs has come.
    expect(teacher.get_by_role("row", name=re.compile("O. Brandt 19"))).to_be_visible()
    known = teacher.get_by_label(re.compile("Known mark of"))
    for place, points in ((0, "3"), (known.count() - 1, "0")):
        known.nth(place).fill(points)
        known.nth(place).press("Enter")
    expect(teacher.get_by_role("button", name="Give these marks")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="End it…").click()
    teacher.get_by_role("button", name="End it", exact=True).click()
    expect(teacher.get_by_role("button", name="Amina Y.")).to_be_visible()
    teacher.get_by_role("button", name="Amina Y.").click()
    expect(teacher.get_by_role("dialog")).to_contain_text("lamp")
    teacher.keyboard.press("Escape")
    teacher.get_by_role("button", name="Give these marks").click()
    expect(teacher.get_by_role("dialog")).to_contain_text("They are begun only")
    teacher.get_by_role("button", name="Give them").click()
    expect(teacher.get_by_text("have their marks").first).to_be_visible()
