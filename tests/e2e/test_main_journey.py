"""The whole path in real browsers: an empty school, a five-question test, three students, one of them offline midway.

The figures on the findings screen are worked out here by hand, from the answers alone.
"""

import re

import numpy as np
from playwright.sync_api import Browser, Locator, Page, expect

from .conftest import axe_finds_nothing
from .serving import code_of

LAPTOP = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 780}
QUESTIONS = [
    ("What carries charge round the loop?", ["Electrons", "Light", "Heat", "Air"]),
    ("What does a battery give to each charge?", ["Energy", "Mass", "Colour", "Current"]),
    ("What does an ammeter read?", ["Current", "Voltage", "Power", "Time"]),
    ("Where is the current largest in one loop?", ["It is the same everywhere", "First lamp", "Last lamp", "Battery"]),
]
STATEMENT = "A lamp uses current up."
# The key is A throughout, False for the statement. What each student picks, question by question.
PICKS = {"Ada": "AAAAF", "Ben": "ABAAT", "Cleo": "BBACT"}
POINTS = np.array([[1, 1, 1, 1, 1], [1, 0, 1, 1, 0], [0, 0, 1, 0, 0]])


def make_account(page: Page, address: str) -> None:
    page.goto(address)
    expect(page.get_by_role("heading", name="An empty school")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_label("School").fill("Bay School")
    page.get_by_label("Your name").fill("O. Brandt")
    page.get_by_label("Name you sign in with").fill("brandt")
    page.get_by_label("Password").fill("correct-horse-9")
    page.get_by_label("Code").fill(code_of(address))
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("heading", name="From a class to its first finding")).to_be_visible()
    axe_finds_nothing(page)


def make_class(page: Page) -> dict[str, str]:
    """The class, and each student's pass."""
    page.get_by_role("link", name="Make a class").click()
    page.get_by_label("Name of the class").fill("8 Heron")
    page.get_by_role("button", name="Make the class").click()
    page.get_by_label("Names, one a line").fill("Ada Bright\nMartin, Cleo\nBen Okri")
    page.get_by_role("button", name="Add 3 students").click()
    expect(page.get_by_role("row")).to_have_count(4)
    page.get_by_role("button", name="Change Cleo M.").click()
    axe_finds_nothing(page)
    rows = page.get_by_role("row").all()[1:]
    cells = [row.get_by_role("cell").all_inner_texts() for row in rows]
    return {name.split()[0]: pass_phrase for _, name, pass_phrase, *_ in cells}


def write_questions(page: Page) -> None:
    page.get_by_role("link", name="Bank", exact=True).click()
    expect(page.get_by_text("The bank is empty.")).to_be_visible()
    axe_finds_nothing(page)
    for stem, options in QUESTIONS:
        page.keyboard.press("n")
        page.get_by_role("menuitem", name="Single choice").click()
        expect(page.get_by_label("Question", exact=True)).to_have_text("")
        page.get_by_label("Question", exact=True).fill(stem)
        for letter, words in zip("ABCD", options, strict=True):
            page.get_by_label(f"Option {letter}", exact=True).fill(words)
        page.get_by_label("What choosing B shows").fill("something else is going on")
        page.get_by_label("A is the key").check(force=True)
        page.get_by_label("Skill", exact=True).fill("Circuits")
        page.get_by_label("Skill", exact=True).press("Enter")
        expect(page.get_by_text("Before it can stand in a test")).to_be_hidden()
        page.get_by_role("heading", name="Bank").click()
    page.get_by_role("button", name="New question").click()
    page.get_by_role("menuitem", name="True or false").click()
    page.get_by_label("Statement", exact=True).fill(STATEMENT)
    page.get_by_label("F is the key").check(force=True)
    expect(page.get_by_text("Before it can stand in a test")).to_be_hidden()
    expect(page.get_by_text(re.compile(r"kept \d\d:\d\d"))).to_be_visible()
    axe_finds_nothing(page)


def place(page: Page, number: int) -> Locator:
    """The line of a question in the builder."""
    return page.get_by_role("listitem").filter(has=page.get_by_role("button", name=f"Take off question {number}"))


