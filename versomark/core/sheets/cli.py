"""Sheets from a shell, on open files: `./verso sheets make` and `./verso sheets read`."""

import argparse
import csv
import sys
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import TypeVar

import cv2
from pydantic import ValidationError

from .drawing import draw
from .images import BadScan, Grey, page_image
from .layout import lay_out
from .marks import PageRegion
from .reading import PROBLEM_WORDS, Reader, ScanReading, gather
from .scanning import Readers, Task
from .sheet_map import SheetMap
from .spec import SheetSpec
from .views import PER_MM

MISUSE = 2
"""Exit status when the input is at fault."""
READS = ("scan_page", "sheet", "student", "item", "answer", "state", "confidence")
QUERIES = ("scan_page", "sheet", "student", "item", "reason", "x_mm", "y_mm", "w_mm", "h_mm")


Model = TypeVar("Model", SheetSpec, SheetMap)


class BadInput(Exception):
    """A file that cannot be used; its text is the sentence for the person at the shell."""


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        print(options.run(options))
    except (BadInput, BadScan) as error:
        print(f"verso sheets: {error}", file=sys.stderr)
        return MISUSE
    except OSError as error:
        print(f"verso sheets: {error.filename} cannot be used ({error.strerror})", file=sys.stderr)
        return MISUSE
    return 0


def make(options: argparse.Namespace) -> str:
    spec = _model(SheetSpec, options.spec)
    layout = lay_out(spec)
    options.out.write_bytes(draw(spec, layout))
    options.map.write_text(layout.map.model_dump_json(), encoding="utf-8")
    pages = len(layout.map.sheets)
    return f"{len(layout.keys)} sheets, {pages} pages, batch {layout.map.batch}"


def read(options: argparse.Namespace) -> str:
    maps = [_model(SheetMap, path) for path in options.map]
    with Readers(maps) as readers:
        tasks = [Task(file, page) for file in options.scan for page in range(readers.count(file))]
        order = {task: at for at, task in enumerate(tasks)}
        result = sorted(readers.read(tasks), key=lambda pair: order[pair[0]])
    scan = gather(
        [reading for _, readings in result for reading in readings], {sheet_map.batch: sheet_map for sheet_map in maps}
    )
    # Pages count on through all the files.
    pages = [order[task] for task, readings in result for _ in readings]
    _write(options.out, READS, _read_rows(scan, pages))
    queries = list(_query_rows(scan, pages, maps))
    _write(options.queries, QUERIES, queries)
    if options.crops:
        _write_crops(options.crops, scan, pages, tasks, maps)
    items = sum(len(page.reads) for page in scan.pages)
    doubtful = sum(len(page.doubtful) for page in scan.pages)
    return f"{len(tasks)} pages, {items} rows read, {doubtful} doubtful, {len(scan.missing)} pages missing"


def _read_rows(scan: ScanReading, pages: Sequence[int]) -> Iterable[tuple[object, ...]]:
    for page, results in zip(pages, scan.pages, strict=True):
        for entry in results.reads:
            yield page, results.sheet, results.student, entry.item, entry.answer, entry.state, f"{entry.confidence:.3f}"


def _query_rows(scan: ScanReading, pages: Sequence[int], maps: Sequence[SheetMap]) -> Iterable[tuple[object, ...]]:
    for at, (page, results) in enumerate(zip(pages, scan.pages, strict=True)):
        if results.problem:
            yield (
                page,
                results.sheet,
                results.student,
                "",
                results.note or PROBLEM_WORDS[results.problem],
                "",
                "",
                "",
                "",
            )
        if results.empty:
            yield page, results.sheet, results.student, "", "nothing is filled on this page", "", "", "", ""
        if at in scan.duplicates:
            later = pages[scan.duplicates[at]]
            yield (
                page,
                results.sheet,
                results.student,
                "",
                f"the same sheet comes again on page {later}",
                "",
                "",
                "",
                "",
            )
        for entry in results.doubtful:
            place = entry.place
            where = (place.x_mm, place.y_mm, place.w_mm, place.h_mm)
            yield page, results.sheet, results.student, entry.item, f"{entry.state}: {entry.note}", *where
    for sheet, number, student in scan.missing:
        yield "", sheet, student, "", f"page {number} of this sheet is missing", "", "", "", ""


def _write_crops(
    folder: Path, scan: ScanReading, pages: Sequence[int], tasks: Sequence[Task], maps: Sequence[SheetMap]
) -> None:
    """The rows in doubt and the written boxes, as pictures."""
    reader = Reader(maps)
    for page in dict.fromkeys(pages):
        boxed = any(
            results.sheet and results.reads for at, results in zip(pages, scan.pages, strict=True) if at == page
        )
        if not boxed:
            continue
        grey = page_image(tasks[page].file, tasks[page].page or 0).grey
        for page_reading in reader.read(grey, page):
            if not page_reading.straight or not page_reading.reads:
                continue
            straight = page_reading.straight()
            for entry in page_reading.doubtful:
                _cut(straight, entry.place, folder / f"{page}-{page_reading.sheet}-{_safe(entry.item)}-row.png")
            for box in page_reading.boxes:
                _cut(straight, box.place, folder / f"{page}-{page_reading.sheet}-{_safe(box.item)}-box.png")


def _cut(straight: Grey, place: PageRegion, path: Path) -> None:
    x, y, w, h = (round(getattr(place, name) * PER_MM) for name in ("x_mm", "y_mm", "w_mm", "h_mm"))
    path.parent.mkdir(parents=True, exist_ok=True)
    cv2.imwrite(str(path), straight[max(y, 0) : y + h, max(x, 0) : x + w])


def _safe(name: str) -> str:
    return "".join(letter if letter.isalnum() or letter in "-_" else "_" for letter in name)


def _write(path: Path, head: Sequence[str], rows: Iterable[tuple[object, ...]]) -> None:
    with path.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(head)
        writer.writerows(rows)


def _model(kind: type[Model], path: Path) -> Model:
    try:
        return kind.model_validate_json(path.read_text(encoding="utf-8"))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise BadInput(f"{path}: {where + ': ' if where else ''}{first['msg']}") from None
    except UnicodeDecodeError:
        raise BadInput(f"{path} is not text in UTF-8") from None


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="verso sheets", description="Answer sheets to print, and scans of them to read."
    )
    commands = parser.add_subparsers(required=True)
    making = commands.add_parser("make", help="a PDF of sheets, and the map that says where everything is")
    making.add_argument("spec", type=Path, metavar="SPEC.json")
    making.add_argument("--out", type=Path, required=True, metavar="sheets.pdf")
    making.add_argument("--map", type=Path, required=True, metavar="map.json")
    making.set_defaults(run=make)
    reading = commands.add_parser("read", help="read scans; pages count from 0, through all files")
    reading.add_argument("scan", type=Path, nargs="+", metavar="SCAN")
    reading.add_argument("--map", type=Path, required=True, action="append", metavar="map.json")
    reading.add_argument("--out", type=Path, required=True, metavar="reads.csv")
    reading.add_argument("--queries", type=Path, required=True, metavar="queries.csv")
    reading.add_argument("--crops", type=Path, metavar="DIR", help="pictures of doubtful rows and written boxes")
    reading.set_defaults(run=read)
    return parser


if __name__ == "__main__":
    sys.exit(main())
