"""A lesson in the room: the teacher's console, the projector's window and two phones, all real."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .serving import free_port, school_in
from .serving import start as start_server
from .test_marks_only import pass_of


def phone_of(browser: Browser, console: Page, code: str, name: str) -> Page:
    address = console.url.split("/sittings")[0]
    phone = browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]
    phone.goto(f"{address}/join?code={code}")
    phone.get_by_label("Your pass").fill(pass_of(console, name))
    phone.get_by_role("button", name="Come in").click()
    return phone


def test_ask_collect_show_talk_ask_again(browser: Browser, teacher: Page) -> None:
    console = teacher
    wall = start(console)
    code = wall.locator("strong").nth(1).inner_text()
    ines, wren = (phone_of(browser, console, code, name) for name in ("Ines A.", "Wren O."))
    for phone in (ines, wren):
        expect(phone.get_by_text("The first question comes up here.")).to_be_visible()
    expect(console.get_by_text("2 here").first).to_be_visible()
    expect(wall.get_by_text("2 here")).to_be_visible()
    axe_finds_nothing(wall)
    axe_finds_nothing(console)

    console.keyboard.press("ArrowRight")
    for page in (wall, ines, wren):
        expect(page.get_by_text("Question 1 of")).to_be_visible()
    axe_finds_nothing(ines)
    ines.get_by_role("radio").nth(0).check(force=True)
    expect(ines.get_by_text("your answer is in ✓")).to_be_visible()
    expect(console.get_by_role("region", name="Who is in").get_by_text("In, 1")).to_be_visible()
    expect(wall.get_by_text("1 of 2 in")).to_be_visible()
    assert wall.locator("main").inner_text().count("Ines") == 0  # no names unless asked for
    a_lost_connection_comes_back(wren)

    console.keyboard.press("s")
    expect(wall.get_by_text("collecting has stopped")).to_be_visible()
    expect(wall.get_by_text("✓")).to_have_count(0)
    expect(wren.get_by_text("Your teacher has stopped collecting. Your answer is in.")).to_be_visible()
    console.keyboard.press("g")
    expect(wall.get_by_text("asked again")).to_be_visible()
    expect(ines.get_by_text("Asked again: choose what you think now.")).to_be_visible()
    right = right_option(console)
    for phone in (ines, wren):
        phone.get_by_role("radio").nth(right).check(force=True)
        expect(phone.get_by_text("your answer is in ✓")).to_be_visible()
    console.keyboard.press("r")
    expect(wall.locator("li", has_text="✓")).to_have_count(1)
    for phone in (ines, wren):
        expect(phone.get_by_text("✓ Right.")).to_be_visible()
    expect(console.get_by_text(re.compile(r"From \d to 2 right of 2 who answered both times\."))).to_be_visible()
    axe_finds_nothing(console)
    axe_finds_nothing(wall)

    a_quick_question(console, wall, ines)
    console.get_by_role("button", name="End the lesson…").click()
    console.get_by_role("dialog").get_by_role("button", name="End the lesson").click()
    expect(wall.get_by_text("That was it.")).to_be_visible()
    expect(ines.get_by_role("heading", name="Handed in.")).to_be_visible()
    console.get_by_role("link", name="Findings", exact=True).last.click()
    expect(console.get_by_text("2 of 26")).to_be_visible()


def start(console: Page) -> Page:
    """Two clicks from the list of tests; the wall in a window of its own."""
    tab(console, "Tests")
    row = console.locator("div", has=console.get_by_role("link", name="Circuits, first look", exact=True)).last
    row.locator("xpath=..").get_by_role("button", name="Ask in the room").click()
    console.get_by_role("dialog").get_by_role("button", name=re.compile("8 Heron")).click()
    expect(console.get_by_role("heading", name="In the room", exact=True)).to_be_visible()
    with console.expect_popup() as opened:
        console.keyboard.press("w")
    wall = opened.value
    wall.set_viewport_size({"width": 1280, "height": 720})
    expect(wall.get_by_text("join at")).to_be_visible()
    return wall


def a_lost_connection_comes_back(phone: Page) -> None:
    """Cut in the middle of a question: what is chosen meanwhile is kept on the phone and goes out by itself."""
    phone.context.set_offline(True)
    phone.get_by_role("radio").nth(1).check(force=True)
    expect(phone.get_by_text("◐ no connection: it is kept here")).to_be_visible()
    phone.context.set_offline(False)
    expect(phone.get_by_text("your answer is in ✓")).to_be_visible()
    phone.reload()
    expect(phone.get_by_role("radio").nth(1)).to_be_checked()


def right_option(console: Page) -> int:
    """From the teacher's own table of answers, which has the key."""
    # All rows at one moment: the table goes when the spread is hidden.
    rows = console.get_by_role("table").filter(has_text="✓").locator("tr").all_inner_texts()
    results = [at for at, text in enumerate(rows) if "✓" in text]
    if results:
        return results[0] - 1
    sitting = console.url.rsplit("/", 1)[1]
    page = console.request.get(f"{console.url.split('/sittings')[0]}/api/v1/sittings/{sitting}/room").json()
    return next(at for at, row in enumerate(page["counts"]) if row["right"])


