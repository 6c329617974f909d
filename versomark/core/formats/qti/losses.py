"""What an item or a test of another system says that ours cannot, in words, item by item; nothing is dropped unseen."""

from collections.abc import Callable
from xml.etree.ElementTree import Element

from versomark.core.language import N_, _

from .names import all_named, attribute, first_named, kebab, numeral, words

Words = Callable[[Element], str | None]
"""What to say of an element; None where it is carried."""


def _always(says: str) -> Words:
    return lambda element: _(says)


def _link(element: Element) -> str | None:
    target = attribute(element, "href")
    return _("a link, whose words stay: {target}", target=target[:80]) if target else None


def _object(element: Element) -> str | None:
    kind = attribute(element, "type")
    if not kind or kind.startswith("image/"):
        return None
    return _("a medium: {value}", value=attribute(element, "data")[:80] or kind)


def _medium(element: Element) -> str:
    inner = first_named(element, "source")
    source = attribute(element, "src") or (attribute(inner, "src") if inner is not None else "")
    return f"{kebab(element.tag)}: {source[:80] or _('without a name')}"


def _stimulus(element: Element) -> str:
    name = attribute(element, "title") or attribute(element, "identifier") or attribute(element, "href")
    return _("the passage it shares with other items: {name}", name=name[:80])


def _feedback_on_choice(element: Element) -> str:
    return _("what is said after a choice: “{value}”", value=words(element)[:60])


def _shown_on_condition(element: Element) -> str:
    return _("a text that depends on the answer: “{value}”", value=words(element)[:60])


_NAMED: dict[str, Words] = {
    "assessment-stimulus-ref": _stimulus,
    "audio": _medium,
    "video": _medium,
    "object": _object,
    "a": _link,
    "svg": _always(N_("a drawing (SVG)")),
    "feedback-inline": _feedback_on_choice,
    "feedback-block": _shown_on_condition,
    "modal-feedback": lambda element: _("what is said after answering: “{value}”", value=words(element)[:60]),
    "template-declaration": _always(N_("values that vary by a template")),
    "template-block": _always(N_("a text that varies by a template")),
    "template-inline": _always(N_("a text that varies by a template")),
    "printed-variable": _always(N_("a value that is worked out and printed in the text")),
    "stylesheet": _always(N_("a style sheet")),
    "companion-materials-info": _always(N_("companion materials")),
    "catalog-info": _always(N_("other forms of its text for those who need them")),
    "include": _always(N_("a part that stands in another file")),
}


def lost_of_item(root: Element) -> list[str]:
    """What the item holds that no question here has a place for; of each thing one line, in the order of the item."""
    results = list[str]()
    for element in root.iter():
        if isinstance(element.tag, str) and kebab(element.tag) in _NAMED:
            results.append(_NAMED[kebab(element.tag)](element) or "")
    for interaction in all_named(root, *_LIMITED):
        results += _limits(interaction)
    for outcome in all_named(root, "outcome-declaration"):
        name = attribute(outcome, "identifier")
        if name not in ("SCORE", "MAXSCORE", "MINSCORE", "FEEDBACK", "FEEDBACKBASIC", "completionStatus") and any(
            attribute(rule, "identifier") == name for rule in all_named(root, "set-outcome-value")
        ):
            results.append(_("what it counts beside the score: {name}", name=name[:60]))
    if attribute(root, "time-dependent") == "true":
        results.append(_("that it depends on the time taken"))
    return [line for line in dict.fromkeys(results) if line]


_LIMITED = (
    "choice-interaction", "order-interaction", "match-interaction", "text-entry-interaction",
    "extended-text-interaction", "select-point-interaction", "upload-interaction",
)  # fmt: skip


def _limits(interaction: Element) -> list[str]:
    """Limits on what may be given. The usual ones, “one” and “any number”, are what the kinds here mean anyway."""
    name, results = kebab(interaction.tag), list[str]()
    most = int(numeral(attribute(interaction, "max-choices"), 1 if name == "choice-interaction" else 0))
    least = int(numeral(attribute(interaction, "min-choices"), 0))
    offered = len(list(all_named(interaction, "simple-choice")))
    if name in ("choice-interaction", "order-interaction"):
        if 1 < most < offered:
            results.append(_("that at most {most} may be chosen", most=most))
        if least > (1 if most == 1 else 0):
            results.append(_("that at least {least} must be chosen", least=least))
    if name == "select-point-interaction" and most > 1:
        results.append(_("that {most} places may be marked", most=most))
    if name == "match-interaction":
        results += _match_limits(interaction)
    if attribute(interaction, "pattern-mask"):
        results.append(_("a pattern that what is typed must keep"))
    if int(numeral(attribute(interaction, "max-strings"), 0)) > 1:
        results.append(_("that several texts may be given"))
    if attribute(interaction, "type") and name == "upload-interaction":
        results.append(_("that files must be {value}", value=attribute(interaction, "type")[:40]))
    return results


def _match_limits(interaction: Element) -> list[str]:
    sets = list(all_named(interaction, "simple-match-set"))
    if len(sets) != 2:
        return []
    rows = list(all_named(sets[0], "simple-associable-choice"))
    several = any(int(numeral(attribute(row, "match-max"), 1)) != 1 for row in rows)
    once = any(int(numeral(attribute(c, "match-max"), 1)) for c in all_named(sets[1], "simple-associable-choice"))
    least = int(numeral(attribute(interaction, "min-associations"), 0))
    match_limits = [_("that a row may have several partners")] if several else []
    match_limits += [_("that a partner may be used only so often")] if once else []
    return match_limits + ([_("that at least {least} pairs must be made", least=least)] if least else [])


_OF_TESTS: dict[str, str] = {
    "branch-rule": N_("ways through it that depend on the answers"),
    "pre-condition": N_("parts that come only on a condition"),
    "selection": N_("a choice of some of its questions"),
    "ordering": N_("questions in an order made anew"),
    "time-limits": N_("time limits"),
    "weight": N_("weights of questions"),
    "rubric-block": N_("instructions and teaching pages"),
    "item-session-control": N_("how often one may answer, and what is shown"),
    "outcome-processing": N_("a rule for its total"),
    "test-feedback": N_("what is said at its end"),
    "template-default": N_("values given to questions that vary"),
    "assessment-section-ref": N_("sections that stand in other files"),
}


def lost_of_test(root: Element) -> list[str]:
    """What a test of the package says that does not come with its questions."""
    title = attribute(root, "title") or attribute(root, "identifier") or _("without a title")
    sections = [attribute(section, "title") for section in all_named(root, "assessment-section")]
    results = [_("the test “{title}”: its questions come into the bank, without it", title=title[:80])]
    named = [section for section in sections if section]
    if named:
        results.append(_("its sections: {value}", value=", ".join(named)[:200]))
    for name, says in _OF_TESTS.items():
        if first_named(root, name) is not None:
            results.append(_(says))
    return results
