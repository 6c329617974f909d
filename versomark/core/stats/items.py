"""Measures of items and of their options.

Sources: Crocker & Algina 1986, chapters 14 and 15 (difficulty, item-total and item-rest correlation, D);
Kelley 1939 and Ebel & Frisbie 1991 (groups of 27%); conventions in `docs/methods.md`. NaN marks a value that does
not exist; the analysis turns it into null with a reason.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from versomark.core.response_table import ResponseTable

from .groups import Floats, ScoreBlocks
from .sums import Sums, weighted_sums

TINY = 1e-12


@dataclass(frozen=True)
class ItemMeasures:
    """Per weighting of the students (R) and item (n), and per option place (K) where responses are choices."""

    p: Floats  # (R, n) mean points over maximum
    r_total: Floats  # (R, n)
    r_rest: Floats  # (R, n)
    d: Floats  # (R, n) p of the upper group minus p of the lower
    alpha: Floats  # (R,)
    alpha_without: Floats  # (R, n)
    count: Floats  # (R, n, K)
    share: Floats  # (R, n, K) of all students, answered or not
    upper: Floats  # (R, n, K)
    middle: Floats  # (R, n, K)
    lower: Floats  # (R, n, K)
    mean_total: Floats  # (R, n, K)
    option_r_rest: Floats  # (R, n, K) indicator with the rest score


def item_measures(
    table: ResponseTable,
    weights: Floats | None = None,
    share: float = 0.27,
    blocks: ScoreBlocks | None = None,
) -> ItemMeasures:
    """Measures of every item and option.

    Parameters
    ----------
    table : ResponseTable
    weights : ndarray of float, shape (R, N), optional
        How often each student counts, in each of R weightings; the students as they are when left out.
    share : float, default 0.27
        Size of the upper and of the lower group, as a share of the students.
    blocks : ScoreBlocks, optional
        Of the same totals, where they are known already.

    Returns
    -------
    ItemMeasures
        Every figure with a leading axis of R.

    Notes
    -----
    Where students did not all take the same items, those of an item are those who took it, the end groups are those
    of all students, and alpha in every weighting is left undefined: `reliability` has it for the students as they
    are.
    """
    as_they_are = weights is None
    weights = np.ones((1, len(table.students))) if weights is None else weights
    blocks = blocks or ScoreBlocks.of(table.standing)
    measures = _from_sums(weighted_sums(table, weights, share, blocks), table.maxima)
    if as_they_are and not table.complete:
        # Where students took different numbers, what they are compared by is not the sum of its items: the rest is
        # brought to the same marks without the item, and not the whole with the item taken off.
        r_rest, option_r_rest = _rest_correlations(table, measures.option_r_rest.shape[2])
        measures = replace(measures, r_rest=r_rest[None], option_r_rest=option_r_rest[None])
    return measures


def _rest_correlations(table: ResponseTable, places: int) -> tuple[Floats, Floats]:
    """(n,) correlation of each item with the rest, and (n, K) of each option, of those who took the item."""
    r, of_options = np.full(len(table.items), np.nan), np.full((len(table.items), places), np.nan)
    for j in range(len(table.items)):
        took = table.taken[:, j]
        rest = table.rest[took, j]
        chosen = table.choice[took, j][:, None] == np.arange(places)
        columns = np.column_stack([table.points[took, j], chosen]).astype(float)
        if len(rest) > 1 and np.ptp(rest) > TINY * max(1.0, table.max_total):
            off, rest_off = columns - columns.mean(axis=0), rest - rest.mean()
            with np.errstate(divide="ignore", invalid="ignore"):
                both = (rest_off @ off) / np.sqrt((off**2).sum(axis=0) * (rest_off @ rest_off))
            r[j], of_options[j] = both[0], both[1:]
    return r, of_options


def _from_sums(s: Sums, maxima: Floats) -> ItemMeasures:
    items = s.point.shape[1]
    with np.errstate(divide="ignore", invalid="ignore"):
        n = np.where(s.students > 0, s.students, np.nan)
        mean = s.point / n
        mean_t = s.total / n
        var = s.point2 / n - mean**2
        var_t = s.total2 / n - mean_t**2
        cov_t = s.point_total / n - mean * mean_t
        var_rest = var_t + var - 2 * cov_t
        scale = maxima**2
        r_total = _ratio(cov_t, np.sqrt(_positive(var, scale) * _positive(var_t, scale)))
        r_rest = _ratio(cov_t - var, np.sqrt(_positive(var, scale) * _positive(var_rest, scale)))
        if s.complete:
            alpha = _alpha(items, var.sum(1), _positive(var_t[:, 0], scale.max(initial=1)))
            alpha_without = _alpha(items - 1, var.sum(1)[:, None] - var, _positive(var_rest, scale))
        else:
            alpha, alpha_without = np.full(len(n), np.nan), np.full(var.shape, np.nan)
        p = (mean + s.centre) / maxima
        p_upper = (s.upper_point / s.upper_students + s.centre) / maxima
        p_lower = (s.lower_point / s.lower_students + s.centre) / maxima

        cell = n[:, :, None]
        count, share = s.option, s.option / cell
        upper = s.option_upper / s.upper_students[:, :, None]
        lower = s.option_lower / s.lower_students[:, :, None]
        middle_n = (s.students - s.upper_students - s.lower_students)[:, :, None]
        middle = _ratio(count - s.option_upper - s.option_lower, _positive(middle_n, 1))
        mean_total = s.option_total / np.where(count > 0, count, np.nan)
        # Rest of those who chose it: Σ(t − x); x is the same for all of them, so one product gives it.
        option_rest = s.option_total - count * s.option_points
        mean_rest = (mean_t - mean)[:, :, None]
        cov_option = option_rest / cell - share * mean_rest
        spread = share * (1 - share)
        option_r = _ratio(cov_option, np.sqrt(_positive(spread, 1) * _positive(var_rest, scale)[:, :, None]))
    return ItemMeasures(
        p=p,
        r_total=r_total,
        r_rest=r_rest,
        d=p_upper - p_lower,
        alpha=alpha,
        alpha_without=alpha_without,
        count=count,
        share=share,
        upper=upper,
        middle=middle,
        lower=lower,
        mean_total=mean_total + s.centre_total,
        option_r_rest=option_r,
    )


def _positive(variance: Floats, scale: Floats | float) -> Floats:
    """A variance, or NaN where it is nothing but rounding."""
    return np.where(variance > TINY * np.asarray(scale), variance, np.nan)


def _ratio(above: Floats, below: Floats) -> Floats:
    return np.divide(above, below)


def _alpha(items: int, item_variances: Floats, total_variance: Floats) -> Floats:
    """Coefficient alpha (Cronbach 1951); NaN under two items or without variance of the total."""
    if items < 2:
        return np.full_like(np.asarray(total_variance, float), np.nan)
    return items / (items - 1) * (1 - item_variances / total_variance)


def rest_discrimination(table: ResponseTable, share: float = 0.27) -> Floats:
    """D of each item on end groups by the rest score: with the item itself in the total, coin flips on five items had
    a D of .49.

    Parameters
    ----------
    table : ResponseTable
    share : float, default 0.27
        Size of the upper and of the lower group, as a share of the students who took the item.

    Returns
    -------
    ndarray of float, shape (n,)
        Share of its marks that the upper group earned, minus that of the lower; NaN where nobody took it or it has no
        marks. Students tied at a border share the places left, as weights.
    """
    measures = np.full(len(table.items), np.nan)
    for j, item in enumerate(table.items):
        took = table.taken[:, j]
        if not took.any() or item.max == 0:
            continue
        blocks = ScoreBlocks.of(table.rest[took, j])
        fractions = blocks.group_shares(np.ones((1, int(took.sum()))), (share, 1 - 2 * share, share))[0][
            :, blocks.block
        ]
        earned = table.points[took, j] / item.max
        measures[j] = fractions[2] @ earned / fractions[2].sum() - fractions[0] @ earned / fractions[0].sum()
    return measures


def omitted_and_not_reached(table: ResponseTable) -> tuple[Floats, Floats]:
    """How many left each item out, and how many never came to it.

    Parameters
    ----------
    table : ResponseTable

    Returns
    -------
    omitted, not_reached : ndarray of float, shape (n,)
        Of those who took it. Omitted: nothing given, but a later item of the same section has an answer. Not reached:
        nothing given to it, nor to anything after it in its section.
    """
    unreached = not_reached(table)
    return (~table.answered & ~unreached & table.taken).sum(axis=0).astype(float), unreached.sum(axis=0).astype(float)


def not_reached(table: ResponseTable) -> NDArray[np.bool_]:
    """Who never came to an item: nothing given to it, nor to anything after it in its section.

    Parameters
    ----------
    table : ResponseTable

    Returns
    -------
    ndarray of bool, shape (N, n)
    """
    unreached = np.zeros(table.answered.shape, dtype=bool)
    sections = np.array([item.section for item in table.items])
    for section in np.unique(sections):
        at = np.flatnonzero(sections == section)
        answered = table.answered[:, at]
        unreached[:, at] = ~np.logical_or.accumulate(answered[:, ::-1], axis=1)[:, ::-1]
    return unreached & table.taken


def option_shares_by_group(table: ResponseTable, groups: int) -> tuple[Floats, Floats]:
    """Who chose what, from the weakest to the strongest students.

    Parameters
    ----------
    table : ResponseTable
    groups : int
        How many groups of the same size, G; ties at a border are shared as in `ScoreBlocks`.

    Returns
    -------
    counts : ndarray of float, shape (G, n, K)
        Students by option, weighted where a tie is shared.
    takers : ndarray of float, shape (G, n)
        Who took the item.
    """
    blocks = ScoreBlocks.of(table.standing)
    places = max((len(item.options) for item in table.items), default=0)
    fractions = blocks.group_shares(np.ones((1, len(table.students))), [1 / groups] * groups)[0]
    counts = np.zeros((len(blocks.values), len(table.items), places))
    for k in range(places):
        np.add.at(counts[:, :, k], blocks.block, table.choice == k)
    takers = np.zeros((len(blocks.values), len(table.items)))
    np.add.at(takers, blocks.block, table.taken)
    sizes = fractions @ takers
    return np.einsum("gb,bnk->gnk", fractions, counts), sizes
