"""From findings to each student and to the year, by real clicks: a group from a shared idea sits the next test, results
are released and read, the parents' PDF, records with terms and a scale, one to one, materials, letters."""

import re
from pathlib import Path

import pypdfium2
from playwright.sync_api import Browser, Page, expect
from python_calamine import CalamineWorkbook

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import PHONE, tab
from .test_results_and_looks import look, saved


def record_of(page: Page, name: str) -> None:
    tab(page, "Records")
    page.get_by_role("main").get_by_role("link", name=name, exact=True).click()
    expect(page.get_by_role("heading", level=1, name=f"Record of {name}")).to_be_visible()


def class_of(page: Page, address: str, name: str) -> tuple[str, dict[str, str]]:
    """The link of a class, and the pass of each of its students by short name."""
    listed = page.request.get(f"{address}/api/v1/classes").json()
    number = next(entry["id"] for entry in listed if entry["name"] == name)
    body = page.request.get(f"{address}/api/v1/classes/{number}").json()
    return body["link"], {entry["short_name"]: entry["pass_phrase"] for entry in body["list"]}


def own_page(browser: Browser, address: str, link: str, pass_phrase: str) -> Page:
    page = browser.new_context(viewport=PHONE).new_page()  # type: ignore[arg-type]
    page.goto(f"{address}/mine/{link}")
    page.get_by_label("Your pass").fill(pass_phrase)
    page.get_by_role("button", name="Come in").click()
    expect(page.get_by_role("heading", name=re.compile("^Your page"))).to_be_visible()
    return page


def test_who_shares_an_idea_sits_the_next_test_and_reads_what_came_of_it(
    browser: Browser, demo_school: str, teacher: Page
) -> None:
    # A shared idea is made a group of the class.
    screenshots.findings(teacher)
    whole = teacher.get_by_role("region", name="The whole test")
    whole.get_by_text(re.compile(r"^Who: \d+ more likely than not")).first.click()
    chosen = whole.locator("section", has_text=re.compile(r"^surest first: \d+", re.IGNORECASE)).first
    holders = chosen.locator("div.flex-wrap > span").all_inner_texts()
    assert len(holders) > 3
    chosen.get_by_role("button", name="make a group").click()
    chosen.get_by_label("Name of the group").fill("Takes the half")
    chosen.get_by_role("button", name="Make the group").click()
    expect(teacher.get_by_text(re.compile("Takes the half. is a group of 8 Heron")).first).to_be_visible()
    teacher.keyboard.press("j")
    expect(teacher.get_by_role("region", name=re.compile("^Question")).get_by_text("To ask next on")).to_be_visible()

    # The next sitting is for them alone, and one of them sits it.
    tab(teacher, "Sittings")
    teacher.get_by_role("button", name="New sitting").click()
    dialog = teacher.get_by_role("dialog")
    for label, name in (("Test", "Series and parallel"), ("Class", "8 Heron"), ("For", "Takes the half")):
        choice = dialog.get_by_label(label, exact=True)
        choice.select_option(choice.locator("option", has_text=name).first.get_attribute("value"))
    dialog.get_by_role("button", name="Plan the sitting").click()
    teacher.get_by_role("button", name="Open it").click()
    expect(teacher.get_by_text(f"Not here yet: {len(holders)}", exact=False)).to_be_visible()
    code = teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).first.inner_text()
    link, passes = class_of(teacher, demo_school, "8 Heron")
    student = browser.new_context(viewport=PHONE).new_page()  # type: ignore[arg-type]
    screenshots.join(student, demo_school, code, passes[holders[0]])
    for _ in range(8):
        student.locator("label:has(input[type=radio])").first.click()
        student.get_by_role("button", name=re.compile("^(Next|Review)$")).click()
    student.get_by_role("button", name="Hand in", exact=True).click()
    expect(student.get_by_role("heading", name="Handed in.")).to_be_visible()

    # Before release nothing is there; after it, their own.
    before = own_page(browser, demo_school, link, passes[holders[0]])
    expect(before.get_by_role("button", name=re.compile(r"^See your result\s*: Series"))).to_have_count(0)
    teacher.get_by_role("button", name="Close it…").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Close it").click()
    teacher.get_by_role("link", name="Results").last.click()
    teacher.get_by_role("button", name="Release…").click()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Release to all").click()
    expect(teacher.get_by_text("released to all")).to_be_visible()
    before.reload()
    before.get_by_role("button", name=re.compile(r"^See your result\s*: Series")).click()
    expect(before.get_by_text("of 8 marks")).to_be_visible()
    expect(before.get_by_text("Next:")).to_be_visible()
    axe_finds_nothing(before)
    other = own_page(browser, demo_school, link, passes[holders[1]])
    expect(other.get_by_role("button", name=re.compile(r"^See your result\s*: Series"))).to_have_count(0)


