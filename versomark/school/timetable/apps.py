from django.apps import AppConfig


class TimetableConfig(AppConfig):
    name = "versomark.school.timetable"
    label = "timetable"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing

        from .signals import forget_address

        student_erasing.connect(forget_address)
