"""Results with what changes them, other looks at the answers, work locked and given back, by real clicks."""

import csv
import re
from pathlib import Path
from xml.etree import ElementTree

import pypdfium2
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_marks_only import pass_of


def row(page: Page, name: str) -> None:
    """Opens the list of what can be done with one student's result."""
    page.get_by_role("button", name=f"More for {name}").click()


def test_looks_at_the_same_answers(teacher: Page) -> None:
    screenshots.item_map(teacher)
    questions = teacher.get_by_role("table", name="Questions of the map").get_by_role("row")
    all_of_them = questions.count()
    expect(teacher.get_by_text("Not on it, since everybody has the same: 1, 10.")).to_be_visible()
    axe_finds_nothing(teacher)
    # A frame drawn over the left half leaves the hard ones.
    frame_the_hard_ones(teacher)
    framed = questions.count()
    assert 1 < framed < all_of_them
    teacher.get_by_role("button", name="show all").click()
    expect(questions).to_have_count(all_of_them)
    # What is in the frame is all that any look goes by, until one goes back.
    frame_the_hard_ones(teacher)
    teacher.get_by_role("button", name="only these, in every look").click()
    expect(teacher.get_by_role("status")).to_contain_text("Seen without questions")
    look(teacher, "6", "Time")
    expect(teacher.get_by_role("table", name="Time on each question").locator("tbody tr")).to_have_count(framed + 1)
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="back to the sitting as it is").click()
    expect(teacher.get_by_role("table", name="Time on each question").locator("tbody tr")).to_have_count(20)
    look(teacher, "3", "Map")
    questions.filter(has_text="A second identical lamp is added in series").get_by_role("link").click()
    expect(teacher.get_by_role("region", name="Question 15", exact=True)).to_be_visible()

    screenshots.student_table(teacher)
    table = teacher.get_by_role("table", name="Students by questions")
    first = table.locator("tbody th").first
    best = first.inner_text()
    teacher.get_by_label("Order").select_option("by desk and number")
    expect(first).not_to_have_text(best)
    assert table.locator("thead th").nth(3).inner_text() == "1"
    teacher.get_by_label("Order").select_option("the most unexpected first")
    expect(first).to_have_text("Jonas E.")
    axe_finds_nothing(teacher)

    screenshots.scale(teacher)
    expect(teacher.get_by_text("The test is about as hard as this class is able.")).to_be_visible()
    expect(teacher.get_by_text("Not on the scale: 1, 10, since everybody has the same on them.")).to_be_visible()
    axe_finds_nothing(teacher)


def frame_the_hard_ones(page: Page) -> None:
    chart = page.get_by_role("img", name=re.compile("^Map of")).bounding_box()
    assert chart is not None
    page.mouse.move(chart["x"] + 50, chart["y"] + 20)
    page.mouse.down()
    page.mouse.move(chart["x"] + chart["width"] / 2, chart["y"] + chart["height"] - 50, steps=5)
    page.mouse.up()
    expect(page.get_by_text(re.compile("questions in the frame", re.IGNORECASE))).to_be_visible()


def look(page: Page, key: str, name: str) -> None:
    """One of the looks, by its digit."""
    page.keyboard.press(key)
    expect(page.get_by_role("navigation", name="Looks").get_by_role("link", name=name)).to_have_attribute(
        "aria-current", "page"
    )


def saved(page: Page, what: str, folder: Path) -> Path:
    page.get_by_role("button", name="Save", exact=True).click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name=what).click()
    path = folder / download.value.suggested_filename
    download.value.save_as(path)
    return path


