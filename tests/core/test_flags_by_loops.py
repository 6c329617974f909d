"""The flags once more, the long way: every resample drawn as a list of students, every rule as an `if`.

Same seed, same draws, so the firmness of every flag must come out the same to the last resample.
"""

from dataclasses import dataclass

import numpy as np
import pytest
from scipy.stats import chisquare

from tests.core.tables import choices
from tests.core.test_against_plain_loops import Loops, alpha, mean, pearson
from versomark.core.findings import Flag, analyse
from versomark.core.response_table import ResponseTable

RESAMPLES, SEED, NEARLY = 60, 11, 1e-9
Fired = set[tuple[Flag, int, int]]
"""(flag, item, option); option −1 where a flag is about the whole item."""


@dataclass
class Rules:
    """The rules of docs/methods.md on one table, read aloud."""

    table: ResponseTable

    def fired(self) -> Fired:
        return {row for j in range(len(self.table.items)) for row in self.item(j)}

    def item(self, j: int) -> Fired:
        loops, options = Loops(self.table), self.table.items[j].options
        rest = loops.totals(leave_out=j)
        right = loops.column(j)
        p = mean(right)
        d = loops.p_in(loops.end_group(0.27, upper=True), j) - loops.p_in(loops.end_group(0.27, upper=False), j)
        shares = [mean(loops.chose(j, k)) for k in range(len(options))]
        rs = [pearson(loops.chose(j, k), rest) for k in range(len(options))]
        key = next(k for k, option in enumerate(options) if option.key)
        # Chance moves a class of 23 a little more than one of 24.
        chance = (24 / min(24, len(self.table.students))) ** 0.5
        results: Fired = set()
        if p >= 0.95 - NEARLY:
            results.add((Flag.TOO_EASY, j, -1))
        if p <= 1 / len(options) + 0.05 + NEARLY:
            results.add((Flag.TOO_HARD, j, -1))
        missed = sum(not self.table.answered[i, j:].any() for i in range(len(self.table.students)))
        if missed / len(self.table.students) >= 0.10 - NEARLY:
            results.add((Flag.NOT_REACHED, j, -1))
        columns = [loops.column(i) for i in range(len(self.table.items))]
        whole, without = alpha(columns), alpha(columns[:j] + columns[j + 1 :])
        if whole is not None and without is not None and without - whole >= 0.01 - NEARLY:
            results.add((Flag.WORKS_AGAINST, j, -1))
        given = [sum(loops.chose(j, k)) for k in range(len(options))]
        if abs(p - 1 / len(options)) <= 0.10 + NEARLY and chisquare(given).pvalue > 0.10:
            results.add((Flag.GUESSING, j, -1))
        upper = loops.end_group(0.27, upper=True)
        good = [
            sum(weight * chose for weight, chose in zip(upper, loops.chose(j, k), strict=True)) / sum(upper)
            >= 0.30 - NEARLY
            and (rs[k] or 0.0) > NEARLY
            and sum(loops.chose(j, k)) >= 3
            for k in range(len(options))
        ]
        results |= {(Flag.TWO_RIGHT_ANSWERS, j, k) for k in range(len(options)) if k != key and good[k] and good[key]}
        if d < 0.20 - NEARLY and 0.20 + NEARLY < p < 0.90 - NEARLY:
            results.add((Flag.DOES_NOT_TELL_APART, j, -1))
        for k in range(len(options)):
            if k == key:
                continue
            r = rs[k]
            lead = shares[k] + (r or 0.0) - shares[key] - (rs[key] or 0.0)
            chose = sum(loops.chose(j, k))
            if r is not None and r > NEARLY and chose >= 3 and lead >= 0.20 * chance - NEARLY:
                results.add((Flag.CHECK_THE_KEY, j, k))
            if shares[k] < 0.05 - NEARLY and len(options) > 2:
                results.add((Flag.DEAD_OPTION, j, k))
            others = [shares[o] for o in range(len(options)) if o not in (k, key)]
            if shares[k] > 1 / len(options) + NEARLY and shares[k] - mean(others) >= 0.20 * chance - NEARLY:
                results.add((Flag.SHARED_IDEA, j, k))
        return results


def resampled(table: ResponseTable) -> list[ResponseTable]:
    rng = np.random.default_rng(SEED)
    n = len(table.students)
    draws = [rng.integers(n, size=n) for _ in range(RESAMPLES)]
    names = tuple(str(i) for i in range(n))
    return [ResponseTable(names, table.items, table.points[d], table.choice[d], table.answered[d]) for d in draws]


@pytest.mark.parametrize("seed", range(4))
def test_every_firmness_is_the_share_of_resamples_in_which_the_rule_fires(seed: int) -> None:
    rng = np.random.default_rng(seed)
    shares = rng.dirichlet([2, 1, 1, 0.5], size=7)
    # The fourth question divides the strong between its key and B; some do not come to the last.
    able = rng.random(23)
    rows = [
        "".join(rng.choice(list("ABCD"), p=share) for share in shares[:3])
        + ("AB"[int(rng.integers(2))] if entry > 0.4 else "CD"[int(rng.integers(2))])
        + "".join(rng.choice(list("ABCD"), p=share) for share in shares[4:6])
        + ("-" if entry < 0.2 else str(rng.choice(list("ABCD"))))
        for entry in able
    ]
    table = choices(rows, "AABACAA")
    now = Rules(table).fired()
    held: dict[tuple[Flag, int, int], int] = {}
    for resample in resampled(table):
        for row in Rules(resample).fired():
            held[row] = held.get(row, 0) + 1
    firm = {row: held.get(row, 0) / RESAMPLES for row in now if held.get(row, 0) / RESAMPLES >= 0.5}

    _, findings = analyse(table, resamples=RESAMPLES, seed=SEED)
    suspects = {(f.item, f.options[0]) for f in findings if f.flag is Flag.CHECK_THE_KEY}
    guessed = {f.item for f in findings if f.flag is Flag.GUESSING}
    for finding in findings:
        rows_of = [(finding.flag, finding.item, k) for k in finding.options or (-1,)]
        assert finding.firmness == pytest.approx(min(firm[row] for row in rows_of))
    shown = {(f.flag, f.item, k) for f in findings for k in f.options or (-1,)}
    strongest = {(flag, j, k) for flag, j, k in firm if flag is not Flag.CHECK_THE_KEY or (j, k) in suspects}
    # An option that may be right is said to be so once, and is no wrong idea; guessing is not also “too hard”.
    second = {row for row in strongest if row[0] is not Flag.TWO_RIGHT_ANSWERS or row[1:] not in suspects}
    right = suspects | {row[1:] for row in second if row[0] is Flag.TWO_RIGHT_ANSWERS}
    ideas = {row for row in second if row[0] is not Flag.SHARED_IDEA or row[1:] not in right}
    assert shown == {row for row in ideas if row[0] is not Flag.TOO_HARD or row[1] not in guessed}
    assert {Flag.NOT_REACHED, Flag.TWO_RIGHT_ANSWERS, Flag.GUESSING, Flag.WORKS_AGAINST} & {f.flag for f in findings}
