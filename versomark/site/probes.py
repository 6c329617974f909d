"""What a supervisor, a proxy and a monitoring system ask: alive, ready, how much."""

import hmac
from collections.abc import Iterable
from threading import Event

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django_tasks_db.models import DBTaskResult
from prometheus_client import CONTENT_TYPE_LATEST, REGISTRY, generate_latest
from prometheus_client.core import GaugeMetricFamily, Metric
from prometheus_client.registry import Collector

from versomark.school import disk
from versomark.upkeep.backups import NIGHTLY, database_bytes, kept_backups
from versomark.upkeep.health import QUICK, checked

stopping = Event()
"""Set as soon as the service is told to stop, so that a proxy sends nobody else here while the last are answered."""
LOOPBACK = ("127.0.0.1", "::1")


def healthz(request: HttpRequest) -> HttpResponse:
    """The process answers."""
    return JsonResponse({"state": "well"})


def readyz(request: HttpRequest) -> HttpResponse:
    """Everything is there that it needs. What is wrong is told by name; the words are for `./verso doctor`."""
    if stopping.is_set():
        return JsonResponse({"state": "stopping", "checks": {}}, status=503)
    states = {check.subject: check.state for check in checked(QUICK)}
    ill = "ill" in states.values()
    return JsonResponse({"state": "ill" if ill else "well", "checks": states}, status=503 if ill else 200)


def metrics(request: HttpRequest) -> HttpResponse:
    """For Prometheus, on this machine or with the token of VERSO_METRICS_TOKEN; nobody else is told that it exists."""
    if settings.METRICS_TOKEN:
        if not hmac.compare_digest(
            request.headers.get("Authorization", "").encode(), f"Bearer {settings.METRICS_TOKEN}".encode()
        ):
            raise Http404
    elif request.META.get("REMOTE_ADDR") not in LOOPBACK:
        raise Http404
    return HttpResponse(generate_latest(REGISTRY), content_type=CONTENT_TYPE_LATEST)


class SchoolFigures(Collector):
    """What is read at the moment somebody asks."""

    def describe(self) -> Iterable[Metric]:
        """Nothing: whoever registers is not to read the database."""
        return ()

    def collect(self) -> Iterable[Metric]:
        waiting = DBTaskResult.objects.filter(finished_at=None).count()
        yield GaugeMetricFamily("verso_tasks_waiting", "Pieces of long work that are not done", value=waiting)
        yield GaugeMetricFamily(
            "verso_disk_free_bytes", "Room on the school's disk", value=disk.left().free_mb * 1024**2
        )
        yield GaugeMetricFamily("verso_database_bytes", "Size of the database on the disk", value=database_bytes())
        nightly = next((entry.made_at for entry in kept_backups() if entry.reason == NIGHTLY), None)
        if nightly:
            age = (timezone.now() - nightly).total_seconds()
            yield GaugeMetricFamily("verso_backup_age_seconds", "Since the last nightly back-up", value=age)


REGISTRY.register(SchoolFigures())
