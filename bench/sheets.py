"""The reader over the simulated copier's whole range: what it reads, asks and gets wrong, and how long a page takes
beside bare decoding of the same JPEG. Settings, hands and answers are drawn anew for every batch."""

import tempfile
import time
from collections import Counter
from pathlib import Path

import cv2
import numpy as np

from versomark.core.sheets import Reader, SheetItem, SheetMap, SheetSpec, SheetStudent, lay_out
from versomark.core.sheets.drawing import draw
from versomark.core.sheets.scanning import Readers, Task
from versomark.stand_ins.copier import Settings, scan_sheets, write_pdf

WEARS = (0.0, 0.3, 0.6, 1.0)
BUBBLES = 100_000
STUDENTS = 5
ITEMS = [
    *(SheetItem(id=f"q{at}", kind="choice", options=4) for at in range(40)),
    *(SheetItem(id=f"m{at}", kind="multiple", options=5) for at in range(5)),
    *(SheetItem(id=f"t{at}", kind="true-false") for at in range(6)),
    SheetItem(id="n", kind="numeric"),
    SheetItem(id="p", kind="matching", rows=4, options=4),
]


def some_answer(item: SheetItem, rng: np.random.Generator) -> str:
    if rng.random() < 0.04:
        return ""
    letters = "ABCDE"[: item.options]
    if item.kind == "multiple":
        return "+".join(letter for letter in letters if rng.random() < 0.4)
    if item.kind == "numeric":
        return str(rng.choice(["-3.5", "12", "0.25", "480", "-7"]))
    if item.kind == "matching":
        return "+".join(f"{row}:{rng.choice(list(letters))}" for row in range(1, 5) if rng.random() < 0.95)
    return str(rng.choice(list({"true-false": "TF"}.get(item.kind, letters))))


def batch() -> tuple[SheetMap, bytes]:
    spec = SheetSpec(title="Bench", items=ITEMS, students=[SheetStudent(number=n) for n in range(1, STUDENTS + 1)])
    laid = lay_out(spec)
    return SheetMap.model_validate_json(laid.map.model_dump_json()), draw(spec, laid)


def at_wear(wear: float, folder: Path) -> str:
    sheet_map, pdf = batch()
    (folder / "sheets.pdf").write_bytes(pdf)
    reader, count = Reader([sheet_map]), Counter[str]()
    batches = -(-BUBBLES // len(WEARS) // (len(sheet_map.sheets[0].bubbles) * STUDENTS))
    reading = decoding = 0.0
    for seed in range(batches):
        rng = np.random.default_rng([seed, 99])
        answers = {str(n): {item.id: some_answer(item, rng) for item in ITEMS} for n in range(1, STUDENTS + 1)}
        settings = Settings.of(np.random.default_rng([seed, 7]), wear)
        for page in scan_sheets(folder / "sheets.pdf", sheet_map, answers, seed, wear, settings):
            count["pages"] += 1
            if settings.device != "fax":
                jpeg = cv2.imencode(".jpg", page, [cv2.IMWRITE_JPEG_QUALITY, settings.quality])[1]
                start = time.perf_counter()
                page = cv2.imdecode(jpeg, cv2.IMREAD_GRAYSCALE)
                decoded = time.perf_counter()
                reader.read(page)
                reading, decoding = reading + time.perf_counter() - decoded, decoding + decoded - start
                count["timed"] += 1
            for found in reader.read(page):
                count["lost"] += bool(found.problem)
                for read in found.reads:
                    clear = read.state in ("answer", "blank")
                    right = read.answer == answers[found.student][read.item]
                    count["right" if clear and right else "wrong" if clear else "asked"] += 1
    rows = count["right"] + count["asked"] + count["wrong"]
    read_ms, decode_ms = 1000 * reading / count["timed"], 1000 * decoding / count["timed"]
    return (
        f"{wear:4.1f}{count['pages']:8}{rows:8}{100 * count['right'] / rows:9.2f}{100 * count['asked'] / rows:9.2f}"
        f"{count['wrong']:8}{count['lost']:6}{decode_ms:10.1f}{read_ms:8.1f}{(read_ms + decode_ms) / decode_ms:8.1f}"
    )


def whole_class(folder: Path) -> str:
    """What a teacher waits for: a class of 30 as one PDF, opened and read by two processes."""
    spec = SheetSpec(title="Bench", items=ITEMS, students=[SheetStudent(number=n) for n in range(1, 31)])
    laid = lay_out(spec)
    sheet_map = SheetMap.model_validate_json(laid.map.model_dump_json())
    (folder / "sheets.pdf").write_bytes(draw(spec, laid))
    rng = np.random.default_rng(5)
    answers = {str(n): {item.id: some_answer(item, rng) for item in ITEMS} for n in range(1, 31)}
    settings = Settings(0.3, "copier", 200, 80, ())
    write_pdf(
        list(scan_sheets(folder / "sheets.pdf", sheet_map, answers, 1, 0.3, settings)), settings, folder / "scan.pdf"
    )
    took = []
    for processes in (1, 2):
        start = time.perf_counter()
        with Readers([sheet_map], processes) as readers:
            pages = readers.count(folder / "scan.pdf")
            list(readers.read([Task(folder / "scan.pdf", page) for page in range(pages)]))
        took.append(time.perf_counter() - start)
    return f"a class of 30 from one PDF: {took[0]:.1f} s in one process, {took[1]:.1f} s in two, starting them included"


def drawing() -> str:
    items = [SheetItem(id=f"q{at}", kind="choice") for at in range(60)]
    spec = SheetSpec(title="Bench", items=items, students=[SheetStudent(number=n, name="A Name") for n in range(300)])
    start = time.perf_counter()
    size = len(draw(spec, lay_out(spec)))
    return f"300 sheets of 60 questions drawn: {time.perf_counter() - start:.2f} s, {size / 1e6:.1f} MB"


def run() -> None:
    cv2.setNumThreads(1)
    print(drawing())
    print("wear   pages    rows  right %  asked %   wrong  lost  decode ms  read ms  together / decoding")
    with tempfile.TemporaryDirectory() as folder:
        for wear in WEARS:
            print(at_wear(wear, Path(folder)), flush=True)
        print(whole_class(Path(folder)))
