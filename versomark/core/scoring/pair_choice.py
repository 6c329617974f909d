"""Which two pieces are compared next, so that few comparisons are needed."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from random import Random

SWISS_ROUNDS = 4
"""Until each piece has been compared so often, it meets one that has won as often."""
NEAREST = 3
"""After that one of so many nearest is drawn: always the very nearest would make the scale seem surer than it is."""

Pair = tuple[int, int]


def next_pair(
    pieces: Sequence[int],
    judged: Sequence[Pair],
    seen: Collection[Pair],
    elsewhere: Collection[Pair],
    measures: Mapping[int, float],
    rng: Random,
) -> Pair | None:
    """The next two to be compared: the piece with the fewest comparisons, and one that is about as good.

    Parameters
    ----------
    pieces
        Those that this judge may see.
    judged
        Comparisons so far, the better piece first, of all judges.
    seen
        Pairs that this judge has compared.
    elsewhere
        Pairs that lie before other judges now.
    measures
        Of the pieces so far; 0 is assumed where there is none.
    rng
        Draws among equals.

    Returns
    -------
    tuple of two pieces, or None
        In an order of chance; None where every pair has been seen.

    References
    ----------
    Pollitt, A. (2012). *Assessment in Education*, 19, 281-300: rounds as in a Swiss tournament, then pairs of the
    closest measures.
    """
    met, wins = Counter[int](), Counter[int]()
    beside: dict[int, Counter[int]] = {piece: Counter() for piece in pieces}
    for better, worse in judged:
        met[better] += 1
        met[worse] += 1
        wins[better] += 1
        for piece, other in ((better, worse), (worse, better)):
            if piece in beside:
                beside[piece][other] += 1
    for pair in elsewhere:
        # What lies before somebody else counts as met, or one piece would be handed to all at once.
        met.update(pair)
    closed = {frozenset(pair) for pair in (*seen, *elsewhere)}
    order = sorted(pieces, key=lambda piece: (met[piece], rng.random()))
    for piece in order:
        others = [other for other in pieces if other != piece and frozenset((piece, other)) not in closed]
        if not others:
            continue
        other = _beside(piece, others, met, wins, beside[piece], measures, rng)
        return (piece, other) if rng.random() < 0.5 else (other, piece)
    return None


def _beside(
    piece: int,
    others: list[int],
    met: Counter[int],
    wins: Counter[int],
    before: Counter[int],
    measures: Mapping[int, float],
    rng: Random,
) -> int:
    fresh = [other for other in others if not before[other]] or others
    if met[piece] < SWISS_ROUNDS:
        return min(fresh, key=lambda other: (abs(wins[other] - wins[piece]), met[other], rng.random()))
    near = sorted(fresh, key=lambda other: abs(measures.get(other, 0.0) - measures.get(piece, 0.0)))[:NEAREST]
    return min(near, key=lambda other: (met[other], rng.random()))
