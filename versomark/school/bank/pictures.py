"""Pictures of the bank: read by Pillow, turned upright, sized, written anew without anything that came along."""

import warnings
from hashlib import sha256
from io import BytesIO
from pathlib import Path
from uuid import UUID

from django.conf import settings
from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from versomark.core.language import _
from versomark.school import disk, files
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from .models import Picture

MOST_BYTES = 12 * 1024 * 1024
MOST_PIXELS = 50_000_000
LONGEST_SIDE = 1600
TYPES = {"png": "image/png", "jpeg": "image/jpeg"}
_READ = ("PNG", "JPEG", "GIF", "WEBP", "BMP", "TIFF")


def folder() -> Path:
    path = Path(settings.DATA) / "pictures"
    path.mkdir(exist_ok=True)
    return path


def path_of(picture: Picture) -> Path:
    return folder() / f"{picture.pk}.{picture.format}"


@transaction.atomic
def keep_picture(teacher: Teacher, name: str, data: bytes) -> Picture:
    """A picture made safe and kept; the one already kept when it is the same again."""
    safe_copy, size, format = _made_safe(data)
    digest = sha256(safe_copy).hexdigest()
    known = Picture.objects.filter(owner=teacher, digest=digest).first()
    if known is not None and files.here(path_of(known)):
        return known
    disk.refuse_when_full()
    picture = known or Picture.objects.create(
        owner=teacher, name=name[:200], format=format, width=size[0], height=size[1], digest=digest
    )
    path_of(picture).write_bytes(safe_copy)
    files.keep(path_of(picture))
    return picture


def known_picture(teacher: Teacher, data: bytes) -> Picture | None:
    """The picture already kept of these bytes, if there is one. Keeps nothing; NotPossible for what is no picture."""
    digest = sha256(_made_safe(data)[0]).hexdigest()
    return Picture.objects.filter(owner=teacher, digest=digest).first()


def picture_of(picture_id: UUID) -> Picture:
    picture = Picture.objects.filter(pk=picture_id).first()
    if picture is None or not files.here(path_of(picture)):
        raise NotFound(_("picture"))
    return picture


def _made_safe(data: bytes) -> tuple[bytes, tuple[int, int], str]:
    if not data:
        raise DomainError(_("That file is empty."), status=422)
    if len(data) > MOST_BYTES:
        raise DomainError(_("A picture may have at most {value} MB.", value=MOST_BYTES // 2**20), status=422)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image: Image.Image = Image.open(BytesIO(data), formats=_READ)
            if image.width * image.height > MOST_PIXELS:
                raise DomainError(_("That picture has too many pixels. Save it smaller and try again."), status=422)
            image.load()
    except DomainError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError, Warning):
        raise DomainError(
            _("That file is not a picture that can be read: PNG, JPEG, GIF or WebP."), status=422
        ) from None
    # A photograph stays JPEG and a drawing PNG: what suited the picture before suits it now.
    photograph = image.format == "JPEG"
    image = ImageOps.exif_transpose(image)
    image.thumbnail((LONGEST_SIDE, LONGEST_SIDE), Image.Resampling.LANCZOS)
    out = BytesIO()
    if photograph:
        image.convert("RGB").save(out, "JPEG", quality=88, optimize=True)
        return out.getvalue(), image.size, "jpeg"
    image.convert("RGBA" if "A" in image.getbands() or "transparency" in image.info else "RGB").save(
        out, "PNG", optimize=True
    )
    return out.getvalue(), image.size, "png"
