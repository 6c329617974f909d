"""What a browser prints of a page, read back: every student and every line is on paper, not what happened to be in
sight."""

import re
from collections.abc import Callable
from pathlib import Path

import pypdfium2
import pytest
from playwright.sync_api import Page

from . import screenshots

LONG: dict[str, tuple[Callable[[Page], None], str]] = {
    "results": (screenshots.results, "Totals"),
    "by skill": (screenshots.skills, "Students by skill, the weakest skill first"),
    "record": (screenshots.record, "Students by sittings, newest first"),
    "students by questions": (screenshots.student_table, "Students by questions"),
    "growth": (screenshots.VIEWS["growth"], "Growth by student"),
}
NAME = re.compile(r"[A-Z]\w+ [A-Z]\.")
ONLY_ON_SCREEN = ("Ctrl K", "sign out", "Light, dark", "Views", "by desk", "every question")


def printed(page: Page, folder: Path) -> str:
    page.wait_for_load_state("networkidle")
    page.pdf(path=folder / "page.pdf", format="A4", print_background=True)
    document = pypdfium2.PdfDocument(folder / "page.pdf")
    return "".join(entry.get_textpage().get_text_range() for entry in document)


@pytest.mark.parametrize("what", LONG)
def test_every_student_and_every_column_is_on_paper(teacher: Page, tmp_path: Path, what: str) -> None:
    go, caption = LONG[what]
    go(teacher)
    table = teacher.get_by_role("table", name=caption)
    students = NAME.findall(table.inner_text())
    heads = [
        inner_text
        for inner_text in table.locator("thead th").all_inner_texts()
        if inner_text.strip() not in ("", "What to do")
    ]
    assert len(set(students)) > 20
    said = printed(teacher, tmp_path)
    assert [student for student in students if student not in said] == []
    as_one = re.sub(r"\s+", "", said)
    assert [head for head in heads if re.sub(r"\s+", "", head) not in as_one] == []
    assert [entry for entry in ONLY_ON_SCREEN if entry in said] == []


def test_a_students_report_is_on_paper(teacher: Page, tmp_path: Path) -> None:
    screenshots.student_report(teacher)
    said = re.sub(r"\s+", "", printed(teacher, tmp_path))
    opening = teacher.locator("[data-opening]").inner_text()
    assert re.sub(r"\s+", "", opening) in said
    for caption in ("Tests", "Skills"):
        for row in teacher.get_by_role("table", name=caption, exact=True).locator("tbody tr").all():
            for cell in row.locator("td").all_inner_texts():
                seen = cell.replace("too little to say", "")  # for who hears it; on paper it is a dash
                assert re.sub(r"\s+", "", seen) in said
