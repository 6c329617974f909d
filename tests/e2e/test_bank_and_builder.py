"""Bank and builder in the demo school, with real clicks; and a lesson, sat by a student who needs large print."""

import io
import re
import zipfile
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import PHONE, tab
from .test_build import drawing

KEPT = re.compile(r"kept \d\d:\d\d")
TABLE = "question,key,A,B,skills\nWhich is a unit of charge?,A,coulomb,newton,Units\nBroken,Z,1,2,\n"


def test_rich_text_is_pasted_cleaned_and_illustrated(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.keyboard.press("n")
    teacher.get_by_role("menuitem", name="True or false").click()
    field = teacher.get_by_label("Statement", exact=True)
    field.click()
    # What a word processor puts on the clipboard.
    teacher.evaluate(
        """() => {
          const data = new DataTransfer();
          data.setData("text/html", `<p class=MsoNormal style="color:red"><b>Bold</b> and <i>slanted</i></p>
            <table><tr><td>cell</td></tr></table><p onclick="x()">H<sub>2</sub>O</p>`);
          document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true}));
        }"""
    )
    expect(field.locator("strong")).to_have_text("Bold")
    expect(field.locator("table td")).to_have_text("cell")
    expect(field.locator("sub")).to_have_text("2")
    field.press("Control+End")
    teacher.get_by_role("button", name="Picture", exact=True).click()
    teacher.get_by_label("Choose a picture").first.set_input_files(files=drawing())  # type: ignore[arg-type]
    expect(field.locator("img")).to_be_visible()
    field.locator("img").click()
    teacher.get_by_label("What the picture shows").fill("a black dot")
    teacher.get_by_label("T is the key").check(force=True)
    expect(teacher.get_by_text(KEPT)).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.reload()
    expect(field.get_by_role("img", name="a black dot")).to_be_visible()
    stored = teacher.evaluate(
        "async () => (await (await fetch(`/api/v1/items/${location.pathname.split('/').pop()}`)).json()).content.stem"
    )
    assert "style" not in stored
    assert "onclick" not in stored
    assert "Mso" not in stored


def test_a_formula_is_seen_while_it_is_typed_and_its_fault_is_shown(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.keyboard.press("n")
    teacher.get_by_role("menuitem", name="True or false").click()
    field = teacher.get_by_label("Statement", exact=True)
    field.click()
    field.press_sequentially("The resistance is ")
    teacher.get_by_role("button", name="formula:").click()
    field.press_sequentially("R=")
    teacher.get_by_role("button", name=re.compile("^Fraction")).click()
    field.press_sequentially("U")
    seen = teacher.get_by_role("status").filter(has=teacher.locator(".katex"))
    expect(seen.locator(".katex-html")).to_contain_text("R")
    field.press_sequentially("\\wrong")
    expect(teacher.get_by_text("not understood from here:")).to_contain_text("\\wrong")
    axe_finds_nothing(teacher)
    for _ in range(6):
        field.press("Backspace")
    field.press("ArrowRight")
    field.press("ArrowRight")
    field.press_sequentially("I")
    expect(seen.locator(".mfrac")).to_contain_text("IU")
    expect(field).to_have_text("The resistance is $R=\\frac{U}{I}$")
    expect(teacher.get_by_text(KEPT)).to_be_visible()


def test_many_questions_are_found_tagged_and_put_into_a_test(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.get_by_label("Only this kind").select_option("numeric")
    lines = teacher.get_by_role("region", name="Questions").get_by_role("listitem")
    expect(lines).to_have_count(2)
    for box in lines.get_by_role("checkbox").all():
        box.check()
    teacher.get_by_role("button", name="tag them").click()
    teacher.get_by_label("Keywords").fill("friday")
    teacher.get_by_label("Keywords").press("Enter")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Add to 2 questions").click()
    expect(teacher.get_by_text("2 questions tagged.").first).to_be_visible()
    teacher.get_by_label("Only this kind").select_option("")
    teacher.get_by_label("Find questions").fill("friday")
    expect(lines).to_have_count(2)
    for box in lines.get_by_role("checkbox").all():
        box.check()
    teacher.get_by_label("Put them in a test").select_option(label="Explaining with energy")
    expect(teacher.get_by_role("button", name="Take off question 4")).to_be_visible()


def test_ten_draws_of_varied_numbers_with_what_was_refused(teacher: Page) -> None:
    tab(teacher, "Bank")
    teacher.get_by_label("Find questions").fill("resistor joined battery")
    teacher.get_by_text("A resistor of").first.click()
    expect(teacher.get_by_text("Numbers that vary")).to_be_visible()
    teacher.get_by_role("button", name="Look at ten draws").click()
    rows = teacher.get_by_role("table", name="Ten draws").get_by_role("row")
    expect(rows).to_have_count(11)
    expect(rows.nth(1)).to_contain_text("A resistor of")
    teacher.get_by_label("Rules between them, one a line").fill("u/r > 100")
    expect(teacher.get_by_text("None of 200 draws keeps the rules").first).to_be_visible()
    teacher.get_by_role("button", name="One step back").click()
    expect(teacher.get_by_text("Before it can stand in a test")).to_be_hidden()
    expect(teacher.get_by_text("Its history")).to_be_visible()
    axe_finds_nothing(teacher)


def test_questions_come_in_from_a_table_and_go_out_as_qti(teacher: Page) -> None:
    tab(teacher, "Bank")
    more = teacher.get_by_role("button", name="More to do with the bank")
    more.click()
    teacher.get_by_role("menuitem", name="Bring in questions").click()
    file = {"name": "q.csv", "mimeType": "text/csv", "buffer": TABLE.encode()}
    teacher.get_by_label("File with questions").set_input_files(files=file)  # type: ignore[arg-type]
    expect(teacher.get_by_text("1 new question, 1 that cannot be read")).to_be_visible()
    expect(teacher.get_by_text("line 3, column B")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_label("leave these out").check()
    teacher.get_by_role("button", name="Bring in 1 question").click()
    expect(teacher.get_by_text("Which is a unit of charge?")).to_be_visible()
    more.click()
    with teacher.expect_download() as sent:
        teacher.get_by_role("menuitem", name="Save as QTI 3.0").click()
    packed = zipfile.ZipFile(io.BytesIO(Path(sent.value.path()).read_bytes()))
    assert "imsmanifest.xml" in packed.namelist()
    expect(teacher.get_by_role("dialog", name="Not everything could go along")).to_contain_text("scored while watching")
    axe_finds_nothing(teacher)
    teacher.keyboard.press("Escape")
    teacher.get_by_role("link", name="Skills").click()
    teacher.get_by_label("Skill above Units").select_option(label="below Electricity")
    expect(teacher.get_by_label("Skill above Units")).to_have_value(re.compile(r"\d+"))
    axe_finds_nothing(teacher)


def test_a_test_in_sections_with_a_choice_draws_and_checks(teacher: Page) -> None:
    tab(teacher, "Tests")
    teacher.get_by_role("link", name="Series and parallel, quick check").click()
    teacher.get_by_role("button", name="new section").click()
    teacher.get_by_label("Title of the section").last.fill("Choose here")
    for _ in range(2):
        handle = teacher.get_by_role("button", name="Move section")
        handle.press("ArrowUp")
    teacher.get_by_role("button", name="set up").last.click()
    teacher.get_by_label("Students answer").select_option(label="any 1")
    expect(teacher.get_by_text("students choose 1")).to_be_visible()
    expect(teacher.get_by_text("8 questions, 7 marks")).to_be_visible()
    teacher.get_by_role("button", name="Draw questions by skill").click()
    teacher.get_by_label("Skill to draw from, rule 1").select_option("Reading meters")
    teacher.get_by_label("How many to draw, rule 1").fill("50")
    teacher.get_by_label("How many to draw, rule 1").press("Enter")
    teacher.get_by_role("radio", name=re.compile("To mend")).click()
    expect(teacher.get_by_text("50 questions on Reading meters are wanted").first).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Take out rule 1").click()
    expect(teacher.get_by_text("50 questions on Reading meters are wanted").first).to_be_hidden()
    teacher.get_by_role("radio", name="Plan").click()
    teacher.get_by_label("Marks wanted in all").fill("20")
    teacher.get_by_label("Marks wanted in all").press("Enter")
    expect(teacher.get_by_text("The class will earn about")).to_be_visible()
    teacher.get_by_role("button", name=re.compile("Freeze it again")).click()
    expect(teacher.get_by_text("Edition 2 is frozen").first).to_be_visible()
    teacher.get_by_role("button", name="what changed").click()
    expect(teacher.get_by_text("The questions are the same.")).to_be_visible()
    more = teacher.get_by_role("button", name="More to do with this test")
    more.click()
    teacher.get_by_role("menuitem", name="Freeze two equivalent editions").click()
    expect(teacher.get_by_role("alert")).to_contain_text("Nothing in this test varies")
    more.click()
    teacher.get_by_role("menuitem", name="An equivalent test").click()
    expect(teacher.get_by_role("heading", name="What to expect of both")).to_be_visible()
    expect(teacher.get_by_text("in the test, and others in the place of")).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Keep the same").first.click()
    teacher.get_by_label("Title of the equivalent test").fill("Series and parallel, again")
    teacher.get_by_role("button", name="Make the test").click()
    expect(teacher.get_by_label("Title", exact=True)).to_have_value("Series and parallel, again")
    tab(teacher, "Tests")
    teacher.get_by_role("link", name="Series and parallel, quick check").click()
    more.click()
    teacher.get_by_role("menuitem", name="Put on the shelf").click()
    teacher.get_by_label("Topic").fill("Circuits")
    teacher.get_by_role("button", name="Put it on the shelf").click()
    tab(teacher, "Tests")
    teacher.get_by_role("link", name="From the shelf").click()
    teacher.get_by_label("Find on the shelf").fill("circuits")
    expect(teacher.get_by_text("by O. Brandt").first).to_be_visible()
    teacher.get_by_label("Find on the shelf").fill("fraction")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Copy What a fraction is").click()
    expect(teacher.get_by_text("lesson · 3 questions")).to_be_visible()


def test_a_lesson_is_sat_by_a_student_who_needs_large_print(browser: Browser, demo_school: str) -> None:
    teacher = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(teacher, demo_school)
    tab(teacher, "Tests")
    teacher.get_by_role("link", name="Where does the current go?").click()
    expect(teacher.get_by_text("lesson ·")).to_be_visible()
    teacher.get_by_role("button", name="Freeze an edition").click()
    expect(teacher.get_by_text("Edition 1 is frozen").first).to_be_visible()
    teacher.get_by_role("button", name="Plan a sitting", exact=True).click()
    teacher.get_by_label("Class").select_option(label="8 Heron (26 students)")
    teacher.get_by_role("button", name="Plan the sitting").click()
    teacher.get_by_role("button", name="Open it").click()
    code = teacher.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).inner_text()
    listed = teacher.request.get(f"{demo_school}/api/v1/classes").json()
    heron = next(line["id"] for line in listed if line["name"] == "8 Heron")
    students = teacher.request.get(f"{demo_school}/api/v1/classes/{heron}").json()["list"]
    kofi = next(student for student in students if student["large_print"])

    page = browser.new_context(viewport=PHONE).new_page()  # type: ignore[arg-type]
    screenshots.join(page, demo_school, code, kofi["pass_phrase"])
    expect(page.get_by_role("heading", name="A chain, not a delivery van")).to_be_visible()
    assert page.evaluate("getComputedStyle(document.documentElement).fontSize") == "20.8px"
    assert page.evaluate("document.documentElement.dataset.ground") == "cream"
    axe_finds_nothing(page)
    page.get_by_role("button", name="Next").click()
    expect(page.get_by_text("Question 1 of 4")).to_be_visible()
    page.locator("label:has(input[type=radio])").nth(1).click()
    page.get_by_role("button", name="Next").click()
    expect(page.get_by_role("heading", name="What a lamp takes")).to_be_visible()
    expect(page.locator(".katex").first).to_be_visible()
    page.get_by_role("button", name="All 4").click()
    page.get_by_role("button", name=re.compile(r"Question 4")).click()
    expect(page.get_by_text("Question 4 of 4")).to_be_visible()
    axe_finds_nothing(page)
