from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "versomark.school.findings"
    label = "findings"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.delivery.signals import sitting_closed

        from .services import record_history_of_closed

        sitting_closed.connect(record_history_of_closed, dispatch_uid="history of a closed sitting")
