"""What must never happen to a mark: covered in silence, lost with the server or the session, given to the wrong
criterion, or typed beside an answer that is off the screen."""

import re
import shutil
import sqlite3
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .screenshots import tab
from .serving import free_port, manage, school_in, start
from .test_marking import give, progress


@dataclass
class Machine:
    """A school's server that can be killed and started again, on the same port with the same data."""

    data: Path
    port: int
    process: subprocess.Popen[str] | None = None
    marked_before: int = 0
    """The last mark of the demo school; what is marked here comes after it."""

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = start(self.data, self.port)

    def kill(self) -> None:
        assert self.process is not None
        self.process.kill()
        self.process.wait(timeout=20)

    def rows(self, sql: str) -> list[tuple[object, ...]]:
        with sqlite3.connect(self.data / "verso.sqlite3") as database:
            return database.execute(sql).fetchall()

    def marks(self) -> list[tuple[object, ...]]:
        return self.rows(
            "select s.desk, m.points, m.comment from grading_mark m join delivery_seat s on s.id = m.seat_id"
            f" where m.state = 'kept' and m.id > {self.marked_before} order by m.id"
        )


@pytest.fixture
def machine(tmp_path: Path) -> Iterator[Machine]:
    made = Machine(tmp_path / "school", free_port())
    school_in(made.data, demo=True)
    made.marked_before = int(str(made.rows("select max(id) from grading_mark")[0][0]))
    made.start()
    yield made
    made.kill()
    shutil.rmtree(made.data, ignore_errors=True)


def desk_of(browser: Browser, machine: Machine, username: str = "brandt") -> Page:
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(page, machine.address, username)
    tab(page, "Marking")
    page.get_by_role("link", name=re.compile("^(Mark|Go on marking)$")).first.click()
    page.get_by_role("button", name="Keep and next").wait_for()
    return page


def colleague(machine: Machine) -> None:
    """Varga, with the same password, may mark everything of the class."""
    manage(
        machine.data,
        "shell",
        "-c",
        "from versomark.school.accounts.models import Teacher as T;"
        "from versomark.school.classes.models import SchoolClass as C;"
        "from versomark.school.classes.services import share_class as share;"
        "from versomark.demo.sign_in import PASSWORD as P;"
        "b = T.objects.get(username='brandt');"
        "v = T.objects.filter(username='varga').first() or T.objects.create_teacher(b.school, 'Varga', 'varga', P);"
        "[share(c, v.pk, may_mark=True, may_run=False) for c in C.objects.filter(owner=b)]",
    )


def test_two_at_one_answer_both_keep_their_mark_both_are_told_and_one_is_chosen(
    browser: Browser, machine: Machine
) -> None:
    first = desk_of(browser, machine)
    colleague(machine)
    second = desk_of(browser, machine, "varga")
    # Each sees where the other is.
    expect(first.get_by_text("Varga is at question 12, no. 1.")).to_be_visible()
    expect(second.get_by_text(re.compile("is at question 12, no. 1."))).to_be_visible()
    axe_finds_nothing(first)

    # The second types and pauses; the first keeps theirs with a comment; the second is told before they keep.
    second.keyboard.press("0")
    second.keyboard.press("0")
    second.keyboard.press("0")
    second.wait_for_timeout(1_200)
    give(first, "3", "2", "1", keep=False)
    first.keyboard.press("c")
    first.keyboard.type("Well argued.")
    first.keyboard.press("Control+Enter")
    expect(second.get_by_role("alert")).to_contain_text("Well argued.")
    second.keyboard.press("Enter")
    expect(second.get_by_text(re.compile("has marked question 12, no. 1 too")).first).to_be_visible()
    assert [comment for _, _, comment in machine.marks()] == ["Well argued."]

    # Both are told, and either can choose.
    for page in (first, second):
        page.get_by_role("navigation", name="Answers").get_by_role("button", name=re.compile("two marks")).click()
        expect(page.get_by_role("alert", name="Two marks at once")).to_be_visible()
    axe_finds_nothing(first)
    first.get_by_role("button", name="Varga’s mark counts").click()
    for page in (first, second):
        expect(page.get_by_role("alert", name="Two marks at once")).to_have_count(0)
        expect(page.get_by_text("of 6, 0 of 100")).to_be_visible()
    assert machine.rows("select count(*) from grading_markchoice") == [(1,)]
    assert len(machine.marks()) == 2
    # The word on the whole work: the second to write is asked, and both can stand.
    for page, words in ((first, "Clear thinking."), (second, "Mind the units.")):
        page.get_by_text("About all of their work").click()
        page.get_by_label("To their student, on the whole").fill(words)
        page.wait_for_timeout(1_000)
    ask = second.get_by_role("alert", name="Two words on the whole work")
    expect(ask).to_contain_text("wrote meanwhile: “Clear thinking.”")
    axe_finds_nothing(second)
    ask.get_by_role("button", name="Both").click()
    expect(ask).to_have_count(0)
    expect(second.get_by_label("To their student, on the whole")).to_have_value("Clear thinking.\n\nMind the units.")
    newest = "select text from grading_overallcomment order by id desc limit 1"
    for _ in range(100):
        if machine.rows(newest) == [("Clear thinking.\n\nMind the units.",)]:
            break
        second.wait_for_timeout(100)
    assert machine.rows(newest) == [("Clear thinking.\n\nMind the units.",)]
    for page in (first, second):
        page.context.close()


