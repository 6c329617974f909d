from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "versomark.school.findings"
    label = "findings"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.sittings.services import AFTER_CLOSING

        from .services import record_history

        AFTER_CLOSING.append(record_history)