def test_a_years_record_with_terms_a_scale_and_numbers_set_by_hand(teacher: Page, tmp_path: Path) -> None:
    record_of(teacher, "8 Heron")
    grid = teacher.get_by_role("table", name="Students by sittings, newest first")
    wren = grid.get_by_role("row", name=re.compile("^Wren O"))
    expect(grid.get_by_role("columnheader", name=re.compile("^First term"))).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("link", name="Terms and scale").click()
    teacher.get_by_label("A share of the marks is said as").select_option("pass or fail")
    teacher.get_by_label("From percent, step 1").fill("90")
    expect(teacher.get_by_label("What it is called")).to_have_value("our scale")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Keep the scale").click()
    expect(teacher.get_by_text("The scale is kept.").first).to_be_visible()
    teacher.get_by_role("button", name="Another term").click()
    teacher.get_by_label("Name, term 4").fill("Third term")
    teacher.get_by_role("button", name="Keep the terms").click()
    expect(teacher.get_by_role("alert")).to_contain_text("Two terms have the same name.")
    teacher.get_by_label("Name, term 4").fill("Summer")
    teacher.get_by_role("button", name="Keep the terms").click()
    expect(teacher.get_by_text("The terms are kept.").first).to_be_visible()
    teacher.get_by_role("link", name="Record", exact=True).click()
    expect(wren).to_contain_text("fail")  # 88% of the marks

    wren.get_by_role("button", name=re.compile(r"^Wren O\., Third term")).click()
    teacher.get_by_label("Percent of the marks").fill("95")
    teacher.get_by_label(re.compile("reason", re.IGNORECASE)).fill("Explained it to the class.")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Set it").click()
    expect(wren.get_by_role("button", name=re.compile(r"^Wren O\., Third term"))).to_contain_text("pass T")
    book = CalamineWorkbook.from_path(str(saved(teacher, "WorkbookXLSX, with filters", tmp_path)))
    rows = book.get_sheet_by_index(0).to_python()
    heads = [str(entry) for entry in rows[0]]
    line = next(row for row in rows if row[:2] == ["Okafor", "Wren"])
    assert line[heads.index("Third term")] == "pass"
    assert len(rows) == 2 + 26

    teacher.get_by_role("link", name="Growth").click()
    expect(teacher.get_by_role("table", name="Growth by student")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Make groups").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_label("How many groups").fill("2")
    expect(dialog.get_by_role("group")).to_have_count(2)
    first = dialog.get_by_role("group").first.locator("li")
    size = first.count()
    mover = first.first.locator("span").first.inner_text()
    dialog.get_by_label(f"Group of {mover}").select_option(label="2")
    expect(first).to_have_count(size - 1)
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="Keep the groups").click()
    expect(teacher.get_by_text("2 groups are kept with the class.").first).to_be_visible()
    teacher.get_by_role("link", name="Not tested").click()
    expect(teacher.get_by_role("table", name="No total in these days")).to_be_visible()
    axe_finds_nothing(teacher)


