"""A shared pile by clicks: three at once, one of them without a connection for a while, and a head who looks on."""

import re

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import LAPTOP, tab
from .test_marking import give

TAMIL = "தமிழ்ச்செல்வி Nagy-Kovács"


def invited(teacher: Page, browser: Browser, address: str) -> Page:
    """A third colleague, who comes in with the code of an invitation."""
    teacher.goto(f"{address}/account")
    teacher.get_by_role("link", name="People of the school").click()
    teacher.get_by_role("button", name="Invite somebody…").click()
    teacher.get_by_label("Their name, as students see it").fill(TAMIL)
    teacher.get_by_label("Name they sign in with").fill("nagy")
    teacher.get_by_role("button", name="Invite", exact=True).click()
    code = teacher.locator("p.font-mono").inner_text()
    teacher.get_by_role("button", name="Done").click()
    page = browser.new_context(viewport=LAPTOP).new_page()  # type: ignore[arg-type]
    page.goto(address)
    page.get_by_role("link", name="I have a code, or no password").click()
    page.get_by_label("Name you sign in with").fill("nagy")
    page.get_by_label("Code").fill(code)
    page.get_by_label("New password").fill("a-long-word-7")
    page.get_by_role("button", name="Keep and sign in").click()
    return page


def in_hand(page: Page) -> list[str]:
    strip = page.get_by_role("navigation", name="Answers")
    strip.get_by_role("button").first.wait_for()
    return [button.inner_text().split()[0] for button in strip.get_by_role("button").all()]


def agree_on_the_one_before(teacher: Page, reason: str) -> None:
    teacher.keyboard.press("ArrowLeft")
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Use as an agreed answer").click()
    teacher.get_by_label("The reason").fill(reason)
    teacher.get_by_role("button", name="Use it", exact=True).click()
    expect(teacher.get_by_role("dialog")).to_have_count(0)
    teacher.keyboard.press("ArrowRight")


def test_three_mark_one_pile_and_one_of_them_loses_the_connection(
    teacher: Page, browser: Browser, demo_school: str
) -> None:
    nagy = invited(teacher, browser, demo_school)
    varga = browser.new_context(viewport=LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(varga, demo_school, "varga")
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Mark", exact=True).click()
    teacher.get_by_role("button", name="More", exact=True).click()
    teacher.get_by_role("menuitem", name="Share with colleagues").click()
    teacher.get_by_role("button", name="take out").click()
    for name in ("P. Varga", TAMIL):
        teacher.get_by_role("combobox", name="Add a marker").select_option(name)
        teacher.get_by_role("region", name=name).get_by_label("Question 14").uncheck()
    teacher.get_by_role("radio", name="Hidden from markers").click()
    teacher.get_by_label("An agreed answer after every").fill("2")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Share it out").click()
    # The head marks two answers that show how close the others are; what is nobody's is said.
    expect(teacher.get_by_text("22 answers are nobody’s")).to_be_visible()
    teacher.get_by_role("link", name="Choose answers").click()
    for reason in ("Names the energy.", "Says only that it is the same."):
        give(teacher, "2", "1", "1")
        agree_on_the_one_before(teacher, reason)
    for page in (varga, nagy):
        tab(page, "Marking")
        page.get_by_role("link", name="Mark", exact=True).click()
    theirs, hers = in_hand(varga), in_hand(nagy)
    # Six of their own each, and an agreed one after the first, the third and the fifth, as far as there are any.
    assert len(theirs) == len(hers) == 8
    assert len(set(theirs) & set(hers)) == 2
    expect(nagy.get_by_text("Amina")).to_have_count(0)
    axe_finds_nothing(nagy)

    nagy.wait_for_load_state("networkidle")
    nagy.context.set_offline(True)
    for _ in hers:
        give(nagy, "1", "0", "1")
    expect(nagy.get_by_text("8 not sent yet").or_(nagy.get_by_text(re.compile("not sent yet"))).first).to_be_visible()
    # Meanwhile the other takes what is free, and what is in her hands stays in them.
    marked = set[str]()
    strip = varga.get_by_role("navigation", name="Answers")
    for at in range(1, 16):
        current = strip.locator("[aria-current=true]")
        expect(current).to_contain_text("waiting")
        marked.add(current.inner_text().split()[0])
        give(varga, "3", "2", "1")
        # The next ones come of themselves while there are any that nobody has.
        nothing_more = varga.get_by_text("wait, in other hands")
        expect(nothing_more if at == 15 else strip.get_by_text("waiting").first).to_be_attached()
    assert len(marked) == 13 + 2
    assert not marked & (set(hers) - set(theirs))
    nagy.context.set_offline(False)
    expect(nagy.get_by_text("The whole pile is marked").or_(nagy.get_by_text("Nothing in your hands"))).to_be_visible()

    tab(teacher, "Marking")
    teacher.get_by_role("link", name="How far it is").click()
    expect(teacher.get_by_text("21 of 43 marked").first).to_be_visible()
    row = teacher.get_by_role("row", name=re.compile("Nagy-Kovács"))
    expect(row).to_contain_text("6")
    close = teacher.get_by_role("region", name=re.compile("How close P. Varga"))
    expect(close).to_contain_text("of 2 agreed answers")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name=re.compile("What can be done about.*Nagy")).click()
    teacher.get_by_role("menuitem", name="Ask to look again").click()
    teacher.get_by_label("The reason").fill("A drawing of the circuit counts as a model.")
    teacher.get_by_role("button", name="Send them back").click()
    expect(row.get_by_role("cell").nth(3)).to_have_text("6")
    tab(nagy, "Marking")
    nagy.get_by_role("link", name="Mark", exact=True).click()
    expect(nagy.get_by_text("To look at again: A drawing of the circuit counts as a model.")).to_be_visible()
    give(nagy, "ArrowUp", "ArrowUp", "ArrowUp", "2", "1", "1")
    expect(row.get_by_role("cell").nth(3)).to_have_text("5", timeout=40_000)
