"""Small response tables for tests."""

import numpy as np
from numpy.typing import ArrayLike

from versomark.core.response_table import ItemColumn, OptionColumn, ResponseTable


def choices(rows: list[str], keys: str, options: str = "ABCD") -> ResponseTable:
    """One string of letters a student, `-` for nothing given; one key letter an item."""
    choice = np.array([[options.find(letter) for letter in row] for row in rows], dtype=np.int16)
    items = tuple(
        ItemColumn(f"q{j + 1}", 1, tuple(OptionColumn(o, float(o == key)) for o in options))
        for j, key in enumerate(keys)
    )
    key_at = np.array([options.index(key) for key in keys])
    students = tuple(f"s{i}" for i in range(len(rows)))
    return ResponseTable(students, items, (choice == key_at).astype(float), choice, choice >= 0)


def points(values: ArrayLike, maxima: ArrayLike | None = None) -> ResponseTable:
    """A table of points only."""
    array = np.asarray(values, dtype=float)
    tops = array.max(axis=0) if maxima is None else np.asarray(maxima, dtype=float)
    items = tuple(ItemColumn(f"q{j + 1}", float(top)) for j, top in enumerate(tops))
    students = tuple(f"s{i}" for i in range(len(array)))
    empty = np.full(array.shape, -1, dtype=np.int16)
    return ResponseTable(students, items, array, empty, np.ones(array.shape, dtype=bool))
