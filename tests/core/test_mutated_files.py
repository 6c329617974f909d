"""Real files of every format that comes in, broken by chance: read, or refused in words, and nothing else.

A file is broken as copiers, mail and editors break them: bytes changed, a piece lost or doubled, cut off; and, in a
zip, inside a part, so that what is in it is met broken too. `VERSO_MUTATIONS` says how many of each; 2,000 were tried.
"""

import io
import os
import random
import zipfile
from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import openpyxl
import pytest
from PIL import Image

from versomark.core.formats.case import CaseSkill, read_case, write_case
from versomark.core.formats.class_lists import guess, read_students
from versomark.core.formats.items_table import looks_like_items, read_items
from versomark.core.formats.marks_sheet import SheetCriterion, SheetQuestion, SheetRow, read_sheet, write_sheet
from versomark.core.formats.oneroster import read_bundle
from versomark.core.formats.qti import SentItem, SentSection, open_package, write_package
from versomark.core.formats.responses_csv import BadFile, read_responses
from versomark.core.formats.tables import read_tables
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.items import Option, SingleChoice
from versomark.core.sheets.images import BadScan, count_pages, page_image

MUTATIONS = int(os.environ.get("VERSO_MUTATIONS", "120"))
ODD = [
    b"\x00",
    b"\xff\xff\xff\xff",
    b"<",
    b"&#0;",
    b"]]>",
    b'"',
    b"\xed\xa0\x80",
    b"=1+1",
    b"-1",
    b"999999999999",
    b"\r",
    b"%PDF",
]


def broken(data: bytes, rng: random.Random) -> bytes:
    """One to four changes at random places."""
    for _ in range(rng.randint(1, 4)):
        at, end = sorted(rng.randrange(len(data) + 1) for _ in range(2))
        end = min(end, at + 40)
        data = rng.choice(
            [
                data[:at] + bytes([rng.randrange(256)]) + data[at + 1 :],
                data[:at] + data[end:],
                data[:end] + data[at:end] + data[end:],
                data[:at] + rng.choice(ODD) + data[at:],
                data[: max(at, 1)] if rng.random() < 0.2 else data,
            ]
        )
    return data


def broken_inside(data: bytes, rng: random.Random) -> bytes:
    """A zip that is whole, with a part that is not."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as packed, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as again:
        names = packed.namelist()
        chosen = rng.choice(names)
        for name in names:
            part = packed.read(name)
            again.writestr(name, broken(part, rng) if name == chosen else part)
    return out.getvalue()


def workbook() -> bytes:
    book, out = openpyxl.Workbook(), io.BytesIO()
    sheet = book.active
    assert sheet is not None
    for row in (["Family name", "Given name", "Number", "Desk"], ["Ито", "Ren", "0042", 1], ["Okafor", "Wren", "", 2]):
        sheet.append(row)
    book.save(out)
    return out.getvalue()


def roster() -> bytes:
    files = {
        "manifest.csv": "propertyName,value\nmanifest.version,1.0\noneroster.version,1.1\n",
        "users.csv": "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,"
        "familyName,middleName,identifier,email\nu1,,,true,o,student,u1,,Ann,Lee,,7,ann@x.example\n",
        "classes.csv": "sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType\n"
        "c1,,,8 Tern,8,,,x\n",
        "enrollments.csv": "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role\n"
        "e1,,,c1,o,u1,student\n",
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, text in files.items():
            packed.writestr(name, text)
    return out.getvalue()


def package() -> bytes:
    options = [Option(id=name, text=f"<p>{name} <em>x</em></p>") for name in "abc"]
    item = SentItem("q1", SingleChoice(stem="Which?", options=options, key="b"), ["Ohm’s law"])
    return write_package("Test", [SentSection("Part", [item])], {})[0]


def questions_table() -> bytes:
    return b"Question,Key,A,B,C,Marks\nWhich?,B,one,two,three,2\nIs it so?,true,,,,1\nHow many?,4.5,,,,1\n"


def scan(form: str) -> bytes:
    page = np.full((400, 300), 255, np.uint8)
    cv2.circle(page, (100, 100), 30, 0, 3)
    out = io.BytesIO()
    Image.fromarray(page).save(out, form)
    return out.getvalue()


def read_class_list(data: bytes, name: str) -> None:
    for sheet in read_tables(name, data):
        seen = guess(sheet)
        read_students(sheet, seen.header, seen.columns)
        if looks_like_items(sheet):
            read_items(sheet)


def read_package(data: bytes) -> None:
    for item in open_package(data).items:
        item.read({})


def read_scan(data: bytes, folder: Path, name: str) -> None:
    path = folder / name
    path.write_bytes(data)
    for at in range(min(2, count_pages(path))):
        page_image(path, at)


MARKS = [SheetQuestion(3, (SheetCriterion("c", "Sense", 4), SheetCriterion("d", "Form", 2)))]


def cases(folder: Path) -> Iterator[tuple[str, bytes, Callable[[bytes], Any]]]:
    table = questions_table()
    yield (
        "class list.csv",
        b"Family name;Given name;Mail\nIto;Ren;r@x.example\n",
        lambda data: read_class_list(data, "l.csv"),
    )
    yield "class list.xlsx", workbook(), lambda data: read_class_list(data, "l.xlsx")
    yield "questions.csv", table, lambda data: read_class_list(data, "q.csv")
    yield "roster.zip", roster(), lambda data: read_bundle(data, date(2026, 11, 29))
    yield "package.zip", package(), read_package
    skills = [CaseSkill("11111111-1111-4111-8111-111111111111", "A", "Says", "S.1")]
    yield "skills.json", write_case("Skills", "School", skills, datetime(2026, 1, 1, tzinfo=UTC)), read_case
    marks = write_sheet([(MARKS[0], [SheetRow(1, "Ren", {"c": 3}, "Good")])], names=True)
    yield "marks.xlsx", marks, lambda data: read_sheet(data, MARKS)
    for form in ("PDF", "PNG", "TIFF", "JPEG"):
        yield f"scan.{form}", scan(form), lambda data, form=form: read_scan(data, folder, f"scan.{form.lower()}")

    def responses(data: bytes) -> None:
        (folder / "r.csv").write_bytes(data)
        read_responses(folder / "r.csv")

    yield "responses.csv", b"student,q1,q2\na,1,0\nb,0.5,2\nc,1,NA\n", responses


NAMES = [name for name, *_rest in cases(Path())]


@pytest.mark.parametrize("name", NAMES)
def test_a_broken_file_is_read_or_refused_in_words(name: str, tmp_path: Path) -> None:
    (data, read) = next((data, read) for case, data, read in cases(tmp_path) if case == name)
    read(data)  # the file itself is good
    rng, refused = random.Random(name), 0
    for _ in range(MUTATIONS):
        inside = zipfile.is_zipfile(io.BytesIO(data)) and rng.random() < 0.6
        mutated = (broken_inside if inside else broken)(data, rng)
        try:
            read(mutated)
        except (UnreadableFileError, BadScan, BadFile) as refusal:
            refused += bool(str(refusal).strip())
    if name.endswith((".zip", ".xlsx", ".json")):
        assert refused > 0
