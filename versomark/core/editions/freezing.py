"""From a layout to an edition: questions gathered, drawn and put into forms, or every reason why not."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from random import Random

from versomark.core.items import ItemContent, NoDraw, drawn

from .checks import stopping
from .edition import Edition, EditionItem, PagesBefore, Section, Stimulus
from .forecast import QuestionHistory
from .forms import shuffled_forms
from .layout import DraftSection, DrawRule, Layout, PlacedItem


class NotReady(Exception):
    """A test cannot be frozen. `problems` lists why, in words for the teacher."""

    def __init__(self, problems: list[str]) -> None:
        super().__init__(" ".join(problems))
        self.problems = problems


@dataclass(frozen=True)
class BankItem:
    """A question as the bank has it, with what building a test needs to know."""

    ref: str
    content: ItemContent
    skills: tuple[str, ...] = ()
    stimulus: Stimulus | None = None
    history: QuestionHistory | None = None
    """How it did in earlier sittings of this version."""
    minutes: float | None = None


Pool = Callable[[DrawRule], Sequence[BankItem]]
"""The questions a rule can draw from."""


def assemble(
    title: str, instructions: str, layout: Layout, bank: Mapping[str, BankItem], pool: Pool, seed: int
) -> Edition:
    """The layout as an edition in one form, ready or not: for looking at it. Rules draw what they can.

    bank: ref -> item, for every ref of the layout. The same seed draws the same questions and numbers.
    """
    random = Random(seed)
    used = {placed.ref for placed in layout.items()}
    chosen = list[BankItem]()
    sections = []
    for draft in layout.sections:
        section, items = _section(draft, bank, pool, used, random, seed)
        sections.append(section)
        chosen += items
    stimuli = {item.stimulus.ref: item.stimulus for item in chosen if item.stimulus}
    return Edition(
        title=title,
        instructions=instructions,
        sections=sections,
        stimuli=list(stimuli.values()),
        correct_for_guessing=layout.correct_for_guessing,
        minutes=layout.minutes,
        seed=seed,
    )


def freeze(
    title: str, instructions: str, layout: Layout, bank: Mapping[str, BankItem], pool: Pool, seed: int
) -> Edition:
    """The layout as a frozen edition with its forms. Raises NotReady with every problem at once."""
    problems = [check.says for check in stopping(title, layout, bank, pool)]
    if problems:
        raise NotReady(problems)
    try:
        edition = assemble(title, instructions, layout, bank, pool, seed)
    except NoDraw as error:
        raise NotReady([str(error)]) from None
    return edition.model_copy(update={"forms": shuffled_forms(edition.sections, layout.forms, seed)})


def _section(
    draft: DraftSection, bank: Mapping[str, BankItem], pool: Pool, used: set[str], random: Random, seed: int
) -> tuple[Section, list[BankItem]]:
    items, chosen, pages = list[EditionItem](), list[BankItem](), dict[int, PagesBefore]()
    for entry in draft.entries:
        if isinstance(entry, PlacedItem):
            chosen.append(bank[entry.ref])
            items.append(_edition_item(bank[entry.ref], entry, seed))
        else:
            standing = pages[len(items)].pages if len(items) in pages else []
            pages[len(items)] = PagesBefore(at=len(items), pages=[*standing, entry.page])
    for rule in draft.draws:
        free = sorted((item for item in pool(rule) if item.ref not in used), key=lambda item: item.ref)
        for item in random.sample(free, min(rule.count, len(free))):
            used.add(item.ref)
            chosen.append(item)
            items.append(_edition_item(item, PlacedItem(ref=item.ref), seed))
    section = Section(
        title=draft.title,
        instructions=draft.instructions,
        items=items,
        choose=draft.choose if draft.choose and draft.choose < len(items) else None,
        new_page=draft.new_page,
        pages=list(pages.values()),
    )
    return section, chosen


def _edition_item(item: BankItem, placed: PlacedItem, seed: int) -> EditionItem:
    content = drawn(item.content, _own_seed(seed, item.ref))
    return EditionItem(
        ref=item.ref,
        content=content.with_marks(placed.marks) if placed.marks else content,
        skills=list(item.skills),
        stimulus=item.stimulus.ref if item.stimulus else None,
        new_page=placed.new_page,
    )


def _own_seed(seed: int, ref: str) -> int:
    """Each varied item draws by itself, so that adding a question does not change the numbers of another."""
    return Random(f"{seed} {ref}").getrandbits(32)
