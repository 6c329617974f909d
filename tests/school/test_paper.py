"""Sheets printed, filled, scanned and read back into a sitting, through the doors a teacher uses."""

import io
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from reportlab.pdfgen.canvas import Canvas

from tests.conftest import Staffroom, refs
from versomark.core.items import Option, SingleChoice, TrueFalse
from versomark.core.items.by_rubric import Written
from versomark.core.items.matching import MatchChoice, Matching, MatchRow
from versomark.core.items.numeric import Numeric
from versomark.core.items.rubric import Criterion, Rubric
from versomark.core.items.several_answers import SeveralAnswers
from versomark.core.items.short_text import ShortText
from versomark.core.items.wording import Wording
from versomark.core.sheets.scanning import Readers, Task
from versomark.school.delivery.models import Sitting
from versomark.school.findings.services import findings_of
from versomark.school.paper import inbox, printing, scanning
from versomark.school.paper.models import Batch, Page, Reading, Scan
from versomark.school.paper.scan_summary import told
from versomark.school.responses.services import responses_of
from versomark.stand_ins.copier import Settings, scan_sheets, write_pdf

CLEAN = Settings(0.0, "copier", 200, 90, ())


def contents() -> list[Any]:
    options = [Option(id=name, text=f"Option {name}") for name in "abcd"]
    return [
        SingleChoice(stem="Which?", options=options, key="b"),
        SeveralAnswers(stem="Which ones?", options=options, keys=["a", "c"]),
        TrueFalse(stem="So?", key=True),
        Numeric(stem="How many?", value=-3.5),
        Matching(
            stem="Match",
            rows=[MatchRow(id="r1", text="one", key="x"), MatchRow(id="r2", text="two", key="y")],
            choices=[MatchChoice(id="x", text="ex"), MatchChoice(id="y", text="why")],
        ),
        Written(stem="Explain", marks=4, lines=4, rubric=Rubric(criteria=[Criterion(id="c1", name="Sense", max=4)])),
        ShortText(stem="One word", wording=Wording(accepted=["ohm"])),
    ]


@pytest.fixture
def printed(school: Staffroom) -> tuple[Sitting, Batch]:
    sitting = school.sitting(contents(), students=3)
    return sitting, printing.print_batch(school.teacher, sitting, spare=1)


def answers_of(sitting: Sitting, *said: str) -> dict[str, str]:
    return dict(zip(refs(sitting), said, strict=True))


GOOD = ("B", "A+C", "T", "-3.5", "1:A+2:B", "c1:3", "ohm")


def scanned(
    batch: Batch, answers: dict[str, dict[str, str]], folder: Path, change: Callable[[list[Any]], list[Any]] = list
) -> bytes:
    sheets, out = folder / "sheets.pdf", folder / "scan.pdf"
    sheets.write_bytes(printing.sheets_pdf(batch))
    pages = list(scan_sheets(sheets, batch.read_map(), answers, seed=3, wear=0.0, settings=CLEAN))
    write_pdf(change(pages), CLEAN, out)
    return out.read_bytes()


def read(school: Staffroom, data: bytes, name: str = "scan.pdf") -> Scan:
    answer = school.client.post("/api/v1/scans", {"files": SimpleUploadedFile(name, data)})
    assert answer.status_code == 200, answer.content
    scanning.read_scan.call(answer.json()[0]["id"])
    return Scan.objects.get(pk=answer.json()[0]["id"])


def queries(school: Staffroom, sitting: Sitting) -> list[dict[str, Any]]:
    return school.client.get(f"/api/v1/queries?sitting={sitting.pk}").json()["queries"]


def settle(school: Staffroom, place: int, answer: str) -> Any:
    return school.client.put(f"/api/v1/queries/places/{place}", {"answer": answer}, content_type="application/json")


