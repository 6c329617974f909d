"""What is kept of a student: handed over whole, taken away whole, and kept no longer than the school wants.

The words of a student are looked for in the whole database and in every file, not in the tables that this version
happens to know.
"""

import io
import json
import zipfile
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from django.apps import apps
from django.conf import settings as django
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.utils import timezone

from tests.conftest import Device, Staffroom, devices, refs, two_questions
from tests.school.test_teacher_side import send
from versomark.core.items.by_rubric import FileTask, Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.accounts.models import School, SecurityEvent, Teacher
from versomark.school.classes.models import SchoolClass, Student
from versomark.school.classes.services import add_students, archive_class, make_class, tag_students
from versomark.school.delivery import services
from versomark.school.delivery.models import Seat, Sitting
from versomark.school.paper.models import Page
from versomark.school.privacy.erasing import erase_who_is_over
from versomark.school.responses.models import HandedInFile
from versomark.site import background
from versomark.upkeep import backups
from versomark.upkeep.backups import NoRoom

SECRETS = (
    "Zsófia",
    "Nagy-Kovács",
    "zsofia@home.example",
    "parent@home.example",
    "A-4711",
    "my dog Bodri",
    "essay about me",
)


@pytest.fixture
def sat(school: Staffroom, settings: Any, tmp_path: Path) -> Sitting:
    """A test with two questions, something written and a file, of which the first student gave all."""
    settings.DATA = tmp_path
    rubric = Rubric(criteria=[Criterion(id="c", name="Sense", max=4)])
    contents: list[Any] = [
        *two_questions(),
        Written(stem="Write.", marks=4, rubric=rubric),
        FileTask(stem="Hand in.", marks=4, rubric=rubric),
    ]
    sitting = school.open_sitting(contents=contents, students=3)
    student = sitting.school_class.places.all()[0].student
    student.given_name, student.family_name, student.number = SECRETS[0], SECRETS[1], SECRETS[4]
    student.email, student.guardian_email = SECRETS[2], SECRETS[3]
    student.save()
    tag_students(school.teacher, [student], ["reads a lot"])
    for at, device in enumerate(devices(sitting)):
        device.join()
        device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "ab"[at % 2]}, 1)
        device.answer(refs(sitting)[2], {"kind": "written", "text": SECRETS[5] if at == 0 else "Other words."}, 2)
        if at == 0:
            upload(device, refs(sitting)[3])
        device.post("hand-in")
    services.close_sitting(sitting)
    path = f"sittings/{sitting.pk}/marking/{refs(sitting)[2]}/1"
    reply = send(school.client, "put", path, {"points": {"c": 3}, "comment": f"Nice, {SECRETS[0]}."})
    assert reply.status_code == 200, reply.content
    return sitting


def upload(device: Device, item: str) -> None:
    file = SimpleUploadedFile(f"{SECRETS[6]}.pdf", b"%PDF-1.4\n" + SECRETS[5].encode() + b"\n%%EOF")
    reply = device.client.post(f"/api/v1/student/files/{item}", {"file": file})
    assert reply.status_code == 200, reply.content


def first(sitting: Sitting) -> Student:
    return Student.objects.get(pk=sitting.school_class.places.all()[0].student_id)


def whole_database() -> Iterator[str]:
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            cursor.execute(f'SELECT * FROM "{table}"')
            rows = json.dumps([[str(value) for value in row] for row in cursor.fetchall()], ensure_ascii=False)
            yield f"{table} {rows}"
    yield "".join(path.read_bytes().decode("utf-8", "ignore") for path in handed_in() if path.is_file())


def handed_in() -> list[Path]:
    return list((Path(django.DATA) / "handed_in").rglob("*"))


