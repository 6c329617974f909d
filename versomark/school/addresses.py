"""Under which address students' devices reach this service: what stands on the board, on slips and in codes.

A teacher on the machine itself opens `localhost`, which is nobody else's. What works for others is the address that was
set, the one the teacher's own browser uses where that is not this machine alone, or this machine's own in its network.
"""

import ipaddress
import os
import socket
from functools import lru_cache
from time import monotonic

from django.conf import settings
from django.http import HttpRequest

LISTENS_AT = "VERSO_LISTENS_AT"
"""Set by `serve`: host and port."""
LOOKED_UP_FOR_SECONDS = 30


def address_for_students(request: HttpRequest) -> str | None:
    """Such as `http://192.168.1.20:8321`; None where nothing but this machine reaches the service."""
    if settings.ADDRESS:
        return str(settings.ADDRESS)
    host = request.get_host()
    if not is_this_machine(_without_port(host)):
        return f"{request.scheme}://{host}"
    listens_at, _, port = os.environ.get(LISTENS_AT, "").rpartition(":")
    own = own_address(int(monotonic() // LOOKED_UP_FOR_SECONDS))
    if not listens_at or is_this_machine(listens_at) or own is None:
        return None
    shown = own if listens_at in ("0.0.0.0", "::") else listens_at
    return f"{request.scheme}://{f'[{shown}]' if ':' in shown else shown}{'' if port == '80' else f':{port}'}"


def is_this_machine(host: str) -> bool:
    if host.casefold() == "localhost" or host.casefold().endswith(".localhost"):
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


@lru_cache(maxsize=2)
def own_address(_turn: int) -> str | None:
    """This machine's address in its network, by the way a packet would take; none is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # a documentation address (RFC 5737)
            result = str(probe.getsockname()[0])
        except OSError:
            return None
    return None if is_this_machine(result) or result == "0.0.0.0" else result


def _without_port(host: str) -> str:
    return host.rpartition(":")[0].strip("[]") if host.rpartition(":")[2].isdigit() else host.strip("[]")
