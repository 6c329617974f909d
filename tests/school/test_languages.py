"""Who reads what in which language: pages, refusals, letters, papers. And that no rule of the job reads a sentence."""

import re
from collections.abc import Iterator
from gettext import NullTranslations
from typing import Any

import pypdfium2
import pytest
from django.core.management import call_command
from django.test import Client

from tests.conftest import Staffroom, devices, refs, two_questions
from versomark.core import language
from versomark.core.items import ItemContent
from versomark.core.items.by_rubric import FileTask
from versomark.core.items.rubric import Criterion, Rubric
from versomark.core.language import in_language
from versomark.school.accounts.models import School, Teacher
from versomark.school.bank.models import Item
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.classes.services import places_of
from versomark.school.delivery import services as delivery
from versomark.school.delivery.models import Sitting
from versomark.school.editions.models import Test as BuiltTest
from versomark.school.editions.printing import html
from versomark.school.editions.services import freeze
from versomark.school.feedback.feedback_sheets import feedback_file
from versomark.school.paper.models import Batch
from versomark.school.paper.printing import sheets_pdf
from versomark.school.portal.mail import letter
from versomark.school.portal.models import Notice
from versomark.school.portal.notifications import tell_all
from versomark.school.reports.student_report import pdf_on

pytestmark = pytest.mark.django_db


def words_of(pdf: bytes) -> str:
    return " ".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(pdf))


def test_a_browser_is_answered_in_the_language_it_chose_or_the_schools(school: Staffroom) -> None:
    School.objects.update(language="es")
    client = Client()
    page = client.get("/join")
    if page.status_code == 200:
        assert '<html lang="es" dir="ltr">' in page.content.decode()
        assert client.cookies["verso_school_language"].value == "es"
    client.cookies["verso_language"] = "ar"
    assert client.get("/join").status_code == page.status_code
    refused = client.post("/api/v1/student/join", {"code": "x", "pass_phrase": "y"}, content_type="application/json")
    assert (refused.status_code, refused.json()["detail"]) == (404, "لا جلسة بهذا الرمز. انظر إلى السبورة مرة أخرى.")
    client.cookies["verso_language"] = "xx"
    refused = client.post("/api/v1/student/join", {"code": "x", "pass_phrase": "y"}, content_type="application/json")
    assert refused.json()["detail"] == "Ninguna sesión tiene ese código. Mira otra vez la pizarra."


def test_a_refusal_has_one_code_and_the_same_facts_in_every_language(school: Staffroom) -> None:
    bodies = []
    for name in ("en", "es", "ar"):
        school.client.cookies["verso_language"] = name
        bodies.append(school.client.get("/api/v1/sittings/999999").json())
    said = [body.pop("detail") for body in bodies]
    assert len(set(said)) == 3 or said[0] == said[2]
    for body in bodies:
        body["params"].pop("what", None)
    assert bodies[0] == bodies[1] == bodies[2]
    assert (bodies[0]["code"], bodies[0]["status"]) == ("not_found", 404)


def test_a_teacher_sets_their_own_language_and_the_schools(school: Staffroom) -> None:
    def put(own: str, whole: str) -> Any:
        return school.client.put("/api/v1/me/languages", {"own": own, "school": whole}, content_type="application/json")

    body = put("es", "ar").json()
    assert (body["language"], body["school_language"]) == ("es", "ar")
    assert school.client.cookies["verso_language"].value == "es"
    # As the school: nothing is chosen any more, and what the school says may change again.
    assert put("", "es").status_code == 200
    cookies = school.client.cookies
    assert (cookies["verso_language"].value, cookies["verso_school_language"].value) == ("", "es")
    # Teachers' pages have no Arabic, so nobody can choose it for themselves.
    assert put("ar", "es").status_code == 422
    assert (Teacher.objects.get().language, School.objects.get().language) == ("", "es")


def test_a_student_reads_in_their_own_language_wherever_they_join(school: Staffroom) -> None:
    sitting = school.open_sitting(students=2)
    device, other = devices(sitting)
    Student.objects.filter(pass_phrase=device.pass_phrase).update(language="ar")
    assert device.join().json()["needs"]["language"] == "ar"
    assert device.client.cookies["verso_language"].value == "ar"
    assert other.join().json()["needs"]["language"] == ""
    assert "verso_language" not in other.client.cookies
    late = device.answer("no such question", {"kind": "true_false", "value": True}, 1)
    assert late.status_code != 200 or "هذا السؤال" in str(late.json())


