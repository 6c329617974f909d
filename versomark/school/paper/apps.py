from django.apps import AppConfig


class PaperConfig(AppConfig):
    name = "versomark.school.paper"
    label = "paper"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.signals import student_erasing, student_exporting
        from versomark.school.delivery.signals import sitting_deleting

        from .erasing import delete_with, erase, pictures_of

        student_erasing.connect(erase, dispatch_uid="sheets of an erased student")
        student_exporting.connect(pictures_of, dispatch_uid="sheets of a student")
        sitting_deleting.connect(delete_with, dispatch_uid="sheets of a sitting")

        from versomark.school.accounts.signals import work_handed_over

        from .handing_over import hand_over

        work_handed_over.connect(hand_over, dispatch_uid="paper handed over")