def test_figures_change_while_one_looks_and_every_look_is_saved(teacher: Page, tmp_path: Path) -> None:
    screenshots.item_map(teacher)
    number = int(teacher.url.split("/findings/")[1].split("?")[0])
    address = teacher.url.split("/findings")[0]
    look(teacher, "4", "Totals")
    expect(teacher.get_by_text(re.compile(r"^The totals .* reach .* marks\."))).to_be_visible()
    teacher.get_by_label("Cut 1").select_option("65")
    expect(teacher.get_by_role("img", name=re.compile("^Students by total"))).to_contain_text("cut 65%")
    axe_finds_nothing(teacher)

    # A picture of a chart holds all it needs, and other programs open it.
    drawn = ElementTree.parse(saved(teacher, "Picture to print", tmp_path)).getroot()
    words = " ".join(text.text or "" for text in drawn.iter("{http://www.w3.org/2000/svg}text"))
    assert "cut 65%" in words
    assert "var(" not in ElementTree.tostring(drawn, encoding="unicode")
    with Image.open(saved(teacher, "Picture to paste", tmp_path)) as picture:
        assert picture.width == 2 * round(float(drawn.get("width", 0)))
        assert len(picture.convert("RGB").getcolors(1 << 20) or []) > 20

    # Without a question: the figures follow, in every look, and back again.
    recto = teacher.get_by_role("region", name="How dependable they are")
    questions = teacher.get_by_role("table", name="Alpha without each question").get_by_role("link")
    before = questions.count()
    teacher.get_by_role("button", name="Change and see").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_text("Without questions").click()
    dialog.get_by_label(re.compile("^15 · ")).click()
    expect(dialog.get_by_label(re.compile("^15 · "))).to_be_checked()
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="See them").click()
    expect(teacher.get_by_role("status")).to_contain_text("Seen without question 15")
    expect(questions).to_have_count(before - 1)
    expect(recto.get_by_role("link", name="Question 15")).to_have_count(0)
    look(teacher, "8", "Students")
    # Its own figures come after those of before.
    numbers = teacher.get_by_role("table", name="Students by questions").locator("thead th")
    expect(numbers.filter(has_text=re.compile("^14$"))).to_have_count(1)
    expect(numbers.filter(has_text=re.compile("^15$"))).to_have_count(0)
    with saved(teacher, "Table", tmp_path).open(encoding="utf-8-sig", newline="") as file:
        rows = list(csv.reader(file))
    query = teacher.url.split("?")[1].replace("view=table&", "").replace("&view=table", "")
    table = teacher.request.get(f"{address}/api/v1/sittings/{number}/findings/table?{query}").json()
    assert rows[0][:6] == ["Family name", "Given name", "Number", "Desk", "Total", "Caution"]
    assert rows[0][6:] == [item["label"] for item in table["items"]]
    assert [(float(row[3]), float(row[4])) for row in rows[1:]] == [
        (student["desk"], student["total"]) for student in table["students"]
    ]
    assert "15" not in rows[0]
    look(teacher, "1", "Paper")
    expect(teacher.locator("article", has_text="left out")).to_have_count(1)
    teacher.get_by_role("button", name="back to the sitting as it is").click()
    expect(teacher.locator("article", has_text="left out")).to_have_count(0)

    look(teacher, "9", "Groups")
    axe_finds_nothing(teacher)
    look(teacher, "7", "In one table")
    expect(teacher.get_by_role("table", name="All questions in figures").locator("tbody tr")).to_have_count(20)
    axe_finds_nothing(teacher)
    look(teacher, "0", "Other sittings")
    axe_finds_nothing(teacher)


