"""QTI content packages: a zip with a manifest, items, pictures and a test. Version 3.0 out; 2.1, 2.2 and 3.0 in."""

import io
import posixpath
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element, SubElement, tostring

from versomark.core.formats.untrusted import SafeZip, UnreadableFileError, read_xml
from versomark.core.items import ItemContent
from versomark.core.text import plain

from .losses import lost_of_test
from .names import ITEM_TYPE, NAMESPACE, PACKAGING, TEST_TYPE, all_named, attribute, kebab
from .read import ReadItem, picture_paths, read_item
from .write import XML_HEAD, sayable, unsayable, write_item

MANIFEST = "imsmanifest.xml"
MOST_ITEMS = 2_000


@dataclass(frozen=True)
class SentItem:
    """An item to send: its identifier in the package, the content, and its skills as keywords of the manifest."""

    identifier: str
    content: ItemContent
    skills: Sequence[str] = ()


@dataclass(frozen=True)
class SentSection:
    title: str
    items: Sequence[SentItem]


@dataclass(frozen=True)
class Unsent:
    """What of an item did not go along."""

    words: str
    lost: list[str]


def write_package(
    title: str, sections: Sequence[SentSection], pictures: Mapping[str, tuple[str, bytes]]
) -> tuple[bytes, list[Unsent]]:
    """The zip, and what QTI could not say item by item.

    pictures: id -> (file name, bytes), of those the items use.
    """
    paths = {id: f"pictures/{name}" for id, (name, _) in pictures.items()}
    out, unsent, written = io.BytesIO(), list[Unsent](), list[tuple[SentSection, list[SentItem]]]()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for section in sections:
            going = []
            for item in section.items:
                lost, words = unsayable(item.content), plain(item.content.stem)[:120]
                if lost:
                    unsent.append(Unsent(words, lost))
                if sayable(item.content):
                    # Items stand in a folder of their own, so their pictures are one level up.
                    relative = {id: f"../{path}" for id, path in paths.items()}
                    packed.writestr(_path(item), write_item(item.identifier, words[:80], item.content, relative))
                    going.append(item)
            written.append((section, going))
        for name, data in pictures.values():
            packed.writestr(f"pictures/{name}", data)
        packed.writestr("test.xml", _test(title, written))
        packed.writestr(MANIFEST, _manifest(written, list(paths.values())))
    return out.getvalue(), unsent


def _path(item: SentItem) -> str:
    return f"items/{item.identifier}.xml"


def _test(title: str, sections: Sequence[tuple[SentSection, list[SentItem]]]) -> bytes:
    root = Element("qti-assessment-test", {"xmlns": NAMESPACE, "identifier": "TEST", "title": title or "Test"})
    mode = {"identifier": "PART", "navigation-mode": "nonlinear", "submission-mode": "simultaneous"}
    part = SubElement(root, "qti-test-part", mode)
    for at, (section, items) in enumerate(sections, start=1):
        element = SubElement(
            part,
            "qti-assessment-section",
            {"identifier": f"SECTION_{at}", "title": section.title or f"Section {at}", "visible": "true"},
        )
        for item in items:
            SubElement(element, "qti-assessment-item-ref", {"identifier": item.identifier, "href": _path(item)})
    return XML_HEAD + tostring(root, encoding="utf-8")  # type: ignore[no-any-return]  # bytes, by the encoding


