"""Accounts as an administrator looks after them, ways back into one's own, and the security log."""

from django.contrib.auth import login
from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.school.http import Done, teacher_of

from . import departments, people, security_log
from .known_devices import know
from .models import Teacher
from .schemas import (
    CodeBody,
    Colleague,
    DeactivateBody,
    DepartmentBody,
    DepartmentLine,
    NewPerson,
    OwnDepartment,
    PersonLine,
    PersonWithCode,
    RoleBody,
    SecurityEventLine,
    UsernameBody,
)

router = Router(tags=["people"])


def _line(person: Teacher) -> PersonLine:
    return PersonLine(
        id=person.pk,
        name=person.name,
        username=person.username,
        email=person.email,
        role="admin" if person.is_admin else "teacher",
        is_active=person.is_active,
        is_invited=not person.has_usable_password(),
        has_second_factor=bool(person.second_factor),
        seen_at=getattr(person, "seen_at", None),
    )


def _with_code(invitation: people.Invitation) -> PersonWithCode:
    return PersonWithCode(person=_line(invitation.teacher), code=invitation.code, mailed=invitation.mailed)


@router.get("/people", response=list[PersonLine])
def list_people(request: HttpRequest) -> list[PersonLine]:
    return [_line(person) for person in people.people_of(teacher_of(request))]


@router.get("/admins", response=list[str])
def list_admins(request: HttpRequest) -> list[str]:
    """Who can help with an account."""
    return people.admins_of(teacher_of(request))


def _departments(admin: Teacher) -> list[DepartmentLine]:
    return [
        DepartmentLine(
            id=department.pk,
            name=department.name,
            members=[
                Colleague(id=person.pk, name=person.name, username=person.username)
                for person in sorted(department.members.all(), key=lambda person: person.name.casefold())
                if person.is_active
            ],
        )
        for department in departments.departments_of_school(admin)
    ]


@router.get("/departments", response=list[DepartmentLine])
def list_departments(request: HttpRequest) -> list[DepartmentLine]:
    return _departments(teacher_of(request))


@router.get("/me/departments", response=list[OwnDepartment])
def own_departments(request: HttpRequest) -> list[OwnDepartment]:
    """Those that one belongs to."""
    return [
        OwnDepartment(id=department.pk, name=department.name)
        for department in departments.departments_of(teacher_of(request))
    ]


@router.post("/departments", response=list[DepartmentLine])
def make_department(request: HttpRequest, body: DepartmentBody) -> list[DepartmentLine]:
    departments.keep_department(teacher_of(request), body.name, body.members)
    return _departments(teacher_of(request))


@router.put("/departments/{int:department_id}", response=list[DepartmentLine])
def keep_department(request: HttpRequest, department_id: int, body: DepartmentBody) -> list[DepartmentLine]:
    departments.keep_department(teacher_of(request), body.name, body.members, department_id)
    return _departments(teacher_of(request))


@router.delete("/departments/{int:department_id}", response=list[DepartmentLine])
def remove_department(request: HttpRequest, department_id: int) -> list[DepartmentLine]:
    departments.remove_department(teacher_of(request), department_id)
    return _departments(teacher_of(request))


@router.post("/people", response=PersonWithCode)
def invite(request: HttpRequest, body: NewPerson) -> PersonWithCode:
    return _with_code(people.invite(teacher_of(request), body.name, body.username, body.email, body.role))


@router.post("/people/{int:person_id}/code", response=PersonWithCode)
def new_code(request: HttpRequest, person_id: int) -> PersonWithCode:
    """For somebody who cannot sign in."""
    return _with_code(people.new_code(teacher_of(request), person_id))


@router.put("/people/{int:person_id}/role", response=PersonLine)
def change_role(request: HttpRequest, person_id: int, body: RoleBody) -> PersonLine:
    return _line(people.change_role(teacher_of(request), person_id, body.role))


@router.post("/people/{int:person_id}/deactivate", response=PersonLine)
def deactivate(request: HttpRequest, person_id: int, body: DeactivateBody) -> PersonLine:
    return _line(people.deactivate(teacher_of(request), person_id, body.hand_to))


@router.post("/people/{int:person_id}/restore", response=PersonLine)
def restore(request: HttpRequest, person_id: int) -> PersonLine:
    return _line(people.restore(teacher_of(request), person_id))


@router.post("/with-code", auth=None, response=Done)
def set_password_by_code(request: HttpRequest, response: HttpResponse, body: CodeBody) -> Done:
    """A first password, or a new one; it signs in."""
    person = people.set_password_by_code(body.username, body.code, body.password)
    login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    know(request, response, person.username)
    return Done()


@router.post("/forgotten", auth=None, response=Done)
def ask_for_code(request: HttpRequest, body: UsernameBody) -> Done:
    """The same answer whether there is such a name or not."""
    people.ask_for_code(body.username)
    return Done()


@router.get("/security-log", response=list[SecurityEventLine])
def events(request: HttpRequest, before: int | None = None, kinds: str = "") -> list[SecurityEventLine]:
    """A hundred rows, newest first; before: the row to go on from. kinds: joined by commas."""
    admin = teacher_of(request)
    people.must_be_admin(admin)
    names = security_log.names_in(admin)
    return [
        SecurityEventLine(
            id=event.pk,
            at=event.at,
            kind=event.kind,
            actor=event.actor.name if event.actor else "",
            subject=event.subject,
            about=names.get(event.subject, ""),
            detail=event.detail,
        )
        for event in security_log.events_in(admin, before, kinds.split(","))
    ]
