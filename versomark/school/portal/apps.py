from django.apps import AppConfig


class PortalConfig(AppConfig):
    name = "versomark.school.portal"
    label = "portal"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing

        from .erasing import erase

        student_erasing.connect(erase, dispatch_uid="portal of an erased student")
