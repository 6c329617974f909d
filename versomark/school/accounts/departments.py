"""Departments: colleagues who teach the same and share questions. An administrator says who belongs to which; whoever
belongs decides what of their own is shared."""

from collections.abc import Sequence

from django.db import transaction
from django.db.models import QuerySet

from versomark.core.language import _
from versomark.school.errors import DomainError, NotFound

from .models import Department, Teacher
from .people import must_be_admin


def departments_of_school(admin: Teacher) -> QuerySet[Department]:
    """All of them, for an administrator."""
    must_be_admin(admin)
    return Department.objects.filter(school=admin.school).prefetch_related("members")


def departments_of(teacher: Teacher) -> QuerySet[Department]:
    """Those that a teacher belongs to."""
    return teacher.departments.all()


def department_of(teacher: Teacher, department_id: int) -> Department:
    """One that the teacher belongs to."""
    department = departments_of(teacher).filter(pk=department_id).first()
    if department is None:
        raise NotFound(_("department of yours"))
    return department


@transaction.atomic
def keep_department(admin: Teacher, name: str, members: Sequence[int], department_id: int | None = None) -> Department:
    """A new one, or one with another name or other members. Refused where another is called so."""
    known = departments_of_school(admin)
    department = known.filter(pk=department_id).first() if department_id else Department(school=admin.school)
    if department is None:
        raise NotFound(_("department"))
    name = " ".join(name.split())
    if not name:
        raise DomainError(_("A department needs a name."), status=422)
    if known.filter(name__iexact=name).exclude(pk=department.pk).exists():
        raise DomainError(_("There is a department called {name} already.", name=name))
    teachers = Teacher.objects.filter(school=admin.school, is_active=True, pk__in=members)
    if len(teachers) != len(set(members)):
        raise NotFound(_("account"))
    department.name = name
    department.save()
    department.members.set(teachers)
    return department


@transaction.atomic
def remove_department(admin: Teacher, department_id: int) -> None:
    """What was shared with it is shared with nobody; all of it stays with whom it belongs to."""
    if not departments_of_school(admin).filter(pk=department_id).delete()[0]:
        raise NotFound(_("department"))
