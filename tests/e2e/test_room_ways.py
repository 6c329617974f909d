"""Other ways to answer in the room: cards before a camera, pads, and a name picked from the list."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserType, Page, expect

from versomark.stand_ins.camera import Classroom, write_video

from . import screenshots
from .conftest import axe_finds_nothing
from .serving import CHROMIUM, FLAGS
from .test_room import start

LETTERS = {1: "B", 2: "A", 3: "B", 4: "C", 5: "B", 6: "AB", 7: "D", 8: "B", 9: ""}
"""desk -> what the class in the film holds up: 6 is badly folded, 9 and the rest of the class hold up nothing."""


@pytest.fixture
def before_a_class(browser: Browser, tmp_path: Path) -> Iterator[Browser]:
    """A browser whose camera is a film of the simulated class, as the browser itself offers it for tests."""
    film = tmp_path / "class.mjpeg"
    room = Classroom(sorted(LETTERS), seed=4, wear=0.1)
    write_video(film, [room.frame(LETTERS, 1280, 720, at) for at in range(6)])
    kind: BrowserType = browser.browser_type
    fake = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
    launch = kind.launch(executable_path=CHROMIUM, args=[*FLAGS, *fake, f"--use-file-for-fake-video-capture={film}"])
    yield launch
    launch.close()


def inside(page: Page) -> dict[int, tuple[str, str]]:
    sitting = re.search(r"/sittings/(\d+)", page.url)
    assert sitting
    body = page.request.get(f"{page.url.split('/sittings')[0]}/api/v1/sittings/{sitting[1]}/room").json()
    return {line["desk"]: (line["said"], line["source"]) for line in body["inside"]}


def test_cards_are_read_through_the_camera_of_the_page(before_a_class: Browser, demo_school: str) -> None:
    console = before_a_class.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(console, demo_school)
    start(console)
    console.keyboard.press("c")
    expect(console.get_by_role("heading", name="The room through the camera")).to_be_visible()
    console.get_by_role("button", name="Ask the first question").click()
    console.get_by_role("button", name="Start the camera").click()
    expect(console.get_by_text("7 devices").or_(console.get_by_text("7 cards"))).to_be_visible(timeout=30_000)
    expect(console.get_by_role("img", name=re.compile(r"^\d+ cards in view$"))).to_be_visible()
    # Who is missing is named, who is badly folded is asked about, and the letters stand nowhere on the picture.
    missing = console.get_by_role("region", name="Who is missing")
    expect(missing.get_by_text("Still missing: 19")).to_be_visible()
    expect(missing.get_by_text("card shows A and B at once")).to_be_visible()
    axe_finds_nothing(console)
    assert inside(console) == {desk: (letter, "card") for desk, letter in LETTERS.items() if len(letter) == 1}
    missing.get_by_role("button", name=re.compile("^A for ")).click()
    expect(missing.get_by_text("To settle")).to_have_count(0)
    assert inside(console)[6] == ("A", "teacher")
    # Pictures taken with another device count as well; here of one card more.
    picture = Classroom([9], seed=1, wear=0).frame({9: "C"})
    console.get_by_role("button", name="Stop the camera").click()
    file = {"name": "class.jpg", "mimeType": "image/jpeg", "buffer": picture}
    console.get_by_label("Pictures of the class").set_input_files(files=file)  # type: ignore[arg-type]
    expect(missing.get_by_text("Still missing: 17")).to_be_visible()
    bad = {"name": "class.jpg", "mimeType": "image/jpeg", "buffer": picture[:400]}
    console.get_by_label("Pictures of the class").set_input_files(files=bad)  # type: ignore[arg-type]
    expect(console.get_by_role("alert")).to_contain_text("picture")
    console.keyboard.press(" ")
    expect(console.get_by_role("button", name="Go on collecting")).to_be_visible()


def test_pads_and_names(browser: Browser, teacher: Page) -> None:
    console = teacher
    wall = start(console)
    console.get_by_role("button", name="How they answer").click()
    dialog = console.get_by_role("dialog")
    expect(dialog.get_by_text("No receiver is connected.")).to_be_visible()
    dialog.get_by_label("They may pick their name").click()
    expect(dialog.get_by_label("They may pick their name")).to_be_checked()
    console.keyboard.press("Escape")
    address, code = console.url.split("/sittings")[0], wall.locator("strong").nth(1).inner_text()
    phone, second = (browser.new_context(viewport=screenshots.PHONE).new_page() for _ in range(2))  # type: ignore[arg-type]
    phone.goto(f"{address}/join?code={code}")
    expect(phone.get_by_role("group", name="Who are you?")).to_be_visible()
    axe_finds_nothing(phone)
    assert phone.evaluate("document.documentElement.scrollWidth <= innerWidth")
    phone.get_by_role("button", name="Ines A.").click()
    expect(phone.get_by_text("The first question comes up here.")).to_be_visible()
    second.goto(f"{address}/join?code={code}")
    expect(second.get_by_role("button", name="Ines A. is in")).to_be_disabled()

    # Whoever else comes has a pad.
    console.get_by_role("button", name="Bring in a practice class").click()
    console.get_by_role("button", name="With response pads").click()
    expect(console.get_by_text(re.compile("[12][0-9] here")).first).to_be_visible()
    console.get_by_role("button", name="How they answer").click()
    expect(dialog.get_by_text("Connected: practice.")).to_be_visible()
    expect(dialog.get_by_role("table", name="Response pads").get_by_text("now").first).to_be_visible()
    axe_finds_nothing(console)
    console.keyboard.press("Escape")
    console.keyboard.press("ArrowRight")
    phone.get_by_role("radio").nth(1).check(force=True)
    expect(console.get_by_text(re.compile(r"1 device.*pads"))).to_be_visible(timeout=20_000)
    sources = {source for _, source in inside(console).values()}
    assert sources == {"pad", "device"}
