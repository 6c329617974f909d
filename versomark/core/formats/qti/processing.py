"""The rules of an item carried out: what SCORE a response earns by its own response processing.

The rules of QTI are a small language (1EdTech, “QTI Assessment Test, Section and Item Information Model”, chapters on
response processing and expressions; names of 2.x and 3.0 alike). An import asks them instead of guessing from their
shape: a key is carried only where our own scoring gives what these rules give.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from decimal import ROUND_HALF_UP, Decimal
from xml.etree.ElementTree import Element

from versomark.core.language import _

from .names import attribute, children, first_named, kebab, numeral, words

Single = str | float | bool | tuple[float, float]
Value = Single | Sequence[Single] | None
"""One value, several of them, or None for no answer (QTI's NULL)."""
MOST_STEPS = 20_000


class NotUnderstood(Exception):
    """A rule or expression that is not carried out here; the message is its name."""


class Rules:
    """The declarations and the response processing of one item.

    Parameters
    ----------
    root
        The `assessment-item` element.
    """

    def __init__(self, root: Element) -> None:
        self._declared = {attribute(d, "identifier"): d for d in root if kebab(d.tag) == "response-declaration"}
        self._outcomes = {attribute(d, "identifier"): d for d in root if kebab(d.tag) == "outcome-declaration"}
        self._processing = next((child for child in root if kebab(child.tag) == "response-processing"), None)
        self._adaptive = attribute(root, "adaptive") == "true"
        self._values: dict[str, Value] = {}
        self._steps = 0

    @property
    def own(self) -> bool:
        """Whether the item says more than “as declared”: rules that are neither absent nor one of the templates."""
        return self._processing is not None and (len(self._processing) > 0 or self._template() not in ("", *_TEMPLATES))

    def score(self, responses: Mapping[str, Value]) -> float:
        """SCORE for these responses (by the identifier of their declaration). Raises NotUnderstood."""
        if self._adaptive:
            raise NotUnderstood(_("several attempts that build on each other"))
        self._steps = 0
        self._values = {name: self._default(declared) for name, declared in self._outcomes.items()}
        self._values |= dict.fromkeys(self._declared) | dict(responses)
        if self._processing is not None and len(self._processing):
            self._rules(list(self._processing))
            return _number(self._values.get("SCORE"), 0.0)
        template = self._template()
        if template:
            if template not in _TEMPLATES:
                raise NotUnderstood(template)
            name = "RESPONSE" if "RESPONSE" in self._declared else next(iter(self._declared), "RESPONSE")
            return _TEMPLATES[template](self, name)
        # Nothing says how the answers count. What is declared does: values where there are any, else right or not.
        return sum(
            self._mapped(name) if first_named(declared, "mapping", "area-mapping") is not None else self._matched(name)
            for name, declared in self._declared.items()
        )

    def _template(self) -> str:
        result = attribute(self._processing, "template") if self._processing is not None else ""
        return kebab(result.rstrip("/").rsplit("/", 1)[-1].removesuffix(".xml").replace("_", "-"))

    def _default(self, declared: Element) -> Value:
        container = first_named(declared, "default-value")
        value = (
            [] if container is None else [self._typed(words(v), attribute(declared, "base-type")) for v in container]
        )
        if attribute(declared, "cardinality", "single") == "single":
            return value[0] if value else 0.0 if attribute(declared, "base-type") in ("float", "integer") else None
        return value or None

    def _typed(self, text: str, base_type: str) -> Single:
        if base_type in ("float", "integer"):
            return numeral(text, math.nan)
        if base_type == "boolean":
            return text == "true"
        if base_type == "point":
            x, _sign, y = text.partition(" ")
            return (numeral(x), numeral(y))
        return text

    def _correct(self, name: str) -> Value:
        declared = self._declared.get(name)
        container = first_named(declared, "correct-response") if declared is not None else None
        if declared is None or container is None:
            return None
        values = [self._typed(words(value), attribute(declared, "base-type")) for value in children(container, "value")]
        return (
            values if attribute(declared, "cardinality") in ("multiple", "ordered") else values[0] if values else None
        )

    def _matched(self, name: str) -> float:
        return float(self._same(self._values.get(name), self._correct(name), self._is_ordered(name)) is True)

    def _is_ordered(self, name: str) -> bool:
        return name in self._declared and attribute(self._declared[name], "cardinality") == "ordered"

    def _mapped(self, name: str) -> float:
        declared = self._declared.get(name)
        if declared is None:
            raise NotUnderstood(_("a value for {name}, which is not declared", name=name))
        area = first_named(declared, "area-mapping")
        if area is not None:
            return self._by_area(area, name)
        mapping = first_named(declared, "mapping")
        if mapping is None:
            raise NotUnderstood(_("a value for {name}, which has none", name=name))
        given = self._values.get(name)
        if given is None:
            return 0.0
        entries = [
            (attribute(e, "map-key"), attribute(e, "case-sensitive", "true") != "false",
             numeral(attribute(e, "mapped-value")))
            for e in children(mapping, "map-entry")
        ]  # fmt: skip
        default = numeral(attribute(mapping, "default-value"))

        def worth(value: Single) -> float:
            text = _text(value)
            for key, case, mapped in entries:
                if key == text or (not case and key.casefold() == text.casefold()) or _equal_numbers(key, value):
                    return mapped
            return default

        return _bounded(mapping, sum(worth(value) for value in dict.fromkeys(_several(given))))

    def _by_area(self, mapping: Element, name: str) -> float:
        total, entries = 0.0, children(mapping, "area-map-entry")
        met = set[int]()
        for point in _several(self._values.get(name)):
            # The first area that holds the point counts, and each area once.
            at = next((n for n, e in enumerate(entries) if isinstance(point, tuple) and _inside(e, point)), None)
            if at is None:
                total += numeral(attribute(mapping, "default-value"))
            elif at not in met:
                met.add(at)
                total += numeral(attribute(entries[at], "mapped-value"))
        return _bounded(mapping, total)

    # Rules

    def _rules(self, rules: Sequence[Element]) -> bool:
        """Carries them out in order; False once the item says to stop."""
        for rule in rules:
            self._count()
            name = kebab(rule.tag)
            if name == "response-condition":
                if not self._condition(rule):
                    return False
            elif name == "set-outcome-value":
                self._values[attribute(rule, "identifier")] = self._expression(_only(rule))
            elif name == "response-processing-fragment":
                if not self._rules(list(rule)):
                    return False
            elif name == "exit-response":
                return False
            else:
                raise NotUnderstood(name)
        return True

    def _condition(self, condition: Element) -> bool:
        for branch in condition:
            name = kebab(branch.tag)
            if name == "response-else":
                return self._rules(list(branch))
            if name not in ("response-if", "response-else-if") or len(branch) == 0:
                raise NotUnderstood(name)
            if self._expression(branch[0]) is True:
                return self._rules(list(branch)[1:])
        return True

    def _count(self) -> None:
        self._steps += 1
        if self._steps > MOST_STEPS:
            raise NotUnderstood(_("rules without an end"))

    # Expressions

    def _expression(self, element: Element) -> Value:
        self._count()
        name = kebab(element.tag)
        own = _OWN.get(name)
        if own is not None:
            return own(self, element)
        if name not in _PLAIN:
            raise NotUnderstood(name)
        return _PLAIN[name]([self._expression(child) for child in element])

    def _variable(self, element: Element) -> Value:
        name = attribute(element, "identifier")
        if name not in self._values:
            raise NotUnderstood(_("the variable {name}", name=name))
        return self._values[name]

    def _base_value(self, element: Element) -> Value:
        return self._typed(words(element), attribute(element, "base-type"))

    def _match(self, element: Element) -> Value:
        first, second = _two(element)
        ordered = any(self._is_ordered(attribute(part, "identifier")) for part in (first, second))
        return self._same(self._expression(first), self._expression(second), ordered)

    def _same(self, first: Value, second: Value, ordered: bool) -> bool | None:
        if first is None or second is None:
            return None
        one, other = list(_several(first)), list(_several(second))
        return one == other if ordered else sorted(map(_text, one)) == sorted(map(_text, other))

    def _equal(self, element: Element) -> Value:
        given, right = (self._expression(part) for part in _two(element))
        if given is None or right is None:
            return None
        a, b = _number(given, math.nan), _number(right, math.nan)
        mode = attribute(element, "tolerance-mode", "exact")
        if mode == "exact":
            return a == b
        ends = [numeral(part, math.nan) for part in attribute(element, "tolerance").split()]
        if mode not in ("absolute", "relative") or not ends or any(map(math.isnan, ends)):
            raise NotUnderstood(_("a tolerance that is not two numbers"))
        below, above = (end if mode == "absolute" else abs(b) * end / 100 for end in (ends[0], ends[-1]))
        slack = 1e-12 * max(1.0, abs(b))
        low = a >= b - below - slack if _includes(element, "lower") else a > b - below + slack
        high = a <= b + above + slack if _includes(element, "upper") else a < b + above - slack
        return low and high

    def _equal_rounded(self, element: Element) -> Value:
        given, right = (self._expression(part) for part in _two(element))
        if given is None or right is None:
            return None
        mode = attribute(element, "rounding-mode", "significantFigures")
        figures = int(numeral(attribute(element, "figures"), -1))
        if mode not in ("significantFigures", "decimalPlaces") or not 0 <= figures <= 30:
            raise NotUnderstood(_("a rounding that is not to places or figures"))
        first, second = (
            _rounded(_number(value, math.nan), figures, mode == "decimalPlaces") for value in (given, right)
        )
        return first is not None and first == second

    def _string_match(self, element: Element) -> Value:
        given, right = (self._expression(part) for part in _two(element))
        if given is None or right is None:
            return None
        text, other = _text(given), _text(right)
        if attribute(element, "case-sensitive", "true") == "false":
            text, other = text.casefold(), other.casefold()
        return other in text if attribute(element, "substring") == "true" else text == other

    def _index(self, element: Element) -> Value:
        at, expression = int(numeral(attribute(element, "n"))), self._expression(_only(element))
        several = list(_several(expression))
        return several[at - 1] if 1 <= at <= len(several) else None

    def _in_area(self, element: Element) -> Value:
        point = self._expression(_only(element))
        return None if point is None else any(isinstance(p, tuple) and _inside(element, p) for p in _several(point))


def _includes(element: Element, side: str) -> bool:
    return attribute(element, f"include-{side}-bound", "true") != "false"


def _only(element: Element) -> Element:
    if len(element) != 1:
        raise NotUnderstood(_("{kebab} with {count} parts", kebab=kebab(element.tag), count=len(element)))
    return element[0]


def _two(element: Element) -> tuple[Element, Element]:
    if len(element) != 2:
        raise NotUnderstood(_("{kebab} with {count} parts", kebab=kebab(element.tag), count=len(element)))
    return element[0], element[1]


def _several(value: Value) -> Sequence[Single]:
    if value is None:
        return ()
    return value if isinstance(value, list) else (value,)  # type: ignore[return-value]  # a point is one value


def _text(value: Value) -> str:
    return str(value).lower() if isinstance(value, bool) else str(value)


def _number(value: Value, default: float) -> float:
    if isinstance(value, bool | int | float):
        return float(value)
    return numeral(value, default) if isinstance(value, str) else default


def _equal_numbers(key: str, value: Single) -> bool:
    return isinstance(value, float) and numeral(key, math.nan) == value


def _rounded(value: float, figures: int, places: bool) -> Decimal | None:
    if not math.isfinite(value):
        return None
    exact = Decimal(repr(value))
    least = -figures if places else exact.adjusted() - figures + 1
    return exact.quantize(Decimal(1).scaleb(least), ROUND_HALF_UP) if exact or places else exact


def _bounded(mapping: Element, total: float) -> float:
    low, high = attribute(mapping, "lower-bound"), attribute(mapping, "upper-bound")
    total = max(total, numeral(low)) if low else total
    return min(total, numeral(high)) if high else total


def _inside(area: Element, point: tuple[float, float]) -> bool:
    numbers = [numeral(part.strip(), math.nan) for part in attribute(area, "coords").split(",")]
    (x, y), shape = point, attribute(area, "shape")
    if any(map(math.isnan, numbers)):
        raise NotUnderstood(_("an area that is not in pixels"))
    match shape, numbers:
        case "rect", [left, top, right, bottom]:
            return left <= x <= right and top <= y <= bottom
        case "circle", [middle, down, radius]:
            return (x - middle) ** 2 + (y - down) ** 2 <= radius**2
        case "ellipse", [middle, down, across, high] if across > 0 and high > 0:
            return ((x - middle) / across) ** 2 + ((y - down) / high) ** 2 <= 1
        case "default", _other:
            return True
    raise NotUnderstood(_("an area of the shape {shape}", shape=shape))


def _and(parts: list[Value]) -> Value:
    return False if False in parts else None if None in parts else True


def _or(parts: list[Value]) -> Value:
    return True if any(part is True for part in parts) else None if None in parts else False


def _compare(work: Callable[[float, float], bool]) -> Callable[[list[Value]], Value]:
    def compared(parts: list[Value]) -> Value:
        if len(parts) != 2:
            raise NotUnderstood(_("a comparison of other than two"))
        if parts[0] is None or parts[1] is None:
            return None
        return work(_number(parts[0], math.nan), _number(parts[1], math.nan))

    return compared


def _numeric(work: Callable[[list[float]], float]) -> Callable[[list[Value]], Value]:
    def worked(parts: list[Value]) -> Value:
        if None in parts:
            return None
        return work([_number(entry, math.nan) for part in parts for entry in _several(part)])

    return worked


def _divided(numbers: list[float]) -> float:
    if len(numbers) != 2 or numbers[1] == 0:
        raise NotUnderstood(_("a division by nothing"))
    return numbers[0] / numbers[1]


def _member(parts: list[Value]) -> Value:
    if len(parts) != 2 or None in parts:
        return None
    return _text(parts[0]) in map(_text, _several(parts[1]))


def _contains(parts: list[Value]) -> Value:
    if len(parts) != 2 or None in parts:
        return None
    whole = list(map(_text, _several(parts[0])))
    return all(_text(part) in whole for part in _several(parts[1]))


def _gathered(parts: list[Value]) -> Value:
    return [entry for part in parts for entry in _several(part)] or None


_PLAIN: dict[str, Callable[[list[Value]], Value]] = {
    "null": lambda parts: None,
    "is-null": lambda parts: parts[0] is None if parts else None,
    "not": lambda parts: None if not parts or parts[0] is None else parts[0] is not True,
    "and": _and,
    "or": _or,
    "gt": _compare(lambda a, b: a > b),
    "gte": _compare(lambda a, b: a >= b),
    "lt": _compare(lambda a, b: a < b),
    "lte": _compare(lambda a, b: a <= b),
    "sum": _numeric(math.fsum),
    "product": _numeric(math.prod),
    "subtract": _numeric(lambda numbers: numbers[0] - math.fsum(numbers[1:])),
    "divide": _numeric(_divided),
    "max": _numeric(max),
    "min": _numeric(min),
    "round": _numeric(lambda numbers: math.floor(numbers[0] + 0.5)),
    "truncate": _numeric(lambda numbers: math.trunc(numbers[0])),
    "member": _member,
    "contains": _contains,
    "multiple": _gathered,
    "ordered": _gathered,
    "container-size": lambda parts: float(len(_several(parts[0]))) if parts else 0.0,
}
_OWN: dict[str, Callable[[Rules, Element], Value]] = {
    "variable": Rules._variable,
    "base-value": Rules._base_value,
    "correct": lambda rules, element: rules._correct(attribute(element, "identifier")),
    "map-response": lambda rules, element: rules._mapped(attribute(element, "identifier")),
    "map-response-point": lambda rules, element: rules._mapped(attribute(element, "identifier")),
    "match": Rules._match,
    "equal": Rules._equal,
    "equal-rounded": Rules._equal_rounded,
    "string-match": Rules._string_match,
    "index": Rules._index,
    "inside": Rules._in_area,
}
_TEMPLATES: dict[str, Callable[[Rules, str], float]] = {
    "match-correct": Rules._matched,
    "map-response": Rules._mapped,
    "map-response-point": Rules._mapped,
    "cc2-match": Rules._matched,
    "cc2-map-response": Rules._mapped,
}
