"""The questions and tests of the demo school, and what a simulated student meets behind each of them."""

from string import ascii_uppercase
from typing import Any
from uuid import UUID

import numpy as np

from versomark.core.items import ItemContent, Option, SingleChoice, TrueFalse
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Details, Item, make_item
from versomark.school.editions.public import Test, keep_items, make_test
from versomark.school.responses.public import TimeSpentOnItem
from versomark.stand_ins import class_of_students as simulated


class Draws:
    """Everything random in the demo, from one seed: ids too, so that two loads make the same school."""

    def __init__(self, seed: int | tuple[int, ...]) -> None:
        self.rng = np.random.default_rng(seed)
        self.clock = np.random.default_rng([*np.atleast_1d(seed), 1])

    def uuid(self) -> UUID:
        return UUID(bytes=self.rng.bytes(16), version=4)

    def time(
        self,
        student: simulated.SimulatedStudent,
        refs: list[str],
        behind: dict[str, simulated.SimulatedItem],
    ) -> list[TimeSpentOnItem]:
        """On each of the questions, from a generator of its own, so that what they answer does not hang on it."""
        return [
            TimeSpentOnItem(
                UUID(bytes=self.clock.bytes(16), version=4), ref, simulated.seconds_on(student, behind[ref], self.clock)
            )
            for ref in refs
        ]

    def option_id(self) -> str:
        return self.rng.bytes(4).hex()


def make_item_of(teacher: Teacher, spec: dict[str, Any], ideas: dict[str, Any], draws: Draws) -> Item:
    def note(idea: str | None) -> str:
        return str(ideas[idea]["note"]) if idea else ""

    content: ItemContent
    if spec.get("kind") == "true_false":
        content = TrueFalse(stem=spec["stem"], key=spec["key"], idea_note=note(spec.get("idea")))
    else:
        held = spec.get("ideas", {})
        options = [
            Option(id=draws.option_id(), text=text, idea_note=note(held.get(letter)))
            for letter, text in zip(ascii_uppercase, spec["options"], strict=False)
        ]
        content = SingleChoice(stem=spec["stem"], options=options, key=options[ascii_uppercase.index(spec["key"])].id)
    return make_item(teacher, content, Details([spec["skill"]]))


def behind_item(spec: dict[str, Any], item: Item) -> simulated.SimulatedItem:
    """The item as the simulated students meet it: by what is true, not by what the teacher keyed."""
    answers = {answer.letter: answer.id for answer in item.read().answers()}
    if spec.get("kind") == "true_false":
        truth, wrong = ("T", "F") if spec["key"] else ("F", "T")
        ideas = {answers[wrong]: spec["idea"]}
    else:
        truth = spec.get("truth", spec["key"])
        ideas = {answers[letter]: idea for letter, idea in spec.get("ideas", {}).items()}
    return simulated.SimulatedItem(tuple(answers.values()), answers[truth], spec["difficulty"], ideas)


def make_test_of(teacher: Teacher, spec: dict[str, Any], items: list[Item]) -> Test:
    """One that no class has sat stays unfinished on the desk."""
    test = make_test(teacher, spec["title"])
    return keep_items(test, spec["title"], spec["instructions"], [items[number - 1].pk for number in spec["items"]])
