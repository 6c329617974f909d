"""Levels that change while answers are marked, and a student who asks about a mark: on a laptop and a phone."""

import re

from playwright.sync_api import Browser, Page, Route, expect

from .conftest import axe_finds_nothing
from .screenshots import tab
from .test_marking import give
from .test_marks_only import own_result


def test_a_level_is_split_its_marks_looked_at_again_and_a_student_asks_about_one(
    teacher: Page, browser: Browser, demo_school: str
) -> None:
    tab(teacher, "Marking")
    teacher.get_by_role("link", name="Mark", exact=True).click()
    # The marks stay on their way: what a change touches is counted again when they have arrived.
    on_its_way: list[Route] = []
    marks = re.compile(r"/marking/[^/]+/\d+$")
    teacher.route(marks, lambda it: on_its_way.append(it) if it.request.method == "PUT" else it.fallback())
    for _ in range(3):
        give(teacher, "2", "1", "1")
    teacher.get_by_role("button", name="Change levels…").click()
    dialog = teacher.get_by_role("dialog")
    first = dialog.get_by_role("group").first
    first.get_by_role("button", name="split").first.click()
    first.get_by_label(re.compile("Words of level")).nth(1).fill("Named, but not said why. காரணம் இல்லை")
    first.get_by_label(re.compile("Points of level")).nth(1).fill("1.5")
    first.get_by_label(re.compile("Points of level")).nth(1).press("Enter")
    expect(dialog.get_by_text("No mark that was given is touched by this.")).to_be_visible()
    expect(dialog.get_by_text("3 marks of yours for this question have not been sent yet")).to_be_visible()
    for route in on_its_way:
        route.continue_()
    teacher.unroute(marks)
    expect(dialog.get_by_text("3 given marks are touched by this:")).to_be_visible()
    axe_finds_nothing(teacher)
    dialog.get_by_label("Why they are changed").fill("Seen in the first three.")
    dialog.get_by_role("button", name="Change the levels").click()
    expect(dialog).to_have_count(0)
    strip = teacher.get_by_role("navigation", name="Answers")
    expect(strip.get_by_text("to look at again")).to_have_count(3)
    strip.get_by_role("button").first.click()
    expect(teacher.get_by_text("Seen in the first three.")).to_be_visible()
    teacher.keyboard.press("Enter")
    expect(strip.get_by_text("to look at again")).to_have_count(2)

    # Released, with a window in which students may ask.
    teacher.get_by_role("button", name="More", exact=True).click()
    sitting = teacher.url.split("/marking/")[1].split("?")[0]
    teacher.keyboard.press("Escape")
    teacher.goto(f"{demo_school}/results/{sitting}/questions")
    expect(teacher.get_by_text("Nobody has asked.")).to_be_visible()
    teacher.get_by_role("button", name="Let them ask").click()
    expect(teacher.get_by_text(re.compile("can ask until")).first).to_be_visible()
    axe_finds_nothing(teacher)
    teacher.get_by_role("link", name="Results").click()
    teacher.get_by_role("button", name="Release…").click()
    teacher.get_by_role("button", name="Release to all").click()
    expect(teacher.get_by_text("released to all")).to_be_visible()
    name = teacher.get_by_role("table", name="Totals").get_by_role("button").first.inner_text()
    phone = own_result(browser, teacher, name, "8 Tern", "a bit of everything")
    phone.get_by_role("button", name=re.compile("^Ask to have this mark")).first.click()
    phone.get_by_label(re.compile("What should your teacher look at")).fill("I gave both reasons. இரண்டும்.")
    axe_finds_nothing(phone)
    phone.get_by_role("button", name="Send the question").click()
    expect(phone.get_by_text("Your teacher has not answered yet.")).to_be_visible()

    teacher.goto(f"{demo_school}/results/{sitting}")
    expect(teacher.get_by_text("One student asks to have a mark looked at once more.")).to_be_visible()
    teacher.get_by_role("link", name="Answer", exact=True).click()
    expect(teacher.get_by_text("I gave both reasons. இரண்டும்.")).to_be_visible()
    teacher.get_by_label("Your answer").fill("Both are there; the second one is not said why.")
    axe_finds_nothing(teacher)
    teacher.get_by_role("button", name="Send the answer").click()
    expect(teacher.get_by_role("heading", name="Answered")).to_be_visible()
    phone.reload()
    phone.get_by_role("button", name=re.compile("^See your result.*a bit of everything$")).click()
    expect(phone.get_by_text(re.compile("The mark was left as it was."))).to_be_visible()
    axe_finds_nothing(phone)
    phone.context.close()
