"""Keeps the server's catalogues in step with the code: `python -m tests.catalogues` writes what is new into them, with
`--check` it says what is missing and changes nothing."""

import re
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_file
from babel.messages.pofile import read_po, write_po

from versomark.core.language import CATALOGUES, ENGLISH, LANGUAGES

ROOT = Path(__file__).parents[1]
KEYWORDS = {"_": None, "N_": None, "_n": (1, 2)}
IN_TEMPLATE = re.compile(r"""{% (text|texts) "([^"]+)"(?: "([^"]+)")?""")
STUDENTS_ONLY = {"ar"}
"""Languages that only what students and parents read is translated into."""
FOR_STUDENTS = (
    "core/giving", "core/items", "core/scoring/bands.py", "core/sheets/cards.py", "core/sheets/drawing.py",
    "core/sheets/layout.py", "core/text.py", "school/editions/printing.py", "school/editions/templatetags",
    "school/feedback/feedback_sheets.py", "school/feedback/marked_work.py",
    "school/feedback/services.py", "school/feedback/student_result.py",
    "school/feedback/templates", "school/editions/templates", "school/placement/templates",
    "school/placement/second_part.py", "school/portal", "school/reports/mail.py", "school/reports/student_report.py",
    "school/reports/templates", "school/responses/api_student.py", "school/responses/attempts.py",
    "school/responses/files.py", "school/responses/services.py", "school/delivery/seats.py",
    "school/grading/mark_questions.py", "school/room/answers.py",
    "school/room/api_student.py", "school/errors.py", "school/guesses.py", "site/api.py",
    "site/urls.py", "school/disk.py", "school/privacy/everything.py",
    "school/delivery/breaks.py", "school/delivery/tokens.py", "school/responses/external_marks.py",
    "school/room/names.py",
)  # fmt: skip


def messages() -> Iterator[tuple[str | tuple[str, ...], str]]:
    """Every message of the code and the templates, with the file it stands in."""
    for path in sorted((ROOT / "versomark").rglob("*.py")):
        for _line, message, _comments, _context in extract_from_file("python", path, keywords=KEYWORDS):
            if message and "/demo/" not in str(path):
                yield message, str(path.relative_to(ROOT / "versomark"))
    for path in sorted((ROOT / "versomark").rglob("*.html")):
        for kind, singular, plural in IN_TEMPLATE.findall(path.read_text()):
            yield ((singular, plural) if kind == "texts" else singular), str(path.relative_to(ROOT / "versomark"))


def wanted(language: str) -> Catalog:
    catalogue = Catalog(locale=language, project="Verso Mark", charset="utf-8")
    for message, file in messages():
        if language not in STUDENTS_ONLY or file.startswith(FOR_STUDENTS):
            catalogue.add(message)
    return catalogue


def in_step(language: str) -> Catalog:
    path = CATALOGUES / f"{language}.po"
    now = read_po(path.open("rb"), locale=language) if path.exists() else Catalog(locale=language)
    made = wanted(language)
    for message in made:
        before = now.get(message.id) if message.id else None
        if before is not None:
            message.string = before.string
    return made


def problems(language: str) -> Iterable[str]:
    """What the catalogue lacks, and translations that name other facts than their message."""
    path = CATALOGUES / f"{language}.po"
    now = read_po(path.open("rb"), locale=language) if path.exists() else Catalog(locale=language)
    for message in wanted(language):
        if not message.id:
            continue
        there = now.get(message.id)
        strings = [there.string] if there and isinstance(there.string, str) else list(there.string if there else ())
        if not strings or not all(strings):
            yield f"{language}: no translation of {message.id!r}"
            continue
        ids = [message.id] if isinstance(message.id, str) else list(message.id)
        facts = [set(re.findall(r"(?<!{){(\w+)}", text)) for text in ids]
        for string in strings:
            named = set(re.findall(r"(?<!{){(\w+)}", string))
            if not named <= set().union(*facts) or (len(ids) == 1 and named != facts[0]):
                yield f"{language}: {string!r} names other facts than {message.id!r}"


def main() -> int:
    others = [language for language in LANGUAGES if language != ENGLISH]
    if "--check" in sys.argv:
        lacking = [problem for language in others for problem in problems(language)]
        print("\n".join(lacking) or "the server's catalogues are complete")
        return bool(lacking)
    for language in others:
        catalogue = in_step(language)
        with (CATALOGUES / f"{language}.po").open("wb") as file:
            write_po(file, catalogue, width=0, omit_header=True, sort_output=True, no_location=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
