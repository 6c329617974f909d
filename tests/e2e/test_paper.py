"""From the printer to the findings, as a teacher goes: print, scan, drop the file, settle what is doubtful, look."""

import io
import re
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw
from playwright.sync_api import Browser, Page, expect

from versomark.core.sheets.sheet_map import SheetMap
from versomark.stand_ins.copier import Settings, scan_sheets, write_pdf

from .conftest import axe_finds_nothing
from .screenshots import PAPER, PHONE, sheets, sign_in, tab
from .test_any_width import looks_right

COPIER = Settings(0.3, "copier", 200, 85, ())
PX = 200 / 25.4


def scan_of_class(page: Page, address: str, folder: Path) -> tuple[bytes, SheetMap]:
    """What the copier makes of the sheets just printed: everyone answers B to everything, three fill a second circle
    in the first question, the last student is away; a page of another test lies among them."""
    paper = page.request.get(
        address + re.sub(r".*/sittings/(\d+)/paper", r"/api/v1/sittings/\1/paper", page.url)
    ).json()
    batch = f"{address}/api/v1/paper/batches/{paper['batches'][0]['id']}"
    (folder / "sheets.pdf").write_bytes(page.request.get(f"{batch}/sheets.pdf").body())
    sheet_map = SheetMap.model_validate_json(page.request.get(f"{batch}/map.json").body())
    desks = [str(sheet.student) for sheet in sheet_map.sheets if sheet.student][:-1]
    everyone = {
        desk: {item.id: "T" if item.kind == "true-false" else "B" for item in sheet_map.items} for desk in desks
    }
    pages = list(scan_sheets(folder / "sheets.pdf", sheet_map, everyone, 1, 0.0, Settings(0, "copier", 200, 90, ())))
    for at in range(3):
        pages[at] = second_mark(pages[at], sheet_map, at)
    foreign = Image.new("L", (1654, 2339), 255)
    ImageDraw.Draw(foreign).multiline_text((200, 200), "Minutes of the meeting\n" * 40, fill=0, font_size=30)
    write_pdf([*pages, np.array(foreign)], COPIER, folder / "scan.pdf")
    return (folder / "scan.pdf").read_bytes(), sheet_map


def second_mark(scan: np.ndarray, sheet_map: SheetMap, at: int) -> np.ndarray:  # type: ignore[type-arg]
    """Another circle of the first question filled too, where the feeder put the page."""
    first = sheet_map.sheets[at].bubbles[0].item
    bubble = next(bubble for bubble in sheet_map.sheets[at].bubbles if (bubble.item, bubble.option) == (first, "D"))
    from versomark.core.sheets.finding import Frame, Picture, apply, find_marks, lay

    way = lay(find_marks(Picture(scan)), [Frame.of(sheet_map)])[0].to_pixels
    x, y = apply(way, np.array([[bubble.x_mm, bubble.y_mm]]))[0]
    picture, r = Image.fromarray(scan), 0.75 * bubble.r_mm * PX
    ImageDraw.Draw(picture).ellipse([x - r, y - r, x + r, y + r], fill=60)
    return np.array(picture)


def drop(page: Page, name: str, data: bytes) -> None:
    """A file let go over the page, as from a folder of the computer."""
    page.evaluate(
        """([name, text]) => {
          const bytes = Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));
          const carried = new DataTransfer();
          carried.items.add(new File([bytes], name, { type: "application/pdf" }));
          const place = [...document.querySelectorAll("div")].filter((e) => e.className.includes("border-dashed"))[0];
          for (const type of ["dragover", "drop"])
            place.dispatchEvent(new DragEvent(type, { dataTransfer: carried, bubbles: true, cancelable: true }));
        }""",
        [name, __import__("base64").b64encode(data).decode()],
    )


def plan_sitting(page: Page, address: str) -> None:
    editions = page.request.get(f"{address}/api/v1/editions").json()
    plan = {
        "edition": next(edition["id"] for edition in editions if edition["title"] == "Electric circuits, unit check")
    }
    plan["class_id"] = page.request.get(f"{address}/api/v1/classes").json()[0]["id"]
    token = next(cookie["value"] for cookie in page.context.cookies() if cookie["name"] == "verso_csrf")
    assert page.request.post(f"{address}/api/v1/sittings", data=plan, headers={"X-Verso-Csrf": token}).ok
    # Planned past the page's back: it is opened anew.
    page.goto(address)


