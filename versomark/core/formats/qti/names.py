"""QTI's names. Version 3.0 writes `qti-choice-interaction` where 2.x writes `choiceInteraction`: here both are one."""

import re
from collections.abc import Iterator
from xml.etree.ElementTree import Element

NAMESPACE = "http://www.imsglobal.org/xsd/imsqtiasi_v3p0"
PACKAGING = "http://www.imsglobal.org/xsd/qti/qtiv3p0/imscp_v1p1"
ITEM_TYPE = "imsqti_item_xmlv3p0"
TEST_TYPE = "imsqti_test_xmlv3p0"
MATCH_CORRECT = "https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/match_correct.xml"
MAP_RESPONSE = "https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/map_response.xml"
MAP_POINT = "https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/map_response_point.xml"

_CAPITAL = re.compile(r"(?<=[a-z0-9])([A-Z])")


def kebab(name: str) -> str:
    """`{ns}choiceInteraction`, `qti-choice-interaction` → `choice-interaction`."""
    name = name.rsplit("}", 1)[-1]
    return _CAPITAL.sub(r"-\1", name).lower().removeprefix("qti-")


def attribute(element: Element, name: str, default: str = "") -> str:
    """An attribute by its 3.0 name, whichever version wrote it."""
    for own, value in element.attrib.items():
        if kebab(own) == name:
            return value
    return default


def all_named(element: Element, *names: str) -> Iterator[Element]:
    """The element itself and everything below it with one of these names, in document order."""
    for descendant in element.iter():
        if isinstance(descendant.tag, str) and kebab(descendant.tag) in names:
            yield descendant


def first_named(element: Element, *names: str) -> Element | None:
    return next(all_named(element, *names), None)


def children(element: Element, *names: str) -> list[Element]:
    return [child for child in element if isinstance(child.tag, str) and kebab(child.tag) in names]


def words(element: Element | None) -> str:
    """The text of an element and all inside it."""
    return " ".join("".join(element.itertext()).split()) if element is not None else ""


def numeral(text: str, default: float = 0.0) -> float:
    """A number in QTI's text, or the default where there is none; never infinite or not a number."""
    try:
        value = float(text)
    except ValueError:
        return default
    return value if abs(value) < 1e15 else default
