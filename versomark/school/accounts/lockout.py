"""What the sign-in page hears after too many wrong passwords."""

from typing import Any

from django.http import HttpRequest, JsonResponse

TOO_MANY = "Too many wrong tries. Wait three minutes, then try again."


def locked_out(request: HttpRequest, *args: Any, **kwargs: Any) -> JsonResponse:
    return JsonResponse({"says": TOO_MANY, "problems": []}, status=429)