def test_marks_outlive_the_server_the_tab_and_the_session(browser: Browser, machine: Machine) -> None:
    page = desk_of(browser, machine)
    give(page, "2", "1", "1")
    progress(page, 1, 21)
    expect(page.get_by_role("button", name=re.compile("not sent yet"))).to_have_count(0)
    machine.kill()
    # The work goes on: what is given without a server counts on the screen and waits in the browser.
    give(page, "1", "1", "0")
    give(page, "2", "2", "1", keep=False)
    page.keyboard.press("c")
    page.keyboard.type("Kept through it all.")
    page.keyboard.press("Control+Enter")
    # With the draft of the next one, whose first key is in the store too.
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    page.keyboard.press("1")
    expect(page.get_by_text("3 not sent yet")).to_be_visible()
    axe_finds_nothing(page)
    # The tab is closed, the server comes back, another page of the product is opened: they go out by themselves.
    context = page.context
    page.close()
    machine.start()
    page = context.new_page()
    page.goto(machine.address)
    # Marks, the draft and the place where one was: all of it has left the browser's store.
    all_sent(page)
    tab(page, "Marking")
    page.get_by_role("link", name="Go on marking").first.click()
    progress(page, 3, 21)
    assert [comment for _, _, comment in machine.marks()] == ["", "", "Kept through it all."]

    # The session ends while somebody marks; signed in again, what was given meanwhile is sent.
    page.get_by_role("button", name="Keep and next").wait_for()
    machine.rows("delete from django_session")
    give(page, "1", "1", "1")
    # The page says so, or asks for the sign-in by itself where it has looked meanwhile who is there.
    way_in = page.get_by_label("Name you sign in with")
    expect(page.get_by_text("1 not sent yet").or_(way_in)).to_be_visible()
    if not way_in.is_visible():
        page.get_by_role("button", name="sign in again").click()
    screenshots.sign_in(page, machine.address)
    all_sent(page)
    tab(page, "Marking")
    page.get_by_role("link", name="Go on marking").first.click()
    progress(page, 4, 21)
    assert len(machine.marks()) == 4
    context.close()


def all_sent(page: Page) -> None:
    """Nothing is left in the browser's store that was not sent."""
    for _ in range(200):
        if not page.evaluate("Object.keys(localStorage).some((key) => key.includes('.e.'))"):
            return
        page.wait_for_timeout(100)
    raise AssertionError("something was not sent within 20 seconds")


def essays(machine: Machine, students: int) -> None:
    """A class with an essay in 13 / 20 / 3 points, handed in by every student."""
    manage(machine.data, "shell", "-c", ESSAYS.format(students=students))


