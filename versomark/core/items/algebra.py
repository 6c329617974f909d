"""Algebra as people type it: read into a tree of our own, never evaluated as code, and compared by value.

The grammar: numbers, variables of one letter (or longer names that are declared), `+ − * / ^`, implied products
(`2x`, `3(x + 1)`), brackets, superscript digits, the constants π and e, and the functions in `FUNCTIONS`.
Every size is bounded before anything is computed: length, depth, number of nodes, exponents and the degree they make.
"""

import operator
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from random import Random
from typing import Any

from versomark.core.language import _

from .typography import fractions_written_out, number_letters

LONGEST = 200
MOST_NODES = 150
DEEPEST = 40
MOST_EXPONENT = 30
MOST_DEGREE = 60
PROBES = 24
DIGITS = 50
TERMS_FOR_PROOF = 3000

FUNCTIONS = ("sqrt", "sin", "cos", "tan", "exp", "ln", "log", "abs")
CONSTANTS = {"pi": "pi", "π": "pi", "e": "e"}
_COMPUTE: dict[str, Callable[..., Any]] = {
    "+": operator.add,
    "-": operator.sub,
    "*": operator.mul,
    "/": operator.truediv,
    "^": operator.pow,
    "neg": operator.neg,
}
_SUPERSCRIPT = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹", "0123456789")
_TOKEN = re.compile(r"\s*(?:(\d+(?:[.,]\d+)?|[.,]\d+)|([A-Za-zΑ-Ωα-ω]+)|([⁰¹²³⁴⁵⁶⁷⁸⁹]+)|(.))")
_OPERATORS = {"×": "*", "·": "*", "÷": "/", "−": "-", "–": "-", ":": "/", "**": "^", "[": "(", "]": ")"}


class NotAlgebra(ValueError):
    """A text that cannot be read as an expression; the message says why, in words for whoever typed it."""


@dataclass(frozen=True)
class Node:
    """`op` is `number`, `variable`, `constant`, `call` or one of `+ - * / ^ neg`."""

    op: str
    parts: tuple["Node", ...] = ()
    name: str = ""
    value: Fraction = Fraction(0)


def parse(text: str, variables: Sequence[str] = ()) -> Node:
    """The tree of an expression. `variables`: names longer than a letter, or letters that would be constants.

    Raises NotAlgebra.
    """
    if len(text) > LONGEST:
        raise NotAlgebra(_("An expression has at most {longest} signs.", longest=LONGEST))
    text = number_letters(fractions_written_out(text))
    reader = _Reader(_tokens(text, variables), frozenset(variables))
    tree = reader.sum()
    if reader.at < len(reader.tokens):
        raise NotAlgebra(_("“{value}” does not fit there.", value=reader.tokens[reader.at]))
    if _count(tree) > MOST_NODES:
        raise NotAlgebra(_("This expression has too many parts."))
    _degree(tree)
    return tree


def names_in(tree: Node) -> set[str]:
    """The variables of an expression."""
    own = {tree.name} if tree.op == "variable" else set()
    return own.union(*(names_in(part) for part in tree.parts))


def evaluate(tree: Node, values: Mapping[str, Fraction]) -> Fraction | float:
    """The value with these variables: exact for the four operations and whole powers, a float past them.

    Raises NotAlgebra for an unknown name, a division by zero or a value that is not real.
    """
    if _is_rational(tree):
        return _exact(tree, values)
    from mpmath import mp, mpf

    with mp.workdps(30):
        result = _precise(tree, {name: mpf(v.numerator) / v.denominator for name, v in values.items()})
    if abs(result.imag) > 1e-20 or not mp.isfinite(result):
        raise NotAlgebra(_("This has no real value."))
    return float(result.real)


