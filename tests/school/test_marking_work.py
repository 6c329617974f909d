"""Work as a marker sees it: handwriting cut from a scanned page, and files that students handed in."""

import io
import shutil
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from tests.conftest import Staffroom, devices, refs
from tests.school.test_marking import RUBRIC, contents, put
from tests.school.test_paper import answers_of, read, scanned
from versomark.core.items import TrueFalse
from versomark.core.items.by_rubric import FileTask, Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.delivery import services, supervising
from versomark.school.delivery.models import Sitting
from versomark.school.grading.work import AROUND_MM
from versomark.school.paper import printing
from versomark.school.paper.models import Page
from versomark.school.paper.scanning import picture_of

pytestmark = pytest.mark.django_db


def marking_of(school: Staffroom, sitting: Sitting, path: str) -> Any:
    return school.client.get(f"/api/v1/sittings/{sitting.pk}/marking/{path}")


def test_handwriting_is_the_box_of_the_page_and_not_the_name_on_its_head(school: Staffroom, tmp_path: Path) -> None:
    """Reference: the same rectangle cut from the page by its millimetres, here."""
    task = Written(stem="Explain", marks=4, lines=4, rubric=Rubric(criteria=[Criterion(id="c1", name="Sense", max=4)]))
    sitting = school.sitting([TrueFalse(stem="So?", key=True), task], students=2)
    batch = printing.print_batch(school.teacher, sitting, spare=0)
    read(school, scanned(batch, {"1": answers_of(sitting, "T", "c1:3")}, tmp_path))
    written = refs(sitting)[1]
    answer = marking_of(school, sitting, f"{written}/1").json()
    assert (answer["by_hand"], answer["text"], answer["files"]) == (True, "", [])
    sent = marking_of(school, sitting, f"{written}/1/handwriting.jpg")
    assert sent["Content-Type"] == "image/jpeg"
    cut = np.asarray(Image.open(io.BytesIO(sent.content)))

    page = next(page for page in Page.objects.filter(seat__desk=1) if any(b["item"] == written for b in page.boxes))
    box = next(box for box in page.boxes if box["item"] == written)
    whole = Image.open(picture_of(page)).convert("L")
    scale = whole.width / batch.read_map().width_mm
    assert cut.shape[1] == pytest.approx(scale * (box["w_mm"] + 2 * AROUND_MM), abs=2)
    assert cut.shape[0] == pytest.approx(scale * (box["h_mm"] + 2 * AROUND_MM), abs=2)
    left, top = int(scale * (box["x_mm"] - AROUND_MM)), int(scale * (box["y_mm"] - AROUND_MM))
    ours = np.asarray(whole)[top : top + cut.shape[0], left : left + cut.shape[1]].astype(float)
    assert np.abs(ours - cut).mean() < 6  # JPEG twice
    # The head of the page, where the name stands, is above what was cut.
    assert box["y_mm"] - AROUND_MM > 40

    # Who has no picture has none, and a picture of one answer is not found under another.
    for path in (f"{written}/2/handwriting.jpg", f"{refs(sitting)[0]}/1/handwriting.jpg"):
        assert marking_of(school, sitting, path).status_code == 404
    put(school.client, sitting, f"{written}/1", {"points": {"c1": 3}})
    entries = school.client.get(f"/api/v1/sittings/{sitting.pk}/marking").json()["entries"][written]
    assert [(entry["number"], entry["state"], entry["marks"]) for entry in entries] == [(1, "kept", 3)]


def test_files_come_as_attachments_under_their_own_names_or_under_a_number(school: Staffroom) -> None:
    sitting = school.open_sitting(contents=contents(), students=2)
    device, draw = devices(sitting)[0], refs(sitting)[3]
    device.join()
    names = ("../../Student1 Family.pdf", 'a"; filename="evil.html.pdf', "Zeichnung für Ümit.pdf")
    for at, name in enumerate(names, start=1):
        upload = SimpleUploadedFile(name, b"%PDF-1.4 " + str(at).encode())
        file = device.client.post(f"/api/v1/student/files/{draw}", {"file": upload}).json()
        device.answer(draw, {"kind": "file", "files": [file]}, at)
    device.post("hand-in")
    services.close_sitting(sitting)

    def sent() -> Any:
        return marking_of(school, sitting, f"{draw}/1/files/1")

    # The last answer stands; the file is what was handed in, whatever it is, and never shown by the browser.
    assert b"".join(sent().streaming_content) == b"%PDF-1.4 3"
    assert sent()["Content-Type"] == "application/octet-stream"
    assert sent()["X-Content-Type-Options"] == "nosniff"
    assert "Zeichnung" in sent()["Content-Disposition"]
    assert put(school.client, sitting, "names", {"hidden": True}).status_code == 200
    number = next(
        entry["number"]
        for entry in school.client.get(f"/api/v1/sittings/{sitting.pk}/marking").json()["entries"][draw]
        if entry["state"] == "waiting"
    )
    hidden = marking_of(school, sitting, f"{draw}/{number}/files/1")
    assert hidden["Content-Disposition"] == 'attachment; filename="file 1.pdf"'
    for path in (f"{draw}/{number}/files/2", f"{draw}/{number}/files/0", f"{draw}/99/files/1"):
        assert marking_of(school, sitting, path).status_code == 404