def test_a_paper_is_printed_in_the_language_it_is_written_in(school: Staffroom) -> None:
    sitting = school.sitting()
    test = sitting.edition.test
    english = html(sitting.edition.read(), "booklet")
    assert 'lang="en" dir="ltr"' in english
    assert "End of the test" in english
    printed = {}
    for name in ("es", "ar"):
        BuiltTest.objects.filter(pk=test.pk).update(language=name)
        test.refresh_from_db()
        printed[name] = html(freeze(test).read(), "guide")
    assert 'lang="es" dir="ltr"' in printed["es"]
    assert "<strong>Clave</strong>" in printed["es"]
    assert 'lang="ar" dir="rtl"' in printed["ar"]
    assert "مفتاح الإجابة" in printed["ar"]
    # Whoever prints it, and whatever their own pages are in.
    with in_language("es"):
        assert html(sitting.edition.read(), "booklet") == english


def test_an_edition_of_before_languages_keeps_its_fingerprint(school: Staffroom) -> None:
    edition = school.sitting().edition.read()
    old = edition.model_dump(exclude={"language"})
    assert type(edition).model_validate(old).fingerprint() == edition.fingerprint()
    assert edition.model_copy(update={"language": "es"}).fingerprint() != edition.fingerprint()


def test_a_new_test_is_in_the_schools_language(school: Staffroom) -> None:
    School.objects.update(language="es")
    school.teacher.school.refresh_from_db()
    assert school.sitting().edition.read().language == "es"


def test_answer_sheets_say_what_to_do_in_the_language_of_the_test(school: Staffroom) -> None:
    School.objects.update(language="es")
    school.teacher.school.refresh_from_db()
    sitting = school.sitting()
    body = {"paper": "A4", "halves": False, "spare": 1, "date": "", "large": 18, "seats": None}
    made = school.client.post(f"/api/v1/sittings/{sitting.pk}/paper/batches", body, content_type="application/json")
    assert made.status_code == 200, made.content
    batch = Batch.objects.get(sitting=sitting)
    words = words_of(sheets_pdf(batch))
    assert "Rellena el círculo de tu respuesta" in words
    assert "Fill the circle" not in words
    # Printed again by somebody who reads English, it is the same sheet.
    with in_language("en"):
        assert words_of(sheets_pdf(batch)) == words


def test_letters_and_the_report_go_home_in_the_students_language(school: Staffroom) -> None:
    sitting = school.open_sitting(students=2)
    first, second = devices(sitting)
    Student.objects.filter(pass_phrase=first.pass_phrase).update(language="es", email="a@bay.example")
    Student.objects.filter(pass_phrase=second.pass_phrase).update(email="b@bay.example")
    for at, device in enumerate((first, second)):
        device.join()
        device.answer(refs(sitting)[1], {"kind": "true_false", "value": bool(at)}, 1)
        device.post("hand-in")
    delivery.close_sitting(sitting)
    released = school.client.put(
        f"/api/v1/sittings/{sitting.pk}/results/release",
        {"marks": True, "answers": True},
        content_type="application/json",
    )
    assert released.status_code == 200, released.content
    tell_all()
    told = {notice.student.language: letter(notice) for notice in Notice.objects.select_related("student__school")}
    if told:
        assert "ya están tus resultados" in str(told["es"].body) + str(told["es"].subject)
        assert "your results are here" in str(told[""].body) + str(told[""].subject)
    students = [place.student for place in places_of(sitting.school_class)]
    spanish, english = (words_of(pdf_on(sitting.school_class, student.pk, [])) for student in students)
    assert "Pruebas" in spanish
    assert "Tests" in english


def test_feedback_sheets_are_in_the_language_of_the_test_and_right_to_left_where_it_is_read_so(
    school: Staffroom,
) -> None:
    School.objects.update(language="ar")
    school.teacher.school.refresh_from_db()
    sitting = school.open_sitting(students=1)
    (device,) = devices(sitting)
    device.join()
    device.answer(refs(sitting)[1], {"kind": "true_false", "value": False}, 1)
    device.post("hand-in")
    delivery.close_sitting(sitting)
    words = words_of(feedback_file(school.teacher, sitting))
    assert re.search("[\u0600-\u06ff]{3}", words)
    assert "Your next steps" not in words


def test_one_paper_for_readers_of_two_languages_holds_no_words_of_ours(school: Staffroom) -> None:
    """It is made once and kept for everybody: what the first reader's language says must not be the second's."""
    contents: list[ItemContent] = [
        FileTask(
            stem="Hand in a drawing.",
            rubric=Rubric(criteria=[Criterion(id="a", name="Drawn", max=1)]),
            file_kinds=["picture", "sheet"],
        ),
        *two_questions(),
    ]
    sitting = school.open_sitting(contents=contents, students=3)
    papers = []
    for device, name in zip(devices(sitting), ("ar", "es", "en"), strict=True):
        device.client.cookies["verso_language"] = name
        papers.append(device.join().json()["paper"])
    assert papers[0] == papers[1] == papers[2]
    assert papers[0]["items"][0]["item"]["file_kinds"] == ["picture", "sheet"]
    with in_language("es"):
        assert "imagen, hoja de cálculo" in html(
            sitting.edition.read().model_copy(update={"language": "es"}), "booklet"
        )


