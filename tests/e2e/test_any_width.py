"""Every screen at every width: nothing wider than the window, no words cut off, no button under something else."""

import pytest
from playwright.sync_api import Browser, Page, expect

from . import screenshots

WIDTHS = [360, 768, 1280, 1920]
LOOK = """() => {
  const problems = [];
  const name = (e) => `${e.tagName.toLowerCase()} “${(e.getAttribute("aria-label") || e.innerText || e.value || "").slice(0, 50)}”`;
  if (document.documentElement.scrollWidth > innerWidth + 1)
    problems.push(`the page is ${document.documentElement.scrollWidth} wide`);
  const clips = (e) => { const s = getComputedStyle(e); return [s.overflowX, s.overflowY].some((o) => o !== "visible"); };
  // What of an element its ancestors let show.
  const shown = (e) => {
    const box = e.getBoundingClientRect();
    let [left, top, right, bottom] = [Math.max(0, box.left), Math.max(0, box.top), Math.min(innerWidth, box.right), Math.min(innerHeight, box.bottom)];
    for (let up = e.parentElement; up; up = up.parentElement) {
      if (!clips(up)) continue;
      const b = up.getBoundingClientRect();
      [left, top, right, bottom] = [Math.max(left, b.left), Math.max(top, b.top), Math.min(right, b.right), Math.min(bottom, b.bottom)];
    }
    return right - left > 4 && bottom - top > 4 ? [left, top, right, bottom] : null;
  };
  for (const e of document.querySelectorAll("body *")) {
    if (!e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) || e.closest("[inert], .sr-only, svg, .katex, [aria-hidden=true]")) continue;
    const s = getComputedStyle(e);
    const says = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
    const ends = s.textOverflow === "ellipsis" || s.webkitLineClamp !== "none";
    if (says && !ends && s.overflowX === "hidden" && e.scrollWidth > e.clientWidth + 1 && e.clientWidth > 4)
      problems.push(`cut: ${name(e)}`);
    if (!e.matches("a[href], button, select, input, textarea") || e.disabled || s.opacity === "0" || s.pointerEvents === "none") continue;
    const box = shown(e);
    if (!box) continue;
    const [x, y] = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
    const over = document.elementFromPoint(x, y);
    if (over && !e.contains(over) && !over.contains(e) && !(e.labels && [...e.labels].some((l) => l.contains(over))))
      problems.push(`under ${name(over)}: ${name(e)}`);
  }
  return problems;
}"""


def looks_right(page: Page, where: str) -> None:
    page.wait_for_load_state("networkidle")
    problems = page.evaluate(LOOK)
    assert problems == [], f"{where}, {page.viewport_size}: {problems}"


@pytest.mark.parametrize("width", WIDTHS)
def test_teachers_screens(browser: Browser, demo_school: str, width: int) -> None:
    context = browser.new_context(viewport={"width": width, "height": 800}, reduced_motion="reduce")
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
    context.close()


@pytest.mark.parametrize("width", [360, 1280])
def test_the_editor_of_every_kind(browser: Browser, demo_school: str, width: int) -> None:
    context = browser.new_context(viewport={"width": width, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    kinds = set()
    for item in page.request.get(f"{demo_school}/api/items?most=60").json()["items"]:
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
    for number in range(1, 15):
        expect(dialog.get_by_text(f"Question {number} of 14")).to_be_visible()
        wide = dialog.evaluate("e => e.scrollWidth - e.clientWidth")
        assert wide <= 1, f"question {number} is {wide} too wide"
        if number < 14:
            dialog.get_by_role("button", name="Next", exact=True).click()
    context.close()
