"""What to look at before a test is frozen: what stops it, and what a careful colleague would point at."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Literal

from versomark.core.items import AnsweredOption, ItemContent, NoDraw, drawn
from versomark.core.items.base import Frozen
from versomark.core.language import _, in_figures
from versomark.core.text import pictures_without_words, plain

from .edition import MAX_ITEMS
from .layout import DraftSection, Layout, PlacedPage

if TYPE_CHECKING:
    from .freezing import BankItem, Pool

LONGER = 1.5
LONG_KEYS = 0.6
"""The key is the longest option in more than this share of at least `ENOUGH` questions: a hint for the test-wise."""
ENOUGH = 5
UNEVEN = 2.0
"""A letter is the key more than this many times as often as an even spread would make it."""


class Check(Frozen):
    """One thing to look at, and where: the ref of an item or section, empty for the whole test."""

    stops: bool
    says: str
    at: str = ""
    where: Literal["test", "section", "item", "plan"] = "test"


def checks(title: str, layout: Layout, bank: "Mapping[str, BankItem]", pool: "Pool") -> list[Check]:
    """Everything to look at, what stops the test first."""
    return [*stopping(title, layout, bank, pool), *_worth_a_look(layout, bank)]


def stopping(title: str, layout: Layout, bank: "Mapping[str, BankItem]", pool: "Pool") -> list[Check]:
    """What keeps the test from being frozen."""
    checks = [] if title.strip() else [Check(stops=True, says=_("The test has no title yet."))]
    placed = list(layout.items())
    if not placed and not any(section.draws for section in layout.sections):
        checks.append(Check(stops=True, says=_("The test has no questions yet.")))
    if len(placed) > MAX_ITEMS:
        says = _(
            "A test holds at most {max_items} questions; this one has {count}.", max_items=MAX_ITEMS, count=len(placed)
        )
        checks.append(Check(stops=True, says=says))
    seen = set[str]()
    for number, entry in enumerate(placed, start=1):
        if entry.ref in seen:
            says = _("Question {number} stands in the test twice.", number=number)
            checks.append(Check(stops=True, says=says, at=entry.ref, where="item"))
        seen.add(entry.ref)
        for problem in _item_problems(bank[entry.ref].content):
            checks.append(
                Check(
                    stops=True,
                    says=_("Question {number}: {problem}", number=number, problem=problem),
                    at=entry.ref,
                    where="item",
                )
            )
    for at, section in enumerate(layout.sections, start=1):
        for problem in _section_problems(section, bank, pool, seen):
            name = section.title or _("Section {at}", at=at)
            checks.append(Check(stops=True, says=f"{name}: {problem}", at=section.ref, where="section"))
    return checks


def _item_problems(content: ItemContent) -> list[str]:
    problems = content.problems()
    if problems or content.variation is None:
        return problems
    try:
        return drawn(content, 0).problems()
    except NoDraw as error:
        return [str(error)]


def _section_problems(
    section: DraftSection, bank: "Mapping[str, BankItem]", pool: "Pool", placed: set[str]
) -> Iterator[str]:
    items = list(section.items())
    count = len(items) + sum(rule.count for rule in section.draws)
    if section.choose is not None:
        if section.choose > count:
            yield _("students choose {choose}, but it has {count}.", choose=section.choose, count=count)
        marks = {entry.marks or bank[entry.ref].content.marks for entry in items}
        if len(marks) > 1:
            yield _("students choose among its questions, so they must carry the same marks.")
    for entry in section.entries:
        if isinstance(entry, PlacedPage) and not (entry.page.title or plain(entry.page.body)):
            yield _("a teaching page is empty.")
    for rule in section.draws:
        free = sum(item.ref not in placed for item in pool(rule))
        if free < rule.count:
            few = _("only {free}", free=free) if free else "none"
            yield _(
                "{count} questions on {skill} are wanted, the bank has {few} to draw.",
                count=rule.count,
                skill=rule.skill,
                few=few,
            )


def _worth_a_look(layout: Layout, bank: "Mapping[str, BankItem]") -> list[Check]:
    checks = list[Check]()
    numbered = [(number, entry.ref, bank[entry.ref]) for number, entry in enumerate(layout.items(), start=1)]
    for number, ref, item in numbered:
        bare = sum(map(pictures_without_words, item.content.texts()))
        if bare:
            says = _("Question {number}: a picture has no words for students who cannot see it.", number=number)
            checks.append(Check(stops=False, says=says, at=ref, where="item"))
    checks += _tells_by_length([(number, ref, item.content.answers()) for number, ref, item in numbered])
    checks += _uneven_keys([item.content.answers() for _, _, item in numbered if item.content.exclusive])
    checks += _unlike_the_plan(layout, bank)
    return checks


def _offered(answers: Sequence[AnsweredOption]) -> list[AnsweredOption]:
    return [answer for answer in answers if answer.offered and not answer.part]


def _tells_by_length(questions: Sequence[tuple[int, str, list[AnsweredOption]]]) -> list[Check]:
    """Options by the length of their words; pictures and numbers alike have none to compare."""
    judged, longest, results = 0, list[str](), list[Check]()
    for number, ref, answers in questions:
        offered = _offered(answers)
        lengths = [len(plain(answer.text)) for answer in offered]
        keys = [at for at, answer in enumerate(offered) if answer.key]
        if len(offered) < 3 or len(keys) != 1 or max(lengths) < 12:
            continue
        judged += 1
        others = [length for at, length in enumerate(lengths) if at != keys[0]]
        if lengths[keys[0]] > max(others):
            longest.append(ref)
        if lengths[keys[0]] > LONGER * max(others):
            says = _("Question {number}: the key is much longer than the other options.", number=number)
            results.append(Check(stops=False, says=says, at=ref, where="item"))
    if judged >= ENOUGH and len(longest) / judged > LONG_KEYS:
        says = _(
            "In {count} of {judged} questions the key is the longest option; who notices need not know.",
            count=len(longest),
            judged=judged,
        )
        results.append(Check(stops=False, says=says, at=longest[0], where="item"))
    return results


def _uneven_keys(questions: Sequence[list[AnsweredOption]]) -> list[Check]:
    letters = [offered for answers in questions if len(offered := _offered(answers)) >= 3]
    keys = Counter(answer.letter for offered in letters for answer in offered if answer.key)
    if len(letters) < 2 * ENOUGH or not keys:
        return []
    letter, times = keys.most_common(1)[0]
    even = sum(1 / len(offered) for offered in letters)
    if times <= UNEVEN * even:
        return []
    says = _(
        "The key is {letter} in {times} of {count} questions. Forms with shuffled options even this out.",
        letter=letter,
        times=times,
        count=len(letters),
    )
    return [Check(stops=False, says=says)]


def _unlike_the_plan(layout: Layout, bank: "Mapping[str, BankItem]") -> list[Check]:
    checks = []
    there = marks_by_skill(layout, bank)
    for row in layout.plan:
        if row.marks and not there.get(row.skill):
            says = _(
                "The plan wants {marks} marks on {skill}; the test has none.",
                marks=in_figures(row.marks, "g"),
                skill=row.skill,
            )
            checks.append(Check(stops=False, says=says, at=row.skill, where="plan"))
    total = sum(entry.marks or bank[entry.ref].content.marks for entry in layout.items())
    if layout.total_wanted is not None and total != layout.total_wanted and not _has_choices(layout):
        says = _(
            "The test has {total} marks; the plan wants {total_wanted}.",
            total=in_figures(total, "g"),
            total_wanted=in_figures(layout.total_wanted, "g"),
        )
        checks.append(Check(stops=False, says=says, where="plan"))
    return checks


def _has_choices(layout: Layout) -> bool:
    return any(section.choose or section.draws for section in layout.sections)


def marks_by_skill(layout: Layout, bank: "Mapping[str, BankItem]") -> dict[str, float]:
    """Marks on each skill; an item of several skills shares its marks among them equally."""
    there: dict[str, float] = {}
    for entry in layout.items():
        item = bank[entry.ref]
        for skill in item.skills:
            there[skill] = there.get(skill, 0) + (entry.marks or item.content.marks) / len(item.skills)
    return there
