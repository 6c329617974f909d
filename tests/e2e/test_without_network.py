"""A sitting that has begun needs no network: the wire to the server is cut at every step, and what was given in time is
with the teacher in the end."""

import re
from typing import Any

from playwright.sync_api import Browser, BrowserContext, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .test_student_seat import new_sitting
from .wire import wire_to

KEPT_AHEAD = """async () => {
  if (!navigator.serviceWorker.controller) return false;
  const page = await (await caches.open("verso-page")).match("/join");
  return page !== undefined && (await (await caches.open("verso-pictures")).keys()).length > 0;
}"""
NOTHING_LEFT = """async () => {
  const pictures = await (await caches.open("verso-pictures")).keys();
  const keys = Object.keys(localStorage).filter((key) => /given|outbox|handed/.test(key));
  return pictures.length + keys.length === 0;
}"""


def until(page: Page, promise: str) -> None:
    """Waits until this becomes true; Playwright takes a promise for a truth."""
    for _ in range(100):
        if page.evaluate(promise):
            return
        page.wait_for_timeout(100)
    raise AssertionError(promise)


def a_phone(browser: Browser) -> tuple[BrowserContext, Page]:
    context = browser.new_context(viewport=screenshots.PHONE)  # type: ignore[arg-type]
    return context, context.new_page()


def seat_of(teacher: Page, where: str, desk: int) -> dict[str, Any]:
    body = teacher.request.get(where.replace("/sittings/", "/api/v1/sittings/")).json()
    return next(seat for seat in body["list"] if seat["desk"] == desk)


def question(page: Page, number: int) -> None:
    page.get_by_role("button", name="All 14").click()
    page.get_by_role("listitem").get_by_role("button", name=re.compile(rf"^(Question )?{number}\b")).click()
    expect(page.get_by_text(f"Question {number} of 14")).to_be_visible()


def test_a_sitting_that_has_begun_needs_no_network(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school, "bit of everything")
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    with wire_to(demo_school) as wire:
        context, page = a_phone(browser)
        screenshots.join(page, wire.address, code, passes[0])
        expect(page.get_by_text("Question 1 of 14")).to_be_visible()
        page.locator("label:has(input[type=radio])").nth(1).click()
        expect(page.get_by_text("all answers kept")).to_be_visible()
        until(page, KEPT_AHEAD)

        wire.cut()
        for number in range(1, 14):
            expect(page.get_by_text(f"Question {number} of 14")).to_be_visible()
            # What a question shows was there before it was asked for.
            for picture in page.locator("main img").all():
                picture.scroll_into_view_if_needed()
                expect(picture).to_have_js_property("complete", True)
                assert picture.evaluate("picture => picture.naturalWidth") > 0
            if number == 2:
                page.locator("label:has(input[type=radio])").first.click()
            if number == 6:
                page.get_by_role("textbox").fill("ammeter")
            if number == 10:
                expect(page.locator(".katex").first).to_be_visible()
            page.get_by_role("button", name="Next").click()
        expect(page.get_by_text("no connection: 2 kept here")).to_be_visible()

        # Loaded anew, and in another tab after this one was closed: everything is there, the acknowledged answer too.
        page.reload()
        question(page, 6)
        expect(page.get_by_role("textbox")).to_have_value("ammeter")
        page.close()
        page = context.new_page()
        page.goto(f"{wire.address}/join")
        question(page, 1)
        expect(page.locator("input[type=radio]").nth(1)).to_be_checked()
        question(page, 11)
        expect(page.locator("main img")).to_have_js_property("complete", True)
        assert page.locator("main img").evaluate("picture => picture.naturalWidth") > 0

        # Handed in here, also after the page was loaded anew; one may still go on, since nobody has it yet.
        page.get_by_role("button", name="All 14").click()
        page.get_by_role("button", name=re.compile("Hand in with")).click()
        expect(page.get_by_role("heading", name="Handed in on this device.")).to_be_visible()
        axe_finds_nothing(page)
        page.get_by_role("button", name="Go on working").click()
        question(page, 1)
        expect(page.locator("input[type=radio]").nth(1)).to_be_checked()
        page.get_by_role("button", name="All 14").click()
        page.get_by_role("button", name=re.compile("Hand in with")).click()
        page.reload()
        expect(page.get_by_role("heading", name="Handed in on this device.")).to_be_visible()
        expect(page.get_by_text("What you did on 2 questions is on this device")).to_be_visible()

        # The teacher closes before the device is heard of again. What was given in time is there all the same.
        teacher.get_by_role("button", name="Close it…").click()
        teacher.get_by_role("dialog").get_by_role("button", name="Close it").click()
        expect(teacher.get_by_role("button", name="Open it again")).to_be_visible()
        assert seat_of(teacher, where, 1)["answered"] == 1
        wire.mend()
        expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()
        assert seat_of(teacher, where, 1)["answered"] == 3
        # No paper stays on a device that somebody else may use next.
        until(page, NOTHING_LEFT)
        context.close()


def test_time_that_runs_out_without_a_network_takes_nothing_and_a_fast_clock_takes_no_time(
    browser: Browser, demo_school: str, teacher: Page
) -> None:
    where, code, passes = new_sitting(teacher, demo_school, minutes=20)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    with wire_to(demo_school) as wire:
        context, page = a_phone(browser)
        page.clock.install()
        screenshots.join(page, wire.address, code, passes[1])
        expect(page.get_by_text("Question 1 of 20")).to_be_visible()
        page.clock.resume()
        wire.cut()
        page.locator("label:has(input[type=radio])").nth(1).click()
        page.clock.fast_forward("20:05")
        expect(page.get_by_role("heading", name="Your time is over.")).to_be_visible(timeout=30_000)
        expect(page.get_by_text("What you did on 1 question is on this device")).to_be_visible()
        axe_finds_nothing(page)
        # By the server's clock there is time left, and by its clock it goes.
        wire.mend()
        expect(page.get_by_text("Question 2 of 20")).to_be_visible(timeout=30_000)
        page.get_by_role("button", name="Back").click()
        expect(page.locator("input[type=radio]").nth(1)).to_be_checked()
        expect(page.get_by_text("all answers kept")).to_be_visible(timeout=30_000)
        context.close()


def test_a_teachers_page_comes_by_itself_after_an_outage(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    with wire_to(demo_school) as wire:
        screenshots.sign_in(page, wire.address)
        screenshots.tab(page, "Classes")
        expect(page.get_by_role("link", name="8 Tern").first).to_be_visible()
        wire.cut()
        # The part of the program that draws this page was never fetched.
        page.get_by_role("navigation").get_by_role("link", name="Records", exact=True).click()
        expect(page.get_by_text("The school's server cannot be reached just now.")).to_be_visible()
        axe_finds_nothing(page)
        wire.mend()
        expect(page.get_by_role("heading", name="Records", exact=True)).to_be_visible(timeout=30_000)
        expect(page.get_by_text("8 Tern").first).to_be_visible()


def test_both_sides_can_be_installed(demo_school: str, teacher: Page) -> None:
    for path, begins in (("", "/"), ("/join", "/join")):
        teacher.goto(f"{demo_school}{path}")
        session = teacher.context.new_cdp_session(teacher)
        manifest = session.send("Page.getAppManifest")
        assert manifest["errors"] == []
        assert f'"start_url": "{begins}"' in manifest["data"]
        # A browser that is tested keeps nothing, and says so; anything else it says would be ours.
        errors = {error["errorId"] for error in session.send("Page.getInstallabilityErrors")["installabilityErrors"]}
        assert errors <= {"in-incognito"}
