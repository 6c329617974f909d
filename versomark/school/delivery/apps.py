from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_out
from django.http import HttpRequest


class DeliveryConfig(AppConfig):
    name = "versomark.school.delivery"
    label = "delivery"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import students_merging

        from .merging import merge_seats

        students_merging.connect(merge_seats, dispatch_uid="seats of one person")
        user_logged_out.connect(_close_sockets, dispatch_uid="close sockets of a session")


def _close_sockets(sender: object, request: HttpRequest, user: Any, **more: object) -> None:
    from .nudges import signed_out

    if user is not None and request.session.session_key:
        signed_out(user.pk, request.session.session_key)
