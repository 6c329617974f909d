"""Which back-ups are kept, and what a service with an encrypted address promises."""

import io
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import Staffroom
from versomark.school import disk
from versomark.upkeep.backups import BEFORE_MIGRATION, BY_HAND, NIGHTLY, KeptBackup, not_wanted

DAY = datetime(2026, 11, 29, 2, tzinfo=UTC)
HISTORIES = st.lists(
    st.tuples(st.integers(0, 800), st.integers(0, 3), st.sampled_from([NIGHTLY, NIGHTLY, BY_HAND, BEFORE_MIGRATION])),
    min_size=1,
    max_size=60,
)


@given(HISTORIES)
def test_of_any_history_the_newest_stay_and_years_fit_on_a_disk(history: list[tuple[int, int, str]]) -> None:
    entries = [
        KeptBackup(Path(f"{at}"), DAY - timedelta(days=days, hours=hours), reason, 1)
        for at, (days, hours, reason) in enumerate(history)
    ]
    gone = {entry.path for entry in not_wanted(entries)}
    stay = [entry for entry in entries if entry.path not in gone]
    for reason in (NIGHTLY, BEFORE_MIGRATION):
        ours = [entry for entry in entries if entry.reason == reason]
        if ours:
            assert max(ours, key=lambda entry: entry.made_at).made_at in {entry.made_at for entry in stay}
    assert all(entry.reason != BY_HAND for entry in entries if entry.path in gone)
    assert sum(entry.reason == NIGHTLY for entry in stay) <= 7 + 5 + 12
    assert sum(entry.reason == BEFORE_MIGRATION for entry in stay) <= 5
    # What is taken away tonight is not missed tomorrow: thinning twice is thinning once.
    assert not_wanted(stay) == []
    days = {entry.made_at.date() for entry in entries if entry.reason == NIGHTLY}
    assert set(sorted(days)[-7:]) <= {entry.made_at.date() for entry in stay}


@pytest.mark.django_db
def test_a_nearly_full_disk_takes_answers_and_no_files(school: Staffroom) -> None:
    with patch("versomark.school.disk.shutil.disk_usage") as usage:
        usage.return_value.free, usage.return_value.total = 100 * 1024**2, 10 * 1024**3
        assert disk.left().state == "full"
        drawn = io.BytesIO()
        Image.new("RGB", (8, 8), "teal").save(drawn, "PNG")

        def post() -> Any:
            return school.client.post("/api/v1/pictures", {"file": SimpleUploadedFile("a.png", drawn.getvalue())})

        reply = post()
        assert (reply.status_code, reply.json()["code"]) == (507, "disk_full")
        assert "answers and marks still are" in reply.json()["detail"]
        usage.return_value.free = 1000 * 1024**2
        assert disk.left().state == "low"
        assert post().status_code == 200


@pytest.mark.django_db
def test_an_encrypted_address_keeps_its_promises(settings: Any) -> None:
    settings.SECURE_HSTS_SECONDS, settings.SESSION_COOKIE_SECURE, settings.CSRF_COOKIE_SECURE = 3600, True, True
    settings.ALLOWED_HOSTS = ["marks.school.example"]
    client = Client(headers={"host": "marks.school.example"})
    reply = client.get("/api/v1/me", secure=True)
    assert reply.headers["Strict-Transport-Security"].startswith("max-age=3600")
    assert reply.cookies["verso_csrf"]["secure"]
    assert client.get("/api/v1/me", headers={"host": "elsewhere.example"}).status_code == 400