def test_a_finding_is_set_aside_reworded_from_and_taken_up_again(teacher: Page) -> None:
    screenshots.findings(teacher)
    teacher.keyboard.press("j")
    recto = teacher.get_by_role("region", name=re.compile("^Question"))
    heading = recto.get_by_role("heading", level=2).first.inner_text()
    recto.get_by_role("button", name="set it aside").first.click()
    teacher.get_by_label("The reason").fill("The picture misled them.")
    teacher.get_by_role("dialog").get_by_role("button", name="Set it aside").click()
    expect(recto.get_by_text("Set aside by O. Brandt: “The picture misled them.”")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("link", name=re.compile("Reword it|Open the question")).click()
    expect(teacher.get_by_role("complementary", name="What was found")).not_to_contain_text(heading)
    expect(teacher.get_by_text(re.compile("set aside: .*The picture misled them."))).to_be_visible()
    teacher.get_by_role("link", name=re.compile("^Back to the findings")).click()
    recto.get_by_role("button", name="take it up again").click()
    expect(recto.get_by_role("heading", name=heading)).to_be_visible()
    teacher.get_by_role("link", name="Reword it").click()
    expect(teacher.get_by_role("complementary", name="What was found")).to_contain_text(heading)
    teacher.go_back()
    recto.get_by_role("button", name="Ask it again in the room").click()
    expect(teacher.get_by_role("dialog", name="Ask in the room")).to_be_visible()


def test_a_class_by_skill_becomes_a_group_and_feedback_sheets(teacher: Page, tmp_path: Path) -> None:
    screenshots.skills(teacher)
    axe_finds_nothing(teacher)
    weakest = teacher.get_by_role("table", name=re.compile("^Students by skill")).get_by_role("button").first
    skill = weakest.inner_text()
    recto = teacher.get_by_role("region", name=skill)
    expect(recto.get_by_role("heading", name=skill)).to_be_visible()
    before = recto.get_by_text(re.compile(r"^\d+ students?$")).first.inner_text()
    # A higher line moves students down, and the address remembers it.
    teacher.get_by_label("Nearly from").select_option("70")
    expect(teacher).to_have_url(re.compile("nearly=70"))
    expect(recto.get_by_text(re.compile(r"^\d+ students?$")).first).not_to_have_text(before)
    recto.get_by_role("button", name="Make the group").click()
    expect(teacher.get_by_text(re.compile("is a group of 8 .* now")).first).to_be_visible()
    recto.get_by_role("link", name=re.compile("^See it in 8 ")).click()
    expect(teacher).to_have_url(re.compile("/classes/"))
    expect(teacher.get_by_role("main").get_by_text(f"More of {skill}").first).to_be_visible()
    teacher.go_back()
    teacher.get_by_role("button", name="Feedback sheets…").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_label("What it says first").fill("This is where you stand.")
    axe_finds_nothing(teacher)
    with teacher.expect_download(timeout=60_000) as download:
        dialog.get_by_role("button", name="Save as PDF").click()
    download.value.save_as(tmp_path / "sheets.pdf")
    sheets = pypdfium2.PdfDocument(tmp_path / "sheets.pdf")
    words = [page.get_textpage().get_text_bounded() for page in sheets]
    dialog.press("Escape")
    counted = teacher.get_by_role("table", name=re.compile("^Students by skill")).locator("tbody tr").count()
    assert sum("This is where you stand." in page for page in words) == counted
    assert "For the teacher" in " ".join(words)


def test_a_total_is_set_a_student_left_out_and_late_work_costs(teacher: Page) -> None:
    screenshots.results(teacher)
    table = teacher.get_by_role("table", name="Totals")
    row(teacher, "Tobias R.")
    teacher.get_by_role("menuitem", name="Set the total…").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_label("Total").fill("9")
    dialog.get_by_label("The reason").fill("Sat it again aloud.")
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="Set it").click()
    line = table.get_by_role("row", name=re.compile("Tobias R."))
    expect(line).to_contain_text("set by hand: Sat it again aloud.")
    row(teacher, "Tobias R.")
    teacher.get_by_role("menuitem", name="Work the total out again").click()
    expect(line).not_to_contain_text("set by hand")

    row(teacher, "Wren O.")
    teacher.get_by_role("menuitem", name="Leave out of the figures…").click()
    dialog.get_by_label("The reason").fill("Was called away.")
    dialog.get_by_role("button", name="Leave them out").click()
    expect(table.get_by_role("row", name=re.compile("Wren O."))).to_contain_text("not in the figures")
    findings = teacher.url.replace("/results/", "/findings/")
    results = teacher.url
    teacher.goto(findings)
    expect(teacher.get_by_text("23 of 26")).to_be_visible()
    teacher.goto(results)
    row(teacher, "Wren O.")
    teacher.get_by_role("menuitem", name="Into the figures again").click()
    expect(table.get_by_role("row", name=re.compile("Wren O."))).not_to_contain_text("not in the figures")

    # Who handed nothing in: first who that is, then excused for all of them.
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Fill what is empty…").click()
    expect(dialog.get_by_text("Greta S.")).to_be_visible()
    axe_finds_nothing(teacher)
    dialog.get_by_role("radio", name="A total").click()
    expect(dialog.get_by_label("Total for each")).to_have_value("0")
    dialog.get_by_label("The reason").fill("Did not come, and gave no reason.")
    dialog.get_by_role("button", name="Fill it").click()
    expect(table.get_by_role("row", name=re.compile("Greta S."))).to_contain_text("Did not come")
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Fill what is empty…").click()
    expect(dialog.get_by_role("heading", name="Nothing is empty.")).to_be_visible()
    teacher.keyboard.press("Escape")

    # In words only: the student reads no number.
    teacher.get_by_role("button", name="Release…").click()
    dialog.get_by_label("With marks and the total").uncheck()
    dialog.get_by_role("button", name="Release to all").click()
    expect(table.get_by_role("row", name=re.compile("Suri P."))).to_contain_text("words")


