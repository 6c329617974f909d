"""Files in an object store beside the folder, by way of boto3 and a store of our own on this machine: machines that
share no folder see the same files, and nothing is acknowledged that the store has not."""

import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import Staffroom
from versomark.school import files
from versomark.site import settings as site
from versomark.stand_ins.object_store import ObjectStore


@pytest.fixture
def store(settings: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[ObjectStore]:
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "any")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "any")
    monkeypatch.setenv("AWS_MAX_ATTEMPTS", "1")
    served = ObjectStore()
    settings.DATA = tmp_path / "first"
    settings.DATA.mkdir()
    settings.FILES_STORE = "s3://school/below"
    settings.STORAGES = {**settings.STORAGES, "files": site.object_store("s3://school/below", served.address)}
    yield served
    served.close()


def picture() -> SimpleUploadedFile:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "teal").save(out, "PNG")
    return SimpleUploadedFile("p.png", out.getvalue())


@pytest.mark.django_db
def test_another_machine_shows_what_this_one_was_given(school: Staffroom, store: ObjectStore, settings: Any) -> None:
    reply = school.client.post("/api/v1/pictures", {"file": picture()})
    assert reply.status_code == 200
    address = reply.json()["address"]
    shown = b"".join(school.client.get(address).streaming_content)
    assert [name.startswith("school/below/pictures/") for name in store.objects] == [True]
    # A second machine, with an empty folder of its own.
    settings.DATA = settings.DATA.with_name("second")
    settings.DATA.mkdir()
    assert b"".join(school.client.get(address).streaming_content) == shown
    # What was taken away is away for both.
    files.remove_folder(settings.DATA / "pictures")
    assert store.objects == {}


@pytest.mark.django_db
def test_what_the_store_does_not_take_is_not_acknowledged(school: Staffroom, store: ObjectStore) -> None:
    store.away = True
    school.client.raise_request_exception = False
    assert school.client.post("/api/v1/pictures", {"file": picture()}).status_code >= 500
    store.away = False
    reply = school.client.post("/api/v1/pictures", {"file": picture()})
    assert reply.status_code == 200
    assert len(store.objects) == 1


def test_a_back_up_has_what_only_the_store_has(store: ObjectStore, settings: Any) -> None:
    made = {"handed_in/3/a b.txt": b"", "materials/ü": b"two", "paper/scans/x/pages/1.jpg": b"three" * 9000}
    for name, data in made.items():
        path = settings.DATA / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        files.keep(path)
    settings.DATA = settings.DATA.with_name("second")
    settings.DATA.mkdir()
    assert files.fetch_everything() == 3
    assert {name: (settings.DATA / name).read_bytes() for name in made} == made
    assert files.fetch_everything() == 0
    assert not files.here(settings.DATA / "materials" / "none")


@given(
    st.dictionaries(st.text("ab/é ", min_size=1, max_size=9), st.binary(max_size=9), max_size=9),
    st.text("ab/", max_size=3),
)
def test_a_list_of_the_store_has_each_key_once(kept: dict[str, bytes], prefix: str) -> None:
    store = object.__new__(ObjectStore)
    store.objects = {f"b/{name}": data for name, data in kept.items()}
    whole = store.listing("b", prefix, "")
    assert whole.count("<Key>") == sum(name.startswith(prefix) for name in kept)
    parted = store.listing("b", prefix, "/")
    assert parted.count("<Key>") == sum(name.startswith(prefix) and "/" not in name[len(prefix) :] for name in kept)
