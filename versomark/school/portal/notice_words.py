"""What a notice says, made of its kind and its facts when it is read or sent."""

from datetime import datetime
from typing import Any

from django.utils import timezone

from versomark.core import language
from versomark.core.language import _

from .models import Notice, NoticeKind


def notice_words(notice: Notice) -> str:
    facts = notice.facts
    if "words" in facts:  # from before facts were kept
        return str(facts["words"])
    title = facts["title"]
    if "comment" in facts:
        return _("{title} was given back to you: {comment}", title=title, comment=facts["comment"])
    if notice.kind == NoticeKind.RELEASED:
        return _("{title}: your results are here.", title=title)
    if notice.kind == NoticeKind.ANSWERED:
        return _("{title}: your teacher has answered what you asked about a mark.", title=title)
    if notice.kind == NoticeKind.DUE:
        return _("{title} ends {moment}.", title=title, moment=moment(datetime.fromisoformat(facts["ends"])))
    moved = _(" has moved") if notice.kind == NoticeKind.CHANGED else ""
    return f"{title}{moved}: {when_words(facts)}."


def when_words(facts: dict[str, Any]) -> str:
    """“from Tue 3 Nov, 08:00, to Wed 4 Nov, 20:00”, “once your teacher opens it, until Wed 4 Nov, 20:00”."""
    begins, ends = (datetime.fromisoformat(facts[name]) if facts[name] else None for name in ("begins", "ends"))
    parts = [_("from {moment}", moment=moment(begins)) if begins else _("once your teacher opens it")]
    if ends:
        parts.append(_("to {moment}", moment=moment(ends)) if begins else _("until {moment}", moment=moment(ends)))
    if facts["minutes"]:
        parts.append(_("with {minutes} minutes to work", minutes=facts["minutes"]))
    return ", ".join(parts)


def moment(at: datetime) -> str:
    return language.moment(timezone.localtime(at))
