"""A page of ink: 500 strokes of a pen on a picture of an answer, drawn anew with one more, in a real browser."""

import json
import tempfile
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from playwright.sync_api import Page

STROKES, TIMES = 500, 15


def run() -> None:
    from tests.e2e import screenshots
    from tests.e2e.serving import chromium, free_port, manage, school_in, start

    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        data, port = Path(folder) / "school", free_port()
        school_in(data, demo=True)
        manage(data, "shell", "-c", "from tests.e2e.handed_in import hand_in; hand_in()")
        server = start(data, port)
        try:
            page = browser.new_context(viewport=screenshots.LAPTOP).new_page()  # type: ignore[arg-type]
            address = f"http://127.0.0.1:{port}"
            screenshots.sign_in(page, address)
            waiting = page.request.get(f"{address}/api/v1/marking").json()
            sitting = next(entry for entry in waiting if entry["title"] == "Report on a wire")
            item = sitting["items"][0]["ref"]
            _ink(page, f"{address}/api/v1/sittings/{sitting['sitting']}/marking/{item}/1/remarks")
            for slower in (1, 4):
                page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": slower})
                page.goto(f"{address}/marking/{sitting['sitting']}?item={item}&number=1")
                print(f"one more sign on a page of {STROKES} strokes, processor {slower} x slower: {_drawn(page)}")
        finally:
            server.terminate()
            server.wait()


def _ink(page: "Page", address: str) -> None:
    """Strokes of some thirty points, as a hand writes them."""
    rng = np.random.default_rng(1)
    added = []
    for at in range(STROKES):
        steps = rng.integers(-60, 61, size=(30, 3)).cumsum(axis=0)
        begin = np.array([500 + 300 * (at % 30), 500 + 500 * (at // 30), 5000])
        points = np.clip(begin + steps, 0, 10_000).ravel().tolist()
        place = {"kind": "stroke", "file": 1, "page": 1, "wide": False, "points": points}
        added.append({"key": f"{at:08x}-0000-4000-8000-000000000000", "place": place})
    body = json.dumps({"added": added, "gone": []})
    done = page.evaluate(
        """([address, body]) => fetch(address, {method: 'PATCH', body, headers: {'Content-Type': 'application/json',
        'X-Verso-Csrf': document.cookie.match(/verso_csrf=([^;]+)/)[1]}}).then(reply => reply.status)""",
        [address, body],
    )
    assert done == 200, done


def _drawn(page: "Page") -> str:
    """Milliseconds from a key to the picture that has it, as the browser measures them."""
    page.get_by_role("list", name="Remarks").get_by_text(f"{STROKES} lines").wait_for()
    picture = page.get_by_role("group", name="report.pdf, page 1")
    picture.locator("svg path").first.wait_for(state="attached")
    page.keyboard.press("t")
    picture.focus()
    page.keyboard.press("ArrowDown")
    page.evaluate(
        """() => { window.spent = []; new PerformanceObserver(list => list.getEntries().forEach(one =>
        one.name === 'keydown' && window.spent.push(one.duration))).observe({type: 'event', durationThreshold: 16}) }"""
    )
    for _ in range(TIMES):
        page.keyboard.press("Enter")
        page.wait_for_timeout(250)
    spent = sorted(page.evaluate("window.spent"))
    # What takes less than two pictures of the screen is not listed.
    spent = [16.0] * max(0, TIMES - len(spent)) + spent
    return f"median {median(spent):.0f} ms, longest {max(spent):.0f} ms"
