"""A pen on pictures of answers: by mouse, stylus and keys, without a connection, and as its student sees it."""

import re
import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .serving import ROOT, environment
from .test_marking_trust import Machine, all_sent, machine
from .test_marks_only import own_result

__all__ = ["machine"]


def with_files(data: Path) -> int:
    """A sitting whose students handed in two files each."""
    output = subprocess.run(
        [sys.executable, "-m", "tests.e2e.handed_in", "9 Gannet"],
        cwd=ROOT, env=environment(data), check=True, capture_output=True, text=True,
    )  # fmt: skip
    return int(output.stdout.split()[-1])


def draw(page: Page, picture: Locator, *shares: tuple[float, float]) -> None:
    box = picture.bounding_box()
    assert box is not None
    places = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in shares]
    page.mouse.move(*places[0])
    page.mouse.down()
    for place in places[1:]:
        page.mouse.move(*place, steps=4)
    page.mouse.up()


def test_a_pen_writes_moves_undoes_and_is_seen_where_it_wrote(browser: Browser, machine: Machine) -> None:
    sitting = with_files(machine.data)
    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    page = context.new_page()
    screenshots.sign_in(page, machine.address)
    page.goto(f"{machine.address}/marking/{sitting}")
    picture = page.get_by_role("group", name="report.pdf, page 1")
    picture.locator("img").wait_for()
    picture.scroll_into_view_if_needed()
    page.mouse.move(400, 500)
    page.mouse.wheel(0, -200)
    remarks = page.get_by_role("list", name="Remarks")

    # A line by the mouse; a stylus that is pressed harder draws a wider one, and the palm beside it draws nothing.
    page.keyboard.press("p")
    draw(page, picture, (0.2, 0.3), (0.3, 0.35), (0.5, 0.3))
    expect(remarks.get_by_text("One line drawn with the pen")).to_be_visible()
    devtools = context.new_cdp_session(page)
    box = picture.bounding_box()
    assert box is not None
    x, y = box["x"] + 0.3 * box["width"], box["y"] + 0.45 * box["height"]
    for at, kind in enumerate(("mousePressed", *["mouseMoved"] * 8, "mouseReleased")):
        force = 0.2 + 0.08 * at
        devtools.send(
            "Input.dispatchMouseEvent",
            {"type": kind, "x": x + 12 * at, "y": y, "button": "left", "buttons": 1, "clickCount": 1,
             "pointerType": "pen", "force": force},
        )  # fmt: skip
    expect(remarks.get_by_text("2 lines drawn with the pen")).to_be_visible()
    widths = picture.locator("svg path").evaluate_all("all => all.map(one => one.getAttribute('stroke-width'))")
    assert len(set(widths)) > 1, widths
    devtools.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y + 60}]})
    devtools.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [{"x": x + 60, "y": y + 60}]})
    devtools.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(remarks.get_by_text("2 lines drawn with the pen")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(remarks.get_by_text("One line drawn with the pen")).to_be_visible()
    # The arrows go on to the next answer, also of a hand that has just drawn.
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name=re.compile("^02"))).to_have_attribute("aria-current", "true")
    page.keyboard.press("ArrowLeft")
    expect(remarks.get_by_text("One line drawn with the pen")).to_be_visible()

    # A tick that belongs to a criterion, with the keys alone.
    page.get_by_role("combobox", name="What it belongs to").select_option("Reasoning")
    page.keyboard.press("t")
    picture.focus()
    for key in ("ArrowRight", "ArrowDown", "ArrowDown", "Enter"):
        page.keyboard.press(key)
    expect(remarks.get_by_text("a tick · Reasoning")).to_be_visible()

    all_sent(page)
    # Without a connection: words, a stamp, a move, an undo. All of it is there after the page is loaded again.
    context.set_offline(True)
    page.keyboard.press("w")
    draw(page, picture, (0.6, 0.5))
    page.get_by_label("Words to write there").fill("Which wire? எது?")
    page.keyboard.press("Enter")
    expect(remarks.get_by_text("Which wire? எது?")).to_be_visible()
    page.keyboard.press("m")
    draw(page, picture, (0.62, 0.51), (0.4, 0.6))
    page.keyboard.press("x")
    draw(page, picture, (0.8, 0.8))
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Not sent yet: one thing that you put on this answer.")).to_be_visible()
    context.set_offline(False)
    all_sent(page)
    page.reload()
    expect(remarks.get_by_role("listitem")).to_have_count(3)
    expect(remarks.get_by_text("a cross")).to_have_count(0)
    words = picture.get_by_text("Which wire? எது?").bounding_box()
    now = picture.bounding_box()
    assert words is not None
    assert now is not None
    assert (words["x"] - now["x"]) / now["width"] == pytest.approx(0.38, abs=0.03)
    axe_finds_nothing(page)

    # A frame with a note, and what stood there before it.
    for key in ("4", "2", "1", "Enter"):
        page.keyboard.press(key)
    all_sent(page)
    page.keyboard.press("ArrowLeft")
    picture.locator("img").wait_for()
    page.keyboard.press("r")
    draw(page, picture, (0.08, 0.2), (0.5, 0.3))
    page.keyboard.press("n")
    page.keyboard.type("All of them at one temperature?")
    page.keyboard.press("Enter")
    expect(remarks.get_by_text("All of them at one temperature?")).to_be_visible()
    for key in ("4", "3", "1", "Enter"):
        page.keyboard.press(key)
    all_sent(page)
    page.keyboard.press("ArrowLeft")
    expect(remarks.get_by_role("listitem")).to_have_count(4)
    earlier = page.get_by_role("combobox", name="What stood on it")
    earlier.select_option(earlier.get_by_role("option").last.get_attribute("value"))
    expect(remarks.get_by_role("listitem")).to_have_count(3)

    # Its student, on a phone, once it is released.
    page.goto(f"{machine.address}/results/{sitting}")
    page.get_by_role("button", name="Release…").click()
    page.get_by_role("button", name="Release to all").click()
    expect(page.get_by_text("released to all")).to_be_visible()
    phone = own_result(browser, page, "Ada L.", "9 Gannet", "Report on a wire")
    seen = phone.get_by_role("img", name="Your answer, with what your teacher put on it")
    seen.scroll_into_view_if_needed()
    expect(phone.locator("figure svg path").first).to_be_visible()
    expect(phone.get_by_text("All of them at one temperature?")).to_be_visible()
    axe_finds_nothing(phone)
    phone.context.close()
    context.close()
