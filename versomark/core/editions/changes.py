"""What changed between two editions of a test, item by item, in words."""

from versomark.core.items import EditionContent
from versomark.core.items.base import Frozen
from versomark.core.language import N_, _
from versomark.core.text import plain

from .edition import Edition

NAMES = {
    "stem": N_("the question"),
    "marks": N_("the marks"),
    "key": N_("the key"),
    "keys": N_("the key"),
    "value": N_("the right value"),
    "options": N_("the options"),
    "rationale": N_("the reason for the key"),
    "credit": N_("the rule of part credit"),
    "text": N_("the text"),
    "rows": N_("the rows"),
    "choices": N_("the choices"),
    "entries": N_("the entries"),
    "rubric": N_("the rubric"),
    "wording": N_("the accepted answers"),
    "regions": N_("the regions"),
    "picture": N_("the picture"),
    "ideas": N_("the ideas behind wrong values"),
    "idea_note": N_("the idea note"),
}


class EditionChange(Frozen):
    """One line of the comparison. `number` in the newer edition, or in the older for what was taken out."""

    number: int
    stem: str
    change: str


def changes_between(older: Edition, newer: Edition) -> list[EditionChange]:
    """Items taken out, put in, moved and changed; empty when only their look differs."""
    before = {item.ref: (number, item) for number, item in enumerate(older.items(), start=1)}
    after = {item.ref: (number, item) for number, item in enumerate(newer.items(), start=1)}
    edition_changes = []
    for ref, (number, item) in after.items():
        stem = item.content.own_label or plain(item.content.stem)
        if ref not in before:
            edition_changes.append(EditionChange(number=number, stem=stem, change="new"))
            continue
        old_number, old = before[ref]
        parts = _differences(old.content, item.content)
        if old.skills != item.skills:
            parts.append(_("the skills"))
        if parts:
            edition_changes.append(
                EditionChange(number=number, stem=stem, change=_("changed: {parts}", parts=", ".join(parts)))
            )
        elif old_number != number and _moved(ref, list(before), list(after)):
            edition_changes.append(
                EditionChange(number=number, stem=stem, change=_("moved, was {old_number}", old_number=old_number))
            )
    edition_changes += [
        EditionChange(number=number, stem=item.content.own_label or plain(item.content.stem), change=_("taken out"))
        for ref, (number, item) in before.items()
        if ref not in after
    ]
    return edition_changes


def _moved(ref: str, before: list[str], after: list[str]) -> bool:
    """Whether its place among the items that both editions have is another one."""
    common = set(before) & set(after)
    kept_before, kept_after = ([r for r in refs if r in common] for refs in (before, after))
    return kept_before.index(ref) != kept_after.index(ref)


def _differences(old: EditionContent, new: EditionContent) -> list[str]:
    if old.kind != new.kind:
        return [_("the kind of question")]
    one, other = old.model_dump(), new.model_dump()
    return list(dict.fromkeys(_(NAMES.get(name, name.replace("_", " "))) for name in one if one[name] != other[name]))
