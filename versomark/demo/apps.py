from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "versomark.demo"
    label = "demo"
