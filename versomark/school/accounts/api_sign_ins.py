"""One's own sign-ins and second factor."""

from django.http import HttpRequest
from ninja import Router

from versomark.school.http import Done, teacher_of

from . import passkeys, second_factor, sign_ins
from .schemas import (
    FactorBody,
    FactorOffer,
    PasskeyAnswer,
    PasskeyAsked,
    PasskeyLine,
    PasswordBody,
    SignInLine,
    SpareCodes,
)

router = Router(tags=["accounts"])


@router.get("/me/sign-ins", response=list[SignInLine])
def list_sign_ins(request: HttpRequest) -> list[SignInLine]:
    return [
        SignInLine(
            id=entry.pk,
            device=entry.device,
            is_shared=entry.is_shared,
            began_at=entry.began_at,
            seen_at=entry.seen_at,
            is_this=entry.session_key == request.session.session_key,
        )
        for entry in sign_ins.sign_ins_of(teacher_of(request))
    ]


@router.delete("/me/sign-ins/{int:entry_id}", response=list[SignInLine])
def end_sign_in(request: HttpRequest, entry_id: int) -> list[SignInLine]:
    sign_ins.end(teacher_of(request), entry_id)
    return list_sign_ins(request)


@router.delete("/me/sign-ins", response=list[SignInLine])
def end_the_others(request: HttpRequest) -> list[SignInLine]:
    """All but this one."""
    teacher = teacher_of(request)
    sign_ins.end_all(teacher, teacher, but=request.session.session_key)
    return list_sign_ins(request)


@router.get("/me/passkeys", response=list[PasskeyLine])
def list_passkeys(request: HttpRequest) -> list[PasskeyLine]:
    return [
        PasskeyLine(id=passkey.pk, device=passkey.device, made_at=passkey.made_at, used_at=passkey.used_at)
        for passkey in teacher_of(request).passkeys.all()
    ]


@router.post("/me/passkeys/offer", response=PasskeyAsked)
def offer_passkey(request: HttpRequest) -> PasskeyAsked:
    """What the browser needs to make one; nothing is kept until it did."""
    return PasskeyAsked(options=passkeys.offer_new(request, teacher_of(request)))


@router.post("/me/passkeys", response=list[PasskeyLine])
def keep_passkey(request: HttpRequest, body: PasskeyAnswer) -> list[PasskeyLine]:
    passkeys.keep(request, teacher_of(request), body.response)
    return list_passkeys(request)


@router.delete("/me/passkeys/{int:passkey_id}", response=list[PasskeyLine])
def remove_passkey(request: HttpRequest, passkey_id: int) -> list[PasskeyLine]:
    passkeys.remove(teacher_of(request), passkey_id)
    return list_passkeys(request)


@router.get("/me/second-factor", response=FactorOffer)
def offer_factor(request: HttpRequest) -> FactorOffer:
    """What an authenticator needs; nothing is kept until its figures were typed."""
    offer = second_factor.new_factor(teacher_of(request))
    return FactorOffer(secret=offer.secret, picture=offer.picture)


@router.put("/me/second-factor", response=SpareCodes)
def turn_factor_on(request: HttpRequest, body: FactorBody) -> SpareCodes:
    return SpareCodes(codes=second_factor.turn_on(teacher_of(request), body.secret, body.figures))


@router.delete("/me/second-factor", response=Done)
def turn_factor_off(request: HttpRequest, body: PasswordBody) -> Done:
    second_factor.turn_off(teacher_of(request), body.password)
    return Done()
