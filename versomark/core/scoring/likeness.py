"""How alike answers in students' own words are: by their words, their letters, and the values of what they worked out.

Nothing here gives a mark. Answers that are alike are shown one after another, and beside an answer stand the nearest
ones that have a mark already.
"""

import re
import unicodedata
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from hashlib import sha256
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from versomark.core.items.algebra import NotAlgebra, evaluate, names_in, parse
from versomark.core.items.numbers import read_number

Floats = NDArray[np.float64]
Embedding = Callable[[Sequence[str]], ArrayLike]
"""From texts to one row of numbers each; a school may bring its own."""

WORDS, LETTERS = 0.75, 0.25
"""How much words count beside letters, in shares of the squared length of an answer's vector."""
ALIKE = 0.5
"""Cosine from which two answers are called alike (common practice, no source; see `nearest_agree`)."""
FEWEST_PAIRS = 10
"""Marked answers with a near one; with fewer nothing is said of how often they agree."""
NUMBER = re.compile(r"(?<!\w)[-−]?\d+(?:[.,]\d+)?(?:\s?/\s?\d+)?(?!\w)")
FORMULA = re.compile(r"(?<!\S)[^\s=]+(?:\s?[=+*/^·×−-]\s?[^\s=.,;]+)+")
LONGEST_FORMULA = 60


def by_value(text: str) -> str:
    """A text with its numbers and formulas as words for their values, so that 0,80 and 4/5 are the same word.

    Examples
    --------
    >>> by_value("It is 0,80") == by_value("It is 4/5")
    True
    >>> by_value("I = U/R") == by_value("U/R = I")
    True
    """
    worked = FORMULA.sub(lambda match: _formula(match[0]), text)
    return NUMBER.sub(lambda match: _number(match[0]), worked)


def _number(typed: str) -> str:
    number = read_number(typed)
    if number is None:
        return typed
    value = number.readings[0]
    return f" number{'minus' if value < 0 else ''}{abs(value.numerator)}of{value.denominator} "


def _formula(typed: str) -> str:
    if len(typed) > LONGEST_FORMULA or not re.search(r"[=+*/^·×−]|\w-\w", typed):
        return typed
    values = [_value(side) for side in typed.split("=")]
    known = [value for value in values if value]
    return f" formula{'and'.join(sorted(known))} " if len(known) == len(values) else typed


def _value(side: str) -> str:
    """Stands for what an expression is worth, by its value at one point that is the same for every answer."""
    try:
        tree = parse(side.strip())
        names = names_in(tree)
        if not names:
            return ""  # a number, or a sum of numbers, which a reader may want to see
        point = {name: Fraction(int(sha256(name.encode()).hexdigest()[:6], 16) % 9973 + 2, 101) for name in names}
        value = evaluate(tree, point)
    except (NotAlgebra, ValueError, ArithmeticError):
        return ""
    return sha256(f"{float(value):.9g}".encode()).hexdigest()[:12]


def words_of(text: str) -> list[str]:
    """Words in any script: vowel signs stay with their letters, as marks are part of a word.

    Examples
    --------
    >>> words_of("மின்னோட்டம் ஒன்றே, always.")
    ['மின்னோட்டம்', 'ஒன்றே', 'always']
    """
    return "".join(
        letter if unicodedata.category(letter)[0] in "LMN" else " " for letter in by_value(text).casefold()
    ).split()


def likeness(texts: Sequence[str], embedding: Embedding | None = None) -> Floats:
    """How alike each two answers are: the cosine of their vectors.

    Words and pairs of words, and runs of two to four letters inside words, weighted by how rare they are among these
    answers (TF-IDF; Salton & Buckley 1988, *Information Processing & Management*, 24, 513-523).

    Parameters
    ----------
    texts
        Plain text of each answer.
    embedding
        In place of words and letters; one row of numbers for each answer.

    Returns
    -------
    ndarray of float, shape (N, N)
        0 to 1; 1 with itself, 0 for an answer without a word.

    Raises
    ------
    ValueError
        If an embedding does not give a row of finite numbers for each answer.
    """
    if embedding is not None:
        vectors = np.asarray(embedding(texts), float)
        if vectors.ndim != 2 or len(vectors) != len(texts) or not np.isfinite(vectors).all():
            raise ValueError("an embedding has to give one row of finite numbers for each answer")
        length = np.linalg.norm(vectors, axis=1, keepdims=True)
        unit = np.divide(vectors, length, out=np.zeros_like(vectors), where=length > 0)
        result = unit @ unit.T
    else:
        result = WORDS * _cosines(texts, words=True) + LETTERS * _cosines(texts, words=False)
    result = np.clip(result, 0.0, 1.0)
    np.fill_diagonal(result, 1.0)
    return np.asarray(result, float)


