"""Accounts by clicks: a colleague is invited and comes in, guards the account with a second factor, leaves and hands
over; what is kept of a student is taken out and erased; the log tells it all."""

import io
import json
import zipfile
from pathlib import Path

import pyotp
from playwright.sync_api import Browser, Page, expect

from .conftest import axe_finds_nothing


def choose(page: Page, whose: str, what: str) -> None:
    page.get_by_role("button", name=f"What to do with the account of {whose}").click()
    page.get_by_role("menuitem", name=what).click()


def test_a_colleague_comes_guards_the_account_and_hands_over(
    teacher: Page, browser: Browser, demo_school: str, tmp_path: Path
) -> None:
    teacher.goto(f"{demo_school}/account")
    teacher.get_by_role("link", name="People of the school").click()
    teacher.get_by_role("button", name="Invite somebody…").click()
    teacher.get_by_label("Their name, as students see it").fill("தமிழ்ச்செல்வி Nagy-Kovács")
    teacher.get_by_label("Name they sign in with").fill("nagy")
    teacher.get_by_role("button", name="Invite", exact=True).click()
    code = teacher.locator("p.font-mono").inner_text()
    teacher.get_by_role("button", name="Done").click()
    expect(teacher.get_by_role("row", name="தமிழ்ச்செல்வி").get_by_text("invited")).to_be_visible()
    axe_finds_nothing(teacher)

    own = browser.new_context(viewport={"width": 390, "height": 780})
    page = own.new_page()
    page.goto(demo_school)
    page.get_by_role("link", name="I have a code, or no password").click()
    page.get_by_label("Name you sign in with").fill("nagy")
    page.get_by_label("Code").fill("aaaa-bbbb-cccc-dddd")
    page.get_by_label("New password").fill("a-long-word-7")
    page.get_by_role("button", name="Keep and sign in").click()
    expect(page.get_by_text("That code does not belong to this name")).to_be_visible()
    page.get_by_label("Code").fill(code)
    axe_finds_nothing(page)
    page.get_by_role("button", name="Keep and sign in").click()
    page.get_by_title("Your account").click()
    page.get_by_role("button", name="Turn on…").click()
    secret = "".join(page.locator("span.font-mono").inner_text().split())
    page.get_by_label("The six figures").fill(pyotp.TOTP(secret).now())
    page.get_by_role("button", name="Turn on", exact=True).click()
    spare = page.locator("ul.font-mono li").first.inner_text()
    page.get_by_role("button", name="I have them").click()
    expect(page.get_by_text("On: after the password six figures")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="sign out").click()
    page.get_by_label("Name you sign in with").fill("nagy")
    page.get_by_label("Password").fill("a-long-word-7")
    page.get_by_label("others use this device too").check()
    page.get_by_role("button", name="Sign in").click()
    page.get_by_label("Six figures of your authenticator").fill(spare)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_title("Your account").click()
    expect(page.get_by_text("shared device").first).to_be_visible()

    # Who keeps a classroom's accounts deactivates one: the other browser is out at its next step.
    choose(teacher, "தமிழ்ச்செல்வி Nagy-Kovács", "Deactivate…")
    teacher.get_by_label("Their classes, tests, questions and sittings").select_option(label="go to P. Varga")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Deactivate", exact=True).click()
    expect(teacher.get_by_text("Deactivated: 1")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    own.close()

    teacher.get_by_role("link", name="What is kept of students").click()
    teacher.get_by_label("Name or number").fill("okafor")
    with teacher.expect_download() as download:
        teacher.get_by_role("button", name="Everything of Wren Okafor as a file").click()
    packed = zipfile.ZipFile(io.BytesIO(download.value.path().read_bytes()))
    assert json.loads(packed.read("everything.json"))["student"] == "Wren Okafor"
    teacher.get_by_role("button", name="Erase Wren Okafor").click()
    teacher.get_by_label("Type: Wren Okafor").fill("Wren")
    teacher.get_by_role("button", name="Erase", exact=True).click()
    expect(teacher.get_by_text("Type the name exactly as it stands")).to_be_visible()
    teacher.get_by_label("Type: Wren Okafor").fill("Wren Okafor")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Erase", exact=True).click()
    expect(teacher.get_by_text("Nobody of that name or number.")).to_be_visible()
    teacher.goto(f"{demo_school}/people/log")
    for words in ("erased", "handed work over", "took a file out", "turned the second factor on"):
        expect(teacher.get_by_role("cell", name=words, exact=True).first).to_be_visible()
    axe_finds_nothing(teacher)
