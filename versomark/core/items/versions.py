"""Which version of a question was asked: what students saw of it, and what was right.

Answers to one version are evidence of that version only. A word changed, an option put in another place or a key
settled otherwise begins another; marks, idea notes and how it is laid out do not, nor do spaces, capitals or the marks
between sentences, so that mending a comma keeps a question's history.
"""

import json
import re
from collections.abc import Collection
from hashlib import sha256
from typing import Any

from .registry import EditionContent

NOT_OF_THE_TEXT = {"marks"}
BETWEEN_SENTENCES = re.compile(r"[.,;:!?…]+(?=\s|$|<)|[“”„«»\"‘’]|\s+")


def version_of(content: EditionContent, accepted: Collection[str] | None = None) -> str:
    """The same for the same version.

    accepted: ids of the answers that were settled to be right in place of the key; None where it was not settled.
    """
    shown = content.for_student().model_dump(mode="json", exclude=NOT_OF_THE_TEXT)
    return f"{_short(_plain(shown))}-{_short(_key(content, accepted))}"


def _key(content: EditionContent, accepted: Collection[str] | None) -> list[str]:
    if accepted is not None:
        return sorted(accepted)
    if content.exclusive and all(answer.offered for answer in content.answers()):
        return sorted(answer.id for answer in content.answers() if answer.points >= content.marks)
    return [content.key_words()]


def _plain(value: Any) -> Any:
    if isinstance(value, str):
        return " ".join(BETWEEN_SENTENCES.sub(" ", value).casefold().split())
    if isinstance(value, dict):
        return {name: _plain(part) for name, part in value.items()}
    return [_plain(part) for part in value] if isinstance(value, list) else value


def _short(value: Any) -> str:
    return sha256(json.dumps(value, sort_keys=True, ensure_ascii=False).encode()).hexdigest()[:16]
