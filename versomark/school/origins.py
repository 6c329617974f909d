"""Which pages are ours: by the origin that a browser names with a request or a socket."""

from urllib.parse import urlsplit

from django.conf import settings


def is_own_origin(origin: str, host: str) -> bool:
    """Whether a page from `origin` is one that `host` serves; the address that is set for letters is ours too."""
    return urlsplit(origin).netloc.casefold() in {host.casefold(), urlsplit(settings.ADDRESS).netloc.casefold()} - {""}