def test_work_is_locked_and_given_back_with_what_to_revise(teacher: Page, browser: Browser) -> None:
    tab(teacher, "Sittings")
    word = pass_of(teacher, "Amina Y.")
    teacher.get_by_role("link", name="Watch").first.click()
    teacher.get_by_text("On the board").wait_for()
    code = teacher.get_by_text(re.compile(r"^[a-z]+-\d+$")).first.inner_text()
    context = browser.new_context(viewport=screenshots.PHONE)  # type: ignore[arg-type]
    phone = context.new_page()
    phone.goto(f"{teacher.url.split('/sittings')[0]}/join")
    phone.get_by_label("Code").fill(code)
    phone.get_by_label("Your pass").fill(word)
    phone.get_by_role("button", name="Come in").click()
    expect(phone.get_by_role("heading", name="Handed in.")).to_be_visible()

    teacher.get_by_role("button", name="give back to Amina Y.").click()
    dialog = teacher.get_by_role("dialog")
    dialog.get_by_label("What to revise").fill("Look at question 2 once more.")
    axe_finds_nothing(teacher)
    dialog.get_by_role("button", name="Give it back").click()
    expect(phone.get_by_text("Look at question 2 once more.")).to_be_visible(timeout=30_000)
    axe_finds_nothing(phone)

    row(teacher, "Amina Y.")
    teacher.get_by_role("menuitem", name="Lock", exact=True).click()
    expect(teacher.get_by_role("row", name=re.compile("Amina Y."))).to_contain_text("locked")
    expect(phone.get_by_role("heading", name="Locked.")).to_be_visible(timeout=30_000)
    row(teacher, "Amina Y.")
    teacher.get_by_role("menuitem", name="Unlock", exact=True).click()
    expect(phone.get_by_text("Look at question 2 once more.")).to_be_visible(timeout=30_000)
    context.close()


def test_a_class_through_the_year_is_ordered_shown_in_marks_and_saved(teacher: Page, tmp_path: Path) -> None:
    screenshots.record(teacher)
    axe_finds_nothing(teacher)
    rows = teacher.get_by_role("region", name="Students by sittings").locator("tbody tr")
    first = rows.first.get_by_role("rowheader").inner_text()
    teacher.get_by_label("Order").select_option("lowest average first")
    expect(rows.first.get_by_role("rowheader")).not_to_have_text(first)
    averages = [
        int(match[1])
        for row in rows.all()
        if (match := re.match(r"(\d+)%", row.locator("td").first.inner_text())) is not None
    ]
    assert averages == sorted(averages)
    teacher.get_by_label("Shown").select_option("in marks")
    in_marks = teacher.get_by_role("region", name="Students by sittings").get_by_text(re.compile(r"^\d+ of 20$"))
    expect(in_marks.first).to_be_visible()
    teacher.reload()
    expect(in_marks.first).to_be_visible()  # the address remembers it
    with saved(teacher, "Table", tmp_path).open(encoding="utf-8-sig", newline="") as file:
        lines = list(csv.reader(file))
    assert lines[0][:4] == ["Family name", "Given name", "Number", "Desk"]
    assert lines[0][-1] == "Over so many sittings"
    assert len(lines) == 1 + rows.count()
    teacher.get_by_role("link", name=re.compile("Electric circuits, unit check")).first.click()
    expect(teacher.get_by_role("heading", name="Results")).to_be_visible()
