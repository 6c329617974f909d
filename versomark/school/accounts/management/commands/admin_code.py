"""A code for an administrator who cannot sign in, made by whoever has the machine: it chooses a new password, once."""

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from versomark.school.accounts import security_log
from versomark.school.accounts.codes import make_code
from versomark.school.accounts.models import CodeKind, Role, Teacher
from versomark.school.accounts.security_log import Kind


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        person = Teacher.objects.filter(username=options["username"].strip().casefold()).first()
        if person is None:
            names = ", ".join(Teacher.objects.filter(role=Role.ADMIN).values_list("username", flat=True))
            raise CommandError(f"Nobody signs in under that name. Administrators are: {names or 'none'}.")
        # Who has the machine has everything: this brings back a school whose only administrator is gone.
        person.role, person.is_active, person.second_factor = Role.ADMIN, True, ""
        person.save(update_fields=["role", "is_active", "second_factor"])
        code = make_code(person, CodeKind.RECOVERY)
        security_log.note(Kind.CODE_MADE, None, security_log.about(person), "on the machine", person.school_id)
        self.stdout.write(f"{code}\n{person.name} is an administrator, and chooses a password with it at …/with-code.")
