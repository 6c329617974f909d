from django.apps import AppConfig


class ResponsesConfig(AppConfig):
    name = "versomark.school.responses"
    label = "responses"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.delivery.signals import student_moved

        from .on_behalf import move_answers

        student_moved.connect(move_answers, dispatch_uid="answers of a student who moves")
