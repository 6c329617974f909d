"""A supervised sitting with real clicks: planned, the door, three phones, of which one is paused to the next day, one
is offline for a while and one has extra time."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_marks_only import pass_of

NAMES = {"ines": "Ines A.", "malik": "Malik D.", "wren": "Wren O."}


def plan(teacher: Page) -> str:
    """A sitting of 8 Heron under rules; its code."""
    tab(teacher, "Sittings")
    teacher.get_by_role("button", name="New sitting").click()
    dialog = teacher.get_by_role("dialog")
    # The time a test is planned for is offered, and the teacher may say another.
    every = dialog.get_by_label("Test").locator("option", has_text="a bit of everything").first.get_attribute("value")
    dialog.get_by_label("Test").select_option(every)
    expect(dialog.get_by_label("Working time")).to_have_value("45")
    test = dialog.get_by_label("Test").locator("option", has_text="Series and parallel").first.get_attribute("value")
    dialog.get_by_label("Test").select_option(test)
    kind = dialog.get_by_label("Class", exact=True)
    kind.select_option(kind.locator("option", has_text="8 Heron").get_attribute("value"))
    expect(dialog.get_by_label("Working time")).to_have_value("")
    dialog.get_by_label("Working time").fill("20")
    # The class brings its groups, and what stands below moves down: a hand waits for that too.
    teacher.wait_for_timeout(500)
    dialog.get_by_label("Students wait at the door").check()
    dialog.get_by_text("More rules").click()
    for rule in ("A calculator is allowed", "Work handed in can be taken back"):
        dialog.get_by_label(rule).check()
    dialog.get_by_label("Formula sheet").fill("$U = R I$ and x < y")
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="Plan the sitting").click()
    expect(
        teacher.get_by_text("Rules: 20 min, let in by you, can be taken back, calculator, formula sheet.")
    ).to_be_visible()
    teacher.get_by_role("button", name="Open it").click()
    expect(teacher.get_by_role("button", name="Pause all")).to_be_visible()
    return str(teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).first.inner_text())


def phone(browser: Browser, teacher: Page, code: str, name: str) -> Page:
    page = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    screenshots.join(page, teacher.url.split("/sittings")[0], code, pass_of(teacher, name))
    return page


def row(teacher: Page, name: str) -> Page:
    return teacher.get_by_role("row", name=re.compile(rf"\d+ {re.escape(name)}"))  # type: ignore[return-value]


def more(teacher: Page, name: str, item: str) -> None:
    teacher.get_by_role("button", name=f"More for {name}").click()
    teacher.get_by_role("menuitem", name=item).click()


def pick(page: Page, place: int) -> None:
    page.locator("label:has(input[type=radio])").nth(place).click()
    expect(page.get_by_text("all answers kept")).to_be_visible()


def test_a_supervised_sitting(browser: Browser, teacher: Page) -> None:
    code = plan(teacher)
    ines, malik, wren = (phone(browser, teacher, code, name) for name in NAMES.values())
    expect(ines.get_by_role("heading", name="You are at the door, Ines A.")).to_be_visible()
    expect(ines.get_by_text("You may use a calculator, the formula sheet.")).to_be_visible()
    expect(ines.get_by_text("recorded for your teacher")).to_be_visible()
    axe_finds_nothing(ines)
    expect(teacher.get_by_text("3 at the door")).to_be_visible()
    axe_finds_nothing(teacher)

    # Someone turned away is told so, and comes in again with the right pass.
    more(teacher, "Wren O.", "Turn away")
    expect(wren.get_by_role("alert")).to_contain_text("sent this device back from the door")
    wren.get_by_label("Code on the board").fill(code)
    wren.get_by_label("Your pass").fill(pass_of(teacher, "Wren O."))
    wren.get_by_role("button", name="Come in").click()
    expect(teacher.get_by_text("3 at the door")).to_be_visible()
    teacher.get_by_role("button", name="Let in Ines A.").click()
    expect(ines.get_by_text("Question 1 of 8")).to_be_visible()
    teacher.get_by_role("button", name="Let all in").click()
    for page in (malik, wren):
        expect(page.get_by_text("Question 1 of 8")).to_be_visible()
    # Malik has a quarter more time without anybody doing anything.
    expect(malik.get_by_role("button", name=re.compile(r"time left: 2[45]:\d\d"))).to_be_visible()
    expect(ines.get_by_role("button", name=re.compile(r"time left: (20:00|19:\d\d)"))).to_be_visible()
    ines.get_by_role("button", name=re.compile("time left")).click()
    expect(ines.get_by_role("button", name="show time")).to_be_visible()
    ines.get_by_text("Formula sheet").click()
    expect(ines.get_by_text("and x < y")).to_be_visible()
    its_own_look_and_one_tab(ines)

    pick(ines, 1)
    ines.get_by_role("button", name="Next").click()
    expect(row(teacher, "Ines A.")).to_contain_text("on question 2")  # type: ignore[arg-type]
    offline_for_a_while(teacher, wren)
    paused_and_given_time(teacher, ines, malik)
    a_second_device(browser, teacher, code, malik)
    to_the_next_day(browser, teacher, ines, malik)


def its_own_look_and_one_tab(page: Page) -> None:
    page.get_by_role("button", name="How it looks").click()
    page.get_by_role("button", name="A+").click()
    page.get_by_label("Ground").select_option("blue")
    axe_finds_nothing(page)
    page.get_by_role("button", name="Done").click()
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_text("Question 1 of 8")).to_be_visible()
    assert other.evaluate("document.documentElement.dataset.ground") == "blue"
    expect(page.get_by_role("heading", name="It is open in another tab.")).to_be_visible()
    pick(other, 2)
    page.get_by_role("button", name="Go on in this one").click()
    expect(page.get_by_text("Question 2 of 8")).to_be_visible()
    page.get_by_role("button", name="Back").click()
    expect(page.get_by_role("radio").nth(2)).to_be_checked()  # what the other tab gave
    expect(other.get_by_role("heading", name="It is open in another tab.")).to_be_visible()
    other.close()


def offline_for_a_while(teacher: Page, page: Page) -> None:
    page.context.set_offline(True)
    for place in (0, 1):
        page.locator("label:has(input[type=radio])").nth(place).click()
        page.get_by_role("button", name="Next").click()
    expect(page.get_by_text("no connection: 2 kept here")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("all answers kept")).to_be_visible()
    expect(row(teacher, "Wren O.")).to_contain_text("2 of 8")  # type: ignore[arg-type]


def paused_and_given_time(teacher: Page, ines: Page, malik: Page) -> None:
    teacher.get_by_role("button", name="Pause Ines A.").click()
    expect(ines.get_by_role("heading", name="Paused.")).to_be_visible()
    more(teacher, "Malik D.", "Give time…")
    axe_finds_nothing(teacher)
    teacher.get_by_role("dialog").get_by_role("button", name="10 min").click()
    expect(malik.get_by_role("button", name=re.compile(r"time left: 3[45]:\d\d"))).to_be_visible()
    expect(row(teacher, "Malik D.")).to_contain_text("10 min more")  # type: ignore[arg-type]
    teacher.get_by_text("On record").click()
    expect(teacher.get_by_text("10 minutes more")).to_be_visible()


def a_second_device(browser: Browser, teacher: Page, code: str, first: Page) -> None:
    pick(first, 0)
    second = phone(browser, teacher, code, "Malik D.")
    expect(second.get_by_text("Question 2 of 8")).to_be_visible()
    expect(first.get_by_role("heading", name="You are on another device, Malik D.")).to_be_visible()
    expect(row(teacher, "Malik D.")).to_contain_text("went on with a second device")  # type: ignore[arg-type]
    first.get_by_role("button", name="Go on with this device").click()
    expect(first.get_by_text("Question 2 of 8")).to_be_visible()
    expect(second.get_by_role("heading", name="You are on another device, Malik D.")).to_be_visible()
    second.context.close()


def to_the_next_day(browser: Browser, teacher: Page, ines: Page, malik: Page) -> None:
    malik.get_by_role("button", name="All 8").click()
    malik.get_by_role("button", name=re.compile("Hand in with")).click()
    malik.get_by_role("button", name="Take it back and go on").click()
    expect(malik.get_by_text("Question 2 of 8")).to_be_visible()
    teacher.get_by_role("button", name="Close it…").click()
    dialog = teacher.get_by_role("dialog")
    expect(dialog.get_by_label(re.compile("Ines A.: paused, and may go on another day"))).to_be_checked()
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="Close it").click()
    expect(malik.get_by_role("heading", name="Handed in.")).to_be_visible()
    expect(ines.get_by_role("heading", name="Paused.")).to_be_visible()
    teacher.get_by_role("button", name="Go on: Ines A.").click()
    expect(ines.get_by_text("Question 3 of 8").or_(ines.get_by_text("Question 2 of 8"))).to_be_visible()
    ines.get_by_role("button", name="All 8").click()
    ines.get_by_role("button", name=re.compile("Hand in with")).click()
    expect(ines.get_by_role("heading", name="Handed in.")).to_be_visible()
    # And somebody who was not there at all.
    code = teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).first.inner_text()
    teacher.get_by_role("button", name="Suri P.: sit now").click()
    suri = phone(browser, teacher, code, "Suri P.")
    expect(suri.get_by_text("Question 1 of 8")).to_be_visible()
    expect(row(teacher, "Suri P.")).to_contain_text("on question 1")  # type: ignore[arg-type]
    teacher.get_by_role("link", name="Findings").last.click()
    expect(teacher.get_by_text(re.compile("3 of 26"))).to_be_visible()


def test_all_on_one_page_and_no_going_back(browser: Browser, demo_school: str, teacher: Page) -> None:
    """The two other ways through a paper, on a phone."""
    for rule in ("All questions on one page", "A question that was left cannot be changed"):
        tab(teacher, "Sittings")
        teacher.get_by_role("button", name="New sitting").click()
        dialog = teacher.get_by_role("dialog")
        test = (
            dialog.get_by_label("Test").locator("option", has_text="Series and parallel").first.get_attribute("value")
        )
        dialog.get_by_label("Test").select_option(test)
        dialog.get_by_label("Class", exact=True).select_option(index=1)
        dialog.get_by_label("For", exact=True).select_option("some students…")
        dialog.get_by_label(re.compile("Ines")).check()
        dialog.get_by_text("More rules").click()
        dialog.get_by_label(rule).check()
        dialog.get_by_role("button", name="Plan the sitting").click()
        expect(teacher.get_by_text("Not here yet: 1")).to_be_visible()
        teacher.get_by_role("button", name="Open it").click()
        expect(teacher.get_by_role("button", name="Pause all")).to_be_visible()
        code = teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).first.inner_text()
        ines = phone(browser, teacher, code, "Ines A.")
        if rule.startswith("All"):
            expect(ines.get_by_text("Question 8 of 8")).to_be_visible()
            ines.get_by_role("radio").nth(0).check(force=True)
            assert ines.evaluate("document.documentElement.scrollWidth <= innerWidth")
        else:
            expect(ines.get_by_text("You cannot come back.")).to_be_visible()
            pick(ines, 0)
            ines.get_by_role("button", name="Next").click()
            expect(ines.get_by_text("Question 2 of 8")).to_be_visible()
            expect(ines.get_by_role("button", name="Back")).to_have_count(0)
            ines.reload()
            expect(ines.get_by_text("Question 2 of 8")).to_be_visible()
        axe_finds_nothing(ines)
        ines.context.close()
