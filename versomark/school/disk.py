"""How much room is left for what a school keeps. Seen before it is gone: an answer of a few bytes is still taken when
a scan of fifty pages no longer is."""

import shutil
from pathlib import Path
from typing import Literal, NamedTuple

from django.conf import settings

from versomark.core.language import _

from .errors import DomainError

State = Literal["fine", "low", "full"]
LOW_MB, FULL_MB = 2_000, 300


class DiskLeft(NamedTuple):
    free_mb: int
    total_mb: int
    state: State


def left() -> DiskLeft:
    usage = shutil.disk_usage(Path(settings.DATA))
    free = usage.free // 1024**2
    state: State = "full" if free < FULL_MB else "low" if free < LOW_MB else "fine"
    return DiskLeft(free, usage.total // 1024**2, state)


def refuse_when_full() -> None:
    """Before anything large is kept: what is left is for answers and marks."""
    if left().state == "full":
        raise DomainError(
            _(
                "The school’s disk is nearly full, so no files are taken now; answers and marks still are. "
                "Tell whoever looks after the service."
            ),
            status=507,
        )
