"""What counts of an answer that was marked twice."""

SLACK = 1e-9


def apart(first: float, second: float, tolerance: float) -> bool:
    """Whether two marks differ by more than so many marks, so that their givers have to agree on one."""
    return abs(first - second) > tolerance + SLACK


def counted(
    first: float | None, second: float | None, agreed: float | None, tolerance: float, mean: bool
) -> float | None:
    """The mark that counts; None while there is none, or while two are too far apart and not agreed on.

    A mark that was agreed on counts whatever the others are. Of two within the tolerance the first counts, or their
    mean (common practice, no source); a first one counts alone until the second is there, a second one never does.
    """
    if agreed is not None:
        return agreed
    if first is None or second is None:
        return first
    if apart(first, second, tolerance):
        return None
    return (first + second) / 2 if mean else first
