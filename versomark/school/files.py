"""Files of a school: in its folder, and, where a store is named, in the store as well.

With a store the folder of a machine holds what it made or was asked for, and may be lost. A file is in the store before
whoever handed it over is told that it was taken.
"""

import shutil
from collections.abc import Iterable, Iterator
from pathlib import Path
from tempfile import NamedTemporaryFile

from django.conf import settings
from django.core.files import File
from django.core.files.storage import Storage, storages


def store() -> Storage | None:
    """Where files are beside the folder; None where the folder is all there is."""
    return storages["files"] if settings.FILES_STORE else None


def keep(path: Path) -> None:
    """Put a file of the folder into the store, once it is written whole."""
    place = store()
    if place is None:
        return
    with path.open("rb") as file:
        place.delete(_name(path))
        place.save(_name(path), File(file))


def here(path: Path) -> bool:
    """Whether there is such a file; if it is in the store alone, it is fetched."""
    if path.exists():
        return True
    place = store()
    if place is None or not place.exists(_name(path)):
        return False
    path.parent.mkdir(parents=True, exist_ok=True)
    # Two may fetch it at once: each into a file of its own, and the last one stays.
    with place.open(_name(path)) as source, NamedTemporaryFile(dir=path.parent, delete=False) as fresh:
        shutil.copyfileobj(source, fresh)
    Path(fresh.name).rename(path)
    return True


def remove(path: Path) -> None:
    """From the folder and from the store; one that is gone already is no trouble."""
    path.unlink(missing_ok=True)
    if place := store():
        place.delete(_name(path))


def remove_folder(folder: Path) -> None:
    """A folder of files with everything in it."""
    shutil.rmtree(folder, ignore_errors=True)
    if place := store():
        for name in list(_below(place, _name(folder))):
            place.delete(name)


def fetch_everything() -> int:
    """Everything that the store has and this folder has not, for a back-up; returns how many."""
    place, fetched = store(), 0
    if place is not None:
        for name in _below(place, ""):
            path = Path(settings.DATA) / name
            if not path.exists():
                fetched += here(path)
    return fetched


def keep_everything(paths: Iterable[Path]) -> None:
    """Everything of a folder that was brought back."""
    for path in paths:
        keep(path)


def _name(path: Path) -> str:
    return path.relative_to(settings.DATA).as_posix()


def _below(place: Storage, folder: str) -> Iterator[str]:
    folders, names = place.listdir(folder)
    for name in names:
        if name:
            yield f"{folder}/{name}" if folder else name
    for below in folders:
        yield from _below(place, f"{folder}/{below}" if folder else below)
