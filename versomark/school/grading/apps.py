from django.apps import AppConfig


class GradingConfig(AppConfig):
    name = "versomark.school.grading"
    label = "grading"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing

        from .erasing import erase

        student_erasing.connect(erase, dispatch_uid="grading of an erased student")
