from django.conf import settings
from django.contrib.auth import login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router

from versomark.school import disk
from versomark.school.addresses import address_for_students
from versomark.school.http import Done, teacher_of

from . import languages, passkeys, services
from .known_devices import know
from .models import Teacher
from .schemas import (
    Colleague,
    FirstAccount,
    Languages,
    Me,
    NewEmail,
    NewPassword,
    PasskeyAnswer,
    PasskeyAsked,
    SignIn,
)
from .sign_ins import SHARED

router = Router(tags=["accounts"])


def _me(request: HttpRequest, teacher: Teacher) -> Me:
    school = teacher.school
    return Me(
        empty=False,
        id=teacher.pk,
        name=teacher.name,
        school=school.name,
        email=teacher.email,
        demo=school.is_demo,
        address=address_for_students(request) or "",
        language=teacher.language,
        school_language=school.language,
        is_admin=teacher.is_admin,
        has_second_factor=bool(teacher.second_factor),
        mails=bool(settings.EMAIL_HOST),
        disk=disk.left().state,
    )


@router.get("/me", auth=None, response=Me)
def me(request: HttpRequest) -> Me:
    get_token(request)
    return _me(request, teacher_of(request)) if request.user.is_authenticated else _nobody()


def _nobody() -> Me:
    return Me(empty=services.is_empty(), mails=bool(settings.EMAIL_HOST))


@router.post("/first-account", auth=None, response=Me)
def first_account(request: HttpRequest, response: HttpResponse, body: FirstAccount) -> Me:
    teacher = services.make_first_account(body.school, body.name, body.username, body.password, body.code)
    login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
    know(request, response, teacher.username)
    return _me(request, teacher)


@router.post("/sign-in", auth=None, response=Me)
def sign_in(request: HttpRequest, response: HttpResponse, body: SignIn) -> Me:
    teacher = services.check_password(request, body.username, body.password, body.figures)
    return _sign_in(request, response, teacher, body.is_shared)


@router.post("/sign-in/passkey/offer", auth=None, response=PasskeyAsked)
def offer_sign_in(request: HttpRequest) -> PasskeyAsked:
    return PasskeyAsked(options=passkeys.offer_sign_in(request))


@router.post("/sign-in/passkey", auth=None, response=Me)
def sign_in_with_passkey(request: HttpRequest, response: HttpResponse, body: PasskeyAnswer) -> Me:
    return _sign_in(request, response, passkeys.check(request, body.response), body.is_shared)


def _sign_in(request: HttpRequest, response: HttpResponse, teacher: Teacher, is_shared: bool) -> Me:
    setattr(request, SHARED, is_shared)
    login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
    know(request, response, teacher.username)
    if teacher.language:
        languages.choose(response, teacher.language)
    return _me(request, teacher)


@router.post("/sign-out", response=Done)
def sign_out(request: HttpRequest) -> Done:
    logout(request)
    return Done()


@router.get("/colleagues", response=list[Colleague])
def colleagues(request: HttpRequest) -> list[Colleague]:
    result = services.colleagues_of(teacher_of(request))
    return [Colleague(id=teacher.pk, name=teacher.name, username=teacher.username) for teacher in result]


@router.put("/me/email", response=Me)
def change_email(request: HttpRequest, body: NewEmail) -> Me:
    return _me(request, services.change_email(teacher_of(request), body.email))


@router.put("/me/languages", response=Me)
def change_languages(request: HttpRequest, response: HttpResponse, body: Languages) -> Me:
    teacher = services.change_languages(teacher_of(request), body.own, body.school)
    languages.choose(response, teacher.language)
    languages.tell_the_schools(response, teacher.school.language)
    return _me(request, teacher)


@router.put("/me/password", response=Done)
def change_password(request: HttpRequest, body: NewPassword) -> Done:
    teacher = teacher_of(request)
    services.change_password(teacher, body.now, body.new)
    login(request, teacher, backend="django.contrib.auth.backends.ModelBackend")
    return Done()
