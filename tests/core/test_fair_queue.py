"""Lines of many pads on one wire: none is lost or moved before an earlier one of its pad, and each has its turn."""

from hypothesis import given
from hypothesis import strategies as st

from versomark.core.giving.fair_queue import FairQueue


def test_a_sender_that_floods_delays_only_itself() -> None:
    queue = FairQueue[str](per_second=5, burst=2, most_waiting=3)
    given_up = [queue.put(7, f"flood {at}") for at in range(1000)]
    for pad in range(1, 7):
        assert queue.put(pad, f"pad {pad}") is None
    assert sum(entry is not None for entry in given_up) == 997
    taken = [queue.take(0.0) for _ in range(9)]
    # Two turns at most pass before every other pad is heard, and then the flood waits.
    assert set(taken[:7]) >= {f"pad {pad}" for pad in range(1, 7)}
    assert taken[8] == 0.2
    assert queue.take(0.2) == "flood 999"
    assert queue.take(0.2) is None


@given(st.lists(st.tuples(st.integers(1, 4), st.floats(0, 0.5)), max_size=60))
def test_what_is_not_given_up_is_taken_in_the_order_of_its_sender(arrivals: list[tuple[int, float]]) -> None:
    queue, now, taken, given_up = FairQueue[tuple[int, int]](), 0.0, list[tuple[int, int]](), set[tuple[int, int]]()
    for at, (sender, later) in enumerate(arrivals):
        now += later
        if (dropped := queue.put(sender, (sender, at))) is not None:
            given_up.add(dropped)
        if isinstance(line := queue.take(now), tuple):
            taken.append(line)
    while (line := queue.take(now)) is not None:
        if isinstance(line, float):
            assert line > 0
            now += line + 1e-9
        else:
            taken.append(line)
    for sender in range(1, 5):
        own = [line for line in taken if line[0] == sender]
        assert own == sorted(own)
    everything = {(sender, at) for at, (sender, _) in enumerate(arrivals)}
    assert set(taken) | given_up == everything
    assert not set(taken) & given_up
