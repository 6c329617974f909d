"""Varied items, sections, forms, checks, and what is foretold: alpha against pingouin, Spearman–Brown by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.every_kind import CONTENTS
from versomark.core.editions import (
    BankItem,
    DraftSection,
    DrawRule,
    Layout,
    NotReady,
    PlacedItem,
    PlacedPage,
    PlanRow,
    Stimulus,
    TeachingPage,
    changes_between,
    checks,
    freeze,
    student_paper,
)
from versomark.core.items import NoDraw, Option, SingleChoice, TrueFalse, drawn
from versomark.core.items.numeric import Numeric
from versomark.core.items.variation import FromList, FromRange, Variation

VARIATION = Variation(
    values=[FromRange(name="a", low=2, high=9), FromList(name="b", values=[0.5, 1.5, 2.5])],
    constraints=["a > 2b", "a*b != 9"],
)
VARIED = Numeric(stem="<p>What is @(a) × @(b)?</p>", value_rule="a*b", variation=VARIATION)


@given(st.integers(0, 10**9))
def test_the_same_seed_draws_the_same_and_every_draw_keeps_the_rules(seed: int) -> None:
    one, other = drawn(VARIED, seed), drawn(VARIED, seed)
    assert one == other
    assert one.variation is None
    assert one.problems() == []
    values = VARIATION.draw(seed)
    assert isinstance(values, dict)
    a, b = float(values["a"]), float(values["b"])
    assert a > 2 * b
    assert a * b != 9
    assert isinstance(one, Numeric)
    assert one.value == a * b
    assert one.stem == f"What is {a:g} × {b:g}?"


def test_seeds_draw_different_values_and_options_are_computed_too() -> None:
    assert len({drawn(VARIED, seed).stem for seed in range(40)}) > 8
    options = [Option(id="a", text="@(a*b)"), Option(id="b", text="@(a + b)", idea_note="add instead")]
    choice = drawn(SingleChoice(stem="@(a)·@(b)", options=options, key="a", variation=VARIATION), 3)
    assert isinstance(choice, SingleChoice)
    values = VARIATION.draw(3)
    assert isinstance(values, dict)
    assert [o.text for o in choice.options] == [
        f"{float(values['a'] * values['b']):g}",
        f"{float(values['a'] + values['b']):g}",
    ]


def test_rules_that_leave_nothing_or_cannot_be_read_say_so() -> None:
    never = Variation(values=[FromRange(name="a", low=1, high=3)], constraints=["a > 5"])
    assert "None of 200 draws keeps the rules" in never.problems()[0]
    with pytest.raises(NoDraw, match="a > 5"):
        drawn(VARIED.model_copy(update={"variation": never}), 1)
    odd = Variation(values=[FromRange(name="a"), FromRange(name="a")], constraints=["a +", "a", "a < c"])
    assert [problem.split(":")[0] for problem in odd.problems()] == [
        "Two values have the same name.", "The rule “a +” cannot be read", "The rule “a” cannot be read",
    ]  # fmt: skip
    assert "“c” has no value" in Variation(values=[FromRange(name="a")], constraints=["a < c"]).problems()[0]
    with pytest.raises(NoDraw, match="divides by zero"):
        drawn(VARIED.model_copy(update={"value_rule": "1/(a-a)"}), 1)


PASSAGE = Stimulus(ref="aa", title="A passage", body="Read this.")


def bank(count: int, **more: object) -> dict[str, BankItem]:
    options = [Option(id=id, text=f"option {id}") for id in "wxyz"]
    return {
        f"{k:x}": BankItem(
            f"{k:x}",
            SingleChoice(
                stem=f"Question {k}",
                options=[*options[:3], options[3].model_copy(update={"stays_last": True})],
                key="x",
            ),
            skills=("Odd" if k % 2 else "Even",),
            stimulus=PASSAGE if k in (2, 3, 4) else None,
            **more,  # type: ignore[arg-type]
        )
        for k in range(count)
    }


def layout(items: dict[str, BankItem], **more: object) -> Layout:
    section = DraftSection(ref="1", entries=[PlacedItem(ref=ref) for ref in items])
    return Layout.model_validate({"sections": [section], **more})


def test_forms_shuffle_keep_sets_whole_and_keys_follow() -> None:
    items = bank(12)
    edition = freeze("T", "", layout(items, forms=3), items, lambda rule: [], seed=5)
    assert edition.form_names == ["A", "B", "C"]
    orders = {name: [item.ref for item in edition.in_form(name).items()] for name in edition.form_names}
    assert len({tuple(order) for order in orders.values()}) == 3
    for name, order in orders.items():
        assert sorted(order) == sorted(items)
        at = order.index("2")
        assert order[at : at + 3] == ["2", "3", "4"]
        for item in edition.in_form(name).items():
            content = item.content
            assert isinstance(content, SingleChoice)
            assert content.options[-1].id == "z"
            assert next(answer for answer in content.answers() if answer.key).id == "x"
    paper = student_paper(edition, "B")
    assert [question.number for question in paper.items] == list(range(1, 13))
    assert [stimulus.ref for stimulus in paper.stimuli] == ["aa"]
    assert edition == freeze("T", "", layout(items, forms=3), items, lambda rule: [], seed=5)


def test_a_lesson_keeps_its_pages_between_its_questions_in_every_form() -> None:
    items = bank(2)
    page = PlacedPage(page=TeachingPage(ref="a1", title="One idea"))
    section = DraftSection(
        ref="1",
        entries=[
            page,
            PlacedItem(ref="0"),
            PlacedItem(ref="1"),
            page.model_copy(update={"page": TeachingPage(ref="a2", body="End.")}),
        ],
    )
    edition = freeze("L", "", Layout(sections=[section], forms=2), items, lambda rule: [], seed=1)
    paper = student_paper(edition, "B")
    assert [(pages.before, pages.pages[0].ref) for pages in paper.pages] == [(1, "a1"), (3, "a2")]
    assert [question.ref for question in paper.items] == ["0", "1"]


def test_drawn_sections_draw_by_skill_without_repeats_and_by_seed() -> None:
    items = bank(20)
    placed = {"1": items["1"]}
    section = DraftSection(ref="1", entries=[PlacedItem(ref="1")], draws=[DrawRule(skill="Odd", count=4)])

    def pool(rule: DrawRule) -> list[BankItem]:
        return [item for item in items.values() if rule.skill in item.skills]

    def refs(seed: int) -> list[str]:
        return [item.ref for item in freeze("T", "", Layout(sections=[section]), placed, pool, seed).items()]

    assert refs(1) == refs(1) != refs(2)
    assert all(len(set(refs(seed))) == 5 and all(int(ref, 16) % 2 for ref in refs(seed)) for seed in range(20))
    too_many = section.model_copy(update={"draws": [DrawRule(skill="Odd", count=10)]})
    with pytest.raises(NotReady, match="10 questions on Odd are wanted, the bank has only 9"):
        freeze("T", "", Layout(sections=[too_many]), placed, pool, 1)


def says(found: list[object]) -> str:
    return " | ".join(check.says for check in found)  # type: ignore[attr-defined]


def test_checks_say_what_a_careful_colleague_would() -> None:
    long_key = [
        Option(id="a", text="the one that explains everything in full detail"),
        Option(id="b", text="a short one"),
        Option(id="c", text="another one"),
    ]
    items = {
        "1": BankItem("1", SingleChoice(stem="Q", options=long_key, key="a"), ("Loops",)),
        "2": BankItem(
            "2", TrueFalse(stem='See <img src="/pictures/00000000-0000-4000-8000-000000000000" alt="">', key=True)
        ),
        "3": BankItem("3", TrueFalse(stem="Half done")),
    }
    made = layout(items, plan=[PlanRow(skill="Meters", marks=2)], total_wanted=5)
    result = checks("T", made, items, lambda rule: [])
    assert [check.stops for check in result] == [True, False, False, False, False]
    for words in (
        "Question 3: Neither true nor false",
        "Question 2: a picture has no words",
        "Question 1: the key is much longer",
        "wants 2 marks on Meters; the test has none",
        "has 3 marks; the plan wants 5",
    ):
        assert words in says(result)
    choosing = Layout(
        sections=[
            DraftSection(ref="5", title="B", entries=[PlacedItem(ref="1", marks=2), PlacedItem(ref="2")], choose=3)
        ]
    )
    assert says(checks("T", choosing, items, lambda rule: [])).count("B: students choose") == 2


def test_a_letter_that_is_the_key_too_often_is_pointed_out() -> None:
    items = bank(12)
    assert "The key is B in 12 of 12 questions" in says(checks("T", layout(items), items, lambda rule: []))


def test_two_editions_are_compared_item_by_item() -> None:
    items = bank(4)
    first = freeze("T", "", layout(items), items, lambda rule: [], seed=1)
    changed = items["1"].content.model_copy(update={"stem": "Other", "key": "y"})
    later = {
        "3": items["3"],
        "0": items["0"],
        "1": BankItem("1", changed, ("Even",)),
        "9": BankItem("9", items["0"].content),
    }
    second = freeze("T", "", layout(later), later, lambda rule: [], seed=1)
    assert {(line.number, line.change) for line in changes_between(first, second)} == {
        (1, "moved, was 4"), (2, "moved, was 1"), (3, "changed: the question, the key, the skills"), (4, "new"),
        (3, "taken out"),
    }  # fmt: skip
    assert changes_between(first, first) == []


@given(st.sampled_from(sorted(CONTENTS)).flatmap(lambda kind: CONTENTS[kind]), st.integers(0, 99))
def test_any_kind_goes_through_forms_and_back(content: object, seed: int) -> None:
    items = {"1": BankItem("1", content)}  # type: ignore[arg-type]
    edition = freeze("T", "", layout(items, forms=2), items, lambda rule: [], seed)
    turned = next(edition.in_form("B").items()).content
    assert sorted(turned.movable()[0]) == sorted(edition.sections[0].items[0].content.movable()[0])
    assert turned.marks == edition.total_marks