ESSAYS = """
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.accounts.models import Teacher
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.services import add_students, make_class
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.delivery import services
from versomark.school.delivery.models import SeatState
from versomark.school.responses.models import Answer, CurrentAnswer
from django.utils import timezone
from uuid import uuid4
brandt = Teacher.objects.get(username="brandt")
school_class = make_class(brandt, "Year {students}")
add_students(school_class, [f"Student{{n}} Family" for n in range(1, {students} + 1)])
parts = [("a", "Analysis", 13), ("b", "Evidence", 20), ("c", "Style", 3)]
rubric = Rubric(criteria=[Criterion(id=i, name=n, max=m) for i, n, m in parts])
essay = Written(stem="Explain why the lights went out.", marks=36, rubric=rubric)
item = make_item(brandt, essay, Details(["A skill"]))
test = keep_items(make_test(brandt, "T"), "Essay of {students}", "", [item.pk])
sitting = services.open_sitting(services.plan(brandt, freeze(test), school_class, None))
ref = next(iter(sitting.edition.read().items())).ref
for seat in sitting.seats.all():
    response = {{"kind": "written", "text": "Because the fuse had blown. " * 12}}
    answer = Answer.objects.create(seat=seat, item=ref, response=response, sequence=1, client_id=uuid4())
    CurrentAnswer.objects.create(seat=seat, item=ref, answer=answer)
sitting.seats.update(state=SeatState.HANDED_IN, handed_in_at=timezone.now())
services.close_sitting(sitting)
"""


@pytest.mark.parametrize("students", [10, 90, 400])
def test_points_of_any_size_go_where_they_are_typed_and_the_answer_stays_in_view(
    browser: Browser, machine: Machine, students: int
) -> None:
    essays(machine, students)
    page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
    screenshots.sign_in(page, machine.address)
    tab(page, "Marking")
    sitting = machine.rows("select max(id) from delivery_sitting")[0][0]
    page.goto(f"{machine.address}/marking/{sitting}")
    page.get_by_role("button", name="Keep and next").wait_for()
    # The answer, its rubric and the button that keeps the mark are on the screen, however many wait.
    for place in (page.locator("article .rich"), page.get_by_role("group", name="Style")):
        box = place.bounding_box()
        assert box is not None
        assert box["y"] + min(box["height"], 40) < 800, (students, box)
    expect(page.get_by_role("button", name="Keep and next")).to_be_in_viewport()
    expect(page.get_by_role("navigation", name="Answers").get_by_role("button").first).to_be_in_viewport()
    axe_finds_nothing(page)

    # 11, 20 and 3 by keys; what is too large is said.
    for key in ("1", "1", "Space", "2", "5"):
        page.keyboard.press(key)
    expect(page.get_by_role("alert")).to_have_text("25 is more than the 20 of Evidence.")
    for key in ("0", "Enter", "3"):
        page.keyboard.press(key)
    expect(page.get_by_text("of 36, 94 of 100")).to_be_visible()
    expect(page.get_by_role("spinbutton", name="Points for Analysis")).to_have_value("11")
    page.keyboard.press("Enter")
    expect(page.get_by_text(f"1 of {students}")).to_be_visible()

    # By Tab: points, Keep and comment come before the strip of students.
    page.get_by_role("spinbutton", name="Points for Analysis").focus()
    order = []
    for _ in range(12):
        page.keyboard.press("Tab")
        order.append(
            page.evaluate(
                "(e => e.closest('[aria-label=Answers]') ? 'strip' : (e.labels?.[0]?.innerText ??"
                " e.getAttribute('aria-label') ?? e.innerText))(document.activeElement)"
            )
        )
        if order[-1] == "strip":
            break
    assert order[-1] == "strip", order
    assert "Comment" in order, order
    # All of them at once are a key away.
    page.keyboard.press("Escape")
    page.locator("h1").click()
    page.keyboard.press("l")
    everybody = page.get_by_role("dialog").get_by_role("button")
    expect(everybody).to_have_count(students)
    if students == 90:
        axe_finds_nothing(page)
    # The line goes along to whoever is chosen, into the part of it that was not drawn yet.
    everybody.last.click()
    expect(page.get_by_role("navigation", name="Answers").get_by_role("button").last).to_be_in_viewport(ratio=0.9)
    page.context.close()
