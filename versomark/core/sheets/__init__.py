"""Answer sheets: what stands on them, where, how they are drawn, and how a scan of them is read.

`spec` says what a batch of sheets is for, `layout` places it in millimetres, `drawing` prints it, `sheet_map` is the
contract between printing and reading, `images` opens what a copier or a phone made, `finding` tells where the sheet
lies in a picture, `marks` tells what is filled, `reading` puts a whole scan together.
"""

from .images import BadScan
from .layout import lay_out
from .reading import PROBLEM_WORDS, PageReading, Read, Reader, ScanReading, gather
from .sheet_map import SheetMap
from .spec import SheetCriterion, SheetItem, SheetSpec, SheetStudent

__all__ = [
    "PROBLEM_WORDS",
    "BadScan",
    "PageReading",
    "Read",
    "Reader",
    "ScanReading",
    "SheetCriterion",
    "SheetItem",
    "SheetMap",
    "SheetSpec",
    "SheetStudent",
    "gather",
    "lay_out",
]
