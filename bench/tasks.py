"""How much a teacher has to do: clicks, keys and fields of the commonest tasks, counted in a real browser, and the time
that a practised person takes for them.

The time is the keystroke-level model (Card, Moran and Newell, “The keystroke-level model for user performance time
with interactive systems”, Communications of the ACM 23, 1980): 1.1 s to point, 0.2 s to press and let go, 0.28 s for
each key of an average typist, 0.4 s to move the hand between mouse and keys, 1.35 s to make up one's mind before each
act; and the time the program made one wait, as it was measured. What is typed counts its letters, a list that is
pasted one key. Reading is not in it.
"""

import re
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from playwright.sync_api import Browser, Locator, Page

POINT, PRESS, KEY, HAND, MIND = 1.1, 0.2, 0.28, 0.4, 1.35
NAMES = "\n".join(f"Student{n:02d} Family{n:02d}" for n in range(24))


@dataclass
class Teacher:
    """Does what a teacher does, and counts it."""

    page: "Page"
    clicks: int = 0
    keys: int = 0
    fields: int = 0
    seconds: float = 0.0
    at_mouse: bool = True

    def click(self, target: "Locator") -> None:
        self._waiting_for(target)
        target.click()
        self.clicks += 1
        self._act(POINT + PRESS, mouse=True)

    def tab(self, name: str) -> None:
        self.click(self.page.get_by_role("navigation").get_by_role("link", name=name, exact=True))
        self.until(self.page.get_by_role("heading", level=1, name=name, exact=True))

    def key(self, name: str) -> None:
        self.page.keyboard.press(name)
        self.keys += 1
        self._act(KEY * (1 + name.count("+")), mouse=False)

    def type(self, field: "Locator", text: str, pasted: bool = False) -> None:
        """Into a field that has to be chosen first."""
        self._waiting_for(field)
        field.fill(text)
        self.fields += 1
        self._act(POINT + PRESS, mouse=True)
        self._act((2 * KEY if pasted else KEY * len(text)) - MIND, mouse=False)

    def choose(self, field: "Locator", label: str | re.Pattern[str]) -> None:
        """One of a list: open it, take it."""
        self._waiting_for(field)
        # A list may be there before what is in it.
        field.locator("option").filter(has_text=label).first.wait_for(state="attached")
        options = [text.strip() for text in field.locator("option").all_inner_texts()]
        field.select_option(label=next(text for text in options if re.search(label, text)))
        self.clicks += 2
        self._act(POINT + PRESS, mouse=True)
        self._act(POINT + PRESS, mouse=True)

    def until(self, target: "Locator") -> None:
        self._waiting_for(target)

    def _waiting_for(self, target: "Locator") -> None:
        begun = time.perf_counter()
        target.wait_for()
        self.seconds += time.perf_counter() - begun

    def _act(self, spent: float, mouse: bool) -> None:
        self.seconds += MIND + spent + (HAND if mouse != self.at_mouse else 0)
        self.at_mouse = mouse


Task = Callable[[Teacher], None]


def a_class(t: Teacher) -> None:
    p = t.page
    t.tab("Classes")
    t.key("n")
    t.type(p.get_by_label("Name of the class"), "7 Plover")
    t.click(p.get_by_role("button", name="Make the class"))
    t.type(p.get_by_label("Names, one a line"), NAMES, pasted=True)
    t.click(p.get_by_role("button", name="Add 24 students"))
    t.until(p.get_by_role("row", name=re.compile("Student23")))


def a_question(t: Teacher, stem: str = "Which lamp is brighter?") -> None:
    p = t.page
    if not p.get_by_role("button", name="New question").count():
        t.tab("Bank")
    t.key("n")
    t.click(p.get_by_role("menuitem", name="Single choice"))
    p.get_by_label("Question", exact=True).get_by_text(re.compile("^$")).wait_for(state="attached")
    t.type(p.get_by_label("Question", exact=True), stem)
    for letter, words in zip("ABCD", ("both alike", "the first", "the second", "neither"), strict=True):
        t.type(p.get_by_label(f"Option {letter}", exact=True), words)
    t.type(p.get_by_label("What choosing B shows"), "current is used up")
    p.get_by_label("A is the key").check(force=True)
    t.clicks += 1
    t.seconds += MIND + POINT + PRESS
    t.until(p.get_by_text(re.compile(r"kept \d\d:\d\d")))