def equal(node: Node, other: Node, positive: bool = False) -> bool:
    """Whether two expressions have the same value wherever both have one.

    Both are worked out at `PROBES` points: exactly, in fractions, where only the four operations and whole powers
    stand in them (two different ones of degree d agree at a random point of a range of a million with probability
    below d/10⁶: Schwartz 1980, Zippel 1979), else to 50 digits. Agreement of rational expressions is then proved with
    SymPy where their size allows. positive: variables stand for positive numbers, so that √(x²) is x.
    """
    names = sorted(names_in(node) | names_in(other))
    rational = _is_rational(node) and _is_rational(other)
    random = Random(20261123)
    compared = 0
    for _time in range(PROBES * 3):
        point = {name: Fraction(random.randint(1, 10**6), 997 if rational else 10**6 // 3) for name in names}
        if not positive:
            point = {name: value * random.choice((-1, 1)) for name, value in point.items()}
        same = _same_at(node, other, point, rational)
        if same is False:
            return False
        compared += same is True
        if compared == PROBES or (compared and not names):
            break
    if compared < (PROBES if names else 1):
        return False
    return _proved(node, other) if rational and names and max(_terms(node), _terms(other)) <= TERMS_FOR_PROOF else True


def _same_at(node: Node, other: Node, point: Mapping[str, Fraction], rational: bool) -> bool | None:
    """None where one of them has no value at this point."""
    try:
        if rational:
            return _exact(node, point) == _exact(other, point)
        from mpmath import mp, mpf

        with mp.workdps(DIGITS):
            at = {name: mpf(value.numerator) / value.denominator for name, value in point.items()}
            a, b = _precise(node, at), _precise(other, at)
            if not (mp.isfinite(a) and mp.isfinite(b)):
                return None
            return bool(abs(a - b) <= mpf(10) ** (15 - DIGITS) * max(1, abs(a), abs(b)))
    except (NotAlgebra, ZeroDivisionError, OverflowError):
        return None


def _proved(node: Node, other: Node) -> bool:
    import sympy

    return bool(sympy.cancel(sympy.together(_symbolic(node) - _symbolic(other))) == 0)


def _symbolic(tree: Node) -> Any:  # SymPy's expressions have no useful static type
    """Built node by node: SymPy's own reader of text runs `eval`, so no text reaches it."""
    import sympy

    parts = [_symbolic(part) for part in tree.parts]
    if tree.op == "number":
        return sympy.Rational(tree.value.numerator, tree.value.denominator)
    if tree.op == "variable":
        return sympy.Symbol(tree.name)
    return _COMPUTE[tree.op](*parts)


def _exact(tree: Node, values: Mapping[str, Fraction]) -> Fraction:
    if tree.op == "number":
        return tree.value
    if tree.op == "variable":
        if tree.name not in values:
            raise NotAlgebra(_("“{name}” has no value.", name=tree.name))
        return values[tree.name]
    parts = [_exact(part, values) for part in tree.parts]
    if (tree.op in "/" and parts[1] == 0) or (tree.op == "^" and parts[0] == 0 and parts[1] < 0):
        raise NotAlgebra(_("This divides by zero."))
    # A power of fractions is one only where the exponent is an int.
    return Fraction(parts[0] ** int(parts[1])) if tree.op == "^" else _COMPUTE[tree.op](*parts)


def _precise(tree: Node, values: Mapping[str, Any]) -> Any:  # mpmath's numbers, real or complex
    from mpmath import mp, mpc, mpf

    if tree.op == "number":
        return mpc(mpf(tree.value.numerator) / tree.value.denominator)
    if tree.op == "constant":
        return mpc(mp.pi if tree.name == "pi" else mp.e)
    if tree.op == "variable":
        if tree.name not in values:
            raise NotAlgebra(_("“{name}” has no value.", name=tree.name))
        return mpc(values[tree.name])
    parts = [_precise(part, values) for part in tree.parts]
    if tree.op == "call":
        function = {"ln": mp.log, "log": mp.log10, "abs": mp.fabs}.get(tree.name) or getattr(mp, tree.name)
        return mpc(function(parts[0]))
    if tree.op == "^" and (abs(parts[1]) > 400 or (abs(parts[0]) > 10**12 and abs(parts[1]) > 30)):
        raise OverflowError
    return _COMPUTE[tree.op](*parts)


def _is_rational(tree: Node) -> bool:
    if tree.op in ("call", "constant"):
        return False
    if tree.op == "^" and _whole(tree.parts[1]) is None:
        return False
    return all(_is_rational(part) for part in tree.parts)


def _whole(tree: Node) -> int | None:
    """The whole number a tree is, if it is one as it stands (`3`, `−2`)."""
    if tree.op == "neg":
        inner = _whole(tree.parts[0])
        return None if inner is None else -inner
    return int(tree.value) if tree.op == "number" and tree.value.denominator == 1 else None


def _count(tree: Node) -> int:
    return 1 + sum(_count(part) for part in tree.parts)


def _degree(tree: Node) -> int:
    """An upper bound of the degree that the powers make; raises NotAlgebra past the limits."""
    parts = [_degree(part) for part in tree.parts]
    if tree.op == "^":
        power = _whole(tree.parts[1])
        if power is not None and abs(power) > MOST_EXPONENT:
            raise NotAlgebra(_("A power goes up to {most_exponent}.", most_exponent=MOST_EXPONENT))
        degree = max(1, parts[0]) * max(1, abs(power) if power is not None else 1)
    elif tree.op in ("*", "/"):
        degree = sum(parts)
    else:
        degree = max(parts, default=int(tree.op == "variable"))
    if degree > MOST_DEGREE:
        raise NotAlgebra(_("The powers in this expression are too high."))
    return degree


def _terms(tree: Node) -> int:
    """A bound on the number of terms when everything is multiplied out."""
    parts = [_terms(part) for part in tree.parts]
    if tree.op == "^":
        return int(min(10**9, parts[0] ** abs(_whole(tree.parts[1]) or 1)))
    if tree.op in ("*", "/"):
        return parts[0] * parts[1]
    return sum(parts) or 1


def _tokens(text: str, variables: Sequence[str]) -> list[str]:
    tokens: list[str] = []
    for number, word, raised, sign in _TOKEN.findall(text.replace("**", "^").strip()):
        if number:
            tokens.append(number.replace(",", "."))
        elif word:
            tokens += _split_word(word, variables)
        elif raised:
            tokens += ["^", raised.translate(_SUPERSCRIPT)]
        elif sign == "√":
            tokens.append("sqrt")
        elif sign.strip():
            tokens.append(_OPERATORS.get(sign, sign))
    if not tokens:
        raise NotAlgebra(_("Nothing is written here."))
    return tokens


def _split_word(word: str, variables: Sequence[str]) -> list[str]:
    """`xsin` is x·sin, `ab` is a·b, and a declared name stays whole."""
    known = sorted({*variables, *FUNCTIONS, "pi"}, key=len, reverse=True)
    parts = []
    while word:
        name = next((name for name in known if word.startswith(name)), word[0])
        parts.append(name)
        word = word[len(name) :]
    return parts


class _Reader:
    """Recursive descent over tokens: sum → product → power → atom."""

    def __init__(self, tokens: list[str], variables: frozenset[str]) -> None:
        self.tokens, self.variables, self.at, self.depth = tokens, variables, 0, 0

    def peek(self) -> str:
        return self.tokens[self.at] if self.at < len(self.tokens) else ""

    def take(self) -> str:
        self.at += 1
        return self.tokens[self.at - 1]

    def sum(self) -> Node:
        self.depth += 1
        if self.depth > DEEPEST:
            raise NotAlgebra(_("Too many brackets stand inside one another."))
        left = self.product()
        while self.peek() in ("+", "-"):
            left = Node(self.take(), (left, self.product()))
        self.depth -= 1
        return left

    def product(self) -> Node:
        left = self.signed()
        while True:
            if self.peek() in ("*", "/"):
                left = Node(self.take(), (left, self.signed()))
            elif self._starts_an_atom(self.peek()):
                left = Node("*", (left, self.power()))
            else:
                return left

    def signed(self) -> Node:
        negative = False
        while self.peek() in ("+", "-"):
            negative ^= self.take() == "-"
        inner = self.power()
        return Node("neg", (inner,)) if negative else inner

    def power(self) -> Node:
        base = self.atom()
        if self.peek() != "^":
            return base
        self.take()
        self.depth += 1
        if self.depth > DEEPEST:
            raise NotAlgebra(_("Too many powers stand on one another."))
        exponent = self.signed()
        self.depth -= 1
        return Node("^", (base, exponent))

    def atom(self) -> Node:
        token = self.peek()
        if not token:
            raise NotAlgebra(_("Something is missing at the end."))
        self.take()
        if token[0].isdigit() or token[0] == ".":
            if len(token) > 20:
                raise NotAlgebra(_("A number here is too long."))
            return Node("number", value=Fraction(token if token[0] != "." else f"0{token}"))
        if token == "(":
            inner = self.sum()
            if self.peek() != ")":
                raise NotAlgebra(_("A bracket is not closed."))
            self.take()
            return inner
        if token in FUNCTIONS and token not in self.variables:
            return Node("call", (self.atom() if self.peek() == "(" else self.power(),), name=token)
        if token in CONSTANTS and token not in self.variables:
            return Node("constant", name=CONSTANTS[token])
        if token.isalpha():
            return Node("variable", name=token)
        raise NotAlgebra(_("“{token}” does not fit there.", token=token))

    @staticmethod
    def _starts_an_atom(token: str) -> bool:
        return bool(token) and (token == "(" or token[0].isalnum() or token[0] == ".")