def test_a_class_is_scanned_settled_and_analysed(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path, mailoutbox: list[Any]
) -> None:
    sitting, batch = printed
    school.teacher.email = "brandt@school.example"
    school.teacher.save()
    both = {"1": answers_of(sitting, *GOOD), "2": answers_of(sitting, "", "", "F", "12", "1:B", "", "")}
    scan = read(school, scanned(batch, both, tmp_path))
    assert scan.state == "read", scan.refusal
    answer = told(scan)
    assert (answer.sheets, answer.places, answer.by_hand) == (2, 0, 1)
    assert answer.missing == ["3 Student3 F."]
    assert "1 handwritten answer to type" in mail.outbox[0].subject

    # The second student is counted; the first waits for the word that stands in a box.
    sitting.refresh_from_db()
    seats = {seat.desk: seat for seat in sitting.seats.all()}
    assert [seats[desk].state for desk in (1, 2, 3)] == ["working", "handed in", "expected"]
    waiting = queries(school, sitting)
    assert [query["place"]["item"] for query in waiting] == [refs(sitting)[6]]
    done = settle(school, waiting[0]["place"]["id"], "ohm").json()
    assert queries(school, sitting) == []
    given = responses_of([seats[1].pk])[str(seats[1].pk)]
    items = {item.ref: item.content for item in sitting.edition.read().items()}
    assert [items[ref].score(given[ref]) for ref in refs(sitting)] == [1, 1, 1, 1, 1, None, 1]
    findings = findings_of(sitting)
    assert findings is not None
    assert findings.body["totals"] == {str(seats[1].pk): 6.0, str(seats[2].pk): 0.0}

    # Taken back, it waits again, and the student is not counted meanwhile.
    assert school.client.delete(f"/api/v1/queries/settled/{done['id']}").status_code == 200
    assert len(queries(school, sitting)) == 1
    seats[1].refresh_from_db()
    assert seats[1].state == "working"

    # Points that the teacher filled in on paper stand beside the picture of the answer.
    sheet = school.client.get(f"/api/v1/sittings/{sitting.pk}/sheets/{seats[1].pk}").json()
    assert [(box["label"], box["draft"]) for page in sheet["pages"] for box in page["boxes"]] == [("6", "Sense 3")]
    picture = school.client.get(sheet["pages"][0]["sheet"]["picture"])
    assert Image.open(io.BytesIO(b"".join(picture.streaming_content))).size == (1260, 1782)


def test_the_same_again_doubles_nothing_and_another_reading_is_asked_about(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path
) -> None:
    sitting, batch = printed
    first = {"2": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}
    data = scanned(batch, first, tmp_path)
    scan = read(school, data)
    assert read(school, data).pk == scan.pk
    # The same sheet scanned anew, and saying the same, is laid aside without a word.
    again = read(
        school, scanned(batch, first, tmp_path, lambda pages: [np.ascontiguousarray(p[::-1, ::-1]) for p in pages])
    )
    assert again.pk != scan.pk
    assert told(again).line == "0 sheets read, 1 came before, 2 missing"
    assert queries(school, sitting) == []
    # Saying something else, it is asked about, and the later one is used when the teacher says so.
    other = {"2": answers_of(sitting, "C", "", "F", "12", "1:B", "", "")}
    later = read(school, scanned(batch, other, tmp_path))
    assert told(later).asked
    (query,) = queries(school, sitting)
    assert query["problem"] == "again"
    # It says which questions differ, and what they say now.
    assert [(place["label"], place["read"]) for place in query["differing"]] == [("1", "C")]
    seat = sitting.seats.get(desk=2)
    before = responses_of([seat.pk])
    used = school.client.put(
        f"/api/v1/queries/pages/{query['sheet']['page']}", {"act": "use"}, content_type="application/json"
    )
    assert used.status_code == 200, used.content
    ref = refs(sitting)[0]
    options = [option.id for option in sitting.edition.read().sections[0].items[0].content.options]
    assert before[str(seat.pk)][ref].option == options[0]
    assert responses_of([seat.pk])[str(seat.pk)][ref].option == options[2]
    school.client.delete(f"/api/v1/queries/settled/{used.json()['id']}")
    assert responses_of([seat.pk]) == before
    assert queries(school, sitting)[0]["problem"] == "again"