def _cosines(texts: Sequence[str], words: bool) -> Floats:
    # Only here: it takes a second to load.
    from sklearn.feature_extraction.text import TfidfVectorizer

    split = [words_of(text) for text in texts]
    if not any(split):
        return np.zeros((len(texts), len(texts)))
    if words:
        pairs = [[*line, *(f"{first} {then}" for first, then in pairwise(line))] for line in split]
        matrix = TfidfVectorizer(analyzer=list, sublinear_tf=True).fit_transform(pairs)
    else:
        letters = TfidfVectorizer(analyzer="char_wb", ngram_range=(2, 4), sublinear_tf=True)
        matrix = letters.fit_transform([" ".join(line) for line in split])
    return np.asarray((matrix @ matrix.T).toarray(), float)


@dataclass(frozen=True)
class LikeOrder:
    """Answers in an order in which like ones follow one another.

    order: places of the answers. groups: those that are alike, in that order; an answer like no other is a group of
    its own.
    """

    order: tuple[int, ...]
    groups: tuple[tuple[int, ...], ...]


def like_order(alike: ArrayLike) -> LikeOrder:
    """Put like answers beside one another: average linkage, with its leaves in the order that keeps neighbours nearest
    (Bar-Joseph, Gifford & Jaakkola 2001, *Bioinformatics*, 17, S22-S29).

    Parameters
    ----------
    alike : array_like, shape (N, N)
        As of `likeness`.

    Returns
    -------
    LikeOrder

    Raises
    ------
    ValueError
        If it is not square.
    """
    from scipy.cluster.hierarchy import fcluster, leaves_list, linkage
    from scipy.spatial.distance import squareform

    matrix = np.asarray(alike, float)
    if matrix.ndim != 2 or matrix.shape[0] != matrix.shape[1]:
        raise ValueError("likeness is of each two answers")
    if len(matrix) < 2:
        return LikeOrder(tuple(range(len(matrix))), tuple((at,) for at in range(len(matrix))))
    apart = np.clip(1 - (matrix + matrix.T) / 2, 0, None)
    np.fill_diagonal(apart, 0)
    tree = linkage(squareform(apart, checks=False), "average", optimal_ordering=True)
    labels = fcluster(tree, 1 - ALIKE, "distance")
    order = [int(at) for at in leaves_list(tree)]
    groups: dict[int, list[int]] = {}
    for at in order:
        groups.setdefault(int(labels[at]), []).append(at)
    return LikeOrder(tuple(order), tuple(tuple(group) for group in groups.values()))


def nearest(alike: ArrayLike, at: int, among: Sequence[int], most: int = 3) -> list[tuple[int, float]]:
    """The nearest of these answers that are alike, the nearest first, with how alike they are."""
    row = np.asarray(alike, float)[at]
    near = sorted((other for other in among if other != at), key=lambda other: -row[other])
    return [(other, float(row[other])) for other in near[:most] if row[other] >= ALIKE]


@dataclass(frozen=True)
class NearestAgree:
    """Of marked answers that have a like one among the marked: how often the nearest has the same mark, or one within a
    step; `by_chance`: how often any other marked answer has the same."""

    answers: int
    same: float
    within: float
    by_chance: float


def nearest_agree(alike: ArrayLike, marks: Sequence[float | None], step: float) -> NearestAgree | None:
    """How far nearest answers can be relied on, each marked answer held out in turn.

    Parameters
    ----------
    alike : array_like, shape (N, N)
        As of `likeness`.
    marks
        Of each answer; None where it has none.
    step
        What still counts as near.

    Returns
    -------
    NearestAgree or None
        None with too few marked answers that have a like one.
    """
    marked = [at for at, mark in enumerate(marks) if mark is not None]
    pairs = [(at, near[0][0]) for at in marked if (near := nearest(alike, at, marked, 1))]
    if len(pairs) < FEWEST_PAIRS:
        return None
    known = np.array([mark for mark in marks if mark is not None], float)
    left = np.array([marks[at] for at, _near in pairs], float)
    right = np.array([marks[near] for _at, near in pairs], float)
    same = np.abs(known[:, None] - known[None, :]) < 1e-9
    return NearestAgree(
        len(pairs),
        float(np.mean(np.abs(left - right) < 1e-9)),
        float(np.mean(np.abs(left - right) < step + 1e-9)),
        float((same.sum() - len(known)) / (len(known) * (len(known) - 1))),
    )
