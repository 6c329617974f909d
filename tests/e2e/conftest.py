"""Fixtures of the browser tests: a browser, an empty school, the demo school, and axe-core."""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .serving import ROOT, chromium, served

# A busy machine is slow, not wrong; a failure still fails, only later.
expect.set_options(timeout=15_000)
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"


LONGEST_FIRST = (
    "test_two_processes",
    "test_hostile_and_long", "test_room", "test_build", "test_any_width", "test_demo_screens", "test_paper",
    "test_marking_trust", "test_main_journey", "test_results_and_looks", "test_upkeep", "test_supervised",
    "test_marking",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Of two workers neither begins the longest file when the other has nothing left to do."""
    places = {name: at for at, name in enumerate(LONGEST_FIRST)}
    items.sort(key=lambda item: places.get(item.path.stem, len(places)))


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as found:
        yield found


@pytest.fixture
def empty_school(tmp_path: Path) -> Iterator[str]:
    with served(tmp_path / "school") as address:
        yield address


@pytest.fixture(scope="module")
def demo_school(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with served(tmp_path_factory.mktemp("demo"), demo=True) as address:
        yield address


@pytest.fixture
def teacher(browser: Browser, demo_school: str) -> Iterator[Page]:
    """The demo school's teacher, signed in, on a laptop."""
    context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
    page = context.new_page()
    screenshots.sign_in(page, demo_school)
    yield page
    context.close()


EQUAL = "data-equal-beside"


def axe_finds_nothing(page: Page, rules: list[str] | None = None) -> None:
    """axe-core with every rule of WCAG 2.2 A and AA and its best practices, or with these rules alone."""
    # Evaluated by the debugger, which the page's content security policy does not bind; once a page is enough.
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    # The size of targets is in WCAG 2.2 and stands turned off in the library.
    only = f", runOnly: {json.dumps(rules)}" if rules else ", rules: {'target-size': {enabled: true}}"
    evaluate = page.evaluate(f"axe.run(document, {{resultTypes: ['violations']{only}}})")
    problems = [
        (violation["id"], violation["help"], [node["html"][:160] for node in nodes[:4]])
        for violation in evaluate["violations"]
        # A target may be small where another on the page does the same (2.5.8, Equivalent).
        if (nodes := [n for n in violation["nodes"] if (violation["id"], EQUAL in n["html"]) != ("target-size", True)])
    ]
    assert problems == [], f"{page.url}: {problems}"
