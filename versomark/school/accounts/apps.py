from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_in, user_logged_out


class AccountsConfig(AppConfig):
    name = "versomark.school.accounts"
    label = "accounts"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from .sign_ins import forget_sign_in, keep_sign_in

        user_logged_in.connect(keep_sign_in, dispatch_uid="sign-ins that hold")
        user_logged_out.connect(forget_sign_in, dispatch_uid="sign-ins that are over")
