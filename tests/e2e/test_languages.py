"""The demo school in Spanish and, for students, in Arabic: chosen by clicks, read from the right, nothing cut off."""

import re
from typing import Any

from playwright.sync_api import Browser, Page, expect

from . import screenshots
from .conftest import axe_finds_nothing
from .test_any_width import looks_right
from .test_student_seat import new_sitting, phone

NARROW = {"width": 360, "height": 780}


def test_a_teacher_reads_spanish_from_one_dialog_on_and_back(teacher: Page, demo_school: str) -> None:
    teacher.get_by_role("button", name="Languages").click()
    teacher.get_by_label("Your pages").select_option("Español")
    teacher.get_by_role("button", name="Keep", exact=True).click()
    expect(teacher.get_by_role("heading", name="Escritorio")).to_be_visible()
    assert teacher.evaluate("[document.documentElement.lang, document.documentElement.dir]") == ["es", "ltr"]
    axe_finds_nothing(teacher)
    for name in ("Clases", "Banco", "Pruebas", "Sesiones", "Corrección", "Hallazgos", "Registros"):
        teacher.get_by_role("navigation").get_by_role("link", name=name, exact=True).click()
        expect(teacher.get_by_role("heading", level=1, name=name, exact=True)).to_be_visible()
        teacher.wait_for_load_state("networkidle")
        looks_right(teacher, name)
    teacher.get_by_role("navigation").get_by_role("link", name="Hallazgos", exact=True).click()
    teacher.get_by_role("link", name="Electric circuits, unit check").first.click()
    expect(teacher.get_by_text("La clave casi seguro está mal: mira B.").first).to_be_visible()
    # A decimal comma, and the nought before it.
    expect(teacher.get_by_text(re.compile(r"α 0,\d\d")).first).to_be_visible()
    looks_right(teacher, "findings")
    teacher.set_viewport_size(NARROW)  # type: ignore[arg-type]
    looks_right(teacher, "findings on a phone")
    teacher.set_viewport_size(screenshots.LAPTOP)  # type: ignore[arg-type]

    # Signed out, the way in is in the language that this browser had; signed in, in the teacher's.
    teacher.get_by_role("button", name="salir").click()
    expect(teacher.get_by_label("Contraseña")).to_be_visible()
    teacher.get_by_role("button", name="English").click()
    expect(teacher.get_by_label("Password")).to_be_visible()
    teacher.get_by_label("Name you sign in with").fill("brandt")
    teacher.get_by_label("Password").fill(screenshots.PASSWORD)
    teacher.get_by_role("button", name="Sign in").click()
    expect(teacher.get_by_role("heading", name="Escritorio")).to_be_visible()
    teacher.get_by_role("button", name="Idiomas").click()
    teacher.get_by_label("Tus páginas").select_option("como la escuela")
    teacher.get_by_role("button", name="Guardar", exact=True).click()
    expect(teacher.get_by_role("heading", name="Desk")).to_be_visible()


def test_a_student_sits_a_test_in_arabic(browser: Browser, teacher: Page, demo_school: str) -> None:
    where, code, passes = new_sitting(teacher, demo_school)
    teacher.goto(where)
    student = phone(browser)
    student.goto(f"{demo_school}/join")
    student.get_by_role("button", name="العربية").click()
    expect(student.get_by_role("heading", name="خذ مقعدك.")).to_be_visible()
    assert student.evaluate("[document.documentElement.lang, document.documentElement.dir]") == ["ar", "rtl"]
    axe_finds_nothing(student)
    looks_right(student, "the door")
    student.get_by_label("الرمز على السبورة").fill(code)
    student.get_by_label("رمز دخولك").fill("nobody-111")
    student.get_by_role("button", name="ادخل").click()
    expect(student.get_by_role("alert")).to_contain_text("ليس في قائمة هذه الجلسة")
    student.get_by_label("رمز دخولك").fill(passes[3])
    student.get_by_role("button", name="ادخل").click()
    expect(student.get_by_role("heading", name=re.compile("أهلًا"))).to_be_visible()
    looks_right(student, "welcome")

    teacher.get_by_role("button", name="Open it").click()
    expect(student.get_by_text(re.compile("السؤال 1 من 20"))).to_be_visible()
    # The test is written in English: its letters stand on the left of what they name, and the rest is mirrored.
    picks = student.locator("label:has(input[type=radio])")
    letter, text = (picks.first.locator(part).bounding_box() for part in ("span >> nth=0", ".rich"))
    assert letter is not None
    assert text is not None
    assert letter["x"] < text["x"]
    following, before = (student.get_by_role("button", name=name).bounding_box() for name in ("التالي", "رجوع"))
    assert following is not None
    assert before is not None
    assert following["x"] < before["x"]
    axe_finds_nothing(student)
    for place in range(3):
        picks.nth(place % 2).click()
        looks_right(student, f"question {place + 1}")
        student.get_by_role("button", name="التالي").click()
    expect(student.get_by_text(re.compile("كل الإجابات محفوظة"))).to_be_visible()
    student.set_viewport_size({"width": 320, "height": 1100})
    looks_right(student, "a narrow phone")

    # Their own language can be changed where the looks are, and everything answered is still there.
    student.get_by_role("button", name="المظهر").click()
    student.get_by_role("button", name="Español").click()
    expect(student.get_by_text(re.compile("Pregunta 4 de 20"))).to_be_visible()
    student.get_by_role("button", name="Atrás").click()
    expect(student.locator("input[type=radio]:checked")).to_have_count(1)


