"""Comparing in pairs and likeness: how long a fit and an order take, and what scales of known pieces are worth."""

import time
from random import Random

import choix
import numpy as np

from versomark.core.scoring import like_order, likeness, next_pair
from versomark.core.stats import measure_pairs

RUNS, PIECES = 12, 30


def run() -> None:
    rng = np.random.default_rng(1)
    truth = rng.normal(0, 2, 1000)
    one = rng.integers(0, 1000, 10_000)
    other = (one + rng.integers(1, 1000, 10_000)) % 1000
    first = rng.random(10_000) < 1 / (1 + np.exp(truth[other] - truth[one]))
    better, worse = np.where(first, one, other), np.where(first, other, one)
    ours = _spent(lambda: measure_pairs(better, worse, 1000))
    theirs = _spent(lambda: choix.opt_pairwise(1000, list(zip(better, worse, strict=True)), alpha=1 / 4.5))
    print(f"1,000 pieces, 10,000 comparisons: {ours:.2f} s with errors; choix, without, {theirs:.2f} s")
    words = [f"word{at}" for at in range(3000)]
    draw = Random(1)
    texts = [" ".join(draw.choice(words) for _ in range(100)) for _ in range(400)]
    likeness(texts[:3])
    print(f"400 answers of 100 words: likeness and order in {_spent(lambda: like_order(likeness(texts))):.2f} s")
    print(f"{PIECES} pieces of known measure, {RUNS} runs: squared correlation with the truth, claimed, held in 95%")
    for spread in (1.0, 1.5, 2.5):
        for each in (8, 12, 20):
            figures = np.array([_scale(seed, spread, each) for seed in range(RUNS)]).mean(axis=0)
            print(f"  spread {spread}, {each:>2} a piece: " + "  ".join(f"{figure:.2f}" for figure in figures))


def _spent(call: object) -> float:
    begun = time.perf_counter()
    call()  # type: ignore[operator]
    return time.perf_counter() - begun


def _scale(seed: int, spread: float, each: int) -> tuple[float, float, float]:
    rng, draw = np.random.default_rng(seed), Random(seed)
    truth = rng.normal(0, spread, PIECES)
    pairs: list[tuple[int, int]] = []
    so_far: dict[int, float] = {}
    for at in range(PIECES * each // 2):
        if at % (PIECES // 2) == 0 and pairs:
            values = measure_pairs(*zip(*pairs, strict=True), PIECES).measures
            so_far = {piece: value for piece, value in enumerate(values) if not np.isnan(value)}
        one, other = next_pair(range(PIECES), pairs, [], [], so_far, draw) or (0, 1)
        first = rng.random() < 1 / (1 + np.exp(truth[other] - truth[one]))
        pairs.append((one, other) if first else (other, one))
    scale = measure_pairs(*zip(*pairs, strict=True), PIECES)
    unit = np.cov(truth, scale.measures)[0, 1] / scale.measures.var(ddof=1)
    left = truth - truth.mean() - unit * scale.measures
    real = np.corrcoef(truth, scale.measures)[0, 1] ** 2
    return float(real), scale.separation or 0.0, float(np.mean(np.abs(left) < 1.96 * unit * scale.errors))
