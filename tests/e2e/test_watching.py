"""Marking while students speak: several on one screen, a watch, sound, a photograph, no connection, a phone."""

import re
import subprocess
import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .handed_in import photo
from .serving import ROOT, environment
from .test_marking_trust import Machine, all_sent, machine
from .test_records_and_reports import class_of, own_page

__all__ = ["machine"]


def going_to_speak(data: Path) -> int:
    output = subprocess.run(
        [sys.executable, "-m", "tests.e2e.spoken", "9 Gannet"],
        cwd=ROOT, env=environment(data), check=True, capture_output=True, text=True,
    )  # fmt: skip
    return int(output.stdout.split()[-1])


def watch(page: Page, *names: str) -> None:
    students = page.get_by_role("navigation", name="Students")
    for name in names:
        students.get_by_role("button", name=re.compile(name)).click()


def test_three_speak_and_are_marked_with_keys_a_watch_and_sound(browser: Browser, machine: Machine) -> None:
    sitting = going_to_speak(machine.data)
    context = browser.new_context(viewport=screenshots.LAPTOP, permissions=["microphone"])  # type: ignore[arg-type]
    page = context.new_page()
    screenshots.sign_in(page, machine.address)
    page.goto(f"{machine.address}/sittings/{sitting}")
    page.get_by_role("link", name="Mark while watching").click()
    expect(page.get_by_text("Choose whom you watch")).to_be_visible()
    watch(page, "Ada", "தமிழ்", "Søren")
    ada, tamil = (page.get_by_role("region", name=re.compile(f"^{name}")) for name in ("Ada", "தமிழ்"))

    # The watch goes on over a reload; digits mark whoever is in hand, and a sound is kept and can be heard.
    ada.get_by_role("button", name="Start the watch").click()
    expect(ada.get_by_role("timer")).not_to_have_text("0:00")
    page.reload()
    watch(page, "Ada", "தமிழ்", "Søren")
    expect(ada.get_by_role("button", name="Stop the watch")).to_be_visible()
    ada.get_by_role("button", name="Stop the watch").click()
    for key in ("2", "1", "2"):
        page.keyboard.press(key)
    page.keyboard.press("Enter")
    expect(ada.get_by_role("button", name="Kept")).to_be_disabled()
    ada.get_by_role("button", name="Record sound").click()
    expect(ada.get_by_text("The microphone is on.")).to_be_visible()
    page.wait_for_timeout(1_200)
    ada.get_by_role("button", name="Stop recording").click()
    expect(ada.locator("audio")).to_have_count(1)
    heard = ada.locator("audio").evaluate(
        "async audio => { audio.muted = true; await audio.play(); return audio.readyState }"
    )
    assert heard >= 2
    axe_finds_nothing(page)

    # A button that was reached by the Tab key takes Enter itself.
    page.keyboard.press("ArrowRight")
    tamil.get_by_label("Points for What was found").focus()
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Enter")
    expect(tamil.get_by_role("button", name="Stop the watch")).to_be_visible()

    # Without a connection nothing is lost: a mark and a photograph wait in the browser, over a reload too.
    context.set_offline(True)
    tamil.get_by_role("button", name=re.compile("^3")).click()
    for name in ("Speaks freely", "Answers questions"):
        tamil.get_by_label(f"Points for {name}").fill("2")
        tamil.get_by_label(f"Points for {name}").press("Tab")
    tamil.get_by_role("button", name="Keep").click()
    picture = {"name": "pose.jpg", "mimeType": "image/jpeg", "buffer": photo()}
    tamil.get_by_label("Photograph or file of").set_input_files([picture])  # type: ignore[list-item]
    expect(tamil.get_by_text(re.compile("pose.jpg: in this browser"))).to_be_visible()
    context.set_offline(False)
    page.reload()
    watch(page, "தமிழ்")
    expect(tamil.get_by_role("img", name="pose.jpg")).to_be_visible()
    expect(tamil.get_by_role("button", name="Kept")).to_be_visible()
    all_sent(page)

    # At the desk what was kept of it is heard and seen.
    page.goto(f"{machine.address}/sittings/{sitting}/watching")
    page.get_by_role("link", name="Marking desk").click()
    expect(page.get_by_text("Marked while it was done; this was kept of it.")).to_be_visible()
    expect(page.locator("audio")).to_have_count(1)
    context.close()

    phone = browser.new_context(viewport=screenshots.PHONE, has_touch=True, is_mobile=True)  # type: ignore[arg-type]
    page = phone.new_page()
    screenshots.sign_in(page, machine.address)
    page.goto(f"{machine.address}/sittings/{sitting}/watching")
    watch(page, "Søren")
    page.get_by_role("button", name=re.compile("^1")).tap()
    axe_finds_nothing(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390

    # Whoever spoke hears it on their own page, once results are released.
    token = next(cookie["value"] for cookie in phone.cookies() if cookie["name"] == "verso_csrf")
    headers = {"X-Verso-Csrf": token, "Referer": machine.address}
    base = f"{machine.address}/api/v1/sittings/{sitting}"
    assert page.request.post(f"{base}/steps/close", headers=headers).ok
    shown = {"marks": True, "answers": True}
    assert page.request.put(f"{base}/results/release", data=shown, headers=headers).ok
    link, passes = class_of(page, machine.address, "9 Gannet")
    phone.close()
    own = own_page(browser, machine.address, link, passes["Ada L."])
    own.get_by_role("button", name=re.compile("See your result")).click()
    expect(own.get_by_text("Kept of what you showed")).to_be_visible()
    heard = own.locator("audio").evaluate(
        "async audio => { audio.muted = true; await audio.play(); return audio.readyState }"
    )
    assert heard >= 2
    axe_finds_nothing(own)
    own.context.close()
