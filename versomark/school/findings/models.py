from django.db import models


class KeptAnalysis(models.Model):
    """An analysis kept under a hash of all it was computed from. Never edited: other input has another hash."""

    fingerprint = models.CharField(max_length=64, primary_key=True)
    body = models.JSONField()
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.fingerprint
