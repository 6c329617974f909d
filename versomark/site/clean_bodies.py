"""What no text can hold is taken out of every body on its way in.

Control characters and halves of a pair (lone surrogates) come from a broken program, never from a keyboard. They cannot
stand in XML or a workbook, so that a question with one of them could be kept and never be written out again.
"""

import json
import re
from typing import Any

from django.http import HttpRequest
from ninja.parser import Parser
from ninja.types import DictStrAny

_UNPRINTABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")
# In a body they stand as escapes, but for the few that JSON allows as they are.
_SUSPECT = re.compile(rb"\\u(?:00[01]|00[7]f|d[89a-f]|fff[ef])|\x7f|\xef\xbf[\xbe\xbf]", re.IGNORECASE)


class CleanBodies(Parser):
    def parse_body(self, request: HttpRequest) -> DictStrAny:
        body = json.loads(request.body)
        # A body without any of them, which is nearly every one, is looked through once and left alone.
        return cleaned(body) if _SUSPECT.search(request.body) else body  # type: ignore[no-any-return]


def cleaned(value: Any) -> Any:
    if isinstance(value, str):
        # Halves that belong together are one letter by now; what is left of them is alone.
        return _UNPRINTABLE.sub("", value)
    if isinstance(value, list):
        return [cleaned(entry) for entry in value]
    if isinstance(value, dict):
        return {cleaned(key): cleaned(entry) for key, entry in value.items()}
    return value
