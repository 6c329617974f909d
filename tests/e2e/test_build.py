"""Setting up for years, with real clicks: a class from a messy spreadsheet; a test with every kind, printed and sat."""

import io
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pypdfium2
from openpyxl import Workbook
from PIL import Image, ImageDraw
from playwright.sync_api import Browser, Locator, Page, expect

from .conftest import axe_finds_nothing
from .screenshots import LAPTOP, PHONE, tab
from .test_main_journey import make_account, open_sitting

ROWS = [
    ["Bay School, printed in September"],
    [],
    ["No.", "Surname", "First name", "Student ID", "Set", "Extra time", "Large print"],
    [1, "Okafor", "Wren", "K1", "red", "25%", ""],
    [2, "Diallo", "Malik", "K2", "", "", "yes"],
    [3, "", "", "K3", "", "", ""],
    [4, "Rask", "Tobias", "K4", "red", "lots", ""],
]


def spreadsheet(rows: list[list[object]]) -> dict[str, object]:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return {"name": "list.xlsx", "mimeType": "application/octet-stream", "buffer": out.getvalue()}


def test_a_class_from_a_messy_spreadsheet(browser: Browser, empty_school: str) -> None:
    page = browser.new_context(viewport=LAPTOP).new_page()  # type: ignore[arg-type]
    make_account(page, empty_school)
    page.get_by_role("link", name="Make a class").click()
    page.get_by_label("Name of the class").fill("8 Heron")
    page.get_by_role("button", name="Make the class").click()
    page.get_by_role("button", name="bring in a file instead").click()
    page.get_by_label("File with the class list").set_input_files(files=spreadsheet(ROWS))  # type: ignore[arg-type]
    expect(page.get_by_text("2 new, 2 wrong")).to_be_visible()
    expect(page.get_by_text("Line 6, column C: There is no name on this line.")).to_be_visible()
    expect(page.get_by_text("Line 7, column F: “lots” is not a percentage from 0 to 200.")).to_be_visible()
    axe_finds_nothing(page)
    # A column taken for something else: the preview follows.
    page.get_by_label("Column E").select_option(label="tags")
    expect(page.get_by_role("button", name="Bring in 2 lines")).to_be_disabled()
    page.get_by_label("leave these lines out").check()
    page.get_by_role("button", name="Bring in 2 lines").click()
    expect(page.get_by_role("row", name=re.compile(r"1 Wren Okafor .*\+25% time, red"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile(r"2 Malik Diallo .*large print"))).to_be_visible()
    # The same again changes nothing; pasted from the spreadsheet, one is changed and one is new.
    page.get_by_role("button", name="Bring in a list").click()
    page.get_by_label("File with the class list").set_input_files(files=spreadsheet(ROWS[:5]))  # type: ignore[arg-type]
    page.get_by_label("Column E").select_option(label="tags")
    expect(page.get_by_text("2 as they are")).to_be_visible()
    expect(page.get_by_role("button", name="Nothing to bring in")).to_be_disabled()
    pasted = "Name\tStudent ID\nWren Ojo\tK1\nInes Almeida\tK9\n"
    page.get_by_label("Or paste from a spreadsheet").fill(pasted)
    page.get_by_label("Or paste from a spreadsheet").blur()
    expect(page.get_by_text("1 new, 1 changed")).to_be_visible()
    expect(page.get_by_text("± changes (family name: Okafor → Ojo)")).to_be_visible()
    page.get_by_role("button", name="Bring in 2 lines").click()
    expect(page.get_by_role("row", name=re.compile("3 Ines Almeida"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("1 Wren Ojo"))).to_be_visible()
    # A group of two, and a class list that comes out as it went in.
    page.get_by_role("button", name="new group").click()
    page.get_by_label("Name of the group").fill("Window table")
    page.get_by_role("checkbox", name="Ines A.").check()
    page.get_by_role("button", name="Keep the group").click()
    expect(page.get_by_text("1 student", exact=True)).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="More to do with this class").click()
    with page.expect_download() as sent:
        page.get_by_role("menuitem", name="The list as CSV").click()
    assert Path(sent.value.path()).read_text(encoding="utf-8-sig").splitlines()[1].startswith("1,Wren,Ojo,K1")


def drawing() -> dict[str, object]:
    image = Image.new("RGB", (600, 400), "white")
    ImageDraw.Draw(image).ellipse((250, 150, 350, 250), fill="black")
    out = io.BytesIO()
    image.save(out, "PNG")
    return {"name": "lamp.png", "mimeType": "image/png", "buffer": out.getvalue()}


def fill(page: Page, label: str, text: str) -> None:
    page.get_by_label(label, exact=True).fill(text)


def number(page: Page, label: str, value: str) -> None:
    fill(page, label, value)
    page.get_by_label(label, exact=True).press("Enter")


def options(page: Page) -> None:
    for letter, text in zip("ABCD", ["one", "two", "three", "four"], strict=True):
        fill(page, f"Option {letter}", text)


def single_choice(page: Page) -> None:
    options(page)
    page.get_by_label("B is the key").check(force=True)
    page.get_by_label("stays last").check()


def several_answers(page: Page) -> None:
    options(page)
    page.get_by_label("A is right").check(force=True)
    page.get_by_label("C is right").check(force=True)
    page.get_by_label("Part marks").select_option("right_minus_wrong")


def true_false(page: Page) -> None:
    page.get_by_label("T is the key").check(force=True)


def numeric(page: Page) -> None:
    number(page, "The right value", "0.5")
    page.get_by_label("Students write").select_option("accepted")
    fill(page, "Unit of the right value", "A")
    page.get_by_role("button", name="Add a range").click()
    number(page, "Range 1 from", "2")
    number(page, "Range 1 to", "2")
    fill(page, "What range 1 shows", "resistance is current over voltage")


def short_text(page: Page) -> None:
    fill(page, "Accepted answers, one a line", "ammeter")


def gaps(page: Page) -> None:
    fill(page, "The text with its gaps", "First [a] then [b].")
    fill(page, "Accepted answers of gap a, one a line", "this")
    page.get_by_role("group", name="Gap b").get_by_role("button", name="give a list to pick from").click()
    for at, word in enumerate(["that", "those", "these"], start=1):
        fill(page, f"Gap b, word {at}", word)
    page.get_by_role("group", name="Gap b").get_by_label("1 is the key").check(force=True)


def matching(page: Page) -> None:
    for letter, text in zip("ABCD", ["volt", "ampere", "ohm", "watt"], strict=True):
        fill(page, f"Choice {letter}", text)
    for row, text in enumerate(["voltage", "current", "resistance"], start=1):
        fill(page, f"Row {row}", text)
        page.get_by_label(f"Partner of row {row}").select_option(index=row)


def ordering(page: Page) -> None:
    for at in range(1, 5):
        fill(page, f"Entry {at}", f"step {at}")


def expression(page: Page) -> None:
    fill(page, "The key", "R*S/(R+S)")


def picture_point(page: Page) -> None:
    page.get_by_label("Choose the picture").set_input_files(files=drawing())  # type: ignore[arg-type]
    fill(page, "What the picture shows", "a dot")
    page.get_by_role("button", name="Add a region in the middle").click()


def by_rubric(page: Page) -> None:
    fill(page, "Name of criterion 1", "The idea")


BUILD: dict[str, Callable[[Page], None]] = {
    "Single choice": single_choice,
    "Several answers": several_answers,
    "True or false": true_false,
    "Numeric": numeric,
    "Short text": short_text,
    "Gaps in a text": gaps,
    "Matching": matching,
    "Ordering": ordering,
    "Algebraic expression": expression,
    "Point on a picture": picture_point,
    "Extended answer": by_rubric,
    "File to hand in": by_rubric,
    "Performance": by_rubric,
}
STEM = "Here is a question of the kind {kind}, with $x^2$ in it."


def write_every_kind(page: Page) -> None:
    tab(page, "Bank")
    for kind, build in BUILD.items():
        page.keyboard.press("n")
        page.get_by_role("menuitem", name=kind).click()
        stem = page.get_by_label(re.compile("^(Question|Statement|What to do)$")).first
        expect(stem).to_have_text("")
        stem.fill(STEM.format(kind=kind.lower()))
        build(page)
        expect(page.get_by_text("Before it can stand in a test")).to_be_hidden()
        expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
        axe_finds_nothing(page)
        page.get_by_role("heading", name="Bank").click()


def test_every_kind_is_written_frozen_in_two_forms_printed_and_sat(
    browser: Browser, empty_school: str, tmp_path: Path
) -> None:
    page = browser.new_context(viewport=LAPTOP).new_page()  # type: ignore[arg-type]
    make_account(page, empty_school)
    page.get_by_role("link", name="Make a class").click()
    page.get_by_label("Name of the class").fill("8 Heron")
    page.get_by_role("button", name="Make the class").click()
    page.get_by_label("Names, one a line").fill("Ada Bright\nBen Okri\nCleo Martin")
    page.get_by_role("button", name="Add 3 students").click()
    expect(page.get_by_role("row")).to_have_count(4)
    cells = [row.get_by_role("cell").all_inner_texts() for row in page.get_by_role("row").all()[1:]]
    write_every_kind(page)

    tab(page, "Tests")
    page.keyboard.press("n")
    page.get_by_label("Title, as students see it").fill("Everything")
    page.get_by_role("button", name="Choose its questions").click()
    for kind in BUILD:
        page.get_by_role("button", name=re.compile(f"Put in: .*kind {kind.lower()},")).click()
    page.get_by_role("radio", name="Plan").click()
    page.get_by_label("Forms").select_option("2")
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Freeze an edition").click()
    expect(page.get_by_text("Edition 1 is frozen").first).to_be_visible()
    expect(page.get_by_text("forms A, B")).to_be_visible()
    printed_pages_are_whole(page, empty_school)

    code = open_sitting(page)
    sit_every_kind(browser, empty_school, code, cells[1][2], tmp_path)
    page.get_by_role("button", name="Close it…").click()
    page.get_by_role("dialog").get_by_role("button", name="Close it").click()
    page.get_by_role("link", name="Findings").last.click()
    # Everything with a key was answered rightly, in form B, whatever the order.
    marks = sum((1, 2, 1, 1, 1, 2, 3, 2, 1, 1))
    expect(page.get_by_role("button", name=f"mean {marks}.0 of {marks}")).to_be_visible()
    expect(page.get_by_text("Waiting for 1 answer to be marked").first).to_be_visible()
    axe_finds_nothing(page)


def printed_pages_are_whole(page: Page, address: str) -> None:
    """The booklet's pages as pictures and as text: nothing runs off a page, no question is split from its options."""
    edition = page.request.get(f"{address}/api/v1/editions").json()[0]["id"]
    texts = {}
    for what in ("booklet", "large-24", "guide"):
        for form in "AB":
            reply = page.request.get(f"{address}/api/v1/editions/{edition}/print/{what}?form={form}")
            assert (reply.status, reply.headers["content-type"]) == (200, "application/pdf")
            document = pypdfium2.PdfDocument(reply.body())
            texts_of = (document[at].get_textpage().get_text_range() for at in range(len(document)))
            pages = [" ".join(text.split()) for text in texts_of]
            texts[what, form] = " ".join(pages)
            for at in range(len(document)):
                picture = np.asarray(document[at].render(scale=0.5).to_pil().convert("L"))
                ink = picture < 128
                # Grey counts too: a last page may hold little.
                assert (picture < 225).any(), (what, form, at)
                assert not ink[:, :12].any(), (what, form, at)  # margins stay free
                assert not ink[:, -12:].any(), (what, form, at)
            whole = [text for text in pages if "kind single choice" in text]
            assert len(whole) == 1
            assert all(word in whole[0] for word in ("one", "two", "three", "four"))
    assert texts["booklet", "A"] != texts["booklet", "B"]
    assert "Key" not in texts["booklet", "A"]
    assert "0.5 A" in texts["guide", "A"]
    assert "resistance is current over voltage" in texts["guide", "A"]


def sit_every_kind(browser: Browser, address: str, code: str, pass_phrase: str, folder: Path) -> None:
    """Ben, at desk 2, has form B: he goes by what the questions say."""
    page = browser.new_context(viewport=PHONE).new_page()  # type: ignore[arg-type]
    page.goto(f"{address}/join")
    page.get_by_label("Code on the board").fill(code)
    page.get_by_label("Your pass").fill(pass_phrase)
    page.get_by_role("button", name="Come in").click()
    essay = folder / "drawing.pdf"
    essay.write_bytes(b"%PDF-1.4 a drawing")
    for at in range(1, len(BUILD) + 1):
        expect(page.get_by_text(f"Question {at} of {len(BUILD)}")).to_be_visible()
        expect(page.locator(".katex").first).to_be_visible()
        words = page.locator("legend").inner_text()
        kind = next(kind for kind in BUILD if f"kind {kind.lower()}," in words)
        answer(page, kind, essay)
        axe_finds_nothing(page)
        page.get_by_role("button", name="Review" if at == len(BUILD) else "Next").click()
    expect(page.get_by_text("Every question has an answer.")).to_be_visible()
    expect(page.get_by_text("all answers kept")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="All 13").click()
    expect(page.get_by_text("Every question has an answer.")).to_be_visible()
    page.get_by_role("button", name="Hand in", exact=True).click()
    expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()


def pick(page: Page, text: str) -> None:
    page.locator("label").filter(has_text=re.compile(rf"^[A-Z]\s*{text}$")).click()


def answer(page: Page, kind: str, essay: Path) -> None:
    def typed(label: str, text: str) -> Locator:
        field = page.get_by_label(label)
        field.fill(text)
        return field

    match kind:
        case "Single choice":
            pick(page, "two")
        case "Several answers":
            pick(page, "one")
            pick(page, "three")
        case "True or false":
            pick(page, "True")
        case "Numeric":
            typed("Your answer, a number", "500 mA")
        case "Short text":
            typed("Your answer", "Ammeter")
        case "Gaps in a text":
            typed("Gap 1 of 2", "this").blur()
            page.get_by_label("Gap 2 of 2").select_option(label="that")
        case "Matching":
            for row, unit in (("voltage", "volt"), ("current", "ampere"), ("resistance", "ohm")):
                choice = page.get_by_label(f"Goes with: {row}")
                choice.select_option(label=choice.locator("option", has_text=unit).inner_text())
        case "Ordering":
            for place in range(1, 5):
                while page.get_by_role("listitem").nth(place - 1).inner_text().find(f"step {place}") < 0:
                    page.get_by_role("button", name=f"Move up: step {place}").click()
            if page.get_by_role("button", name="This order is right").is_visible():
                page.get_by_role("button", name="This order is right").click()
        case "Algebraic expression":
            typed("Your answer, an expression", "1/(1/R + 1/S)")
        case "Point on a picture":
            page.get_by_role("button", name=re.compile("a dot")).click()
        case "Extended answer":
            typed("Your answer", "Because the current is the same <everywhere>.\n\nNothing is used up.")
            expect(page.get_by_text("11 words")).to_be_visible()
        case "File to hand in":
            page.get_by_label("Choose a file").set_input_files(
                files={"name": "evil.exe", "mimeType": "application/pdf", "buffer": b"MZ"}
            )
            expect(page.get_by_role("alert")).to_contain_text("evil.exe is not taken here")
            page.get_by_label("Choose a file").set_input_files(essay)
            expect(page.get_by_text("drawing.pdf")).to_be_visible()
        case "Performance":
            expect(page.get_by_text("your teacher listens or watches")).to_be_visible()
