"""Every screen of the demo school, light, dark and wide: axe-core finds nothing, nothing is cut off, and no page asks
another host."""

import re
from pathlib import Path

from playwright.sync_api import Browser, Page, ViewportSize, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .serving import free_port, school_in, start
from .test_any_width import looks_right

WIDE: ViewportSize = {"width": 1920, "height": 800}


def test_every_screen(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP, color_scheme="light").new_page()  # type: ignore[arg-type]
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto(demo_school)
    expect(page.get_by_label("Password")).to_be_visible()
    axe_finds_nothing(page)
    screenshots.sign_in(page, demo_school)
    for name, go in screenshots.VIEWS.items():
        go(page)
        if page.url.startswith(demo_school) and (head := page.locator("main header h1")).count():
            assert head.inner_text() in page.title(), name
        in_every_light_and_width(page, name)
        page.keyboard.press("Escape")
    for name in ("Classes", "Tests", "Sittings", "Findings"):
        screenshots.tab(page, name)
        expect(page).to_have_title(f"{name} · Verso Mark")
        in_every_light_and_width(page, name)
    for name, path in (("Records", "records"), ("Skills", "skills")):
        page.goto(f"{demo_school}/{path}")
        expect(page).to_have_title(f"{name} · Verso Mark")
        in_every_light_and_width(page, name)
    foreign = [url for url in asked if not url.startswith(demo_school) and not url.startswith(("data:", "blob:"))]
    assert foreign == []


def in_every_light_and_width(page: Page, name: str) -> None:
    """In the dark only colours differ, and on a large screen only places."""
    page.wait_for_load_state("networkidle")
    axe_finds_nothing(page)
    page.emulate_media(color_scheme="dark")
    axe_finds_nothing(page, ["color-contrast"])
    page.emulate_media(color_scheme="light")
    if name != "finder":  # a layer over the page covers it on purpose
        page.set_viewport_size(WIDE)
        looks_right(page, name)
        page.set_viewport_size(screenshots.LAPTOP)


def test_keys_lead_through_the_findings(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()
    screenshots.sign_in(page, demo_school)
    screenshots.findings(page)
    page.keyboard.press("j")
    expect(page.get_by_role("heading", name="The key is almost certainly wrong: look at B.")).to_be_visible()
    first = page.locator("article.border-s-iris").inner_text()
    page.keyboard.press("j")
    expect(page.locator("article.border-s-iris")).not_to_have_text(first)
    page.keyboard.press("k")
    expect(page.get_by_role("heading", name="The key is almost certainly wrong: look at B.")).to_be_visible()
    page.keyboard.press("w")
    expect(page.get_by_text("What to do", exact=True)).to_be_visible()
    page.keyboard.press("Control+k")
    page.keyboard.type("okafor")
    expect(page.get_by_role("option", name=re.compile("Wren Okafor"))).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1, name="Wren Okafor")).to_be_visible()


def choose(page: Page, place: int) -> None:
    page.locator("label:has(input[type=radio])").nth(place).click()
    expect(page.get_by_text("all answers kept")).to_be_visible()


def test_what_was_acknowledged_outlives_a_killed_server(browser: Browser, tmp_path: Path) -> None:
    """kill -9 in the middle of a sitting: what the student was told is kept is there after a new start."""
    school_in(tmp_path, demo=True)
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    server = start(tmp_path, port)
    try:
        teacher = browser.new_page()
        screenshots.sign_in(teacher, address)
        code, pass_phrase = screenshots.last_seat(teacher, address)
        student = browser.new_context(viewport=screenshots.PHONE).new_page()
        screenshots.join(student, address, code, pass_phrase)
        choose(student, 1)
        server.kill()
        server.wait()
        student.get_by_role("button", name="Next").click()
        student.locator("label:has(input[type=radio])").nth(2).click()
        expect(student.get_by_text("no connection: 1 kept here")).to_be_visible()
        server = start(tmp_path, port)
        expect(student.get_by_text("all answers kept")).to_be_visible(timeout=20_000)
        student.reload()
        student.get_by_role("button", name="All 8").click()
        for number, letter in ((1, "B"), (2, "C")):
            expect(
                student.get_by_role("button", name=re.compile(rf"Question {number}\s*: answered {letter}"))
            ).to_be_visible()
    finally:
        server.kill()
        server.wait()


def test_a_students_screens_in_the_dark(browser: Browser, demo_school: str) -> None:
    teacher = browser.new_page()
    screenshots.sign_in(teacher, demo_school)
    code, pass_phrase = screenshots.last_seat(teacher, demo_school)
    page = browser.new_context(viewport=screenshots.PHONE, color_scheme="dark").new_page()  # type: ignore[arg-type]
    page.goto(f"{demo_school}/join")
    expect(page.get_by_label("Your pass")).to_be_visible()
    axe_finds_nothing(page)
    screenshots.join(page, demo_school, code, pass_phrase)
    choose(page, 1)
    axe_finds_nothing(page)
    page.get_by_label("Come back to this one").click()
    page.get_by_role("button", name="All 8").click()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Hand in with 7 unanswered").click()
    expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()
    axe_finds_nothing(page)
