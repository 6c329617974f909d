"""A student's seat in the demo school: waiting, pausing, coming back, sharing a device, answering by keyboard."""

import re
import socket
from typing import Any

from playwright.sync_api import Browser, Page, Route, expect

from versomark.site.serve import HEADERS_WITHIN_SECONDS

from . import screenshots
from .conftest import axe_finds_nothing


def new_sitting(
    teacher: Page, address: str, test: str = "unit check", minutes: int | None = None
) -> tuple[str, str, list[str]]:
    """A sitting of a test, the unit check, that is ready: its address, its code and the passes of 8 Tern."""

    def get(path: str) -> list[dict[str, object]]:
        body: list[dict[str, object]] = teacher.request.get(f"{address}/api/v1/{path}").json()
        return body

    edition = next(line["id"] for line in get("editions") if test in str(line["title"]))
    class_id = next(line["id"] for line in get("classes") if line["name"] == "8 Tern")
    token = next(c["value"] for c in teacher.context.cookies() if c["name"] == "verso_csrf")
    body = teacher.request.post(
        f"{address}/api/v1/sittings",
        data={"edition": edition, "class_id": class_id, "rules": {"minutes": minutes}},
        headers={"X-Verso-Csrf": token, "Referer": address},
    ).json()
    students = teacher.request.get(f"{address}/api/v1/classes/{class_id}").json()["list"]
    return f"{address}/sittings/{body['id']}", body["code"], [s["pass_phrase"] for s in students]


def phone(browser: Browser) -> Page:
    return browser.new_context(viewport=screenshots.PHONE).new_page()  # type: ignore[arg-type]