def test_a_view_with_its_filters_and_columns_is_there_again_by_name(teacher: Page) -> None:
    record_of(teacher, "8 Heron")
    lines = teacher.get_by_role("table", name="Students by sittings, newest first").locator("tbody tr")
    expect(lines).to_have_count(26)
    teacher.get_by_label("Students", exact=True).select_option("under 50%")
    expect(lines).not_to_have_count(26)
    under = lines.count()
    assert 0 < under < 26
    teacher.get_by_role("button", name="Columns").click()
    teacher.get_by_label(re.compile("^Circuits, first look")).uncheck()
    teacher.keyboard.press("Escape")
    heads = teacher.locator("thead").get_by_role("link", name=re.compile("^Circuits, first look"))
    expect(heads).to_have_count(0)
    teacher.get_by_role("button", name="Views").click()
    teacher.get_by_label("Keep what is shown now as").fill("Who needs help")
    teacher.get_by_role("button", name="Keep the view").click()
    expect(teacher.get_by_role("dialog").get_by_role("button", name="Who needs help", exact=True)).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.keyboard.press("Escape")
    record_of(teacher, "8 Heron")
    expect(lines).to_have_count(26)
    teacher.get_by_role("button", name="Views").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Who needs help", exact=True).click()
    expect(lines).to_have_count(under)
    expect(heads).to_have_count(0)
    expect(teacher.get_by_role("button", name="Columns, 1 hidden")).to_be_visible()


def test_a_student_for_the_parents_on_screen_on_paper_and_by_mail(teacher: Page, tmp_path: Path) -> None:
    record_of(teacher, "8 Heron")
    teacher.get_by_role("link", name="Malik D.").click()
    expect(teacher.get_by_role("heading", level=1, name="Malik")).to_be_visible()
    expect(teacher.get_by_role("img", name=re.compile("^Malik D. over the year"))).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_label("The paper of Circuits, first look goes with it").check()
    with teacher.expect_download() as download:
        teacher.get_by_role("button", name="PDF with 1 paper").click()
    pages = pypdfium2.PdfDocument(download.value.path())
    text = [page.get_textpage().get_text_range() for page in pages]
    said = str(teacher.locator("[data-opening]").text_content())
    assert said.split(".")[0] in text[0].replace("\r\n", " ")
    assert any("Circuits, first look" in page for page in text[1:])
    text_file = saved(teacher, "Plain text", tmp_path).read_text(encoding="utf-8")
    assert said in text_file
    assert "Current in one loop" in text_file

    # By mail: nobody has an address, until one is given on the class list.
    teacher.get_by_role("link", name="Electric circuits, unit check").first.click()
    for address in ("", "home@family.example"):
        teacher.get_by_role("button", name="More", exact=True).click()
        teacher.get_by_role("menuitem", name="Send by mail…").click()
        dialog = teacher.get_by_role("dialog")
        dialog.get_by_label("What", exact=True).select_option("report")
        dialog.get_by_label("To", exact=True).select_option("guardian")
        if not address:
            expect(dialog.get_by_text(re.compile("No address: Ines A."))).to_be_visible()
            expect(dialog.get_by_role("button", name="Send 0 letters")).to_be_disabled()
            axe_finds_nothing(teacher)
            teacher.keyboard.press("Escape")
            number = next(
                entry["id"]
                for entry in teacher.request.get(origin(teacher, "/api/v1/classes")).json()
                if entry["name"] == "8 Heron"
            )
            here = teacher.url
            teacher.goto(origin(teacher, f"/classes/{number}"))
            teacher.get_by_role("button", name=re.compile("Malik")).first.click()
            teacher.get_by_label("Guardian’s e-mail").fill("home@family.example")
            teacher.get_by_label("Guardian’s e-mail").blur()
            expect(teacher.get_by_text(re.compile("^(kept|Kept)")).first).to_be_visible()
            teacher.goto(here)
        else:
            expect(dialog.get_by_text("Dear parents of Malik")).to_have_count(1)
            dialog.get_by_role("button", name="Send 1 letter").click()
            expect(teacher.get_by_text("1 letter in the post.").first).to_be_visible()


def origin(page: Page, path: str) -> str:
    return "/".join(page.url.split("/")[:3]) + path