def a_quick_question(console: Page, wall: Page, phone: Page) -> None:
    console.keyboard.press("q")
    console.get_by_role("button", name="A to C").click()
    expect(wall.get_by_text("Listen to the question.")).to_be_visible()
    phone.get_by_role("radio").nth(2).check(force=True)
    expect(phone.get_by_text("your answer is in ✓")).to_be_visible()
    console.get_by_role("button", name="Answer for someone…").click()
    console.get_by_role("button", name="B for Wren O.").click()
    console.keyboard.press("Escape")
    expect(console.get_by_text("1 by you")).to_be_visible()
    console.get_by_role("group", name="Right is").get_by_role("button", name="C").click()
    console.get_by_role("button", name="Show answer").click()
    expect(phone.get_by_text("✓ Right.")).to_be_visible()


def test_the_console_works_on_a_phone(browser: Browser, demo_school: str, tmp_path: Path) -> None:
    context = browser.new_context(viewport=screenshots.PHONE)  # type: ignore[arg-type]
    console = context.new_page()
    screenshots.sign_in(console, demo_school)
    start(console)
    console.get_by_role("button", name="Ask the first question").click()
    expect(console.get_by_role("button", name="Stop collecting")).to_be_visible()
    assert console.evaluate("document.documentElement.scrollWidth <= innerWidth")
    axe_finds_nothing(console)


def test_what_was_acknowledged_in_a_round_outlives_a_killed_server(browser: Browser, tmp_path: Path) -> None:
    """kill -9 in the middle of a round: what is in stays in, what was chosen meanwhile goes out, the round goes on."""
    school_in(tmp_path, demo=True)
    port = free_port()
    server = start_server(tmp_path, port)
    try:
        console = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
        screenshots.sign_in(console, f"http://127.0.0.1:{port}")
        wall = start(console)
        code = wall.locator("strong").nth(1).inner_text()
        ines, wren = (phone_of(browser, console, code, name) for name in ("Ines A.", "Wren O."))
        expect(wall.get_by_text("2 here")).to_be_visible()
        console.keyboard.press("ArrowRight")
        ines.get_by_role("radio").nth(2).check(force=True)
        expect(ines.get_by_text("your answer is in ✓")).to_be_visible()
        server.kill()
        server.wait()
        wren.get_by_role("radio").nth(1).check(force=True)
        expect(wren.get_by_text("◐ no connection: it is kept here")).to_be_visible()
        server = start_server(tmp_path, port)
        expect(wren.get_by_text("your answer is in ✓")).to_be_visible(timeout=20_000)
        for page in (console, ines):
            page.reload()
        expect(ines.get_by_role("radio").nth(2)).to_be_checked()
        expect(console.get_by_text("In, 2")).to_be_visible()
        expect(console.get_by_role("button", name="Stop collecting")).to_be_visible()
    finally:
        server.kill()
        server.wait()


