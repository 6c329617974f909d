"""The one address that is not JSON: a picture of the bank."""

from uuid import UUID

from django.http import FileResponse, Http404, HttpRequest

from versomark.school.errors import NotFound

from .pictures import TYPES, path_of, picture_of


def picture(request: HttpRequest, picture_id: UUID) -> FileResponse:
    """Its id cannot be guessed, so whoever was given a question can see its picture, student or teacher."""
    try:
        result = picture_of(picture_id)
    except NotFound:
        raise Http404 from None
    response = FileResponse(path_of(result).open("rb"), content_type=TYPES[result.format])
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    response.headers["X-Content-Type-Options"] = "nosniff"
    return response
