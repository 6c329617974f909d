from django.apps import AppConfig


class EditionsConfig(AppConfig):
    name = "versomark.school.editions"
    label = "editions"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.accounts.signals import work_handed_over
        from versomark.school.bank.signals import skill_renamed

        from .handing_over import hand_over
        from .skill_names import follow

        work_handed_over.connect(hand_over, dispatch_uid="editions handed over")
        skill_renamed.connect(follow, dispatch_uid="skills named in tests")
