"""Quantiles and tails of the usual distributions, from `scipy.special`.

It is imported when the first of them is needed: it takes as long to load as all the rest of the command line, and
`scipy.stats`, whose distributions rest on it, three times as long.
"""

import numpy as np
from numpy.typing import ArrayLike

from .checks import Floats


def normal_tail(z: float) -> float:
    """The probability of more than `z` in the standard normal distribution."""
    from scipy.special import ndtr

    return float(ndtr(-z))


def t_quantile(probability: float, df: float) -> float:
    """The value that Student's t with `df` degrees of freedom stays under with this probability."""
    from scipy.special import stdtrit

    return float(stdtrit(df, probability))


def f_quantile(probability: float, df_upper: float, df_lower: float) -> float:
    """The value that F stays under with this probability; NaN where the degrees of freedom allow none."""
    from scipy.special import fdtri

    return float(fdtri(df_upper, df_lower, probability))


def chi_square_tail(value: float, df: float) -> float:
    """The probability of more than `value` in chi-square with `df` degrees of freedom."""
    from scipy.special import chdtrc

    return float(chdtrc(df, value))


def binomial_tail(successes: float, trials: int, chance: ArrayLike) -> Floats:
    """The probabilities of at least so many successes, one for each chance."""
    from scipy.special import bdtrc

    return np.asarray(bdtrc(successes - 1, trials, np.asarray(chance, float)), float)


def sign_test(one_way: int, other_way: int) -> float:
    """The exact two-sided probability of a split as uneven as this where both ways are as likely."""
    from scipy.special import bdtr

    return min(1.0, 2 * float(bdtr(min(one_way, other_way), one_way + other_way, 0.5)))


def beta_below(hits: float, misses: float, line: float) -> float:
    """The probability that a share is under `line` after so many hits and misses, where before them every share was as
    likely: the beta distribution with `hits` + 1 and `misses` + 1."""
    from scipy.special import betainc

    return float(betainc(max(hits, 0.0) + 1, max(misses, 0.0) + 1, min(max(line, 0.0), 1.0)))