def build_test(page: Page) -> None:
    page.get_by_role("link", name="Tests", exact=True).click()
    expect(page.get_by_text("No test yet.")).to_be_visible()
    page.keyboard.press("n")
    page.get_by_label("Title, as students see it").fill("Circuits")
    page.get_by_role("button", name="Choose its questions").click()
    # The first by dragging, the others by search and click.
    source = page.locator("section li", has_text=QUESTIONS[0][0]).locator("div").first
    box, paper = source.bounding_box(), page.get_by_text("Empty so far.").bounding_box()
    assert box is not None
    assert paper is not None
    page.mouse.move(box["x"] + 30, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(paper["x"] + 60, paper["y"] + 10, steps=12)
    page.mouse.up()
    expect(page.get_by_role("button", name="Take off question 1")).to_be_visible()
    for stem in [stem for stem, _ in QUESTIONS[1:]] + [STATEMENT]:
        page.get_by_label("Find questions").fill(" ".join(stem.split()[1:5]).strip("?."))
        page.get_by_role("button", name=f"Put in: {stem}").click()
    # Keyboard order: the last up and down again.
    handle = page.get_by_role("button", name="Move question 5")
    handle.focus()
    handle.press("ArrowUp")
    expect(place(page, 4)).to_contain_text(STATEMENT)
    page.get_by_role("button", name="Move question 4").press("ArrowDown")
    expect(place(page, 5)).to_contain_text(STATEMENT)
    page.get_by_role("button", name="As students see it").click()
    expect(page.get_by_role("dialog").get_by_text("Question 1 of 5")).to_be_visible()
    axe_finds_nothing(page)
    page.keyboard.press("Escape")
    axe_finds_nothing(page)
    page.get_by_role("button", name="Freeze an edition").click()
    expect(page.get_by_text("Edition 1 is frozen").first).to_be_visible()


def open_sitting(page: Page) -> str:
    """Plans and opens the sitting; returns the code on the board."""
    page.get_by_role("button", name="Plan a sitting").click()
    page.get_by_label("Class").select_option(label="8 Heron (3 students)")
    axe_finds_nothing(page)
    page.get_by_role("button", name="Plan the sitting").click()
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_text("On the board")).to_be_visible()
    axe_finds_nothing(page)
    return page.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).inner_text()


def join(browser: Browser, address: str, code: str, pass_phrase: str) -> Page:
    page = browser.new_context(viewport=PHONE).new_page()
    page.goto(f"{address}/join")
    expect(page.get_by_role("heading", name="Take your seat.")).to_be_visible()
    axe_finds_nothing(page)
    page.get_by_label("Code on the board").fill(code.replace("-", " ").upper())
    page.get_by_label("Your pass").fill("nobody-111")
    page.get_by_role("button", name="Come in").click()
    expect(page.get_by_role("alert")).to_contain_text("not on the list")
    page.get_by_label("Your pass").fill(pass_phrase)
    page.get_by_role("button", name="Come in").click()
    expect(page.get_by_text("Question 1 of 5")).to_be_visible()
    return page


def pick(page: Page, letter: str) -> None:
    page.locator("label", has=page.get_by_text(letter, exact=True)).first.click()


def answer(page: Page, picks: str) -> None:
    for place, letter in enumerate(picks):
        pick(page, letter)
        if place < len(picks) - 1:
            page.get_by_role("button", name="Next").click()


def hand_in(page: Page) -> None:
    page.get_by_role("button", name="Review").click()
    axe_finds_nothing(page)
    page.get_by_role("button", name="Hand in", exact=True).click()
    expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()
    axe_finds_nothing(page)