def _manifest(sections: Sequence[tuple[SentSection, list[SentItem]]], pictures: Sequence[str]) -> bytes:
    root = Element("manifest", {"xmlns": PACKAGING, "identifier": "MANIFEST"})
    about = SubElement(root, "metadata")
    SubElement(about, "schema").text = "QTI Package"
    SubElement(about, "schemaversion").text = "3.0.0"
    SubElement(root, "organizations")
    element = SubElement(root, "resources")
    test = SubElement(element, "resource", {"identifier": "TEST_RESOURCE", "type": TEST_TYPE, "href": "test.xml"})
    SubElement(test, "file", {"href": "test.xml"})
    for _, items in sections:
        for item in items:
            resource = SubElement(
                element, "resource", {"identifier": f"R_{item.identifier}", "type": ITEM_TYPE, "href": _path(item)}
            )
            if item.skills:
                keywords = SubElement(SubElement(resource, "metadata"), "keywords")
                for skill in item.skills:
                    SubElement(keywords, "keyword").text = skill
            SubElement(resource, "file", {"href": _path(item)})
            SubElement(test, "dependency", {"identifierref": f"R_{item.identifier}"})
    for at, path in enumerate(pictures, start=1):
        resource = SubElement(element, "resource", {"identifier": f"P_{at}", "type": "webcontent", "href": path})
        SubElement(resource, "file", {"href": path})
    return XML_HEAD + tostring(root, encoding="utf-8")  # type: ignore[no-any-return]  # bytes, by the encoding


@dataclass
class PackedItem:
    """An item of a package as it came, with the pictures it names; read once they have their places in the bank."""

    path: str
    data: bytes
    skills: list[str]
    pictures: dict[str, bytes] = field(default_factory=dict)
    """path as the item names it -> its bytes; those that are missing are left out."""
    missing: list[str] = field(default_factory=list)

    def read(self, addresses: Mapping[str, str]) -> ReadItem:
        """addresses: path as the item names it -> address in the bank. Raises Refused."""
        return read_item(self.data, addresses.get)


@dataclass
class OpenedPackage:
    """The items of a package in the order of its manifest, and what of its tests does not come with them."""

    items: list[PackedItem]
    lost: list[str] = field(default_factory=list)


def open_package(data: bytes) -> OpenedPackage:
    """A package, or a bare item XML as a package of one. Raises Refused."""
    if not data.startswith(b"PK"):
        root = read_xml(data, "This file")
        if kebab(root.tag) != "assessment-item":
            raise UnreadableFileError("This file is neither a QTI package nor a QTI item.")
        return OpenedPackage([PackedItem("", data, [])])
    packed = SafeZip(data)
    manifest = next((name for name in sorted(packed.names, key=len) if name.endswith(MANIFEST)), None)
    if manifest is None:
        raise UnreadableFileError("This zip has no imsmanifest.xml, so it is no QTI package.")
    folder = posixpath.dirname(manifest)
    root = read_xml(packed.read(manifest), "The manifest")
    packed_items, lost = list[PackedItem](), list[str]()
    for resource in all_named(root, "resource"):
        if attribute(resource, "type").startswith("imsqti_test"):
            lost += _lost_of_test(packed, posixpath.normpath(posixpath.join(folder, attribute(resource, "href"))))
        if attribute(resource, "type").startswith("imsqti_item"):
            path = posixpath.normpath(posixpath.join(folder, attribute(resource, "href")))
            if path not in packed.names:
                raise UnreadableFileError(f"The manifest names {path}, which is not in the zip.")
            skills = ["".join(word.itertext()).strip()[:120] for word in all_named(resource, "keyword")]
            packed_items.append(_packed_item(packed, path, [skill for skill in skills if skill]))
    if not packed_items:
        raise UnreadableFileError("This package holds no items.")
    if len(packed_items) > MOST_ITEMS:
        raise UnreadableFileError(
            f"This package holds {len(packed_items):,} items; at most {MOST_ITEMS:,} are read at once."
        )
    return OpenedPackage(packed_items, list(dict.fromkeys(lost)))


def _lost_of_test(packed: SafeZip, path: str) -> list[str]:
    try:
        return lost_of_test(read_xml(packed.read(path), "The test"))
    except UnreadableFileError:
        return [f"the test {path[:80]}, which cannot be read"]


def _packed_item(packed: SafeZip, path: str, skills: list[str]) -> PackedItem:
    item = PackedItem(path, packed.read(path), skills)
    try:
        named = picture_paths(item.data)
    except UnreadableFileError:
        return item  # said again, with its place, when the item is read
    for source in named:
        inside = posixpath.normpath(posixpath.join(posixpath.dirname(path), source))
        if inside in packed.names:
            item.pictures[source] = packed.read(inside)
        else:
            item.missing.append(source)
    return item
