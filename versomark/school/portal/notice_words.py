"""What a notice says, made of its kind and its facts when it is read or sent."""

from datetime import datetime
from typing import Any

from django.utils import timezone

from .models import Notice, NoticeKind


def notice_words(notice: Notice) -> str:
    facts = notice.facts
    if "words" in facts:  # from before facts were kept
        return str(facts["words"])
    title = facts["title"]
    if "comment" in facts:
        return f"{title} was given back to you: {facts['comment']}"
    if notice.kind == NoticeKind.RELEASED:
        return f"{title}: your results are here."
    if notice.kind == NoticeKind.DUE:
        return f"{title} ends {moment(datetime.fromisoformat(facts['ends']))}."
    moved = " has moved" if notice.kind == NoticeKind.CHANGED else ""
    return f"{title}{moved}: {when_words(facts)}."


def when_words(facts: dict[str, Any]) -> str:
    """“from Tue 3 Nov, 08:00, to Wed 4 Nov, 20:00”, “once your teacher opens it, until Wed 4 Nov, 20:00”."""
    begins, ends = (datetime.fromisoformat(facts[name]) if facts[name] else None for name in ("begins", "ends"))
    parts = [f"from {moment(begins)}" if begins else "once your teacher opens it"]
    if ends:
        parts.append(f"to {moment(ends)}" if begins else f"until {moment(ends)}")
    if facts["minutes"]:
        parts.append(f"with {facts['minutes']} minutes to work")
    return ", ".join(parts)


def moment(at: datetime) -> str:
    return f"{timezone.localtime(at):%a %-d %b, %H:%M}"