def test_a_page_that_lost_its_corners_is_typed_in_on_the_spot(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path
) -> None:
    sitting, batch = printed

    def torn(pages: list[Any]) -> list[Any]:
        # Two corners are gone, and the code at the foot is left.
        for page in pages:
            page[: page.shape[0] // 7] = 255
        return pages

    read(school, scanned(batch, {"2": answers_of(sitting, *GOOD)}, tmp_path, torn))
    (query,) = queries(school, sitting)
    assert (query["problem"], query["acts"], query["sheet"]["desk"]) == ("no marks", ["type", "aside"], 2)
    path = f"/api/v1/queries/pages/{query['sheet']['page']}"
    typed = school.client.put(path, {"act": "type"}, content_type="application/json")
    assert typed.status_code == 200, typed.content
    waiting = queries(school, sitting)
    places = {entry["place"]["label"]: entry["place"]["id"] for entry in waiting}
    assert sorted(places) == ["1", "2", "3", "4", "5", "7"]
    assert not any(entry["sheet"]["straight"] for entry in waiting)
    seat = sitting.seats.get(desk=2)
    assert seat.state != "handed in"
    for label, answer in zip(("1", "2", "3", "4", "5", "7"), ("B", "A+C", "T", "-3.5", "1:A+2:B", "ohm"), strict=True):
        assert settle(school, places[label], answer).status_code == 200
    seat.refresh_from_db()
    assert seat.state == "handed in"
    given = responses_of([seat.pk])[str(seat.pk)]
    right = refs(sitting)
    items = {item.ref: item.content for item in sitting.edition.read().items()}
    assert [items[ref].score(given[ref]) for ref in right[:5]] == [1, 1, 1, 1, 1]
    # What was written at length is marked from the picture of the whole page.
    assert given[right[5]].picture == query["sheet"]["page"]
    # Taken back, the page is asked about as before.
    assert school.client.delete(f"/api/v1/queries/settled/{typed.json()['id']}").status_code == 200
    assert [query["problem"] for query in queries(school, sitting)] == ["no marks"]


def test_half_pages_are_printed_and_read_through_the_same_door(school: Staffroom, tmp_path: Path) -> None:
    sitting = school.sitting(contents(), students=3)
    path = f"/api/v1/sittings/{sitting.pk}/paper/batches"
    body = school.client.post(path, {"paper": "A4", "halves": True}, content_type="application/json").json()
    batch = Batch.objects.get(pk=body["id"])
    scan = read(school, scanned(batch, {str(desk): answers_of(sitting, *GOOD) for desk in (1, 2, 3)}, tmp_path))
    answer = told(scan)
    # Two half pages a student; the word that is written by hand waits to be typed, and nothing else.
    assert (answer.sheets, answer.by_hand, answer.places, answer.missing) == (6, 3, 0, [])


def test_a_spare_sheet_finds_its_student(school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path) -> None:
    sitting, batch = printed
    spare = batch.sheets.get(seat=None).name
    answers = answers_of(sitting, "A", "", "F", "", "", "", "")
    read(school, scanned(batch, {spare: {**answers, "#number": "03"}}, tmp_path))
    assert sitting.seats.get(desk=3).state == "handed in"
    # A number nobody has is asked about, and given to whose it is.
    read(school, scanned(batch, {spare: {**answers, "#number": "77"}}, tmp_path))
    (query,) = [query for query in queries(school, sitting) if query["place"] is None]
    assert query["problem"] == "which student"
    seat = sitting.seats.get(desk=1)
    body = {"act": "seat", "seat": seat.pk}
    page = f"/api/v1/queries/pages/{query['sheet']['page']}"
    assert school.client.put(page, body, content_type="application/json").status_code == 200
    seat.refresh_from_db()
    assert seat.state == "handed in"


def test_bad_files_get_a_sentence_and_harm_nothing(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path
) -> None:
    sitting, batch = printed
    good = scanned(batch, {"2": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}, tmp_path)
    for name, data, words in bad_files(good):
        scan = read(school, data, name)
        refusal = scan.refusal or "; ".join(told(scan).damaged)
        assert words in refusal, (name, refusal)
    assert not Reading.objects.exists()
    assert sitting.seats.filter(state="expected").count() == 3
    # One bad page among good ones costs that page only.
    picture = io.BytesIO()
    Image.new("L", (20_000, 300), 255).save(picture, "PNG")
    assert read(school, good).state == "read"
    assert Page.objects.filter(problem="").count() == batch.sheets.get(seat__desk=2).pages


def bad_files(good: bytes) -> list[tuple[str, bytes, str]]:
    """What is sent by mistake or in malice, and a part of the sentence that must answer it."""
    wide, out = io.BytesIO(), []
    Image.new("1", (30_000, 30_000), 1).save(wide, "PNG")
    for name, pages, password in (("locked.pdf", 1, "secret"), ("many.pdf", 2000, None)):
        data = io.BytesIO()
        canvas = Canvas(data, encrypt=password)
        for _ in range(pages):
            canvas.showPage()
        canvas.save()
        out.append((name, data.getvalue()))
    return [
        (*out[0], "password"),
        (*out[1], "2,000 pages"),
        ("short.pdf", good[: len(good) // 3], "damaged"),
        ("nothing.pdf", b"", "empty"),
        ("sheets.zip", b"PK\x03\x04" + b"x" * 400, "zip"),
        ("wide.png", wide.getvalue(), "too large"),
        ("letter.txt", b"Dear colleague, " * 80, "no PDF"),
        ("broken.jpg", b"\xff\xd8\xff\xe0" + b"\x00" * 900, "damaged"),
    ]


def test_folder_and_mailbox(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path, settings: Any, mailoutbox: list[Any]
) -> None:
    from email.message import EmailMessage

    sitting, batch = printed
    settings.SCANS_FOLDER, settings.MAIL_FOLDER = tmp_path / "scans", tmp_path / "mail"
    data = scanned(batch, {"1": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}, tmp_path)
    watched = inbox.Watched()
    assert watched.look() == 0
    place = inbox.folder_of(school.teacher) / "copier 0001.pdf"
    place.write_bytes(data[:100])
    assert watched.look() == 0
    # Still being written: it is larger than when last seen.
    place.write_bytes(data)
    assert watched.look() == 0
    assert watched.look() == 1
    assert not place.exists()
    assert (place.parent / "taken" / place.name).read_bytes() == data

    school.teacher.email = "brandt@school.example"
    school.teacher.save()
    message = EmailMessage()
    message["From"], message["Subject"] = "O. Brandt <Brandt@school.example>", "from the copier"
    message.set_content("see attached")
    message.add_attachment(data + b"\n", maintype="application", subtype="pdf", filename="scan.pdf")
    message.add_attachment(b"", maintype="application", subtype="pdf", filename="empty.pdf")
    (tmp_path / "mail" / "in").mkdir(parents=True)
    (tmp_path / "mail" / "in" / "1.eml").write_bytes(message.as_bytes())
    del message["From"]
    message["From"] = "stranger@elsewhere.example"
    (tmp_path / "mail" / "in" / "2.eml").write_bytes(message.as_bytes())
    assert inbox.look_in_mail() == 2
    assert inbox.look_in_mail() == 0
    for scan in Scan.objects.filter(source="mail"):
        scanning.read_scan.call(str(scan.pk))
    assert sorted(sent.to[0] for sent in mailoutbox) == ["brandt@school.example"] * 2
    assert any("empty" in sent.body for sent in mailoutbox)
    assert any(sent.subject.startswith("1 sheet read") for sent in mailoutbox)


def test_cancelled_and_gone_on(school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path) -> None:
    sitting, batch = printed
    answers = answers_of(sitting, "A", "", "F", "12", "1:B", "", "")
    data = scanned(batch, {"1": answers, "2": answers, "3": answers}, tmp_path)
    scan_id = school.client.post("/api/v1/scans", {"files": SimpleUploadedFile("scan.pdf", data)}).json()[0]["id"]
    scan = Scan.objects.get(pk=scan_id)
    assert school.client.post(f"/api/v1/scans/{scan_id}/cancel").json()["state"] == "cancelled"
    scanning.read_scan.call(scan_id)
    assert not Page.objects.exists()
    # The service stopped after one page: what was read is not read again, and nothing is doubled.
    school.client.post(f"/api/v1/scans/{scan_id}/again")
    scanning.read_scan.call(scan_id)
    total = Reading.objects.count()
    Page.objects.filter(number__gt=1).delete()
    Scan.objects.filter(pk=scan_id).update(state="reading")
    scanning.resume_unfinished()
    scanning.read_scan.call(scan_id)
    scan.refresh_from_db()
    assert (scan.state, Reading.objects.count()) == ("read", total)
    assert set(sitting.seats.values_list("state", flat=True)) == {"handed in"}


def test_what_is_printed_for_whom(school: Staffroom) -> None:
    sitting = school.sitting(contents(), students=3)
    large = sitting.seats.get(desk=2)
    large.student.large_print = True
    large.student.save()
    path = f"/api/v1/sittings/{sitting.pk}/paper/batches"

    def printed_for(**body: Any) -> Batch:
        answer = school.client.post(path, body, content_type="application/json")
        assert answer.status_code == 200, answer.content
        return Batch.objects.get(pk=answer.json()["id"])

    whole = printed_for(paper="Letter", spare=2, date="Monday", large=24)
    assert (whole.read_map().paper, whole.sheets.count(), whole.sheets.filter(seat=None).count()) == ("Letter", 5, 2)
    assert whole.spec["subtitle"].endswith("Brandt · Monday")
    assert [student["points"] for student in whole.spec["students"]] == [0, 24, 0]
    # One student's sheet again: another batch with a code of its own, of that student alone.
    one = printed_for(seats=[large.pk])
    assert [sheet.seat for sheet in one.sheets.all()] == [large]
    assert one.code != whole.code
    sheets = f"/api/v1/paper/batches/{one.pk}/sheets.pdf"
    assert school.client.get(sheets).content == school.client.get(sheets).content
    assert school.client.post(path, {"seats": [0]}, content_type="application/json").status_code == 404
    empty = school.sitting(contents(), students=0)
    refused = school.client.post(f"/api/v1/sittings/{empty.pk}/paper/batches", {}, content_type="application/json")
    assert "no students yet" in refused.json()["detail"]
    # Nobody's answers are made up outside the demo school.
    made_up = school.client.post(f"/api/v1/paper/batches/{whole.pk}/rehearsal", {}, content_type="application/json")
    assert made_up.status_code == 403


def test_sheets_of_another_school_are_foreign_here(staffroom: Callable[[str], Staffroom], tmp_path: Path) -> None:
    one, other = staffroom("one"), staffroom("other")
    sitting = one.sitting(contents(), students=2)
    batch = printing.print_batch(one.teacher, sitting)
    data = scanned(batch, {"1": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}, tmp_path)
    scan = read(other, data)
    assert told(scan).foreign == [1]
    assert not Reading.objects.exists()
    assert sitting.seats.get(desk=1).state == "expected"
    page = scan.pages.get()
    assert one.client.get(f"/api/v1/paper/pages/{page.pk}/picture.jpg").status_code == 404


def test_answers_given_on_a_device_are_not_written_over(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path
) -> None:
    from tests.conftest import devices
    from versomark.school.delivery.services import open_sitting

    sitting, batch = printed
    open_sitting(sitting)
    device = devices(sitting)[0]
    device.join()
    ref = refs(sitting)[0]
    device.answer(ref, {"kind": "single_choice", "option": "d"}, 1)
    read(school, scanned(batch, {"1": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}, tmp_path))
    (query,) = queries(school, sitting)
    assert query["problem"] == "answered"
    seat = sitting.seats.get(desk=1)
    options = [option.id for option in sitting.edition.read().sections[0].items[0].content.options]  # type: ignore[union-attr]
    assert responses_of([seat.pk])[str(seat.pk)][ref].option == "d" == options[3]  # type: ignore[union-attr]
    page = f"/api/v1/queries/pages/{query['sheet']['page']}"
    school.client.put(page, {"act": "use"}, content_type="application/json")
    assert responses_of([seat.pk])[str(seat.pk)][ref].option == "a"  # type: ignore[union-attr]
    # A picture of an answer comes from a scan; a device cannot claim one.
    written = {"kind": "written", "text": "", "picture": query["sheet"]["page"]}
    assert devices(sitting)[1].join().status_code == 200
    assert devices(sitting)[1].answer(refs(sitting)[5], written, 1).status_code in (401, 403, 422)


def test_a_reader_that_dies_costs_its_page_only(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path
) -> None:
    sitting, batch = printed
    answers = answers_of(sitting, "A", "", "F", "12", "1:B", "", "")
    (tmp_path / "scan").write_bytes(scanned(batch, {"1": answers, "2": answers}, tmp_path))
    pages = [Task(tmp_path / "scan", 0), Task(tmp_path / "scan", 1)]
    with Readers([batch.read_map()], 1) as readers:
        worker = readers._workers[0]
        give = worker.give

        def die_over(task: Task) -> None:
            give(task)
            worker.process.kill()
            worker.give = give  # type: ignore[method-assign]

        worker.give = die_over  # type: ignore[method-assign]
        first, second = readers.read(pages)
        assert [entry.problem for entry in first[1]] == ["damaged"]
        assert [(entry.problem, entry.student) for entry in second[1]] == [("", "2")]
        # One that died between two scans costs nothing.
        worker.process.kill()
        worker.process.join()
        assert [results[0].student for _, results in readers.read(pages)] == ["1", "2"]


def test_a_mail_server_in_place_of_the_folder(
    school: Staffroom, printed: tuple[Sitting, Batch], tmp_path: Path, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The commands of IMAP (RFC 3501) that are used, answered as a server answers them."""
    from email.message import EmailMessage

    sitting, batch = printed
    school.teacher.email = "brandt@school.example"
    school.teacher.save()
    message = EmailMessage()
    message["From"] = "brandt@school.example"
    data = scanned(batch, {"1": answers_of(sitting, "A", "", "F", "12", "1:B", "", "")}, tmp_path)
    message.add_attachment(data, maintype="application", subtype="octet-stream", filename="Scan 4.PDF")
    asked: list[str] = []

    class Server:
        def __init__(self, host: str, timeout: float) -> None:
            asked.append(host)

        def __enter__(self) -> "Server":
            return self

        def __exit__(self, *_: object) -> None:
            asked.append("closed")

        def login(self, user: str, password: str) -> None:
            asked.append(f"{user} {password}")

        def select(self, box: str) -> None:
            asked.append(box)

        def search(self, charset: None, what: str) -> tuple[str, list[bytes]]:
            return "OK", [b"7"]

        def fetch(self, number: str, what: str) -> tuple[str, list[Any]]:
            asked.append(number)
            return "OK", [(b"7 (RFC822 {1}", message.as_bytes()), b")"]

    monkeypatch.setattr("imaplib.IMAP4_SSL", Server)
    settings.IMAP_HOST, settings.IMAP_USER, settings.IMAP_PASSWORD = "mail.example", "scans", "secret"
    assert inbox.look_in_mail() == 1
    assert asked == ["mail.example", "scans secret", "INBOX", "7", "closed"]
    assert Scan.objects.get().source == "mail"
