"""Find does what the page can do: on every page of a teacher each button is there by its words, and chosen there it is
pressed."""

import re
from collections import Counter

from playwright.sync_api import Browser, Page, expect

from . import screenshots

PAGES = (
    "/", "/classes", "/classes/{class}", "/bank", "/skills", "/materials", "/tests", "/tests/{test}", "/shelf",
    "/sittings", "/sittings/{sitting}", "/timetable", "/marking", "/marking/comments", "/marking/{sitting}/second",
    "/findings", "/findings/{sitting}", "/records", "/records/{class}", "/records/{class}/growth",
    "/records/{class}/rules", "/results/{sitting}", "/results/{sitting}/questions", "/people", "/account",
)  # fmt: skip


def numbers(page: Page) -> dict[str, int]:
    """Of a class, a test and a sitting of the demo school that is over."""
    sittings = page.request.get("/api/v1/sittings").json()
    (one,) = [s for s in sittings if s["title"] == "Electric circuits, unit check" and s["class_name"] == "8 Heron"]
    return {"class": one["class_id"], "test": one["test"], "sitting": one["id"]}


def buttons_of(page: Page) -> set[str]:
    """As a screen reader hears them: what can be pressed once on the page, and opens no menu."""
    heard = Counter[str]()
    for button in page.get_by_role("main").get_by_role("button").all():
        label = button.get_attribute("aria-label") or ""
        menu = button.get_attribute("aria-haspopup") == "menu"
        # A handle is held and moved, not pressed.
        if "arrow keys" in label or menu or not button.is_visible() or not button.is_enabled():
            continue
        name = label or button.evaluate(
            'one => { const c = one.cloneNode(true); c.querySelectorAll("kbd, svg").forEach(e => e.remove());'
            " return c.textContent }"
        )
        heard[" ".join(name.split())] += 1
    return {name for name, count in heard.items() if count == 1 and re.search(r"[^\W\d_]", name)}


def test_every_button_of_every_page_is_found_by_its_words(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP, base_url=demo_school).new_page()
    screenshots.sign_in(page, demo_school)
    known, buttons, missing = numbers(page), 0, []
    for path in PAGES:
        page.goto(path.format(**known))
        page.wait_for_load_state("networkidle")
        wanted = buttons_of(page)
        page.keyboard.press("Control+k")
        expect(page.get_by_placeholder("What you want to do")).to_be_focused()
        offered = {" ".join(words.split()) for words in page.get_by_role("option").all_inner_texts()}
        missing += [(path, name) for name in wanted if not any(words.startswith(name) for words in offered)]
        buttons += len(wanted)
        page.keyboard.press("Escape")
    assert missing == []
    assert buttons > 2 * len(PAGES), "there was something to find"


def test_what_is_found_is_done(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP, base_url=demo_school).new_page()
    screenshots.sign_in(page, demo_school)

    def find(words: str, option: str) -> None:
        page.keyboard.press("Control+k")
        page.get_by_placeholder("What you want to do").fill(words)
        page.get_by_role("option", name=option).first.click()

    page.goto("/tests")
    expect(page.get_by_role("link", name="Forces, end of topic")).to_be_visible()
    find("marks only", "Marks only")
    expect(page.get_by_role("dialog", name="Marks only")).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(f"/classes/{numbers(page)['class']}")
    expect(page.get_by_role("heading", level=1, name="8 Heron")).to_be_visible()
    find("put away", "Put the class away")
    expect(page.get_by_text("8 Heron is put away with its results.").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("◐ put away")).to_have_count(0)


def test_several_at_once_and_a_sort_that_stays(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP, base_url=demo_school).new_page()
    screenshots.sign_in(page, demo_school)
    page.goto("/tests")
    page.get_by_role("button", name="Several at once").click()
    for title in ("Explaining with energy", "Where does the current go?"):
        page.get_by_role("checkbox", name=f"Tick {title}").check()
    page.get_by_role("button", name="Put them away").click()
    expect(page.get_by_text("Put away: 2 tests.").first).to_be_visible()
    expect(page.get_by_role("link", name="Explaining with energy")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("link", name="Explaining with energy")).to_be_visible()
    page.get_by_label("Sorted by").select_option("By title")
    first = page.locator("main li a").first
    expect(first).to_have_text("Circuits, a bit of everything")
    page.goto("/classes")
    page.goto("/tests")
    expect(first).to_have_text("Circuits, a bit of everything")
    page.get_by_label("Find a test").fill("forces topic")
    expect(page.locator("main li")).to_have_count(1)
