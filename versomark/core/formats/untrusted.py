"""Files from outside: zips with limits, XML without entities. What does not keep them is refused before it is read."""

import zipfile
from io import BytesIO
from pathlib import PurePosixPath
from xml.etree.ElementTree import Element, ParseError

from defusedxml import ElementTree, common

from versomark.core.language import _, in_figures

MOST_FILES = 5_000
MOST_UNPACKED = 200 * 1024 * 1024
MOST_ONE_FILE = 50 * 1024 * 1024
MOST_XML = 8 * 1024 * 1024


class UnreadableFileError(Exception):
    """A file that is not taken; the message says why, in words for the person who brought it."""


class SafeZip:
    """The files of a zip by their names, unpacked one at a time and only in memory.

    Raises Refused for what is no zip, has too many or too large files, is encrypted, or names a path that leaves its
    folder.
    """

    def __init__(self, data: bytes) -> None:
        try:
            self._zip = zipfile.ZipFile(BytesIO(data))
            entries = self._zip.infolist()
        except (zipfile.BadZipFile, ValueError, EOFError, NotImplementedError, UnicodeDecodeError):
            raise UnreadableFileError(_("This file is not a whole zip.")) from None
        if len(entries) > MOST_FILES:
            raise UnreadableFileError(
                _(
                    "This zip holds {count} files; at most {most_files} are read.",
                    count=in_figures(len(entries), ","),
                    most_files=in_figures(MOST_FILES, ","),
                )
            )
        self._unpacked = 0
        self.names: dict[str, zipfile.ZipInfo] = {}
        for entry in entries:
            path = PurePosixPath(entry.filename.replace("\\", "/"))
            if path.is_absolute() or ".." in path.parts or ":" in entry.filename:
                raise UnreadableFileError(
                    _("This zip names a file outside its folder ({value}).", value=entry.filename[:80])
                )
            if entry.flag_bits & 1:
                raise UnreadableFileError(_("This zip is locked with a password."))
            if not entry.is_dir():
                self.names[str(path)] = entry
        if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
            raise UnreadableFileError(_("Unpacked, this zip is larger than {value} MB.", value=MOST_UNPACKED // 2**20))

    def read(self, name: str, most: int = MOST_ONE_FILE) -> bytes:
        """One file. The sizes a zip states can lie, so what comes out is counted too."""
        entry = self.names.get(name)
        if entry is None:
            raise UnreadableFileError(_("This zip has no {name}.", name=name))
        try:
            with self._zip.open(entry) as opened:
                data = opened.read(most + 1)
        except (zipfile.BadZipFile, EOFError, ValueError, NotImplementedError, OSError, RuntimeError):
            raise UnreadableFileError(_("{name} in this zip is damaged.", name=name)) from None
        except Exception as error:  # zlib and lzma raise their own
            raise UnreadableFileError(_("{name} in this zip is damaged.", name=name)) from error
        self._unpacked += len(data)
        if len(data) > most or self._unpacked > MOST_UNPACKED:
            raise UnreadableFileError(_("{name} in this zip is too large.", name=name))
        return data


def read_xml(data: bytes, name: str = "This file") -> Element:
    """The root of an XML document without a document type, entities or references to elsewhere."""
    if len(data) > MOST_XML:
        raise UnreadableFileError(_("{name} is larger than {value} MB.", name=name, value=MOST_XML // 2**20))
    try:
        root: Element = ElementTree.fromstring(data, forbid_dtd=True)
    except common.DefusedXmlException:
        raise UnreadableFileError(_("{name} has a document type or entities, which are not read.", name=name)) from None
    except (ParseError, ValueError, LookupError, RecursionError):
        raise UnreadableFileError(_("{name} is not well-formed XML.", name=name)) from None
    _not_too_deep(root, name)
    return root


def _not_too_deep(root: Element, name: str) -> None:
    level, depth = [root], 0
    while level:
        depth += 1
        if depth > 100:
            raise UnreadableFileError(_("{name} has elements nested more than 100 deep.", name=name))
        level = [child for element in level for child in element]
