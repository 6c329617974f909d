"""What a mail address looks like, as browsers check it (WHATWG HTML, *valid e-mail address*): what passes can be
written to, which a looser rule does not promise."""

import re
from typing import Final

_NAME: Final = r"[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+"
_LABEL: Final = r"[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?"
ON_THIS_NETWORK: Final = rf"{_NAME}@{_LABEL}(?:\.{_LABEL})*"
"""Also `scans@copier`, inside a school."""
ANYWHERE: Final = rf"{_NAME}@{_LABEL}(?:\.{_LABEL})+"


def is_mail_address(text: str) -> bool:
    return re.fullmatch(ANYWHERE, text) is not None
