"""Bad arguments refused by name, before a figure is made of them.

Every public function of `core.stats` passes its arguments through these; each raises ValueError in words that name the
argument.
"""

from collections.abc import Sized

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


def as_vector(name: str, values: ArrayLike, missing: bool = False, least: int = 0) -> Floats:
    """(N,) numbers, N at least `least`. `missing`: whether NaN may stand for a value that is not there."""
    return _checked(name, values, 1, missing, least)


def as_table(name: str, values: ArrayLike, missing: bool = True, least: int = 0) -> Floats:
    """(N, n) numbers, N at least `least`."""
    return _checked(name, values, 2, missing, least)


def as_numbers(name: str, values: ArrayLike, missing: bool = True) -> Floats:
    """Numbers of any shape."""
    return _checked(name, values, None, missing, 0)


def as_flags(name: str, values: ArrayLike, dimensions: int) -> NDArray[np.bool_]:
    """True or false, or 1 and 0, in so many dimensions."""
    flags = np.asarray(values)
    if flags.ndim != dimensions:
        raise ValueError(f"{name} must have {_dimensions(dimensions)}, not {flags.ndim}.")
    if flags.dtype != np.bool_ and not np.isin(flags, (0, 1)).all():
        raise ValueError(f"{name} must be true or false throughout.")
    return flags.astype(bool)


def check_same_length(**named: Sized) -> None:
    """That arguments which belong together are equally long."""
    if len({len(values) for values in named.values()}) > 1:
        raise ValueError(
            f"{' and '.join(named)} must be equally long: {', '.join(str(len(v)) for v in named.values())}."
        )


def check_within(name: str, value: float, low: float, high: float = float("inf")) -> None:
    """That a number is from `low` to `high`."""
    if not low <= value <= high:
        top = f" to {high:g}" if np.isfinite(high) else " or more"
        raise ValueError(f"{name} must be {low:g}{top}, not {value:g}.")


def _checked(name: str, values: ArrayLike, dimensions: int | None, missing: bool, least: int) -> Floats:
    try:
        result = np.asarray(values, float)
    except (TypeError, ValueError):
        raise ValueError(f"{name} must be numbers, all rows equally long.") from None
    if dimensions is not None and result.ndim != dimensions:
        raise ValueError(f"{name} must have {_dimensions(dimensions)}, not {result.ndim}.")
    if np.isinf(result).any() or (not missing and np.isnan(result).any()):
        raise ValueError(f"{name} must be finite{' or missing (NaN)' if missing else ''}.")
    if dimensions is not None and len(result) < least:
        raise ValueError(f"{name} needs at least {least} of them, and has {len(result)}.")
    return result


def _dimensions(count: int) -> str:
    return "one dimension" if count == 1 else f"{count} dimensions"
