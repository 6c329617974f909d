from django.apps import AppConfig


class ClassesConfig(AppConfig):
    name = "versomark.school.classes"
    label = "classes"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from .erasing import erase
        from .signals import student_erasing

        student_erasing.connect(erase, dispatch_uid="classes of an erased student")

        from versomark.school.accounts.signals import work_handed_over

        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="classes handed over")
