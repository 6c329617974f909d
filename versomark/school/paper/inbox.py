"""Scans that come by themselves: a watched folder, and a mailbox (a folder of .eml files, or a mail server's)."""

import email.policy
import imaplib
import logging
from collections.abc import Iterator
from dataclasses import dataclass
from email import message_from_bytes
from email.message import EmailMessage as Message
from email.utils import parseaddr
from pathlib import Path

from django.conf import settings
from django.core.mail import EmailMessage

from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError

from .models import Source
from .scanning import take_scan

log = logging.getLogger(__name__)
ENDINGS = (".pdf", ".tif", ".tiff", ".png", ".jpg", ".jpeg")
MOST_FILES = 50
"""Of one mail."""


def folder() -> Path:
    """Where copiers save: a folder a teacher, named as the teacher signs in."""
    return Path(settings.SCANS_FOLDER)


def folder_of(teacher: Teacher) -> Path:
    # A name that begins with a dot could lead out of the folder.
    safe = teacher.username if not teacher.username.startswith(".") else f"teacher-{teacher.pk}"
    return folder() / safe


def folder_in_words(teacher: Teacher) -> str:
    """Where to point the copier: the whole path where the school chose the place, else from the data folder on."""
    place, data = folder_of(teacher), Path(settings.DATA)
    return (
        _("{relative_to} in the school's data folder", relative_to=place.relative_to(data))
        if place.is_relative_to(data)
        else str(place)
    )


class Watched:
    """Remembers how large files were when last seen: one that still grows is still being written."""

    def __init__(self) -> None:
        self._sizes: dict[Path, int] = {}

    def look(self) -> int:
        """Take in every file that has come to rest; returns how many. Taken ones are moved into `taken`."""
        taken = 0
        for teacher in Teacher.objects.filter(is_active=True):
            for path in self._rested(folder_of(teacher)):
                taken += self._take(teacher, path)
        return taken

    def _rested(self, place: Path) -> Iterator[Path]:
        place.mkdir(parents=True, exist_ok=True)
        for path in sorted(place.iterdir()):
            if path.is_symlink() or not path.is_file() or path.name.startswith("."):
                continue
            size = path.stat().st_size
            if self._sizes.get(path) == size:
                yield path
            self._sizes[path] = size

    def _take(self, teacher: Teacher, path: Path) -> bool:
        try:
            with path.open("rb") as file:
                take_scan(teacher, path.name, iter(lambda: file.read(1 << 20), b""), Source.FOLDER)
        except DomainError as error:
            _put_away(path, "not taken").with_suffix(".txt").write_text(error.message + "\n", encoding="utf-8")
            return False
        except OSError:
            log.exception("a scan in the watched folder could not be opened")
            return False
        finally:
            self._sizes.pop(path, None)
        _put_away(path, "taken")
        return True


def _put_away(path: Path, where: str) -> Path:
    place = path.parent / where
    place.mkdir(exist_ok=True)
    free = next(
        name
        for name in (place / f"{path.stem}{f' {at}' if at else ''}{path.suffix}" for at in range(100_000))
        if not name.exists()
    )
    return path.rename(free)


def take_mail(raw: bytes) -> int:
    """Take in the scans attached to a mail from a teacher; returns how many. Others get no answer."""
    message = message_from_bytes(raw, policy=email.policy.default)
    assert isinstance(message, Message)
    address = parseaddr(str(message.get("From", "")))[1].casefold()
    teacher = Teacher.objects.filter(email__iexact=address, is_active=True).first() if address else None
    if teacher is None:
        log.warning("a mail from nobody we know was laid aside")
        return 0
    files = [part for part in message.iter_attachments() if _is_scan(part)]
    if not files:
        says = _("There was no PDF or picture with your mail, so nothing was read.")
        EmailMessage(_("Nothing to read"), says + "\n", to=[address]).send()
        return 0
    for part in files[:MOST_FILES]:
        content = part.get_content()
        data = content if isinstance(content, bytes) else str(content).encode()
        take_scan(teacher, part.get_filename() or "scan.pdf", [data], Source.MAIL, address)
    return len(files[:MOST_FILES])


def _is_scan(part: Message) -> bool:
    # By name or by what it says it is; what it really is shows when it is opened, and then the sender is told.
    name = (part.get_filename() or "").casefold()
    return name.endswith((*ENDINGS, ".zip")) or part.get_content_type() in ("application/pdf", "image/tiff")


def look_in_mail_folder() -> int:
    """The stand-in for a mail server: every .eml file in a folder is a mail that came."""
    place = Path(settings.MAIL_FOLDER) / "in"
    place.mkdir(parents=True, exist_ok=True)
    taken = 0
    for path in sorted(place.glob("*.eml")):
        taken += take_mail(path.read_bytes())
        _put_away(path, "seen")
    return taken


@dataclass(frozen=True)
class MailServer:
    host: str
    user: str
    password: str

    def look(self) -> int:
        """Every unseen mail of the inbox; fetching one marks it as seen."""
        taken = 0
        with imaplib.IMAP4_SSL(self.host, timeout=20) as server:
            server.login(self.user, self.password)
            server.select("INBOX")
            _rest, results = server.search(None, "UNSEEN")
            for number in (results[0] or b"").split():
                _rest, parts = server.fetch(number.decode(), "(RFC822)")
                taken += sum(take_mail(part[1]) for part in parts if isinstance(part, tuple))
        return taken


def look_in_mail() -> int:
    if settings.IMAP_HOST:
        return MailServer(settings.IMAP_HOST, settings.IMAP_USER, settings.IMAP_PASSWORD).look()
    return look_in_mail_folder()
