"""Every request has a number, a place in the figures and a line in the log; none of them says who asked for what.

What stands there is the route as it is written in `urls.py`, never the address itself: an address may hold a student's
own link.
"""

import logging
import re
from collections.abc import Callable
from contextvars import ContextVar
from time import perf_counter
from uuid import uuid4

from django.http import HttpRequest, HttpResponseBase
from prometheus_client import Counter, Histogram

log = logging.getLogger("versomark.requests")
HEADER = "X-Request-Id"
_GIVEN = re.compile(r"[A-Za-z0-9_-]{8,64}")
request_id: ContextVar[str] = ContextVar("request_id", default="")

METHODS = ("GET", "HEAD", "OPTIONS", "POST", "PUT", "PATCH", "DELETE")
REQUESTS = Counter("verso_requests_total", "Requests answered", ["method", "route", "status"])
SECONDS = Histogram(
    "verso_request_seconds",
    "Time until a request was answered",
    ["door"],
    buckets=(0.005, 0.01, 0.025, 0.05, 0.1, 0.15, 0.25, 0.5, 1, 2.5, 5, 10),
)


def route_of(request: HttpRequest) -> str:
    match = request.resolver_match
    return str(match.route) if match and match.route else "-"


def _door(path: str) -> str:
    for door in ("student", "portal"):
        if path.startswith(f"/api/v1/{door}/"):
            return door
    return "teacher" if path.startswith("/api/") else "page"


class Observed:
    """The first of all, so that it sees what the others refuse."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        given = request.headers.get(HEADER, "")
        number = given if _GIVEN.fullmatch(given) else uuid4().hex
        token = request_id.set(number)
        began = perf_counter()
        try:
            response = self.get_response(request)
            seconds, route = perf_counter() - began, route_of(request)
            # Whoever asks may write any word there, and each would be a figure of its own.
            method = request.method if request.method in METHODS else "other"
            REQUESTS.labels(method, route, str(response.status_code)).inc()
            SECONDS.labels(_door(request.path)).observe(seconds)
            log.info(
                "answered",
                extra={
                    "method": method,
                    "route": route,
                    "status": response.status_code,
                    "milliseconds": round(1000 * seconds, 1),
                },
            )
        finally:
            request_id.reset(token)
        response.headers[HEADER] = number
        if request.path.startswith("/api/"):
            # Names and marks stay in no cache, of a browser on a shared device least of all.
            response.headers.setdefault("Cache-Control", "no-store")
        return response


class Numbered(logging.Filter):
    """Gives a line the number of its request, and the route in place of the address."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.request_id = request_id.get()
        request = getattr(record, "request", None)
        if isinstance(request, HttpRequest) and isinstance(record.args, tuple):
            record.args = tuple(route_of(request) if value == request.path else value for value in record.args)
            record.__dict__.pop("request")
        return True
