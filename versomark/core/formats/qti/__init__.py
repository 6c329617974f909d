"""QTI: items and tests to and from other systems."""

from .package import OpenedPackage, PackedItem, SentItem, SentSection, Unsent, open_package, write_package
from .read import ReadItem, read_item
from .write import sayable, unsayable, write_item

__all__ = [
    "OpenedPackage",
    "PackedItem",
    "ReadItem",
    "SentItem",
    "SentSection",
    "Unsent",
    "open_package",
    "read_item",
    "sayable",
    "unsayable",
    "write_item",
    "write_package",
]