def a_test(t: Teacher, title: str = "Friday", questions: int = 5) -> None:
    p = t.page
    t.tab("Tests")
    t.key("n")
    t.type(p.get_by_label("Title, as students see it"), title)
    t.click(p.get_by_role("button", name="Choose its questions"))
    for at in range(questions):
        t.click(p.get_by_role("button", name=re.compile("^Put in: ")).nth(0))
        p.get_by_role("button", name=f"Take off question {at + 1}").wait_for()
    t.click(p.get_by_role("button", name="Freeze an edition"))
    t.until(p.get_by_text("Edition 1 is frozen").first)


def a_sitting(t: Teacher, of_class: str = "8 Heron") -> None:
    """From the test just frozen."""
    p = t.page
    t.click(p.get_by_role("button", name="Plan a sitting"))
    t.choose(p.get_by_label("Class"), of_class)
    t.click(p.get_by_role("button", name="Plan the sitting"))
    t.click(p.get_by_role("button", name="Open it"))
    t.until(p.get_by_text("On the board"))


def answer_sheets(t: Teacher) -> None:
    p = t.page
    t.tab("Sittings")
    t.click(p.get_by_role("link", name="Go to it").first)
    t.click(p.get_by_role("link", name="Answer sheets"))
    with p.context.expect_page() as printed:
        t.click(p.get_by_role("button", name="Make the sheets"))
    printed.value.close()


def one_answer(t: Teacher) -> None:
    """From the desk: two criteria, and the next one is there."""
    p = t.page
    t.tab("Marking")
    t.click(p.get_by_role("link", name=re.compile("Mark$|Go on marking")).first)
    t.until(p.get_by_role("button", name="Keep and next"))
    for key in ("2", "1", "Enter"):
        t.key(key)


def release(t: Teacher) -> None:
    p = t.page
    t.tab("Findings")
    line = p.get_by_role("listitem").filter(has_text="Electric circuits, unit check")
    t.click(line.get_by_role("link", name="Results"))
    t.click(p.get_by_role("button", name="Release…"))
    t.click(p.get_by_role("dialog").get_by_role("button", name=re.compile("^Release to all")))


def who_thinks_so(t: Teacher) -> None:
    """From the desk to the names of those who hold the firmest idea of the last sitting."""
    p = t.page
    t.tab("Findings")
    t.click(p.get_by_role("link", name="Electric circuits, unit check").first)
    t.click(p.get_by_text(re.compile(r"^Who: \d+ more likely than not")).first)
    t.until(p.get_by_role("button", name="make a group").first)


def one_student(t: Teacher) -> None:
    p = t.page
    t.until(p.get_by_role("heading", level=1, name="Desk"))
    t.key("Control+k")
    t.type(p.get_by_role("combobox"), "greta")
    t.until(p.get_by_text("Greta Sandoval"))
    t.key("Enter")
    t.until(p.get_by_role("heading", name="Greta Sandoval"))


def feedback_sheets(t: Teacher) -> None:
    """From the findings that one has just read."""
    p = t.page
    t.tab("Findings")
    t.click(p.get_by_role("link", name="Electric circuits, unit check").first)
    t.until(p.get_by_role("navigation", name="Looks"))
    t.key("Control+k")
    t.type(p.get_by_role("combobox"), "feedback")
    t.until(p.get_by_role("option", name=re.compile("feedback sheets")).first)
    t.key("Enter")
    t.until(p.get_by_text("Feedback sheets").first)