def test_one_to_one_by_keys_alone(teacher: Page) -> None:
    tab(teacher, "Sittings")
    line = teacher.locator("main div", has_text=re.compile("^.{0,12}Rhythm cards · Rhythm Club4 of 9"))
    line.get_by_role("link", name="Marks").first.click()
    teacher.get_by_role("link", name="One to one").click()
    # Where one stopped: Esme, in the middle of the cards.
    expect(teacher.get_by_role("heading", level=2, name="Esme C.")).to_be_visible()
    card = teacher.get_by_role("region", name=re.compile("^Card 6 of 10"))
    expect(card).to_be_visible()
    axe_finds_nothing(teacher)
    for key in "12111":
        teacher.keyboard.press(key)
    expect(teacher.get_by_text("of 10 asked")).to_be_visible()
    expect(teacher.get_by_text("5 of 9 are through.")).to_be_visible()
    teacher.keyboard.press("n")
    teacher.keyboard.type("Taps the foot.")
    teacher.keyboard.press("Enter")
    teacher.keyboard.press("k")
    expect(teacher.get_by_role("heading", level=2, name="Esme C.")).to_have_count(0)
    teacher.keyboard.press("2")
    expect(teacher.get_by_text(re.compile("^0 known of 1 asked"))).to_be_visible()
    teacher.keyboard.press("ArrowLeft")
    expect(teacher.get_by_text("○ not yet", exact=True)).to_be_visible()
    teacher.keyboard.press("0")
    expect(teacher.get_by_text(re.compile("^0 known of 0 asked"))).to_be_visible()
    teacher.get_by_role("button", name="Esme C.").click()
    teacher.reload()
    teacher.get_by_role("button", name="Esme C.").click()
    teacher.get_by_role("button", name="On →").click()
    expect(teacher.get_by_role("table", name="Cards, the least known first")).to_contain_text("of 5")


def test_materials_are_offered_where_they_help(
    browser: Browser, demo_school: str, teacher: Page, tmp_path: Path
) -> None:
    tab(teacher, "Bank")
    teacher.get_by_role("link", name="Materials").click()
    expect(teacher.get_by_text("The shelf is empty.")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="New material").click()
    teacher.get_by_label("Title").fill("Water in a ring of pipes")
    teacher.get_by_label("Skills it helps with").fill("Current at a junction")
    teacher.keyboard.press("Enter")
    teacher.get_by_label("Note").fill("What flows in flows out.")
    teacher.get_by_role("button", name="Keep it").click()
    expect(teacher.get_by_text("It is on the shelf.").first).to_be_visible()
    sheet = tmp_path / "pipes.txt"
    sheet.write_text("in = out")
    teacher.get_by_label("File of the material").set_input_files(sheet)
    expect(teacher.get_by_role("link", name="pipes.txt")).to_be_visible()
    axe_finds_nothing(teacher)
    screenshots.findings(teacher)
    number = teacher.url.split("/findings/")[1].split("?")[0]
    teacher.goto(f"{demo_school}/results/{number}/skills")
    teacher.get_by_role("button", name="Current at a junction").first.click()
    expect(teacher.get_by_text("Water in a ring of pipes")).to_be_visible()
    look_at = teacher.request.get(f"{demo_school}/api/v1/sittings/{number}/results/skills").json()
    place = next(at for at, skill in enumerate(look_at["skills"]) if skill["materials"])
    # Students against a line, by the whole test and by that skill.
    teacher.get_by_role("button", name="Against a line").click()
    expect(teacher.get_by_role("img", name=re.compile("^The whole test against 60%"))).to_be_visible()
    teacher.get_by_label("By", exact=True).select_option("Current at a junction")
    teacher.get_by_label("The line").select_option("80%")
    reached = sum((student["cells"][place]["share"] or 0) >= 0.8 - 1e-9 for student in look_at["students"])
    chart = teacher.get_by_role("img", name=f"Current at a junction against 80%: {reached} of 24 reach it")
    expect(chart).to_be_visible()
    axe_finds_nothing(teacher)
    screenshots.findings(teacher)
    look(teacher, "7", "In one table")