class Keys(NullTranslations):
    """A language in which every message is its key: nothing that reads a sentence finds what it looks for."""

    def gettext(self, message: str) -> str:
        return f"⟦{message}⟧"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return f"⟦{msgid2}⟧"


@pytest.fixture
def keys(monkeypatch: pytest.MonkeyPatch) -> None:
    real = language._catalogue
    monkeypatch.setattr(language, "_catalogue", lambda name: Keys() if name == "es" else real(name))


def unlike(english: Any, keyed: Any, where: str = "") -> Iterator[tuple[str, Any, Any]]:
    """Where the two are otherwise built, or have another number."""
    if isinstance(english, dict) and isinstance(keyed, dict) and english.keys() == keyed.keys():
        for name, value in english.items():
            yield from unlike(value, keyed[name], f"{where}/{name}")
    elif isinstance(english, list) and isinstance(keyed, list) and len(english) == len(keyed):
        for place, (value, other) in enumerate(zip(english, keyed, strict=True)):
            yield from unlike(value, other, f"{where}/{place}")
    elif english != keyed and not (isinstance(english, str) and isinstance(keyed, str)):
        both = isinstance(english, dict) and isinstance(keyed, dict)
        yield where, *((english.keys() - keyed.keys(), keyed.keys() - english.keys()) if both else (english, keyed))


def differing(english: Any, keyed: Any, where: str = "") -> Iterator[tuple[str, str, str]]:
    """Strings that are otherwise in the other language, with where they stand."""
    if isinstance(english, dict):
        for name, value in english.items():
            yield from differing(value, keyed[name], f"{where}/{name}")
    elif isinstance(english, list):
        for value, other in zip(english, keyed, strict=True):
            yield from differing(value, other, f"{where}/*")
    elif english != keyed:
        yield where, str(english), str(keyed)


def pages() -> list[str]:
    """What the pages of the demo school ask for, each sitting, class and test of it."""
    each = [
        "desk", "items", "skills", "tests", "editions", "sittings", "classes", "marking", "scans", "materials",
        "terms", "views", "shelf",
    ]  # fmt: skip
    each += [f"classes/{pk}" for pk in SchoolClass.objects.values_list("pk", flat=True)]
    each += [f"tests/{pk}" for pk in BuiltTest.objects.values_list("pk", flat=True)]
    each += [f"items/{pk}" for pk in Item.objects.values_list("pk", flat=True)[:12]]
    for pk, name in Sitting.objects.values_list("pk", "school_class"):
        each += [f"sittings/{pk}", f"sittings/{pk}/events", f"sittings/{pk}/findings", f"sittings/{pk}/results"]
        each += [f"sittings/{pk}/findings/{view}" for view in ("totals", "scale", "table", "groups", "time")]
        each += [f"sittings/{pk}/skills", f"sittings/{pk}/groups", f"sittings/{pk}/answers", f"sittings/{pk}/paper"]
        each += [f"sittings/{pk}/marking", f"sittings/{pk}/second-marking", f"classes/{name}/record"]
    return each


def test_no_rule_of_the_job_reads_a_sentence(keys: None) -> None:
    """The demo school in English and in a language of keys: every number, every code, every length is the same, on
    every page; only words differ, and what differs is a message of the catalogue with its facts."""
    call_command("load_demo", verbosity=0)
    client = Client()
    client.force_login(Teacher.objects.order_by("pk")[0], backend="django.contrib.auth.backends.ModelBackend")
    seen = 0
    for path in pages():
        bodies = []
        for name in ("en", "es"):
            client.cookies["verso_language"] = name
            reply = client.get(f"/api/v1/{path}")
            bodies.append(
                (reply.status_code, reply.json() if reply["Content-Type"].startswith("application") else None)
            )
        (status, english), (again, keyed) = bodies
        assert status == again, path
        assert list(unlike(english, keyed)) == [], path
        for where, words, key in differing(english, keyed):
            # A day is written by the calendar of the language, and not from a catalogue.
            days = [re.sub(r"\b\d+ (de )?[a-zA-Z]{3,10}( de)?( \d{4})?\b", "", text) for text in (words, key)]
            assert "⟦" in key or days[0] == days[1], (path, where, words, key)
            seen += "⟦" in key
    assert seen > 500
