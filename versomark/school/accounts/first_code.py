"""The code without which an empty school gives nobody its first account: printed where the service starts, so that it
is known to whoever may look there and to no one who merely reaches the port."""

import os
import secrets

from django.conf import settings

NAME = "first-account-code"


def first_code() -> str:
    """The code that holds; made when it is asked for the first time."""
    path = settings.DATA / NAME
    if not path.exists():
        code = f"{secrets.token_hex(2)}-{secrets.token_hex(2)}-{secrets.token_hex(2)}"
        with open(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w", encoding="ascii") as file:
            file.write(code)
    return path.read_text(encoding="ascii").strip()


def is_first_code(typed: str) -> bool:
    return secrets.compare_digest("".join(typed.split()).casefold().encode(), first_code().encode())


def forget_first_code() -> None:
    (settings.DATA / NAME).unlink(missing_ok=True)
