"""On phones and large screens: nothing wider than the window, no words cut off, no button under something else."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .test_room import phone_of, start

LOOK = """() => {
  const problems = [];
  const says = (e) => (e.getAttribute("aria-label") || e.innerText || e.value || "").slice(0, 50);
  const name = (e) => `${e.tagName.toLowerCase()} “${says(e)}”`;
  const root = document.documentElement;
  if (root.scrollWidth > innerWidth + 1) problems.push(`the page is ${root.scrollWidth} wide`);
  const clips = (e) => {
    const style = getComputedStyle(e);
    return style.overflowX !== "visible" || style.overflowY !== "visible";
  };
  // What of an element its ancestors let show.
  const shown = (e) => {
    const box = e.getBoundingClientRect();
    let { left, top, right, bottom } = box;
    const within = (b) => {
      left = Math.max(left, b.left);
      top = Math.max(top, b.top);
      right = Math.min(right, b.right);
      bottom = Math.min(bottom, b.bottom);
    };
    within({ left: 0, top: 0, right: innerWidth, bottom: innerHeight });
    for (let up = e.parentElement; up; up = up.parentElement) if (clips(up)) within(up.getBoundingClientRect());
    return right - left > 4 && bottom - top > 4 ? [(left + right) / 2, (top + bottom) / 2] : null;
  };
  const seen = { opacityProperty: true, visibilityProperty: true };
  for (const e of document.querySelectorAll("body *")) {
    if (!e.checkVisibility(seen) || e.closest("[inert], .sr-only, svg, .katex, [aria-hidden=true]")) continue;
    const style = getComputedStyle(e);
    const has_words = [...e.childNodes].some((node) => node.nodeType === 3 && node.textContent.trim());
    const ends = style.textOverflow === "ellipsis" || style.webkitLineClamp !== "none";
    const cut = style.overflowX === "hidden" && e.clientWidth > 4 && e.scrollWidth > e.clientWidth + 1;
    if (has_words && !ends && cut) problems.push(`cut: ${name(e)}`);
    if (!e.matches("a[href], button, select, input, textarea") || e.disabled) continue;
    if (style.opacity === "0" || style.pointerEvents === "none") continue;
    const middle = shown(e);
    const over = middle && document.elementFromPoint(...middle);
    const own = (other) => e.contains(other) || other.contains(e);
    if (over && !own(over) && ![...(e.labels ?? [])].some((label) => label.contains(over)))
      problems.push(`under ${name(over)}: ${name(e)}`);
  }
  return problems;
}"""


def looks_right(page: Page, where: str) -> None:
    page.wait_for_load_state("networkidle")
    problems = page.evaluate(LOOK)
    assert problems == [], f"{where}, {page.viewport_size}: {problems}"


def test_teachers_screens_on_a_phone(browser: Browser, demo_school: str) -> None:
    context = browser.new_context(viewport={"width": 360, "height": 800})
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    for name, go in screenshots.VIEWS.items():
        go(page)
        if name != "finder":  # a layer over the page covers it on purpose
            looks_right(page, name)
        page.keyboard.press("Escape")
    for name in ("Classes", "Bank", "Tests", "Sittings", "Findings"):
        screenshots.tab(page, name)
        looks_right(page, name)
    page.goto(f"{demo_school}/shelf")
    page.get_by_text("Reading scales").first.wait_for()
    looks_right(page, "shelf")
    screenshots.tab(page, "Marking")
    address = page.get_by_role("link", name="Mark", exact=True).get_attribute("href")
    for path, words in (("comments", "Add it"), (f"{address}/pile", "Share it out"), (f"{address}/compare", "Begin")):
        page.goto(f"{demo_school}/marking/{path.removeprefix('/marking/')}")
        page.get_by_role("button", name=words).wait_for()
        looks_right(page, path)
    context.close()


@pytest.mark.parametrize("width", [360, 1280])
def test_the_editor_of_every_kind(browser: Browser, demo_school: str, width: int) -> None:
    context = browser.new_context(viewport={"width": width, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    kinds = set()
    for item in page.request.get(f"{demo_school}/api/v1/items?most=60").json()["items"]:
        if item["kind"] not in kinds:
            kinds.add(item["kind"])
            page.goto(f"{demo_school}/bank/{item['id']}")
            page.get_by_label("Marks", exact=True).first.wait_for()
            looks_right(page, item["kind"])
    assert len(kinds) >= 12
    context.close()


@pytest.mark.parametrize("width", [320, 390])
def test_every_kind_on_a_phone(browser: Browser, demo_school: str, width: int) -> None:
    """320 wide is a small phone, and a larger one with the text enlarged (WCAG 2.2, 1.4.10 Reflow)."""
    context = browser.new_context(viewport={"width": width, "height": 700}, reduced_motion="reduce")
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    screenshots.test(page)
    page.get_by_role("button", name="As students see it").click()
    dialog = page.get_by_role("dialog")
    place = dialog.get_by_text(re.compile(r"Question 1 of \d+")).text_content() or ""
    count = int(re.findall(r"of (\d+)", place)[0])
    assert count >= 13  # the kinds of questions that there are
    for number in range(1, count + 1):
        expect(dialog.get_by_text(f"Question {number} of {count}")).to_be_visible()
        wide = dialog.evaluate("e => e.scrollWidth - e.clientWidth")
        assert wide <= 1, f"question {number} is {wide} too wide"
        if number < count:
            dialog.get_by_role("button", name="Next", exact=True).click()
    context.close()


@pytest.mark.parametrize("width", [320, 390, 768, 1280, 1920])
def test_a_lesson_in_the_room(browser: Browser, demo_school: str, width: int) -> None:
    """Console, wall and phone, with a question, its spread and its answer; the wall never scrolls and cuts nothing."""
    context = browser.new_context(viewport={"width": width, "height": 720}, reduced_motion="reduce")
    console = context.new_page()
    screenshots.sign_in(console, demo_school)
    wall = start(console)
    wall.set_viewport_size({"width": width, "height": 720})
    code = wall.locator("strong").nth(1).inner_text()
    phone = phone_of(browser, console, code, "Ines A.")
    phone.set_viewport_size({"width": width, "height": 720})
    pages = {"console": console, "wall": wall, "phone": phone}
    for key, shown in (("ArrowRight", "Question 1 of"), ("s", "collecting has stopped"), ("r", "✓")):
        console.keyboard.press(key)
        expect(wall.get_by_text(shown).first).to_be_visible()
        for name, page in pages.items():
            looks_right(page, f"{name} after {key}")
        assert wall.evaluate("document.documentElement.scrollHeight <= innerHeight")
        text = wall.locator("main > div > div").nth(1)
        assert text.evaluate("e => e.scrollHeight <= e.clientHeight + 1 && e.scrollWidth <= e.clientWidth + 1")
    lesson = console.url
    for path, heading in (("camera", "The room through the camera"), ("rounds", "Round by round")):
        console.goto(f"{lesson}/{path}")
        expect(console.get_by_role("heading", name=heading)).to_be_visible()
        looks_right(console, path)
    console.goto(lesson)
    console.get_by_role("button", name="How they answer").click()
    expect(console.get_by_text("No receiver is connected.")).to_be_visible()
    assert console.get_by_role("dialog").evaluate("e => e.scrollWidth <= e.clientWidth + 1")
    context.close()
    phone.context.close()
