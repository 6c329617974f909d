"""The bank over time, with real clicks: a shared passage, versions, a tree of skills, a test from the shelf."""

import re

import pypdfium2
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab

KEPT = re.compile(r"kept \d\d:\d\d")


def new_statement(page: Page, words: str, skill: str = "") -> str:
    """A true-or-false question made by clicks; its address."""
    tab(page, "Bank")
    page.keyboard.press("n")
    page.get_by_role("menuitem", name="True or false").click()
    field = page.get_by_label("Statement", exact=True)
    field.click()
    page.keyboard.type(words)
    page.get_by_label("T is the key").check(force=True)
    if skill:
        page.get_by_label(re.compile("skill", re.IGNORECASE)).last.fill(skill)
        page.keyboard.press("Enter")
    expect(page.get_by_text(KEPT)).to_be_visible()
    return page.url


def show_passages(page: Page) -> None:
    unfold(page, "Passage or picture shared")


def unfold(page: Page, name: str) -> None:
    fold = page.locator("details").filter(has_text=name)
    if fold.get_attribute("open") is None:
        fold.locator("summary").click()


def test_a_passage_is_written_once_and_stands_beside_both_questions(teacher: Page, demo_school: str) -> None:
    page = teacher
    first = new_statement(page, "The keeper was awake.")
    show_passages(page)
    page.get_by_role("button", name="Write a new one").click()
    page.get_by_label("Title", exact=True).fill("The lighthouse")
    page.get_by_label("Text of the passage").click()
    page.keyboard.type("The lamp went out at four, and nobody saw it.")
    expect(page.get_by_text(KEPT).last).to_be_visible()
    page.wait_for_timeout(500)
    second = new_statement(page, "The lamp was seen.")
    show_passages(page)
    page.get_by_label("Passage", exact=True).select_option(label="The lighthouse")
    expect(page.get_by_label("Text of the passage")).to_contain_text("went out at four")
    page.wait_for_timeout(500)
    axe_finds_nothing(page)
    refs = [address.rsplit("/", 1)[1] for address in (first, second)]
    tab(page, "Tests")
    page.keyboard.press("n")
    expect(page.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
    page.keyboard.type("Reading at night")
    page.keyboard.press("Enter")
    for words in ("The keeper was awake.", "The lamp was seen."):
        page.get_by_label("Find questions").fill(words)
        page.get_by_role("button", name=f"Put in: {words}").click()
    expect(page.get_by_text("2 questions, 2 marks")).to_be_visible()
    # On the left the passage stands once, before its questions; to students it stands beside each.
    paper = page.get_by_role("region", name="The test")
    expect(paper.get_by_text("nobody saw it")).to_have_count(1)
    page.get_by_role("button", name="As students see it").click()
    dialog = page.get_by_role("dialog")
    for number in (1, 2):
        expect(dialog.get_by_text(f"Question {number} of 2")).to_be_visible()
        expect(dialog.get_by_text("nobody saw it")).to_be_visible()
        if number == 1:
            dialog.get_by_role("button", name="Next", exact=True).click()
    dialog.get_by_role("button", name="Close", exact=True).last.click()
    printed = page.request.get(f"{demo_school}/api/v1{page.url[page.url.index('/tests/') :]}/print/booklet").body()
    text = " ".join(sheet.get_textpage().get_text_range() for sheet in pypdfium2.PdfDocument(printed))
    assert text.count("nobody saw it") == 1
    assert "For questions 1 to 2" in text
    assert [page.request.get(f"{demo_school}/api/v1/items/{ref}").json()["stimulus"] is not None for ref in refs] == [
        True
    ] * 2


def test_an_earlier_version_is_put_back_after_steps_back_across_a_reload(teacher: Page) -> None:
    page = teacher
    address = new_statement(page, "Glass conducts.")
    tab(page, "Tests")
    page.keyboard.press("n")
    expect(page.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
    page.keyboard.type("Materials")
    page.keyboard.press("Enter")
    page.get_by_label("Find questions").fill("glass conducts")
    page.get_by_role("button", name="Put in: Glass conducts.").click()
    page.get_by_role("button", name="Freeze an edition").click()
    expect(page.get_by_text("Edition 1 is frozen").first).to_be_visible()
    page.goto(address)
    field = page.get_by_label("Statement", exact=True)
    expect(field).to_have_text("Glass conducts.")
    field.press("End")
    for words in (" Always.", " Never."):
        page.keyboard.insert_text(words)  # at once, so that a busy machine makes no pause inside it
        page.wait_for_timeout(1_200)
    page.reload()
    expect(field).to_have_text("Glass conducts. Always. Never.")
    page.get_by_role("button", name="One step back").click()
    expect(field).to_have_text("Glass conducts. Always.")
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.wait_for_timeout(500)
    unfold(page, "Its history")
    expect(page.get_by_text("Materials, edition 1")).to_be_visible()
    page.get_by_role("button", name="put it back").first.click()
    expect(field).to_have_text("Glass conducts.")
    expect(page.get_by_role("button", name="One step back")).to_be_disabled()


def test_a_question_is_shared_with_a_department_looked_at_and_taken(
    teacher: Page, browser: Browser, demo_school: str
) -> None:
    page = teacher
    new_statement(page, "Silver conducts best of all.")
    page.goto(f"{demo_school}/people")
    page.get_by_role("button", name="New department…").click()
    page.get_by_label("Name of the department").fill("இயற்பியல் Physics")
    for box in page.get_by_role("dialog").get_by_role("checkbox").all():
        box.check()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("இயற்பியல் Physics")).to_be_visible()
    tab(page, "Bank")
    page.get_by_label("Find questions").fill("silver conducts best")
    page.get_by_role("checkbox", name="Choose: Silver conducts best of all.").check()
    page.get_by_label("Share them with a department").select_option("இயற்பியல் Physics")
    expect(page.get_by_text("shared with இயற்பியல் Physics")).to_be_visible()

    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    colleague = context.new_page()
    screenshots.sign_in(colleague, demo_school, "varga")
    tab(colleague, "Bank")
    colleague.get_by_role("button", name="More to do with the bank").click()
    colleague.get_by_role("menuitem", name=re.compile("^Questions of colleagues")).click()
    colleague.get_by_label("Find among them").fill("silver")
    colleague.get_by_role("button", name=re.compile("^Silver conducts")).click()
    expect(colleague.get_by_text("Key: True")).to_be_visible()
    axe_finds_nothing(colleague)
    colleague.get_by_role("button", name="Take: Silver conducts best of all.").click()
    expect(colleague.get_by_label("Statement", exact=True)).to_have_text("Silver conducts best of all.")
    context.close()


def test_skills_are_made_renamed_ordered_merged_and_taken_out(teacher: Page) -> None:
    page = teacher
    new_statement(page, "Copper conducts well.", "Conductors")
    tab(page, "Bank")
    page.get_by_role("link", name="Skills").click()
    page.get_by_label("Name of Conductors").fill("Metals that conduct")
    page.get_by_label("Code of Conductors").focus()  # leaving the field keeps it
    expect(page.get_by_label("Name of Metals that conduct")).to_be_visible()
    page.get_by_label("Skill above Metals that conduct").select_option(label="below Electricity")
    expect(page.get_by_label("Skill above Metals that conduct")).to_have_value(re.compile(r"\d+"))
    page.get_by_label("Name of a new skill").fill("What carries current")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of What carries current")).to_be_visible()
    axe_finds_nothing(page)
    names = page.get_by_label(re.compile("^Name of (?!a new)"))
    before = names.evaluate_all("all => all.map(one => one.value)")
    page.get_by_role("button", name="Forces: up", exact=True).click()
    expect(names.first).not_to_have_value(before[0])
    page.get_by_role("button", name="Merge Metals that conduct…").click()
    page.get_by_label("The other skill").select_option(label="What carries current")
    page.get_by_role("button", name="Merge them").click()
    expect(page.get_by_label("Name of Metals that conduct")).to_have_count(0)
    page.get_by_label("Skill above What carries current").select_option(label="below Electricity")
    page.get_by_role("link", name="Bank", exact=True).last.click()
    result = page.get_by_role("region", name="Questions").get_by_text("Copper conducts well.")
    page.get_by_label("Find questions").fill("carries current")
    expect(result).to_be_visible()
    page.get_by_label("Find questions").fill("copper")
    page.get_by_label("Only this skill").select_option(label="Electricity")
    expect(result).to_be_visible()
    page.get_by_role("link", name="Skills").click()
    page.get_by_role("button", name="Take out What carries current").click()
    expect(page.get_by_role("dialog")).to_contain_text("1 question stays in the bank")
    page.get_by_role("button", name="Take it out").click()
    expect(page.get_by_label("Name of What carries current")).to_have_count(0)


def test_a_ready_made_test_is_copied_from_the_shelf(teacher: Page) -> None:
    page = teacher
    tab(page, "Tests")
    page.get_by_role("link", name="From the shelf").click()
    page.get_by_label("Find on the shelf").fill("no such words")
    expect(page.get_by_text("Nothing on the shelf holds these words.")).to_be_visible()
    page.get_by_label("Find on the shelf").fill("fraction")
    page.get_by_role("button", name="Copy What a fraction is").click()
    expect(page.get_by_text("It is yours now").first).to_be_visible()
    expect(page.get_by_role("heading", level=1, name="What a fraction is")).to_be_visible()
    expect(page.get_by_text("lesson · 3 questions")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Freeze an edition").click()
    expect(page.get_by_text("Edition 1 is frozen: 3 questions").first).to_be_visible()
    page.get_by_role("link", name="Plan a sitting").first.click()
    expect(page.get_by_role("dialog")).to_contain_text("What a fraction is")
