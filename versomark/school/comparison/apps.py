from django.apps import AppConfig


class ComparisonConfig(AppConfig):
    name = "versomark.school.comparison"
    label = "comparison"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import work_handed_over

        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="comparisons handed over")