def test_from_an_empty_school_to_a_finding(browser: Browser, empty_school: str) -> None:
    teacher = browser.new_context(viewport=LAPTOP).new_page()
    make_account(teacher, empty_school)
    passes = make_class(teacher)
    write_questions(teacher)
    build_test(teacher)
    code = open_sitting(teacher)

    ada, ben, cleo = (join(browser, empty_school, code, passes[name]) for name in PICKS)
    expect(teacher.get_by_text("Everyone is here")).to_be_visible()

    answer(ada, "B")  # changed below
    axe_finds_nothing(ada)
    answer(ada, PICKS["Ada"])
    hand_in(ada)
    expect(teacher.get_by_role("row", name=re.compile("Ada.* handed in"))).to_be_visible()

    # Ben loses the connection after two questions, goes on, closes the tab by accident and comes back.
    answer(ben, PICKS["Ben"][:2])
    ben.get_by_label("Come back to this one").check()
    expect(ben.get_by_text("all answers kept")).to_be_visible()
    ben.context.set_offline(True)
    ben.get_by_role("button", name="Next").click()
    answer(ben, PICKS["Ben"][2:])
    expect(ben.get_by_text("no connection: 3 kept here")).to_be_visible()
    ben.get_by_role("button", name="Review").click()
    expect(ben.get_by_text("You wanted to come back to: 2")).to_be_visible()
    ben.get_by_role("button", name="Hand in", exact=True).click()
    expect(ben.get_by_role("heading", name="Handed in on this device.")).to_be_visible()
    # Nobody has it yet, so there is a way back.
    ben.get_by_role("button", name="Go on working").click()
    ben.context.set_offline(False)
    expect(ben.get_by_text("all answers kept")).to_be_visible()
    ben.reload()
    ben.get_by_role("button", name="All 5").click()
    for number, letter in enumerate(PICKS["Ben"], start=1):
        expect(ben.get_by_role("button", name=re.compile(rf"Question {number}\s*: answered {letter}"))).to_be_visible()
    ben.get_by_role("button", name="Hand in", exact=True).click()
    expect(ben.get_by_role("heading", name="Handed in.")).to_be_visible()

    # Cleo never hands in; closing counts what she answered.
    answer(cleo, PICKS["Cleo"])
    expect(cleo.get_by_text("all answers kept")).to_be_visible()
    teacher.get_by_role("button", name="Close it…").click()
    expect(teacher.get_by_role("dialog")).to_contain_text("1 student still at work")
    axe_finds_nothing(teacher)
    teacher.get_by_role("dialog").get_by_role("button", name="Close it").click()
    expect(cleo.get_by_role("heading", name="Handed in.")).to_be_visible()
    teacher.get_by_role("link", name="Findings").last.click()
    figures_are_those_worked_out_by_hand(teacher)
    # Ada had the first question before her while it was looked over; all three have been at it.
    teacher.keyboard.press("6")
    expect(teacher.get_by_role("row", name=re.compile(r"^1 0:\d\d .*"))).to_be_visible()
    expect(teacher.get_by_text("Half of the class took between")).to_be_visible()


def figures_are_those_worked_out_by_hand(page: Page) -> None:
    totals = POINTS.sum(axis=1)
    varied = POINTS.var(axis=0).sum()
    alpha = 5 / 4 * (1 - varied / totals.var())
    sem = totals.std(ddof=1) * (1 - alpha) ** 0.5
    expect(page.get_by_role("button", name=f"mean {totals.mean():.1f} of 5")).to_be_visible()
    expect(page.get_by_role("button", name=f"sd {totals.std(ddof=1):.1f}")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile(rf"α {alpha:.2f}".replace("0.", r"\.")))).to_be_visible()
    expect(page.get_by_role("button", name=f"± {sem:.1f}")).to_be_visible()
    expect(page.get_by_text("3 students are too few to flag a question")).to_be_visible()
    axe_finds_nothing(page)
    for number, stem in enumerate([stem for stem, _ in QUESTIONS] + [STATEMENT], start=1):
        p = POINTS[:, number - 1].mean()
        shown = page.locator("article", has_text=stem)
        expect(shown).to_contain_text(f"p {f'{p:.2f}'.removeprefix('0')}")
    page.get_by_role("button", name=QUESTIONS[1][0]).click()
    row = page.get_by_role("row", name=re.compile(r"^B 2 67%"))
    expect(row).to_be_visible()
    rest = totals - POINTS[:, 1]
    r_key = np.corrcoef(POINTS[:, 1], rest)[0, 1]
    expect(row).to_contain_text(f"−.{round(r_key * 100)}")  # the option B is the key turned round
    chosen = page.locator("section section", has_text="Chose B: 2")
    for name in ("Ben O.", "Cleo M."):
        expect(chosen.get_by_text(name)).to_be_visible()
    axe_finds_nothing(page)
