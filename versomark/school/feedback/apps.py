from django.apps import AppConfig


class FeedbackConfig(AppConfig):
    name = "versomark.school.feedback"
    label = "feedback"
    default_auto_field = "django.db.models.BigAutoField"