def test_the_door_a_pause_and_the_way_back(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    student = phone(browser)
    screenshots.join(student, demo_school, code, passes[0])
    expect(student.get_by_role("heading", name="Welcome, Amina Y.")).to_be_visible()
    expect(teacher.get_by_text("at the door").first).to_be_visible()

    teacher.get_by_role("button", name="Open it").click()
    expect(student.get_by_text("Question 1 of 20")).to_be_visible()
    student.locator("label:has(input[type=radio])").nth(1).click()
    student.get_by_role("button", name="Next").click()
    expect(student.get_by_text("all answers kept")).to_be_visible()
    expect(teacher.get_by_role("row", name=re.compile("Amina Y. on question 2 1 of 20"))).to_be_visible()

    teacher.get_by_role("button", name="Pause all").click()
    expect(student.get_by_role("heading", name="Paused.")).to_be_visible()
    teacher.get_by_role("button", name="Go on").click()
    expect(student.get_by_text("Question 2 of 20")).to_be_visible()

    student.reload()
    expect(student.get_by_text("Question 2 of 20")).to_be_visible()
    student.get_by_role("button", name="Back").click()
    expect(student.locator("input[type=radio]").nth(1)).to_be_checked()

    # Absent is for who has not come; who came can be seen at work.
    teacher.get_by_role("button", name="Bram V. is absent").click()
    expect(teacher.get_by_text("Have not sat it: 1")).to_be_visible()
    late = phone(browser)
    screenshots.join(late, demo_school, code, passes[1])
    expect(late.get_by_text("Question 1 of 20")).to_be_visible()
    expect(teacher.get_by_text("Have not sat it: 1")).to_be_hidden()

    teacher.get_by_role("button", name="Close it…").click()
    teacher.get_by_role("dialog").get_by_role("button", name="Close it").click()
    for page in (student, late):
        expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()
    teacher.get_by_role("button", name="Open it again").click()
    expect(student.get_by_text(re.compile(r"Question \d of 20"))).to_be_visible()


def test_the_next_student_on_the_same_device(browser: Browser, demo_school: str, teacher: Page) -> None:
    _, code, passes = new_sitting(teacher, demo_school)
    device = phone(browser)
    screenshots.join(device, demo_school, code, passes[2])
    device.get_by_role("button", name="I am not Chidi E.").click()
    expect(device.get_by_role("heading", name="Take your seat.")).to_be_visible()
    screenshots.join(device, demo_school, code, passes[3])
    expect(device.get_by_role("heading", name="Welcome, Dalia R.")).to_be_visible()


def test_a_test_is_sat_by_keyboard_alone(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    page = phone(browser)
    page.goto(f"{demo_school}/join?code={code}")
    page.get_by_label("Your pass").focus()
    page.keyboard.type(passes[4].replace("-", ""))
    page.keyboard.press("Enter")
    expect(page.get_by_text("Question 1 of 20")).to_be_visible()
    for _ in range(20):
        page.locator("input[type=radio]").first.focus()
        page.keyboard.press("ArrowDown")
        page.get_by_role("button", name=re.compile("^(Next|Review)$")).focus()
        page.keyboard.press("Enter")
    expect(page.get_by_text("Every question has an answer.")).to_be_visible()
    page.get_by_role("button", name="Hand in", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Handed in.")).to_be_visible()
    expect(teacher.get_by_role("row", name=re.compile("Elio C. . handed in 20 of 20"))).to_be_visible()


# What has the focus, where none of it is to be seen: it lies under what sticks to an edge, or outside of the window.
UNSEEN = """() => {
  const e = document.activeElement
  if (e === document.body) return null
  const box = e.getBoundingClientRect()
  const own = (other) => e.contains(other) || other.contains(e) || [...(e.labels ?? [])].some((l) => l.contains(other))
  const x = Math.min(Math.max(box.left + box.width / 2, 1), innerWidth - 2)
  const seen = [1, 2, 3, 4, 5].some((part) => {
    const over = document.elementFromPoint(x, box.top + (box.height * part) / 6)
    return over && own(over)
  })
  return seen ? null : `${e.tagName} ${e.getAttribute("aria-label") ?? e.innerText} at ${box.top}`
}"""
FOCUS = "document.activeElement.tagName"


def test_every_kind_at_400_percent_by_keys(browser: Browser, demo_school: str, teacher: Page) -> None:
    """1280 x 1024 at 400 percent is 320 x 256 (WCAG 2.2, 1.4.10); nothing that has the focus is hidden (2.4.11), and it
    is never lost (2.4.3). In colours of the reader's own what is chosen is told by its ground, and not by a border."""
    where, code, passes = new_sitting(teacher, demo_school, "a bit of everything")
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    page = browser.new_context(viewport={"width": 320, "height": 256}, forced_colors="active").new_page()
    page.goto(f"{demo_school}/join?code={code}")
    page.get_by_label("Your pass").fill(passes[5])
    page.keyboard.press("Enter")
    expect(page.get_by_text("Question 1 of")).to_be_visible()
    assert page.evaluate(FOCUS) == "MAIN"
    axe_finds_nothing(page)
    steps = 0
    while True:
        steps += 1
        assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0, steps
        for _ in range(30):
            page.keyboard.press("Tab")
            if page.evaluate(FOCUS) == "BODY":
                break
            assert page.evaluate(UNSEEN) is None, (steps, page.evaluate(UNSEEN))
        pick = page.locator("label:has(> input[type=radio])")
        if pick.count():
            pick.first.locator("input").check(force=True)
            grounds = pick.evaluate_all("some => some.slice(0, 2).map((one) => getComputedStyle(one).backgroundColor)")
            assert grounds[0] != grounds[1], steps
        up, down = (page.get_by_role("button", name=re.compile(f"^Move {way}: ")) for way in ("up", "down"))
        if up.count():
            # Moved to its end an entry keeps the focus, and where it stands is told.
            for _ in range(up.count()):
                down.first.focus()
                page.keyboard.press("Enter")
            expect(page.get_by_role("status").filter(has_text="now 2 of")).to_be_attached()
            up.nth(1).focus()
            page.keyboard.press("Enter")
            assert page.evaluate(FOCUS) == "BUTTON"
        on = page.get_by_role("button", name=re.compile("^(Next|Review)$"))
        last = on.inner_text() == "Review"
        on.focus()
        page.keyboard.press("Enter")
        assert page.evaluate(FOCUS) == "MAIN"
        if last:
            break
    assert steps >= 13, "as many kinds of questions as there are"
    page.get_by_role("button", name=re.compile("^Hand in")).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Handed in.")).to_be_focused()
    page.context.close()


VOICE = """() => {
  // The voice of the device: what it was given to read, and the first word of it reached.
  window.heard = []
  window.SpeechSynthesisUtterance = class { constructor(text) { this.text = text } }
  const speak = (words) => {
    heard.push([words.text, words.lang, words.rate])
    if (heard.length > 1) return
    setTimeout(() => { words.onstart({}); words.onboundary({ charIndex: 4, charLength: 5 }) }, 20)
  }
  Object.defineProperty(window, "speechSynthesis", { value: { speak, cancel: () => { window.stopped = true } } })
}"""
READ = {
    "kind": "gaps",
    "stem": r"<p>What does $\frac{v^2}{2a}$ give?</p><table><tr><th>v</th><th>a</th></tr>"
    "<tr><td>2</td><td>1</td></tr></table>",
    "text": r"It is $s \le \sqrt{x}$, in [a], or [b].",
    "gaps": [
        {"name": "a", "choices": [{"id": "m", "text": "metres"}, {"id": "s", "text": "seconds"}], "key": "m"},
        {"name": "b", "wording": {"accepted": ["feet"]}},
    ],
}


def test_all_that_a_question_says_is_read_aloud(browser: Browser, demo_school: str, teacher: Page) -> None:
    """Its stimulus, tables cell by cell, formulas in words, and the choices of a gap; in the language of the test."""
    token = next(c["value"] for c in teacher.context.cookies() if c["name"] == "verso_csrf")

    def send(how: str, path: str, **body: object) -> dict[str, Any]:
        headers = {"X-Verso-Csrf": token, "Referer": demo_school}
        reply = teacher.request.fetch(f"{demo_school}/api/v1/{path}", method=how, data=body, headers=headers)
        assert reply.ok, reply.text()
        answer: dict[str, Any] = reply.json()
        return answer

    stimulus = send("POST", "stimuli", title="Falling", body="<p>A stone falls.</p>")["id"]
    item = send("POST", "items", content=READ, stimulus=stimulus)["id"]
    test = send("POST", "tests", title="Read to me")["id"]
    layout = {"sections": [{"ref": "1", "entries": [{"entry": "item", "ref": item}]}]}
    send("PUT", f"tests/{test}", title="Read to me", layout=layout, language="en")
    send("POST", f"tests/{test}/freeze")
    where, code, passes = new_sitting(teacher, demo_school, "Read to me")
    class_id = next(
        c["id"] for c in teacher.request.get(f"{demo_school}/api/v1/classes").json() if c["name"] == "8 Tern"
    )
    student = teacher.request.get(f"{demo_school}/api/v1/classes/{class_id}").json()["list"][8]
    names = {name: student[name] for name in ("given_name", "family_name")}
    send("PUT", f"classes/{class_id}/students/{student['id']}", **names, read_aloud="on")
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    page = phone(browser)
    page.add_init_script(f"({VOICE})()")
    screenshots.join(page, demo_school, code, passes[8])
    page.get_by_label("How fast it is read").select_option(label="slowly")
    page.get_by_role("button", name="Read it to me").click()
    expect(page.locator("mark")).to_have_text("ing")
    assert page.evaluate("heard") == [
        [words, "en", 0.7]
        for words in (
            "Falling",
            "A stone falls.",
            "What does the fraction v squared over 2 a, end of the fraction give? v, a. 2, 1.",
            "It is s is at most the square root of x, in gap 1, or gap 2.",
            "For gap 1 there is: metres, seconds",
        )
    ]
    axe_finds_nothing(page)
    page.get_by_role("button", name="Stop reading").click()
    expect(page.locator("mark")).to_have_count(0)
    assert page.evaluate("window.stopped")
    page.context.close()


def test_the_time_that_is_left_is_said_to_whoever_does_not_see_it(
    browser: Browser, demo_school: str, teacher: Page
) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    page = phone(browser)
    # The server says that little more than ten minutes are left; the clock of the page goes on from there.
    page.clock.install()

    def ten_minutes(route: Route) -> None:
        reply = route.fetch()
        route.fulfill(response=reply, json={**reply.json(), "seconds_left": 602})

    page.route("**/student/seat", ten_minutes)
    screenshots.join(page, demo_school, code, passes[6])
    page.route("**/student/join", ten_minutes)
    page.reload()
    said = page.get_by_role("status").filter(has_text="left")
    expect(page.get_by_text("Question 1 of")).to_be_visible()
    expect(said).to_have_count(0)
    page.clock.run_for(4_000)
    expect(said).to_have_text("10 minutes left")
    page.context.close()


SLOW = """() => {
  // What the server says of the seat arrives a second after it was said, as in a full classroom.
  const ask = window.fetch;
  window.fetch = async (...what) => {
    const reply = await ask(...what);
    const request = what[0];
    if (request.method === "GET" && request.url.endsWith("/student/seat"))
      await new Promise((go) => setTimeout(go, 1000));
    return reply;
  };
}"""
STAYS = """() => new Promise((answer) => {
  const end = Date.now() + 2500;
  const look = () => {
    if (![...document.querySelectorAll("h1")].some((h) => h.textContent === "Handed in.")) answer(false);
    else if (Date.now() > end) answer(true);
    else setTimeout(look, 10);
  };
  look();
})"""


def test_a_break_of_ones_own_and_larger_buttons(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school, minutes=40)
    teacher.goto(f"{demo_school}/classes")
    teacher.get_by_role("link", name="8 Tern").first.click()
    teacher.get_by_role("row", name=re.compile("Chidi")).get_by_role("button").first.click()
    teacher.get_by_label("Minutes of breaks in which their time stands still").fill("5")
    teacher.get_by_label("large buttons").check()
    expect(teacher.get_by_text("5 min of breaks, large buttons")).to_be_visible()
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    student = phone(browser)
    screenshots.join(student, demo_school, code, passes[2])
    following = student.get_by_role("button", name="Next")
    assert (following.bounding_box() or {"height": 0})["height"] >= 60
    student.locator("label:has(input[type=radio])").nth(1).click()
    student.get_by_role("button", name="Take a break").click()
    expect(student.get_by_role("heading", name="A break.")).to_be_focused()
    expect(student.get_by_text("Left of your breaks: 4:")).to_be_visible()
    axe_finds_nothing(student)
    expect(teacher.get_by_text("on a break of their own")).to_be_visible()
    # The paper is away, also for whoever loads the page anew.
    student.reload()
    student.get_by_role("button", name="Go on").click()
    expect(student.get_by_text(re.compile(r"Question \d of 20"))).to_be_visible()
    expect(student.get_by_text("all answers kept")).to_be_visible()
    axe_finds_nothing(student)


def test_old_news_does_not_take_back_a_handing_in(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    expect(teacher.get_by_text("On the board")).to_be_visible()
    student = phone(browser)
    student.add_init_script(f"({SLOW})()")
    screenshots.join(student, demo_school, code, passes[3])
    expect(student.get_by_text("Question 1 of 20")).to_be_visible()
    # The page asks how things stand as soon as its socket opens; before it hears, the student is done.
    student.get_by_role("button", name="All 20").click()
    student.get_by_role("button", name="Hand in with 20 unanswered").click()
    expect(student.get_by_role("heading", name="Handed in.")).to_be_visible()
    assert student.evaluate(STAYS)


def test_larger_text_pushes_nothing_off_a_phone(browser: Browser, demo_school: str, teacher: Page) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    student = phone(browser)
    screenshots.join(student, demo_school, code, passes[0])
    expect(student.get_by_text("Question 1 of 20")).to_be_visible()
    for size in (130, 150, 180):
        student.evaluate(f"localStorage.setItem('verso.comfort', JSON.stringify({{size: {size}, ground: null}}))")
        student.reload()
        expect(student.get_by_text("Question 1 of 20")).to_be_visible()
        for width in (320, 360, 390):
            student.set_viewport_size({"width": width, "height": 780})
            for name in ("Next", "All 20", "Back"):
                box = student.get_by_role("button", name=name, exact=True).bounding_box()
                assert box is not None
                assert box["x"] >= 0, (size, width, name)
                assert box["x"] + box["width"] <= width, (size, width, name)
                assert box["y"] + box["height"] <= 780, (size, width, name)
            # By keyboard nothing that has the focus lies under the foot.
            foot = student.locator("footer").bounding_box()
            assert foot is not None
            assert foot["height"] < 260, (size, width, foot)
            for _ in range(8):
                student.keyboard.press("Tab")
                box = student.evaluate(
                    "(e => e.closest('footer, header') || e === document.body ? null"
                    " : e.getBoundingClientRect().toJSON())(document.activeElement)"
                )
                if box:
                    assert box["y"] + min(box["height"], 24) <= foot["y"] + 1, (size, width, box)
    student.context.close()


def test_a_socket_may_be_silent_for_longer_than_a_request_may_take(demo_school: str, teacher: Page) -> None:
    """What closes a connection that never says anything leaves those alone that became sockets."""
    where, _, _ = new_sitting(teacher, demo_school)
    path = where.removeprefix(demo_school)
    silent = socket.create_connection(("127.0.0.1", int(demo_school.rsplit(":", 1)[1])))
    silent.settimeout(HEADERS_WITHIN_SECONDS + 10)
    state = teacher.evaluate(
        """([path, wait]) => new Promise((resolve) => {
          const socket = new WebSocket(`ws://${location.host}/ws${path}`);
          socket.onclose = (event) => resolve(`closed ${event.code}`);
          socket.onopen = () => setTimeout(() => resolve(socket.readyState), wait);
        })""",
        [path, 1000 * HEADERS_WITHIN_SECONDS + 1500],
    )
    assert state == 1
    assert silent.recv(10) == b""
    silent.close()


WIDE = r"$\begin{pmatrix}" + "&amp;".join(["111111"] * 7) + r"\end{pmatrix}$"


def test_a_formula_that_is_too_wide_moves_within_its_line(browser: Browser, demo_school: str, teacher: Page) -> None:
    """In the question and in an option, by keys too; the page stays as wide as the phone."""
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    teacher.get_by_role("button", name="Open it").click()
    student = phone(browser)

    def with_wide_formulas(route: Route) -> None:
        answer = route.fetch()
        page = answer.json()
        for line in (page.get("paper") or {}).get("items", []):
            item = line["item"]
            item["stem"] = rf"<p>Here is $\ce{{H2O}}$.</p><p>{WIDE}</p>"
            for option in item.get("options", [])[:1]:
                option["text"] = WIDE
        route.fulfill(response=answer, json=page)

    student.route("**/api/v1/student/*", with_wide_formulas)
    screenshots.join(student, demo_school, code, passes[0])
    wide = student.locator(".wide-formula")
    expect(wide).to_have_count(2)
    expect(student.locator(".katex-html .vlist-t").first).to_be_visible()  # the 2 of water, hung below
    assert student.evaluate("document.documentElement.scrollWidth <= innerWidth")
    wide.first.focus()
    student.keyboard.press("ArrowRight")
    student.wait_for_function("document.querySelector('.wide-formula').scrollLeft > 0")
