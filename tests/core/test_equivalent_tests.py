"""Equivalent tests: which question stands beside which."""

from itertools import permutations

from hypothesis import given, settings
from hypothesis import strategies as st

from versomark.core.editions import QuestionTraits, alternatives
from versomark.core.editions.equivalent import distance

SKILLS = ["forces", "energy", "waves"]
traits = st.builds(
    QuestionTraits,
    ref=st.uuids().map(str),
    skills=st.frozensets(st.sampled_from(SKILLS), max_size=2),
    kind=st.sampled_from(["choice", "numeric"]),
    marks=st.sampled_from([1.0, 2.0, 4.0]),
    share=st.none() | st.floats(0, 1),
    r_rest=st.none() | st.floats(-1, 1),
)
tests_and_banks = st.tuples(st.lists(traits, max_size=4), st.lists(traits, max_size=5))


@given(tests_and_banks)
@settings(max_examples=60, deadline=None)
def test_as_many_as_can_be_have_another_one_and_no_pairing_is_closer(
    drawn: tuple[list[QuestionTraits], list[QuestionTraits]],
) -> None:
    """Beside every pairing there is, tried one by one."""
    asked, bank = drawn
    by_ref = {one.ref: one for one in [*asked, *bank]}
    answer = alternatives(asked, [*asked, *bank])
    assert [one.ref for one in answer] == [question.ref for question in asked]
    pairs = [(by_ref[one.ref], by_ref[one.suggested]) for one in answer if one.suggested]
    assert len({other.ref for _, other in pairs}) == len(pairs)
    assert not {other.ref for _, other in pairs} & {question.ref for question in asked}
    costs = [distance(*pair) for pair in pairs]
    assert None not in costs
    reached = (-len(pairs), sum(cost or 0 for cost in costs))
    places: list[QuestionTraits | None] = [*bank, *[None] * len(asked)]
    best = min(
        (-len(known := [c for q, o in zip(asked, order, strict=True) if o and (c := distance(q, o)) is not None]),
         sum(known))
        for order in permutations(places, len(asked))
    )  # fmt: skip
    assert reached[0] == best[0]
    assert abs(reached[1] - best[1]) < 1e-9
    for one in answer:
        rest = [distance(by_ref[one.ref], by_ref[other]) or 0 for other in one.nearest[bool(one.suggested) :]]
        assert rest == sorted(rest)


def test_content_comes_before_difficulty_and_the_nearest_of_two_is_not_claimed_twice() -> None:
    def question(ref: str, skill: str, share: float, kind: str = "choice") -> QuestionTraits:
        return QuestionTraits(ref, frozenset([skill]), kind, 1, share)

    asked = [question("1", "forces", 0.50), question("2", "forces", 0.60)]
    bank = [
        question("as hard, other skill", "waves", 0.50),
        question("near both", "forces", 0.55),
        question("near the first", "forces", 0.45),
        question("far, and of another kind", "forces", 0.90, "numeric"),
    ]
    answer = alternatives(asked, bank)
    assert [one.suggested for one in answer] == ["near the first", "near both"]
    assert answer[1].nearest == ("near both", "near the first", "far, and of another kind")
    # One alone has no partner left, and says so.
    assert alternatives([*asked, question("3", "energy", 0.5)], bank)[2].nearest == ()
