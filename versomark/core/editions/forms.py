"""Forms: the same test in other orders, so that neighbours do not have the same paper."""

from random import Random
from string import ascii_uppercase

from .edition import Edition, EditionItem, Form, Section


def shuffled_forms(sections: list[Section], count: int, seed: int) -> list[Form]:
    """The forms B, C, … besides the order that was built. The same seed gives the same forms.

    Sections keep their order and pages; within a section, sets of items on one stimulus move as a whole, and a section
    with teaching pages stays as it is. Options that stay last do.
    """
    return [_form(sections, name, Random(f"{seed} {name}")) for name in ascii_uppercase[1:count]]


def in_own_order(edition: Edition, seed: str) -> Edition:
    """The edition with its questions and options in an order of one student's own; the same seed gives the same."""
    form = _form(edition.sections, "H", Random(seed))
    return edition.model_copy(update={"forms": [form]}).in_form(form.name)


def _form(sections: list[Section], name: str, random: Random) -> Form:
    parts = {}
    for section in sections:
        for item in section.items:
            movable, last = item.content.movable()
            if len(movable) > 1:
                parts[item.ref] = [*random.sample(movable, len(movable)), *last]
    return Form(name=name, sections=[_order(section, random) for section in sections], parts=parts)


def _order(section: Section, random: Random) -> list[str]:
    if section.pages:
        return [item.ref for item in section.items]
    sets = _sets(section.items)
    return [item.ref for at in random.sample(range(len(sets)), len(sets)) for item in sets[at]]


def _sets(items: list[EditionItem]) -> list[list[EditionItem]]:
    """Neighbours on the same stimulus together, every other item alone."""
    sets: list[list[EditionItem]] = []
    for item in items:
        if sets and item.stimulus is not None and sets[-1][-1].stimulus == item.stimulus:
            sets[-1].append(item)
        else:
            sets.append([item])
    return sets
