"""Whole scans, page by page, in processes of their own: a page that breaks its reader breaks nothing else."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import get_context
from multiprocessing.connection import Connection, wait
from multiprocessing.context import SpawnProcess
from pathlib import Path

import cv2

from versomark.core.language import ENGLISH, _, in_language

from .images import BadScan, Grey, count_pages, page_image
from .reading import PageReading, Reader
from .sheet_map import SheetMap

PROCESSES = 2
PAGES_A_PROCESS = 8
"""Pages for which another process is worth its start."""
PATIENCE = 60.0
"""Seconds a single page may take: a hundred times what the largest honest one needs."""
PICTURE_QUALITY = 72


@dataclass(frozen=True)
class Task:
    """A page to read; `page` None asks how many the file has."""

    file: Path
    page: int | None
    pictures: Path | None = None
    """A folder for the straightened pages, named by page and place in it; None where nobody wants to see them."""
    named: tuple[str, int] | None = None
    """The sheet and its page, where a person says what this is."""
    language: str = ENGLISH
    """In which what is doubtful is said."""


Found = int | list[PageReading] | BadScan


class Readers:
    """Processes that read pages; the first is there from the start, others join when there is work for them.

    maps: those of the batches the pages may belong to, or a folder that holds each as `CODE.json`.
    """

    def __init__(self, maps: Sequence[SheetMap] | Path, processes: int = PROCESSES) -> None:
        self._maps, self._most = maps, processes
        self._workers = [_Worker(maps)]

    def __enter__(self) -> "Readers":
        return self

    def __exit__(self, *_: object) -> None:
        for worker in self._workers:
            worker.close()

    def count(self, file: Path) -> int:
        """How many pages a file has. Raises BadScan, in words."""
        for _first, results in self._answers([Task(file, None)]):
            if isinstance(results, BadScan):
                raise results
            assert isinstance(results, int)
            return results
        raise BadScan(_("The file could not be opened."))

    def read(
        self, tasks: Sequence[Task], stop: Callable[[], bool] = lambda: False
    ) -> Iterator[tuple[Task, list[PageReading]]]:
        """Each page with the sheets on it, as they come; not in order where there are several processes.

        A page that cannot be read comes as one reading with the problem `damaged` and its sentence as the note. Ends
        early, with nothing half done, once `stop` says so.
        """
        for task, results in self._answers(tasks, stop):
            assert not isinstance(results, int)
            if isinstance(results, BadScan):
                yield task, [PageReading(task.page or 0, "damaged", note=str(results))]
            else:
                yield task, results

    def _answers(self, tasks: Sequence[Task], stop: Callable[[], bool] = lambda: False) -> Iterator[tuple[Task, Found]]:
        waiting = list(reversed(tasks))
        while len(self._workers) < min(self._most, -(-len(tasks) // PAGES_A_PROCESS)):
            self._workers.append(_Worker(self._maps))
        while True:
            for worker in self._workers:
                if worker.task is None and waiting and not stop():
                    worker.give(waiting.pop())
            busy = {worker.line: worker for worker in self._workers if worker.task is not None}
            if not busy:
                return
            ready = wait(list(busy), timeout=PATIENCE)
            for line in ready or list(busy):
                assert isinstance(line, Connection)
                worker = busy[line]
                task = worker.task
                assert task is not None
                yield task, worker.answer() if ready else worker.give_up()


def picture_path(folder: Path, page: int, place: int) -> Path:
    return folder / f"{page + 1:04d}-{place}.jpg"


def write_picture(picture: Grey, path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    done, data = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, PICTURE_QUALITY])
    if done:
        path.write_bytes(data.tobytes())


class _Worker:
    """One process and the line to it; started anew when it died or was given up."""

    def __init__(self, maps: Sequence[SheetMap] | Path) -> None:
        self.maps = maps if isinstance(maps, Path) else [sheet_map.model_dump_json() for sheet_map in maps]
        self.task: Task | None = None
        self._start()

    def _start(self) -> None:
        context = get_context("spawn")
        self.line, far = context.Pipe()
        self.process: SpawnProcess = context.Process(target=_work, args=(far, self.maps), daemon=True)
        self.process.start()
        far.close()

    def give(self, task: Task) -> None:
        self.task = task
        try:
            self.line.send(task)
        except OSError:
            # It died before it saw this page, which is not the page's fault.
            self.close()
            self._start()
            self.line.send(task)

    def answer(self) -> Found:
        """What came back; a sentence where the process died over it."""
        self.task = None
        try:
            recv: Found = self.line.recv()
            return recv
        except (EOFError, OSError):
            self.process.join()
            self._start()
            return BadScan(_("The page is damaged and could not be read."))

    def give_up(self) -> Found:
        self.task = None
        self.close()
        self._start()
        return BadScan(_("The page took too long to read. Scan it again at 200 or 300 dpi."))

    def close(self) -> None:
        self.process.kill()
        self.process.join()
        self.line.close()


def _work(line: Connection, maps: list[str] | Path) -> None:
    """The other end: reads pages until nobody asks any more."""
    # One thread each: two processes already keep both cores busy.
    cv2.setNumThreads(1)
    if isinstance(maps, Path):
        reader = Reader(find=partial(_map_in, maps))
    else:
        reader = Reader(SheetMap.model_validate_json(sheet_map) for sheet_map in maps)
    while True:
        try:
            task: Task = line.recv()
        except EOFError:
            return
        try:
            with in_language(task.language):
                line.send(count_pages(task.file) if task.page is None else _read(reader, task, task.page))
        except BadScan as error:
            line.send(error)
        except Exception:  # whatever a library raises over a page that was made to break it
            line.send(BadScan(_("The page is damaged and could not be read.")))


def _map_in(folder: Path, batch: str) -> SheetMap | None:
    path = folder / f"{batch}.json"
    # A code that checks is of letters and digits only, so it names no other place.
    return SheetMap.model_validate_json(path.read_bytes()) if batch.isalnum() and path.exists() else None


def _read(reader: Reader, task: Task, page: int) -> list[PageReading]:
    grey = page_image(task.file, page).grey
    result = reader.read_as(grey, *task.named, page=page) if task.named else reader.read(grey, page)
    if task.pictures:
        for place, reading in enumerate(result):
            if reading.straight:
                write_picture(reading.straight(), picture_path(task.pictures, page, place))
    # What makes the picture holds the whole scan; it stays here.
    return [replace(reading, straight=None) for reading in result]
