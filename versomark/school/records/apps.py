from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "versomark.school.records"
    label = "records"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import work_handed_over

        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="records handed over")