def test_everything_of_one_student_is_handed_over_and_nothing_of_another(school: Staffroom, sat: Sitting) -> None:
    student = first(sat)
    found = school.client.get("/api/v1/privacy/students", {"named": "kovács zsó"}).json()
    assert [(entry["name"], entry["classes"]) for entry in found] == [(student.full_name, [sat.school_class.name])]
    reply = school.client.get(f"/api/v1/privacy/students/{student.pk}/everything.zip")
    packed = zipfile.ZipFile(io.BytesIO(reply.content))
    tables = json.loads(packed.read("everything.json"))["tables"]
    seat = Seat.objects.get(student=student)
    # By the models themselves: every row that points at the student or the seat is there, and no row of another.
    for model in apps.get_models():
        for field in model._meta.concrete_fields:
            if field.related_model in (Student, Seat) and model not in (Page,):
                key = student.pk if field.related_model is Student else seat.pk
                own = model._default_manager.filter(**{field.name: key}).count()
                listed = [row for row in tables.get(model._meta.label, []) if row[field.name] == key]
                assert len(listed) == own, model
    assert len(tables["responses.Answer"]) == 2
    assert tables["tags"] == [{"name": "reads a lot"}]
    said = json.dumps(tables, ensure_ascii=False)
    assert all(secret in said for secret in SECRETS)
    assert "Other words." not in said
    assert "Student2" not in said
    assert "password" not in said
    (file,) = [name for name in packed.namelist() if name.startswith("files/handed in/")]
    assert SECRETS[5].encode() in packed.read(file)
    (report,) = [name for name in packed.namelist() if name.endswith(".pdf") and name.startswith("report")]
    text = "".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(packed.read(report)))
    assert "Nagy-Kovács" in text
    assert SECRETS[5] in text


def test_an_erased_student_is_nowhere_and_the_figures_stay(
    school: Staffroom, sat: Sitting, django_capture_on_commit_callbacks: Any
) -> None:
    student, before = first(sat), school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()["body"]
    assert all(any(secret in part for part in whole_database()) for secret in SECRETS)
    path = f"privacy/students/{student.pk}/erase"
    assert send(school.client, "post", path, {"typed": "Somebody"}).status_code == 422
    with django_capture_on_commit_callbacks(execute=True):
        assert send(school.client, "post", path, {"typed": student.full_name}).status_code == 200
    for secret in SECRETS:
        assert [part.split()[0] for part in whole_database() if secret in part] == [], secret
    after = school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()["body"]
    assert (after["test"], after["totals"]) == (before["test"], before["totals"])
    results = school.client.get(f"/api/v1/sittings/{sat.pk}/results").json()["students"]
    assert results[0]["total"] is not None
    assert f"#{student.pk}" in results[0]["name"]
    assert school.client.get("/api/v1/privacy").json()["erased"] == 1
    assert SecurityEvent.objects.get(kind="erased").subject == f"student {student.pk}"
    assert school.client.get("/api/v1/privacy/students", {"named": f"#{student.pk}"}).json() == []


def test_a_student_a_sitting_and_a_class_go_whole(
    school: Staffroom, sat: Sitting, django_capture_on_commit_callbacks: Any
) -> None:
    student, other = first(sat), make_class(school.teacher, "Other")
    both = sat.school_class.places.all()[1].student
    add_students(other, ["Somebody Else"])
    other.places.create(student=both, desk=9)
    with django_capture_on_commit_callbacks(execute=True):
        body = {"typed": student.full_name, "results": "delete"}
        assert send(school.client, "post", f"privacy/students/{student.pk}/erase", body).status_code == 200
    assert not Student.objects.filter(pk=student.pk).exists()
    assert handed_in() == []
    assert school.client.get(f"/api/v1/sittings/{sat.pk}/findings").json()["body"]["test"]["students"] == 2
    title = sat.edition.content["title"]
    services.open_sitting(sat)
    refused = send(school.client, "post", f"sittings/{sat.pk}/delete-whole", {"typed": title})
    assert (refused.status_code, "Close it first" in refused.json()["detail"]) == (409, True)
    services.close_sitting(sat)
    assert send(school.client, "post", f"sittings/{sat.pk}/delete-whole", {"typed": "a test"}).status_code == 422
    assert send(school.client, "post", f"sittings/{sat.pk}/delete-whole", {"typed": title}).status_code == 200
    assert not Sitting.objects.filter(pk=sat.pk).exists()
    again = school.sitting(students=0)
    name = sat.school_class.name
    assert (
        send(school.client, "post", f"classes/{sat.school_class_id}/delete-whole", {"typed": name}).status_code == 200
    )
    assert not SchoolClass.objects.filter(pk=sat.school_class_id).exists()
    assert Student.objects.filter(pk=both.pk).exists()  # in another class still
    assert Student.objects.count() == 2
    assert Sitting.objects.filter(pk=again.pk).exists()
    assert not HandedInFile.objects.exists()
    assert {"deleted"} == set(
        SecurityEvent.objects.filter(kind__in=["deleted", "erased"]).values_list("kind", flat=True)
    )
    call_command("check")