def test_a_sitting_of_three_hundred_asks_the_database_no_more_often_than_one_of_three(
    school: Staffroom, django_assert_max_num_queries: Any
) -> None:
    """What is asked once a student would be what makes a large year wait."""
    counts = []
    for students in (3, 60):
        sitting = school.open_sitting(contents=contents(), students=students)
        sitting.seats.update(state="handed in")
        services.close_sitting(sitting)
        with django_assert_max_num_queries(40) as asked:
            assert school.client.get(f"/api/v1/sittings/{sitting.pk}/marking").status_code == 200
        counts.append(len(asked))
    assert counts[0] == counts[1]


def handed_in(school: Staffroom, files: dict[str, bytes]) -> tuple[Sitting, str]:
    """A sitting of one student who handed these files in; and the address of their answer."""
    task = FileTask(stem="Draw.", marks=2, rubric=RUBRIC, most_files=9, file_kinds=["pdf", "picture", "text", "sound"])
    sitting = school.open_sitting(contents=[task], students=1)
    device, draw = devices(sitting)[0], refs(sitting)[0]
    device.join()
    bodies = [
        device.client.post(f"/api/v1/student/files/{draw}", {"file": SimpleUploadedFile(name, data)}).json()
        for name, data in files.items()
    ]
    assert device.answer(draw, {"kind": "file", "files": bodies}, 1).status_code == 200
    device.post("hand-in")
    services.close_sitting(sitting)
    return sitting, f"{draw}/1"


def a_pdf(pages: int) -> bytes:
    out = io.BytesIO()
    drawn = Canvas(out, pagesize=(200, 100))
    for at in range(pages):
        drawn.setFillColorRGB(1, 0, 0)
        drawn.rect(20, 20, 40 + 10 * at, 40, fill=1)
        drawn.showPage()
    drawn.save()
    return out.getvalue()


def test_files_are_shown_as_pictures_and_text_whatever_is_in_them(school: Staffroom) -> None:
    photo = Image.new("RGB", (60, 30), "blue")
    exif = Image.Exif()
    exif[0x0112], exif[0x010E] = 6, "where I live"  # lies on its side; a description
    out = io.BytesIO()
    photo.save(out, "JPEG", exif=exif)
    files = {
        "two pages.pdf": a_pdf(2),
        "photo.jpg": out.getvalue(),
        "notes.txt": "Größe <script>alert(1)</script>".encode("cp1252"),
        "broken.pdf": b"%PDF-1.4 and nothing more",
        "song.mp3": b"ID3 sound",
        "letter.rtf": rb"{\rtf1\ansi Current is not used up.}",
    }
    sitting, path = handed_in(school, files)

    def preview(place: int) -> Any:
        return marking_of(school, sitting, f"{path}/files/{place}/preview").json()

    assert preview(1) == {"pages": 2, "text": "", "says": ""}
    page = Image.open(io.BytesIO(marking_of(school, sitting, f"{path}/files/1/pages/2.jpg").content))
    # The red bar where it was drawn, in the proportions of the page.
    assert page.size == (1600, 800)
    red = np.asarray(page)[400, :, 1] < 100
    assert [np.flatnonzero(red)[0], np.flatnonzero(red)[-1]] == pytest.approx([160, 560], abs=6)
    assert preview(2)["pages"] == 1
    sent = marking_of(school, sitting, f"{path}/files/2/pages/1.jpg").content
    turned = Image.open(io.BytesIO(sent))
    assert turned.size == (30, 60)
    assert not turned.getexif()
    assert b"where I live" not in sent
    assert preview(3)["text"] == "Größe <script>alert(1)</script>"
    assert "broken" in preview(4)["says"]
    assert "save it first" in preview(5)["says"]
    letter = preview(6)
    assert letter["pages"] == 1 if shutil.which("soffice") else "LibreOffice" in letter["says"]
    for wrong in ("files/1/pages/3.jpg", "files/7/preview", "files/4/pages/1.jpg"):
        assert marking_of(school, sitting, f"{path}/{wrong}").status_code == 404


def test_a_locked_seat_waits_for_the_teacher(school: Staffroom) -> None:
    sitting = school.open_sitting(students=2)
    device = devices(sitting)[0]
    device.join()
    seat = supervising.seat_in(sitting, sitting.seats.get(desk=1).pk)
    act = f"/api/v1/sittings/{sitting.pk}/seats/{seat.pk}/acts"
    school.client.post(act, {"act": "lock"}, content_type="application/json")
    assert device.seat().json()["stage"] == "locked"
    assert device.seat().json()["paper"] is None
    assert device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1).status_code == 423
    everyone = f"/api/v1/sittings/{sitting.pk}/acts"
    lines = school.client.post(everyone, {"act": "lock"}, content_type="application/json").json()["list"]
    assert [line["locked"] for line in lines] == [True, True]
    other = devices(sitting)[1]
    assert other.join().json()["stage"] == "locked"
    school.client.post(everyone, {"act": "unlock"}, content_type="application/json")
    assert device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1).status_code == 200