TASKS: list[tuple[str, Task]] = [
    ("a class of 24, its names pasted", a_class),
    ("a question with four options and an idea", a_question),
    ("a test of five questions, frozen", a_test),
    ("its sitting planned and opened", a_sitting),
    ("answer sheets for a class", answer_sheets),
    ("the first written answer marked by its rubric", one_answer),
    ("results released", release),
    ("who holds the firmest idea", who_thinks_so),
    ("one student's page", one_student),
    ("the feedback sheets", feedback_sheets),
]


def run() -> None:
    from tests.e2e import screenshots
    from tests.e2e.serving import chromium, served

    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        print("clicks, keys, fields and seconds of a practised teacher (keystroke-level model, with waiting)")
        with served(Path(folder) / "demo", demo=True) as address:
            page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
            screenshots.sign_in(page, address)
            for name, task in TASKS:
                teacher = Teacher(page)
                # The sitting goes on from the test that was just frozen; everything else begins at the desk.
                if task is not a_sitting:
                    page.goto(address)
                task(teacher)
                _print(name, teacher)
        with served(Path(folder) / "empty") as address:
            _print("practice: from the account to a finding, and gone", _practice(browser, address))
        with served(Path(folder) / "whole") as address:
            _print("the whole job in an empty school, five questions", _whole_job(browser, address))


def _print(name: str, t: Teacher) -> None:
    print(f"  {name:<52} {t.clicks:>4} clicks {t.keys:>3} keys {t.fields:>3} fields {t.seconds:6.0f} s")


def _account(browser: "Browser", address: str) -> Teacher:
    from tests.e2e import screenshots
    from tests.e2e.serving import code_of

    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    t = Teacher(page)
    page.goto(address)
    for label, text in (
        ("School", "Bay School"), ("Your name", "O. Brandt"), ("Name you sign in with", "brandt"),
        ("Password", "correct-horse-9"), ("Code", code_of(address)),
    ):  # fmt: skip
        t.type(page.get_by_label(label), text)
    t.click(page.get_by_role("button", name="Make the account"))
    return t


def _practice(browser: "Browser", address: str) -> Teacher:
    t = _account(browser, address)
    p = t.page
    for name in ("Begin a practice", "Let them answer", "Close it and see the findings"):
        t.click(p.get_by_role("button", name=name))
    t.until(p.get_by_text("The paper, as 24 students sat it"))
    t.click(p.get_by_role("button", name="End the practice"))
    t.click(p.get_by_role("dialog").get_by_role("button", name="End it"))
    return t


def _whole_job(browser: "Browser", address: str) -> Teacher:
    """Students are three, and what they do is not counted."""
    from tests.e2e import test_main_journey as journey

    t = _account(browser, address)
    p = t.page
    t.until(p.get_by_role("heading", name="From a class to its first finding"))
    a_class(t)
    rows = [row.get_by_role("cell").all_inner_texts() for row in p.get_by_role("row").all()[1:4]]
    for number in range(5):
        a_question(t, f"Question number {number + 1}?")
        t.click(p.get_by_role("heading", name="Bank"))
    a_test(t, "Circuits")
    a_sitting(t, "7 Plover")
    code = p.locator("strong", has_text=re.compile(r"^[a-z]+-\d+$")).inner_text()
    for cells in rows:
        student = journey.join(browser, address, code, cells[2])
        journey.answer(student, "ABACA")
        journey.hand_in(student)
    t.click(p.get_by_role("button", name=re.compile("^Close it")))
    t.click(p.get_by_role("dialog").get_by_role("button", name=re.compile("^Close")))
    t.click(p.get_by_role("link", name="Results").first)
    t.click(p.get_by_role("button", name="Release…"))
    t.click(p.get_by_role("dialog").get_by_role("button", name=re.compile("^Release to all")))
    t.click(p.get_by_role("link", name="Findings").last)
    t.until(p.get_by_text(re.compile("The paper, as", re.IGNORECASE)))
    return t
