"""What a generator hands over: the answers of a class, and what is true of every question."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import NOT_CHOSEN, ItemColumn, OptionColumn, ResponseTable


class Planted(StrEnum):
    FAIR = "fair"
    WRONG_KEY = "wrong key"
    TWO_RIGHT = "two right answers"
    SHARED_IDEA = "shared idea"
    GUESSING = "guessing"


@dataclass(frozen=True)
class PlantedClass:
    table: ResponseTable
    planted: Sequence[Planted]
    """One of each item."""
    option: Sequence[int]
    """The place of the option that is right, right too, or drawn to by an idea; −1 where there is none."""
    ability: NDArray[np.float64] | None = None
    """(N, n) of each student in what each item asks for, where the generator knows it."""


def class_of(
    choice: NDArray[np.int64],
    options: Sequence[int],
    keys: Sequence[int],
    planted: Sequence[Planted],
    option: Sequence[int],
    ability: NDArray[np.float64] | None = None,
) -> PlantedClass:
    """A class of these choices, NOT_CHOSEN where nothing was given. options: how many each item has."""
    students, items = choice.shape
    columns = tuple(
        ItemColumn(
            f"q{j + 1}",
            1.0,
            tuple(OptionColumn("ABCDEFGH"[k], float(k == keys[j])) for k in range(options[j])),
            number=j + 1,
        )
        for j in range(items)
    )
    table = ResponseTable(
        tuple(f"s{i}" for i in range(students)),
        columns,
        (choice == np.asarray(keys)).astype(float),
        choice.astype(np.int16),
        choice != NOT_CHOSEN,
    )
    return PlantedClass(table, planted, option, ability)
