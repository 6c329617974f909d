from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_out
from django.http import HttpRequest


class DeliveryConfig(AppConfig):
    name = "versomark.school.delivery"
    label = "delivery"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import sign_ins_ended, work_handed_over
        from versomark.school.classes.signals import students_merging

        from .handing_over import hand_over
        from .merging import merge_seats

        work_handed_over.connect(hand_over, dispatch_uid="delivery handed over")
        sign_ins_ended.connect(_close_sockets_of, dispatch_uid="close sockets of ended sign-ins")
        students_merging.connect(merge_seats, dispatch_uid="seats of one person")
        user_logged_out.connect(_close_sockets, dispatch_uid="close sockets of a session")


def _close_sockets(sender: object, request: HttpRequest, user: Any, **more: object) -> None:
    from .nudges import signed_out

    if user is not None and request.session.session_key:
        signed_out(user.pk, request.session.session_key)


def _close_sockets_of(sender: object, teacher: Any, session_keys: list[str], **more: object) -> None:
    from .nudges import signed_out

    for key in session_keys:
        signed_out(teacher.pk, key)
