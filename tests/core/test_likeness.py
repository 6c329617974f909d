"""Likeness of answers: values, other scripts, order, the nearest; beside scikit-learn's own cosine, and by held-out
marks of answers that were written and marked by people."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from sklearn.feature_extraction.text import TfidfVectorizer
from sklearn.metrics.pairwise import cosine_similarity

from versomark.core.scoring import like_order, likeness, nearest, nearest_agree
from versomark.core.scoring.likeness import LETTERS, WORDS, by_value, words_of

SAME = "The current is the same everywhere in one loop."
ANSWERS = [
    SAME,
    "In one loop the current is the same everywhere!",
    "It gets used up by the first lamp, so less is left for the second.",
    "The first lamp uses it up and the second lamp gets less.",
    "மின்னோட்டம் எங்கும் ஒன்றே",
    "மின்னோட்டம் எங்கும் ஒன்றே தான்",
    "",
]


def test_like_answers_stand_together_in_any_script_and_an_empty_one_is_like_none() -> None:
    alike = likeness(ANSWERS)
    assert alike == pytest.approx(alike.T)
    groups = [set(group) for group in like_order(alike).groups]
    assert {0, 1} in groups
    assert {4, 5} in groups
    assert {6} in groups
    assert alike[0, 1] > 0.5 > alike[0, 2]
    assert alike[6, :6].max() == 0
    assert nearest(alike, 0, [1, 2, 3]) == [(1, pytest.approx(alike[0, 1]))]
    assert nearest(alike, 6, range(6)) == []


def test_it_is_the_cosine_that_scikit_learn_has_for_the_same_words() -> None:
    texts = ["the lamp is bright", "the lamp is dim", "a bright lamp", "no current flows"]
    by_words = TfidfVectorizer(token_pattern=r"(?u)\b\w+\b", ngram_range=(1, 2), sublinear_tf=True)
    by_letters = TfidfVectorizer(analyzer="char_wb", ngram_range=(2, 4), sublinear_tf=True)
    both = [cosine_similarity(made.fit_transform(texts)) for made in (by_words, by_letters)]
    assert likeness(texts) == pytest.approx(WORDS * both[0] + LETTERS * both[1])


EQUAL = [("It is 0,80 A", "It is 4/5 A"), ("so 1200", "so 1200.0"), ("I = U/R", "U/R = I"), ("2*(a+b)", "2*a+2*b")]


@pytest.mark.parametrize(("one", "other"), EQUAL)
def test_numbers_and_formulas_are_like_by_value(one: str, other: str) -> None:
    assert words_of(one) == words_of(other)


@pytest.mark.parametrize(
    ("one", "other"), [("It is 0.8", "It is 0.9"), ("a+b", "a-b"), ("I = U/R", "I = U*R"), ("-3", "3")]
)
def test_other_values_are_other_words(one: str, other: str) -> None:
    assert words_of(one) != words_of(other)


@given(st.lists(st.text(max_size=40), max_size=12))
def test_whatever_is_written_has_a_place_in_the_order(texts: list[str]) -> None:
    alike = likeness(texts)
    result = like_order(alike)
    assert sorted(result.order) == list(range(len(texts)))
    assert [at for group in result.groups for at in group] == sorted(
        result.order, key=[at for group in result.groups for at in group].index
    )
    assert np.all((alike >= 0) & (alike <= 1))
    for text in texts:
        assert isinstance(by_value(text), str)


def test_how_often_the_nearest_agree_is_counted_on_held_out_answers() -> None:
    alike = np.eye(24)
    for at in range(0, 24, 2):
        alike[at, at + 1] = alike[at + 1, at] = 0.9
    marks = [float(at // 2 % 4) + (at % 2 and at >= 20) for at in range(24)]
    result = nearest_agree(alike, marks, 1)
    assert result is not None
    assert (result.answers, result.same, result.within) == (24, pytest.approx(20 / 24), 1.0)
    others = [marks[i] == marks[j] for i in range(24) for j in range(24) if i != j]
    assert result.by_chance == pytest.approx(np.mean(others))
    assert nearest_agree(alike[:8, :8], marks[:8], 1) is None  # too few to say


def test_a_school_brings_its_own_embedding_and_a_bad_one_is_refused() -> None:
    alike = likeness(["a", "b", "c"], lambda texts: [[1.0, 0.0], [1.0, 0.1], [0.0, 1.0]])
    assert alike[0, 1] > 0.9 > alike[0, 2]
    with pytest.raises(ValueError, match="one row of finite numbers"):
        likeness(["a", "b"], lambda texts: [[1.0], [float("nan")]])
