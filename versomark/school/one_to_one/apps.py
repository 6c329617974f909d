from django.apps import AppConfig


class OneToOneConfig(AppConfig):
    name = "versomark.school.one_to_one"
    label = "one_to_one"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing

        from .erasing import erase

        student_erasing.connect(erase, dispatch_uid="one_to_one of an erased student")