def test_the_screens_of_paper_in_the_dark_on_a_phone(browser: Browser, demo_school: str) -> None:
    page = browser.new_context(viewport=PHONE, color_scheme="dark").new_page()  # type: ignore[arg-type]
    sign_in(page, demo_school)
    for name, go in PAPER.items():
        go(page)
        axe_finds_nothing(page)
        looks_right(page, name)


def test_print_scan_drop_settle_and_see_the_findings(teacher: Page, demo_school: str, tmp_path: Path) -> None:
    page = teacher
    plan_sitting(page, demo_school)
    sheets(page)
    expect(page.get_by_text("26 sheets").or_(page.get_by_text("24 sheets"))).to_be_visible()
    axe_finds_nothing(page)
    sitting = page.url.split("/")[-2]
    scan, sheet_map = scan_of_class(page, demo_school, tmp_path)
    drop(page, "monday.pdf", scan)
    expect(page.get_by_role("heading", name="monday.pdf")).to_be_visible()
    expect(page.get_by_text(re.compile(r"3 places in doubt, 1 student missing"))).to_be_visible(timeout=60_000)
    expect(page.get_by_text("of another test, or none of ours")).to_be_visible()
    axe_finds_nothing(page)
    looks_right(page, "what became of a scan")

    # Partial results stand meanwhile and say so, with the way to the places that wait.
    page.get_by_role("link", name="Settle them").click()
    expect(page.get_by_text("1 of 3")).to_be_visible()
    expect(page.get_by_text("marks at B and D")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("as scanned"))).to_be_visible()
    axe_finds_nothing(page)
    looks_right(page, "a place to settle")
    page.keyboard.press("d")
    expect(page.get_by_text("1 of 2")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_text("1 of 1")).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_text("1 of 2")).to_be_visible()
    page.keyboard.press("n")
    expect(page.get_by_text("1 of 1")).to_be_visible()
    page.keyboard.press("b")
    expect(page.get_by_text("All settled.")).to_be_visible()
    page.get_by_role("link", name="Read the findings").click()
    students = len({sheet.student for sheet in sheet_map.sheets if sheet.student}) - 1
    expect(page.get_by_text(f"partial: {students} of {students + 1} handed in")).to_be_visible()

    # Any reading can be corrected from the student's own sheet; who said so is kept, and it can be taken back.
    page.goto(f"{demo_school}/sittings/{sitting}")
    page.get_by_role("link", name="Answer sheets").click()
    page.get_by_role("main").get_by_role("table").get_by_role("link").nth(4).click()
    expect(page.get_by_role("table", name="Answers on this page")).to_be_visible()
    axe_finds_nothing(page)
    looks_right(page, "a student's sheet")
    page.get_by_role("button", name="Correct question 2", exact=True).click()
    page.keyboard.press("n")
    line = page.get_by_role("row", name=re.compile(r"^2 –"))
    expect(line).to_contain_text("O. Brandt")
    line.get_by_role("button", name="take back").click()
    expect(page.get_by_text("O. Brandt,")).to_have_count(0)


def test_a_rehearsal_and_a_bad_file(teacher: Page, demo_school: str) -> None:
    page = teacher
    tab(page, "Sittings")
    page.get_by_role("link", name="Scan inbox").click()
    bytes_io = io.BytesIO()
    Image.new("1", (16, 16)).save(bytes_io, "PNG")
    for name, data, words in (("empty.pdf", b"", "The file is empty"), ("sheets.zip", b"PK\x03\x04", "zip file")):
        page.locator("input[type=file]").set_input_files({"name": name, "mimeType": "application/pdf", "buffer": data})
        expect(page.get_by_role("heading", name=name)).to_be_visible()
        expect(page.get_by_text(words).last).to_be_visible(timeout=30_000)
    plan_sitting(page, demo_school)
    sheets(page)
    page.get_by_label("How rough").select_option("new copier, neat hands")
    page.get_by_role("button", name="Rehearse a scan").last.click()
    expect(page.get_by_role("heading", name=re.compile("^Rehearsal"))).to_be_visible(timeout=60_000)
    expect(page.get_by_text(re.compile(r"\d+ pages clear"))).to_be_visible(timeout=60_000)
