from django.apps import AppConfig


class PrivacyConfig(AppConfig):
    """What is kept of students: taken out for one of them, taken away, kept no longer than the school wants."""

    name = "versomark.school.privacy"
    label = "privacy"
    default_auto_field = "django.db.models.BigAutoField"
