from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "versomark.school.reports"
    label = "reports"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing

        from .erasing import erase

        student_erasing.connect(erase, dispatch_uid="reports of an erased student")
