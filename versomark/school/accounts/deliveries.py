"""Changes that may arrive twice: a browser that heard no answer sends its change again, under the same key.

The key travels in the header `Idempotency-Key`. The first delivery is carried out and its answer kept in the same
transaction, so that either both are on the disk or neither is; a second one gets the answer of the first and changes
nothing. Refusals are not kept: what was refused may be asked again once its reason is gone.
"""

from collections.abc import Callable
from datetime import timedelta
from uuid import UUID

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from versomark.core.language import _
from versomark.school.http import refusal

from .models import Delivery

HEADER = "Idempotency-Key"
LONGEST_ANSWER_KEPT = 8_000
"""Characters. Whoever repeats a change with a longer answer is told that it arrived, and asks for the page anew."""
KEPT_FOR = timedelta(days=60)


class RepeatableRequests:
    """Middleware: behind authentication, in front of the views."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        key = request.headers.get(HEADER)
        if key is None or request.method in ("GET", "HEAD", "OPTIONS") or not request.user.is_authenticated:
            return self.get_response(request)
        try:
            delivery_key = UUID(key)
        except ValueError:
            return refusal(422, _("{header} has to be a UUID.", header=HEADER))
        with transaction.atomic():
            before = Delivery.objects.filter(teacher_id=request.user.pk, key=delivery_key).first()
            if before is not None:
                return _answer_of(before)
            response = self.get_response(request)
            if response.status_code >= 300:
                transaction.set_rollback(True)
                return response
            text = "" if response.streaming else response.content.decode()
            Delivery.objects.create(
                teacher_id=request.user.pk,
                key=delivery_key,
                status=response.status_code,
                answer=text if len(text) <= LONGEST_ANSWER_KEPT else "",
            )
        return response


def _answer_of(delivery: Delivery) -> HttpResponse:
    if not delivery.answer:
        return HttpResponse(status=204)
    return HttpResponse(delivery.answer, status=delivery.status, content_type="application/json; charset=utf-8")


def forget_old_deliveries() -> int:
    """How many were old enough to go: a browser that has been away for longer does not come back with its change."""
    return Delivery.objects.filter(received_at__lt=timezone.now() - KEPT_FOR).delete()[0]
