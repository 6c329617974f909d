"""The accounts of a school, as an administrator looks after them."""

from typing import NamedTuple

from django.conf import settings
from django.core.mail import EmailMessage
from django.db import transaction
from django.db.models import Max, QuerySet

from versomark.core.language import _, in_language
from versomark.school.errors import DomainError, NotFound

from . import passkeys, second_factor, security_log, sign_ins
from .codes import make_code, use_code
from .models import CodeKind, Role, Teacher
from .passwords import good_password
from .security_log import Kind
from .signals import work_handed_over


class Invitation(NamedTuple):
    """code: to be told to them once. mailed: whether it went to them by mail."""

    teacher: Teacher
    code: str
    mailed: bool


def must_be_admin(teacher: Teacher) -> None:
    if not teacher.is_admin:
        raise DomainError(_("Accounts are looked after by an administrator of the school."), status=403)


def people_of(admin: Teacher) -> QuerySet[Teacher]:
    """Everybody with an account, by name, with when they were seen last."""
    must_be_admin(admin)
    return Teacher.objects.filter(school=admin.school).annotate(seen_at=Max("sign_ins__seen_at")).order_by("name", "pk")


def person_of(admin: Teacher, teacher_id: int) -> Teacher:
    person = people_of(admin).filter(pk=teacher_id).first()
    if person is None:
        raise NotFound(_("account"))
    return person


def admins_of(teacher: Teacher) -> list[str]:
    """Names of who can help with an account."""
    who = Teacher.objects.filter(school=teacher.school, role=Role.ADMIN, is_active=True)
    return list(who.order_by("name").values_list("name", flat=True))


@transaction.atomic
def invite(admin: Teacher, name: str, username: str, email: str = "", role: str = Role.TEACHER) -> Invitation:
    """An account that waits for its first password."""
    must_be_admin(admin)
    username = username.strip().casefold()
    if Teacher.objects.filter(username=username).exists():
        raise DomainError(_("Someone signs in as {username} already. Choose another name.", username=username))
    if email and Teacher.objects.filter(email__iexact=email).exists():
        raise DomainError(_("Somebody else here uses that address."), status=422)
    person = Teacher(school=admin.school, name=name.strip(), username=username, email=email, role=Role(role))
    person.set_unusable_password()
    person.save()
    security_log.note(Kind.INVITED, admin, security_log.about(person), person.role)
    code = make_code(person, CodeKind.INVITATION)
    return Invitation(person, code, _mail_code(person, code))


@transaction.atomic
def new_code(admin: Teacher, teacher_id: int) -> Invitation:
    """A way back for somebody who cannot sign in: one code, for a day. Their second factor goes with it."""
    person = person_of(admin, teacher_id)
    if not person.is_active:
        raise DomainError(_("{name}’s account is deactivated. Restore it first.", name=person.name))
    invited = not person.has_usable_password()
    code = make_code(person, CodeKind.INVITATION if invited else CodeKind.RECOVERY)
    second_factor.take_away(person, admin)
    passkeys.take_all_away(person, admin)
    security_log.note(Kind.CODE_MADE, admin, security_log.about(person))
    return Invitation(person, code, _mail_code(person, code))


@transaction.atomic
def set_password_by_code(username: str, code: str, password: str) -> Teacher:
    """A first password, or a new one; whoever was signed in as them is so no more."""
    person = use_code(username, code)
    good_password(password, person)
    person.set_password(password)
    person.save(update_fields=["password"])
    sign_ins.end_all(person, person)
    security_log.note(Kind.PASSWORD_CHANGED, person, security_log.about(person))
    return person


@transaction.atomic
def ask_for_code(username: str) -> None:
    """By mail, where there is an address and a mail server. What is said to whoever asks never tells which."""
    person = Teacher.objects.filter(username=username.strip().casefold(), is_active=True).first()
    if person is not None and person.email and settings.EMAIL_HOST:
        _mail_code(person, make_code(person, CodeKind.RECOVERY))
        security_log.note(Kind.CODE_MADE, person, security_log.about(person), "mail")


@transaction.atomic
def change_role(admin: Teacher, teacher_id: int, role: str) -> Teacher:
    person = person_of(admin, teacher_id)
    if person.role != role:
        if role != Role.ADMIN:
            _one_admin_stays(person)
        person.role = Role(role)
        person.save(update_fields=["role"])
        security_log.note(Kind.ROLE_CHANGED, admin, security_log.about(person), role)
    return person


@transaction.atomic
def deactivate(admin: Teacher, teacher_id: int, hand_to: int | None) -> Teacher:
    """They sign in no more, here and now; what is theirs stays, or goes to a colleague. Marks and notes keep the name
    of who gave them."""
    person = person_of(admin, teacher_id)
    _one_admin_stays(person)
    if hand_to is not None:
        colleague = person_of(admin, hand_to)
        if colleague.pk == person.pk or not colleague.is_active:
            raise DomainError(_("Choose a colleague with an active account."), status=422)
        work_handed_over.send(Teacher, owner=person, to=colleague)
        security_log.note(Kind.HANDED_OVER, admin, security_log.about(person), security_log.about(colleague))
    person.is_active = False
    person.save(update_fields=["is_active"])
    person.codes.filter(used_at=None).delete()
    sign_ins.end_all(person, admin)
    security_log.note(Kind.DEACTIVATED, admin, security_log.about(person))
    return person


@transaction.atomic
def restore(admin: Teacher, teacher_id: int) -> Teacher:
    person = person_of(admin, teacher_id)
    if not person.is_active:
        person.is_active = True
        person.save(update_fields=["is_active"])
        security_log.note(Kind.RESTORED, admin, security_log.about(person))
    return person


def _one_admin_stays(person: Teacher) -> None:
    others = Teacher.objects.filter(school=person.school, role=Role.ADMIN, is_active=True).exclude(pk=person.pk)
    if person.is_admin and not others.exists():
        raise DomainError(_("{name} is the only administrator. Make somebody else one first.", name=person.name))


def _mail_code(person: Teacher, code: str) -> bool:
    if not person.email or not settings.EMAIL_HOST:
        return False
    with in_language(person.language or person.school.language):
        letter = EmailMessage(
            _("Your code for Verso Mark"),
            _(
                "{name},\n\nwith this code you choose your password:\n\n{code}\n\n{address}/with-code\n\n"
                "You sign in as {username}. Nobody will ask you for the code by telephone or mail.\n",
                name=person.name,
                code=code,
                address=settings.ADDRESS,
                username=person.username,
            ),
            to=[person.email],
        )
    transaction.on_commit(lambda: letter.send(fail_silently=True))
    return True
