from django.apps import AppConfig


class GradingConfig(AppConfig):
    name = "versomark.school.grading"
    label = "grading"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import work_handed_over
        from versomark.school.classes.signals import student_erasing

        from .erasing import erase
        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="shared piles handed over")

        student_erasing.connect(erase, dispatch_uid="grading of an erased student")
