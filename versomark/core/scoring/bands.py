"""Three bands of a share of marks: secure, nearly, not yet."""

from typing import Literal

from versomark.core.language import N_

Band = Literal["secure", "nearly", "not yet"]
WORDS: dict[Band, str] = {"secure": N_("secure"), "nearly": N_("nearly"), "not yet": N_("not yet")}
CUTS = (0.80, 0.50)
"""Common practice, no source; a teacher can set others."""


def band_of(points: float, of: float, cuts: tuple[float, float] = CUTS) -> Band | None:
    """The band of `points` out of `of`; a share that is a cut belongs to the band above. None where `of` is 0."""
    if of <= 0:
        return None
    share = points / of + 1e-9
    return "secure" if share >= cuts[0] else "nearly" if share >= cuts[1] else "not yet"
