"""Signing in, and the first account of an empty school."""

from django.contrib.auth import authenticate
from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest

from versomark.core.language import N_, _
from versomark.school import guesses
from versomark.school.errors import DomainError

from . import second_factor, security_log, sign_ins
from .first_code import forget_first_code, is_first_code
from .known_devices import is_known
from .models import Role, School, Teacher
from .passwords import good_password
from .security_log import Kind

MOST_CODES = 30


TOO_MANY_NAMES = N_(
    "From here many names have been tried. Wait ten minutes, or sign in where you have signed in before."
)


def is_empty() -> bool:
    return not Teacher.objects.exists()


@transaction.atomic
def make_first_account(school: str, name: str, username: str, password: str, code: str) -> Teacher:
    """The account that an empty school starts with. Refused once there is any teacher, and to whoever does not know
    the code that was printed when the service started."""
    if not is_empty():
        raise DomainError(_("This school has a teacher already. Sign in, or ask the teacher who set it up."))
    if guesses.counted("first account", "") >= MOST_CODES:
        raise DomainError(_("Too many wrong codes. Wait ten minutes."), status=429)
    if not is_first_code(code):
        guesses.count("first account", "")
        raise DomainError(
            _("That is not the code. It stands where the service was started, below its address."), status=403
        )
    good_password(password, Teacher(name=name, username=username))
    transaction.on_commit(forget_first_code)
    # Whoever sets a school up looks after it.
    return Teacher.objects.create_teacher(
        School.objects.create(name=school.strip()), name.strip(), username.strip().casefold(), password, Role.ADMIN
    )


def check_password(request: HttpRequest, username: str, password: str, figures: str = "") -> Teacher:
    """The teacher with this name and password, and the figures of a second factor where there is one; DomainError after
    a wrong one.

    After too many, django-axes answers in our place, in the words of `known_devices.py`.
    """
    name = username.strip().casefold()
    request.axes_username = name  # type: ignore[attr-defined]
    address = str(request.META.get("REMOTE_ADDR", ""))
    if guesses.failed_names(address) >= guesses.NAMES_FROM_ONE_ADDRESS and not is_known(request, name):
        raise DomainError(_(TOO_MANY_NAMES), status=429)
    teacher = authenticate(request, username=name, password=password)
    if isinstance(teacher, Teacher):
        second_factor.check(teacher, figures)
        return teacher
    guesses.note_failed_name(address, name)
    known = Teacher.objects.filter(username=name).first()
    subject, school = (security_log.about(known), known.school_id) if known else ("", None)
    security_log.note(Kind.SIGN_IN_FAILED, None, subject, school_id=school)
    raise DomainError(_("That name and password do not belong together."), status=401)


def colleagues_of(teacher: Teacher) -> QuerySet[Teacher]:
    """The other teachers of the school, by name."""
    return Teacher.objects.filter(school=teacher.school, is_active=True).exclude(pk=teacher.pk).order_by("name")


@transaction.atomic
def change_password(teacher: Teacher, now: str, new: str) -> None:
    if not teacher.check_password(now):
        raise DomainError(_("That is not your password now."), status=422)
    good_password(new, teacher)
    teacher.set_password(new)
    teacher.save(update_fields=["password"])
    sign_ins.end_all(teacher, teacher)
    security_log.note(Kind.PASSWORD_CHANGED, teacher, security_log.about(teacher))


@transaction.atomic
def change_email(teacher: Teacher, email: str) -> Teacher:
    """The address scans are taken from and answered to; empty for none. An address belongs to one teacher."""
    if email and Teacher.objects.filter(email__iexact=email).exclude(pk=teacher.pk).exists():
        raise DomainError(_("Somebody else here uses that address."), status=422)
    teacher.email = email
    teacher.save(update_fields=["email"])
    return teacher


def change_languages(teacher: Teacher, own: str, school: str) -> Teacher:
    """Of this teacher's pages, and of the whole school's."""
    teacher.language, teacher.school.language = own, school
    teacher.save(update_fields=["language"])
    teacher.school.save(update_fields=["language"])
    return teacher
