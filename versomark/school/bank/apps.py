from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class BankConfig(AppConfig):
    name = "versomark.school.bank"
    label = "bank"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import work_handed_over

        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="bank handed over")

        # The full-text index is a table that no model describes.
        post_migrate.connect(_make_index, sender=self)


def _make_index(using: str, **_: Any) -> None:
    from . import search

    search.make_index(using)