def test_names_time_order_and_the_same_questions_with_the_next_class(browser: Browser, teacher: Page) -> None:
    """What a teacher sets in the middle of a lesson shows on the wall and on phones; then again with another class."""
    console = teacher
    wall = start(console)
    code = wall.locator("strong").nth(1).inner_text()
    ines = phone_of(browser, console, code, "Ines A.")
    expect(wall.get_by_text("1 here")).to_be_visible()
    console.get_by_role("button", name="Names on the wall: off").click()
    console.get_by_label("Time for a question").select_option(label="15 seconds")
    steps = console.get_by_role("region", name="Who is in").locator("ol > li")
    first, second = (steps.nth(at).inner_text().split("\n")[0] for at in (0, 1))
    console.get_by_role("button", name="Later: step 1", exact=True).click()
    expect(steps.nth(0)).to_contain_text(second[2:20])
    expect(steps.nth(1)).to_contain_text(first[2:20])
    console.get_by_role("button", name="Ask the first question").click()
    expect(wall.get_by_text(second[2:20])).to_be_visible()
    for page in (wall, ines):
        expect(page.get_by_text(re.compile(r"^0:\d\d$"))).to_be_visible()
    ines.get_by_role("radio").nth(0).check(force=True)
    expect(wall.get_by_text("Ines A.")).to_be_visible()
    # The time runs out by itself, on every screen, and nobody has to look again; at once, also without a connection.
    ines.context.set_offline(True)
    expect(ines.get_by_text("The time is over. Your answer is in.")).to_be_visible(timeout=20_000)
    ines.context.set_offline(False)
    expect(wall.get_by_text("collecting has stopped")).to_be_visible(timeout=20_000)
    expect(ines.get_by_text("Your teacher has stopped collecting. Your answer is in.")).to_be_visible()
    expect(console.get_by_role("button", name="Go on collecting")).to_be_visible()
    # A step is skipped by going to another; one gone back to is not asked anew by itself.
    steps.nth(3).get_by_role("button").first.click()
    expect(ines.get_by_text("Question 4 of")).to_be_visible()
    expect(wall.get_by_text("Ines A.")).to_have_count(0)
    console.keyboard.press("ArrowLeft")
    expect(ines.get_by_text("Question 3 of")).to_be_visible()
    steps.nth(0).get_by_role("button").first.click()
    expect(ines.get_by_text("Your teacher has stopped collecting. Your answer is in.")).to_be_visible()
    expect(wall.get_by_text("asked again")).to_have_count(0)
    console.keyboard.press(" ")  # and goes on collecting in the same round
    expect(ines.get_by_text("your answer is in ✓")).to_be_visible()
    expect(console.get_by_role("button", name="Stop collecting")).to_be_visible()
    first_lesson = console.url
    tab(console, "Tests")
    row = console.locator("div", has=console.get_by_role("link", name="Circuits, first look", exact=True)).last
    row.locator("xpath=..").get_by_role("button", name="Ask in the room").click()
    console.get_by_role("dialog").get_by_role("button", name=re.compile("8 Tern")).click()
    expect(console.get_by_text("Circuits, first look · 8 Tern")).to_be_visible()
    assert console.url != first_lesson
    expect(wall.get_by_text("Question 1 of")).to_be_visible()  # the other lesson’s wall stays where it was
    # A single question of the bank, in two clicks as well.
    screenshots.bank(console)
    console.get_by_role("button", name="Ask in the room").click()
    console.get_by_role("dialog").get_by_role("button", name=re.compile("8 Tern")).click()
    expect(console.get_by_role("heading", name="In the room", exact=True)).to_be_visible()
    console.get_by_role("button", name="Ask the first question").click()
    expect(console.get_by_text("Question 1 of 1")).to_be_visible()
    expect(console.get_by_role("button", name="That was the last")).to_be_disabled()
    tab(console, "Tests")
    expect(console.get_by_role("link", name="Circuits, first look", exact=True)).to_have_count(1)


FITS = """() => {
  const body = document.querySelectorAll("main > div > div")[1];
  return body.scrollHeight <= body.clientHeight + 1 && body.scrollWidth <= body.clientWidth + 1;
}"""
SMALLEST_TYPE = """() => {
  const sizes = [];
  const body = document.querySelector("main > div > div:nth-child(2)");
  const walker = document.createTreeWalker(body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const held = walker.currentNode.parentElement;
    if (walker.currentNode.data.trim() && !held.closest("sub, sup, .katex, [class*=border-b-2]"))
      sizes.push(parseFloat(getComputedStyle(held).fontSize));
  }
  return Math.min(...sizes);
}"""


def test_every_kind_of_question_is_read_from_the_back_of_the_room(browser: Browser, demo_school: str) -> None:
    """On a wall 1.5 m high a class 8 m away needs letters of 4 cm, a two-hundredth of the distance (a rule of thumb of
    signs and slides; common practice, no source): 19 of 720 lines, and nothing is cut or scrolls."""
    context = browser.new_context(viewport={"width": 1280, "height": 720}, reduced_motion="reduce")
    console = context.new_page()
    screenshots.sign_in(console, demo_school)
    tab(console, "Tests")
    row = console.locator("div", has=console.get_by_role("link", name=re.compile("a bit of everything"))).last
    row.locator("xpath=..").get_by_role("button", name="Ask in the room").click()
    console.get_by_role("dialog").get_by_role("button", name=re.compile("8 Tern")).click()
    expect(console.get_by_role("heading", name="In the room", exact=True)).to_be_visible()
    wall = context.new_page()
    wall.goto(console.url.replace("/sittings/", "/wall/"))
    number, count = 0, 1
    while number < count:
        number += 1
        console.keyboard.press("ArrowRight")
        place = wall.get_by_text(re.compile(rf"^Question {number} of \d+$"))
        expect(place).to_be_visible()
        count = int(place.inner_text().split()[-1])
        wall.evaluate("document.fonts.ready")
        expect(wall.locator("input, select, textarea, button")).to_have_count(0)  # nothing to press on a wall
        # The wall makes its type as large as fits, once the picture of a question is there.
        wall.wait_for_function(FITS)
        assert wall.evaluate(SMALLEST_TYPE) >= 19, f"question {number}"
    assert count >= 13  # the kinds of questions that there are
    axe_finds_nothing(wall)
    context.close()
