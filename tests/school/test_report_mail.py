"""Reports by mail: each to the right person with their own PDF, read back from the folder they go out to."""

from email import message_from_bytes, policy
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from django.core.mail import EmailMessage

from tests.conftest import Staffroom
from tests.school.test_record import lark, sat
from tests.school.test_teacher_side import send
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.grading.models import HiddenNames
from versomark.school.reports import mail
from versomark.school.reports.models import Letter

__all__ = ["lark"]
pytestmark = pytest.mark.django_db


@pytest.fixture
def post(settings: Any, tmp_path: Path) -> Path:
    settings.EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
    settings.EMAIL_FILE_PATH = str(tmp_path)
    return tmp_path


def letters_in(folder: Path) -> list[Any]:
    """As another program reads them; one file may hold several."""
    anies = []
    for path in sorted(folder.iterdir()):
        for entry in path.read_bytes().split(b"\n" + b"-" * 79 + b"\n"):
            if entry.strip():
                anies.append(message_from_bytes(entry, policy=policy.default))
    return anies


def text_of(letter: Any) -> tuple[str, str, str]:
    (pdf,) = letter.iter_attachments()
    assert pdf.get_content_type() == "application/pdf"
    pages = pypdfium2.PdfDocument(pdf.get_content())
    text = " ".join(page.get_textpage().get_text_range() for page in pages)
    return letter["To"], letter.get_body().get_content(), text


def test_each_gets_their_own_and_who_has_no_address_is_named(school: Staffroom, lark: SchoolClass, post: Path) -> None:
    sitting = sat(school, lark, ["b", "a", "b", None])
    Student.objects.filter(given_name="Ada").update(email="ada@kestrel.example", guardian_email="ash@home.example")
    Student.objects.filter(given_name="Cem").update(email="cem@kestrel.example")
    path = f"sittings/{sitting.pk}/mail"
    body = {
        "carries": "feedback",
        "to": "student",
        "subject": "For {name}:\r\nBcc: x@y.z",
        "body": "Hello {name}, {test}.",
    }
    preview = send(school.client, "post", f"{path}/preview", body).json()
    assert [letter["address"] for letter in preview["letters"]] == ["ada@kestrel.example", "cem@kestrel.example"]
    assert [entry["name"] for entry in preview["without"]] == ["Ben B."]  # Dora gave nothing
    assert preview["body"].startswith("Hello Ada, Test 2.")
    assert Letter.objects.count() == 0
    assert len(send(school.client, "post", path, body).json()) == 2
    assert mail.send_waiting() == 2
    assert mail.send_waiting() == 0
    first, second = sorted(text_of(letter) for letter in letters_in(post))
    assert (first[0], second[0]) == ("ada@kestrel.example", "cem@kestrel.example")
    assert first[1].startswith("Hello Ada, Test 2.")
    assert "Ada Ash" in first[2]
    assert "Cem" not in first[2]
    assert "Cem Cedar" in second[2]
    assert {letter["Subject"] for letter in letters_in(post)} == {"For Ada: Bcc: x@y.z", "For Cem: Bcc: x@y.z"}
    assert not any(letter["Bcc"] for letter in letters_in(post))
    # The parents get the year; nobody else's address is known.
    body = {"carries": "report", "to": "guardian"}
    send(school.client, "post", path, body)
    assert mail.send_waiting() == 1
    (home,) = [letter for letter in letters_in(post) if letter["To"] == "ash@home.example"]
    _, words, pdf = text_of(home)
    assert "Dear parents of Ada" in words
    assert "Ada has 50% of the marks" in pdf


def test_what_cannot_go_out_says_why(
    school: Staffroom, lark: SchoolClass, post: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    sitting = sat(school, lark, ["b", "a", "b", None])
    path = f"sittings/{sitting.pk}/mail"
    assert send(school.client, "post", path, {"to": "student"}).status_code == 409
    assert "your name" in send(school.client, "post", path, {"to": "self"}).json()["detail"]
    school.teacher.email = "teacher@kestrel.example"
    school.teacher.save()
    HiddenNames.objects.create(sitting=sitting, seed=1)
    assert send(school.client, "post", f"{path}/preview", {"to": "self"}).status_code == 409
    HiddenNames.objects.all().delete()
    send(school.client, "post", path, {"to": "self", "students": [Student.objects.get(given_name="Ada").pk]})

    def refuses(self: EmailMessage, *rest: Any) -> int:
        raise OSError("The mailbox is full.")

    monkeypatch.setattr(EmailMessage, "send", refuses)
    for _ in range(mail.TRIES):
        assert mail.send_waiting() == 0
    (line,) = school.client.get(f"/api/v1/{path}").json()
    assert (line["state"], line["problem"]) == ("failed", "The mailbox is full.")
    assert line["address"] == "teacher@kestrel.example"
