from django.apps import AppConfig


class ResponsesConfig(AppConfig):
    name = "versomark.school.responses"
    label = "responses"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing, student_exporting
        from versomark.school.delivery.signals import sitting_deleting

        from .erasing import delete_with, erase, files_of

        student_erasing.connect(erase, dispatch_uid="responses of an erased student")
        student_exporting.connect(files_of, dispatch_uid="files of a student")
        sitting_deleting.connect(delete_with, dispatch_uid="files of a sitting")

        from versomark.school.delivery.signals import student_moved

        from .on_behalf import move_answers

        student_moved.connect(move_answers, dispatch_uid="answers of a student who moves")
