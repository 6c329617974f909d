"""What a browser prints of a page, read back: every student and every line is on paper, not what happened to be in
sight."""

import re
from collections.abc import Callable
from pathlib import Path

import pypdfium2
import pytest
from playwright.sync_api import Page

from . import screenshots
from .screenshots import tab

LONG: dict[str, tuple[Callable[[Page], None], str]] = {
    "results": (screenshots.results, "Totals"),
    "by skill": (screenshots.skills, "Students by skill, the weakest skill first"),
    "record": (screenshots.record, "Students by sittings, newest first"),
    "students by questions": (screenshots.student_table, "Students by questions"),
    "summary": (screenshots.summary, ""),
    "class": (screenshots.class_list, ""),
}


def printed(page: Page, folder: Path) -> list[str]:
    page.wait_for_load_state("networkidle")
    page.pdf(path=folder / "page.pdf", format="A4", print_background=True)
    document = pypdfium2.PdfDocument(folder / "page.pdf")
    return [one.get_textpage().get_text_range() for one in document]


@pytest.mark.parametrize("what", LONG)
def test_all_of_it_is_on_paper(teacher: Page, tmp_path: Path, what: str) -> None:
    go, caption = LONG[what]
    go(teacher)
    table = teacher.get_by_role("table", name=caption, exact=True) if caption else teacher.get_by_role("table").first
    heads = [" ".join(one.split()) for one in table.locator("tbody tr > :is(th, td):has(*)").all_inner_texts()]
    lines = [" ".join(row.inner_text().split())[:12] for row in table.locator("tbody tr").all()]
    assert len(lines) > 10
    assert heads
    pages = printed(teacher, tmp_path)
    said = re.sub(r"\s+", "", "".join(pages))
    missing = [line for line in lines if re.sub(r"\s+", "", line)[:8] not in said]
    assert missing == []
    # Nothing that is only for the screen: no way to elsewhere, no button.
    for screen_only in ("Ctrl K", "sign out", "Light, dark"):
        assert screen_only.replace(" ", "") not in said


def test_a_students_report_is_on_paper(teacher: Page, tmp_path: Path) -> None:
    tab(teacher, "Records")
    screenshots.student_report(teacher)
    said = " ".join(printed(teacher, tmp_path))
    assert "Over the year" in said or "Tests, newest first".upper() in said.upper()
    for skill in teacher.get_by_role("table", name="Skills").locator("tbody tr").all():
        assert skill.inner_text().split("\n")[0].split("\t")[0] in said