def test_a_result_is_read_in_arabic_on_ones_own_page(browser: Browser, teacher: Page, demo_school: str) -> None:
    def get(path: str) -> Any:
        return teacher.request.get(f"{demo_school}/api/v1/{path}").json()

    sitting = next(
        line for line in get("sittings") if line["title"] == "Circuits, first look" and line["class_name"] == "8 Tern"
    )
    token = next(cookie["value"] for cookie in teacher.context.cookies() if cookie["name"] == "verso_csrf")
    released = teacher.request.put(
        f"{demo_school}/api/v1/sittings/{sitting['id']}/results/release",
        data={"marks": True, "answers": True},
        headers={"X-Verso-Csrf": token, "Referer": demo_school},
    )
    assert released.ok, released.text()
    class_id = next(line["id"] for line in get("classes") if line["name"] == "8 Tern")
    page = get(f"classes/{class_id}")
    student = phone(browser)
    student.context.add_cookies([{"name": "verso_language", "value": "ar", "url": demo_school}])
    student.goto(f"{demo_school}/mine/{page['link']}")
    student.get_by_label("رمز دخولك").fill(page["list"][2]["pass_phrase"])
    student.get_by_role("button").first.click()
    expect(student.get_by_role("heading", name=re.compile("صفحتك"))).to_be_visible()
    axe_finds_nothing(student)
    looks_right(student, "own page")
    student.get_by_role("button", name=re.compile("شاهد نتيجتك")).first.click()
    expect(student.get_by_text(re.compile(r"من \d+ درجة")).first).to_be_visible()
    expect(student.get_by_role("region", name="المهارات")).to_be_visible()
    axe_finds_nothing(student)
    looks_right(student, "a result")
    # Not a word of the product's own is left in English: what remains are names, and what the test itself says.
    words = student.evaluate(
        """() => [...document.querySelectorAll("#root *")]
          .filter((e) => e.children.length === 0 && !e.closest(".rich, [lang='en']"))
          .map((e) => e.textContent.trim()).filter(Boolean)"""
    )
    for sentence in ("of your", "Question", "Right is", "You gave", "not right", "secure", "Next:", "Your "):
        assert not [text for text in words if sentence in text], sentence


def test_a_lesson_with_a_wall_in_spanish_and_a_phone_in_arabic(
    browser: Browser, teacher: Page, demo_school: str
) -> None:
    teacher.context.add_cookies([{"name": "verso_language", "value": "es", "url": demo_school}])
    teacher.goto(f"{demo_school}/tests")
    row = teacher.locator("div", has=teacher.get_by_role("link", name="Circuits, first look", exact=True)).last
    row.locator("xpath=..").get_by_role("button", name="Preguntar en el aula").click()
    teacher.get_by_role("dialog").get_by_role("button", name=re.compile("8 Tern")).click()
    expect(teacher.get_by_role("heading", name="En el aula", exact=True)).to_be_visible()
    looks_right(teacher, "the console")
    with teacher.expect_popup() as opened:
        teacher.keyboard.press("w")
    wall = opened.value
    expect(wall.get_by_text("entra en")).to_be_visible()
    code = wall.locator("strong").nth(1).inner_text()
    assert wall.evaluate("document.documentElement.lang") == "es"
    class_id = next(
        line["id"] for line in teacher.request.get(f"{demo_school}/api/v1/classes").json() if line["name"] == "8 Tern"
    )
    students = teacher.request.get(f"{demo_school}/api/v1/classes/{class_id}").json()["list"]
    device = phone(browser)
    device.context.add_cookies([{"name": "verso_language", "value": "ar", "url": demo_school}])
    device.goto(f"{demo_school}/join?code={code}")
    device.get_by_label("رمز دخولك").fill(students[0]["pass_phrase"])
    device.get_by_role("button", name="ادخل").click()
    expect(device.get_by_text("أنت في الداخل. يظهر السؤال الأول هنا.")).to_be_visible()
    looks_right(device, "in")
    teacher.keyboard.press("ArrowRight")
    device.locator("label:has(input[type=radio]), button[aria-pressed]").first.click()
    expect(device.get_by_text(re.compile("وصلت إجابتك|إجابتك")).first).to_be_visible()
    looks_right(device, "a round")
    axe_finds_nothing(device)