def test_names_are_kept_as_long_as_the_school_says_and_no_longer(school: Staffroom, sat: Sitting) -> None:
    assert school.client.get("/api/v1/privacy").json() == {"years": 0, "students": 3, "erased": 0, "due": 0}
    archive_class(sat.school_class, True)
    assert erase_who_is_over() == 0  # nobody has said how long
    assert send(school.client, "put", "privacy", {"years": 31}).status_code == 422
    assert send(school.client, "put", "privacy", {"years": 2}).json()["due"] == 0
    Sitting.objects.update(opened_at=timezone.now() - timedelta(days=731))
    assert school.client.get("/api/v1/privacy").json()["due"] == 3
    here = make_class(school.teacher, "Of today")
    here.places.create(student=sat.school_class.places.all()[2].student, desk=1)
    elsewhere = School.objects.create(name="Another", keep_years=0)
    Student.objects.create(school=elsewhere, given_name="Stays", pass_phrase="x")
    assert erase_who_is_over() == 2
    assert erase_who_is_over() == 0
    assert school.client.get("/api/v1/privacy").json() == {"years": 2, "students": 1, "erased": 2, "due": 0}
    assert [part.split()[0] for part in whole_database() if any(secret in part for secret in SECRETS[:5])] == []
    assert Student.objects.filter(given_name="Stays").exists()


def test_names_go_after_the_back_up_of_the_night_and_never_without_it(
    school: Staffroom, sat: Sitting, monkeypatch: pytest.MonkeyPatch, settings: Any, mailoutbox: list[Any]
) -> None:
    settings.EMAIL_HOST = "mail.school.example"
    Teacher.objects.filter(pk=school.teacher.pk).update(email="o.brandt@school.example", language="es")
    monkeypatch.setattr(background, "_told_on", [])
    archive_class(sat.school_class, True)
    send(school.client, "put", "privacy", {"years": 2})
    Sitting.objects.update(opened_at=timezone.now() - timedelta(days=731))
    monkeypatch.setattr(background, "_done_on", [])
    noon = timezone.localtime().replace(hour=12)
    monkeypatch.setattr(background.timezone, "localtime", lambda: noon.replace(hour=1))
    assert not background.work_of_the_night()  # it is not the hour
    monkeypatch.setattr(background.timezone, "localtime", lambda: noon)

    def full() -> None:
        raise NoRoom("The disk is full.")

    monkeypatch.setattr(backups, "back_up_tonight", full)
    for _ in range(2):
        with pytest.raises(NoRoom):
            background.work_of_the_night()
    (letter,) = mailoutbox  # once a night, to who can do something about it, in their language
    assert (letter.to, "The disk is full." in letter.body) == (["o.brandt@school.example"], True)
    assert "copia de seguridad" in letter.subject
    assert school.client.get("/api/v1/privacy").json()["due"] == 3
    monkeypatch.setattr(backups, "back_up_tonight", lambda: None)
    assert background.work_of_the_night()
    assert school.client.get("/api/v1/privacy").json()["erased"] == 3
    assert not background.work_of_the_night()  # once a night
