"""Who takes part along a lesson, against a plain reading of each row. Common practice, no source."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis.extra.numpy import array_shapes, arrays

from versomark.core.stats import taking_part

ROWS = arrays(bool, array_shapes(min_dims=2, max_dims=2, min_side=0, max_side=8))


@given(ROWS)
def test_each_row_read_plainly(answered: np.ndarray) -> None:
    result = taking_part(answered)
    for at, row in enumerate(answered.tolist()):
        places = [round for round, given in enumerate(row) if given]
        assert result.answered[at] == len(places)
        assert (result.first[at], result.last[at]) == ((places[0], places[-1]) if places else (-1, -1))
        assert result.late[at] == (bool(places) and not any(row[:2]))
        assert result.dropped[at] == (bool(places) and len(row) > 2 and not any(row[-2:]))


def test_one_round_missed_is_no_dropping_out() -> None:
    result = taking_part(np.array([[1, 1, 1, 0], [1, 1, 0, 0], [0, 0, 1, 1], [0, 0, 0, 0]], bool))
    assert result.dropped.tolist() == [False, True, False, False]
    assert result.late.tolist() == [False, False, True, False]
    with pytest.raises(ValueError, match="2 dimensions"):
        taking_part(np.array([True]))
