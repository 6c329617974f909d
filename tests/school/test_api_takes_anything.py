"""Whatever is sent to any operation of either API, it answers in words and never fails (Hypothesis)."""

import json
import re
from typing import Any

import pytest
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import Staffroom, devices, refs
from versomark.site.api import student_api, teacher_api

pytestmark = pytest.mark.django_db

WORDS = st.one_of(
    st.text(max_size=30),
    st.sampled_from(["<script>alert(1)</script>", "' OR 1=1 --", "\x00", "𝔘𝔫𝔦", "a" * 5000, "../../etc", "{}", "null"]),
)
LEAVES = st.one_of(WORDS, st.integers(), st.floats(), st.booleans(), st.none())
ANYTHING = st.recursive(LEAVES, lambda inner: st.lists(inner, max_size=4) | st.dictionaries(WORDS, inner, max_size=4))


def operations() -> list[tuple[str, str, dict[str, Any]]]:
    found = []
    for api, prefix in ((teacher_api, "/api/v1/"), (student_api, "/api/v1/student/")):
        described = api.get_openapi_schema(path_prefix=prefix)
        for path, methods in described["paths"].items():
            for method, operation in methods.items():
                found.append((method, path, body_schema(described, operation)))
    return found


def body_schema(described: dict[str, Any], operation: dict[str, Any]) -> dict[str, Any]:
    body = operation.get("requestBody")
    if not body:
        return {}
    if "application/json" not in body["content"]:
        return {}  # a file; tests/school/test_bank.py brings it bad ones
    schema = body["content"]["application/json"]["schema"]
    # A body that may be left out is this or nothing.
    name = schema.get("anyOf", [schema])[0]["$ref"].rsplit("/", 1)[1]
    return dict(described["components"]["schemas"][name].get("properties", {}))


ALL = operations()


@given(st.data())
@settings(max_examples=250, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_request_breaks_anything(school: Staffroom, data: st.DataObject) -> None:
    if not hasattr(school, "sitting_made"):
        school.sitting_made = school.open_sitting()  # type: ignore[attr-defined]
    sitting = school.sitting_made  # type: ignore[attr-defined]
    device = devices(sitting)[0]
    device.join()
    method, path, fields = data.draw(st.sampled_from(ALL))
    numbers = st.sampled_from([sitting.pk, sitting.school_class_id, sitting.edition.test_id, 0, 10**12, 10**30])
    filled = path.replace(
        "{item_id}", data.draw(st.sampled_from([refs(sitting)[0], "0" * 8 + "-0000-4000-8000-" + "0" * 12]))
    )
    filled = filled.replace("{step}", data.draw(st.sampled_from(["open", "pause", "close", "dance"])))
    filled = re.sub(r"\{(stimulus_id)\}", "0" * 8 + "-0000-4000-8000-" + "0" * 12, filled)
    filled = re.sub(r"\{\w+\}", lambda _: str(data.draw(numbers)), filled)
    body = data.draw(st.one_of(ANYTHING, st.fixed_dictionaries({}, optional=dict.fromkeys(fields, ANYTHING))))
    client: Client = device.client if path.startswith("/api/v1/student/") else school.client
    client.raise_request_exception = False
    arguments = (body,) if method == "get" and isinstance(body, dict) else ()
    if method == "get":
        query = {k: v for k, v in (arguments[0] if arguments else {}).items() if isinstance(v, str) and "\x00" not in k}
        reply = client.get(filled, query)
    else:
        reply = getattr(client, method)(filled, json.dumps(body), content_type="application/json")
    assert reply.status_code < 500, (method, filled, body)
    if reply.status_code >= 400 and reply["Content-Type"].startswith("application/json") and reply.status_code != 401:
        assert reply.json().get("says") or reply.json().get("detail"), (method, filled)
    if path == "/api/v1/sign-out":
        school.client.force_login(school.teacher, backend="django.contrib.auth.backends.ModelBackend")
