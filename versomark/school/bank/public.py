"""The bank of questions: finding, keeping and recording the use of items; pictures and materials.

The one module of this domain that others import, with `schemas` for what they send as JSON.
"""

from .history import Use, faults_of, occasions_with, record_uses
from .materials import offered, stored_file
from .models import Item, Material, Skill
from .pictures import TYPES, keep_picture, path_of, picture_of
from .search import index_everything
from .services import (
    Details,
    ItemFilter,
    details_of,
    find_items,
    item_of,
    items_of,
    keep_item,
    keep_version,
    make_item,
    make_stimulus,
)
from .transfer import send_qti

__all__ = [
    "TYPES",
    "Details",
    "Item",
    "ItemFilter",
    "Material",
    "Skill",
    "Use",
    "details_of",
    "faults_of",
    "find_items",
    "index_everything",
    "item_of",
    "items_of",
    "keep_item",
    "keep_picture",
    "keep_version",
    "make_item",
    "make_stimulus",
    "occasions_with",
    "offered",
    "path_of",
    "picture_of",
    "record_uses",
    "send_qti",
    "stored_file",
]
