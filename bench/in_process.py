"""A school of its own in this process, for what is measured through the whole of Django without a server."""

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING
from uuid import uuid4

if TYPE_CHECKING:
    from tests.conftest import Staffroom


@contextmanager
def staffroom() -> Iterator["Staffroom"]:
    """A teacher, signed in, of an empty school in a folder that goes away."""
    with tempfile.TemporaryDirectory() as data:
        # A process of its own would be cleaner; the bench as a whole is one, and touches no other school.
        os.environ["VERSO_DATA"] = data
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        from tests.conftest import PASSWORD, Staffroom
        from versomark.school.accounts.models import School, Teacher

        call_command("migrate", verbosity=0)
        teacher = Teacher.objects.create_teacher(School.objects.create(name="B"), "B", f"b{uuid4().hex}", PASSWORD)
        client = Client()
        client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
        yield Staffroom(teacher, client)
