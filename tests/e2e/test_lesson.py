"""A lesson from the day before to the week after: set up ahead, at their own pace, round by round, homework."""

import re

from playwright.sync_api import Browser, Page, expect

from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_room import phone_of


def test_from_setting_up_to_homework(browser: Browser, teacher: Page) -> None:
    console = teacher
    tab(console, "Tests")
    row = console.locator("div", has=console.get_by_role("link", name="Circuits, first look", exact=True)).last
    row.locator("xpath=..").get_by_role("button", name="Ask in the room").click()
    dialog = console.get_by_role("dialog")
    dialog.get_by_text("Set it up ahead instead").click()
    axe_finds_nothing(console)
    for name in ("8 Heron", "8 Tern"):
        dialog.get_by_label(name).check()
    dialog.get_by_role("button", name="Set up for 2 classes").click()
    expect(console.get_by_text("Set up for 8 Heron, 8 Tern.").first).to_be_visible()
    console.get_by_text("ready, in the room: 26 seats").locator("xpath=../..").get_by_role(
        "link", name="Go to it"
    ).click()
    expect(console.get_by_role("button", name="Open the door")).to_be_visible()
    axe_finds_nothing(console)
    steps = console.get_by_role("region", name="The lesson").locator("ol > li")
    second = steps.nth(1).inner_text().split("\n")[0]
    console.get_by_role("button", name="Later: step 1", exact=True).click()
    expect(steps.nth(0)).to_contain_text(second[2:20])

    code = console.locator("strong").nth(1).inner_text()
    ines = phone_of(browser, console, code, "Ines A.")
    expect(ines.get_by_role("heading", name="Welcome, Ines A.")).to_be_visible()
    expect(console.get_by_text("1 student at the door: Ines A.")).to_be_visible()
    console.get_by_role("button", name="Open the door").click()
    expect(ines.get_by_text("The first question comes up here.")).to_be_visible()
    console.get_by_role("button", name="Ask the first question").click()
    ines.get_by_role("radio").nth(0).check(force=True)
    expect(ines.get_by_text("your answer is in ✓")).to_be_visible()
    console.keyboard.press("g")
    expect(ines.get_by_text("Asked again: choose what you think now.")).to_be_visible()
    ines.get_by_role("radio").nth(1).check(force=True)
    expect(ines.get_by_text("your answer is in ✓")).to_be_visible()

    # On alone, with what was answered so far, and together again.
    console.get_by_role("button", name="More").click()
    console.get_by_role("menuitem", name="Let everyone go on at their own pace").click()
    expect(console.get_by_role("button", name="Gather the class")).to_be_visible()
    expect(ines.get_by_role("button", name="Next")).to_be_visible()
    expect(ines.get_by_role("progressbar", name="answered")).to_have_attribute("aria-valuenow", "1")
    ines.get_by_role("radio").nth(0).check(force=True)
    expect(ines.get_by_text("all answers kept ✓")).to_be_visible()
    axe_finds_nothing(console)
    console.get_by_role("button", name="Gather the class").click()
    expect(ines.get_by_text("Your teacher has stopped collecting.").first).to_be_visible()
    console.get_by_role("button", name="End the lesson…").click()
    console.get_by_role("dialog").get_by_role("button", name="End the lesson").click()

    # Round by round, and what comes after.
    expect(console.get_by_role("heading", name="Round by round")).to_be_visible()
    expect(console.get_by_role("heading", name="1 of 26 took part.")).to_be_visible()
    axe_finds_nothing(console)
    console.get_by_role("button", name=re.compile("^Question 1:")).click()
    expect(console.get_by_text("Round 2", exact=True)).to_be_visible()
    console.keyboard.press("w")
    console.get_by_role("button", name="Look at it…").click()
    expect(console.get_by_role("status").filter(has_text=re.compile("filled in|Nothing would change"))).to_be_visible()
    axe_finds_nothing(console)
    console.get_by_label("How").select_option("replace")
    console.get_by_role("button", name="Replace them").click()
    expect(console.get_by_text("What has been done")).to_be_visible()
    console.get_by_role("button", name="Take it back").click()
    expect(console.get_by_text("; taken back")).to_be_visible()
    console.keyboard.press("Escape")
    console.get_by_role("button", name="Give as homework…").click()
    console.get_by_label("For").select_option("missed")
    axe_finds_nothing(console)
    console.get_by_role("button", name="Give it").click()
    expect(console.get_by_text(re.compile("open until"))).to_be_visible()
    expect(console.get_by_text("Not here yet: 25")).to_be_visible()
    console.go_back()
    console.get_by_role("link", name="Findings", exact=True).last.click()
    console.get_by_label("Which answers").select_option("last answers")
    expect(console).to_have_url(re.compile("which=last"))
    expect(console.get_by_text("not asked").first).to_be_visible()
