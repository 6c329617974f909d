"""MathML of other programs as the TeX in which formulas are kept here.

What holds the TeX it came from is read back as that. Everything else is put together by its elements (MathML Core and
the presentation elements of MathML 3, chapter 3); what has an element that is not known is not half understood.
"""

import unicodedata
from collections.abc import Callable
from xml.etree.ElementTree import Element

from .formulas import is_formula

TEX_TYPES = {"application/x-tex", "TeX", "LaTeX", "application/x-latex"}
_DEEPEST = 60
_SIGNS = {
    "×": r"\times ", "⋅": r"\cdot ", "·": r"\cdot ", "÷": r"\div ", "±": r"\pm ", "∓": r"\mp ", "−": "-",
    "≤": r"\le ", "≥": r"\ge ", "≠": r"\ne ", "≈": r"\approx ", "≡": r"\equiv ", "∼": r"\sim ", "∝": r"\propto ",
    "→": r"\to ", "←": r"\leftarrow ", "⇒": r"\Rightarrow ", "⇔": r"\Leftrightarrow ", "↔": r"\leftrightarrow ",
    "⇌": r"\rightleftharpoons ", "∞": r"\infty ", "∑": r"\sum ", "∏": r"\prod ", "∫": r"\int ", "∬": r"\iint ",
    "∮": r"\oint ", "∂": r"\partial ", "∇": r"\nabla ", "√": r"\surd ", "∈": r"\in ", "∉": r"\notin ",
    "⊂": r"\subset ", "⊆": r"\subseteq ", "∪": r"\cup ", "∩": r"\cap ", "∅": r"\emptyset ", "∀": r"\forall ",
    "∃": r"\exists ", "∧": r"\wedge ", "∨": r"\vee ", "¬": r"\neg ", "∥": r"\parallel ", "⊥": r"\perp ",
    "∠": r"\angle ", "△": r"\triangle ", "°": r"\degree ", "↓": r"\downarrow ", "↑": r"\uparrow ", "⩽": r"\leqslant ",
    "⩾": r"\geqslant ", "′": "'", "″": "''", "…": r"\dots ", "⋯": r"\cdots ", "∘": r"\circ ", "{": r"\{", "}": r"\}",
    "%": r"\%", "#": r"\#", "&": r"\&", "$": r"\$", "_": r"\_", "\\": r"\backslash ", "~": r"\sim ", "^": r"\hat{\ }",
    "⟨": r"\langle ", "⟩": r"\rangle ", "∣": "|", "‖": r"\Vert ", "ℝ": r"\mathbb{R}", "ℕ": r"\mathbb{N}",
    "ℤ": r"\mathbb{Z}", "ℚ": r"\mathbb{Q}", "ℂ": r"\mathbb{C}", "\u00a0": r"\ ", "\u2009": r"\,",
    "ε": r"\varepsilon ", "ϵ": r"\epsilon ", "ϑ": r"\vartheta ", "φ": r"\varphi ", "ϕ": r"\phi ", "ϱ": r"\varrho ",
    "ς": r"\varsigma ", "ϖ": r"\varpi ", "ℓ": r"\ell ", "ħ": r"\hbar ", "µ": r"\mu ",
}  # fmt: skip
_ACCENTS = {
    "^": "hat", "ˆ": "hat", "¯": "bar", "ˉ": "bar", "‾": "overline", "→": "vec", "⃗": "vec", "⇀": "vec", "˙": "dot",
    "¨": "ddot", "~": "tilde", "˜": "tilde", "⏞": "overbrace",
}  # fmt: skip
_UNDER = {"⏟": "underbrace", "_": "underline", "‾": "underline", "̲": "underline"}
_NAMED = {
    "sin", "cos", "tan", "cot", "sec", "csc", "arcsin", "arccos", "arctan", "sinh", "cosh", "tanh", "log", "ln", "lg",
    "exp", "lim", "max", "min", "sup", "inf", "det", "gcd", "dim", "ker", "arg", "deg",
}  # fmt: skip
_OPENING = {"(", "[", "{", "|", "∣", "⟨", "‖", ""}
_CLOSING = {")", "]", "}", "|", "∣", "⟩", "‖", ""}
_ALPHABETS = {
    "BOLD": "mathbf", "DOUBLE-STRUCK": "mathbb", "SCRIPT": "mathcal", "FRAKTUR": "mathfrak", "SANS-SERIF": "mathsf",
    "MONOSPACE": "mathtt",
}  # fmt: skip
_INVISIBLE = set("\u2061\u2062\u2063\u2064\u200b")


class _Unknown(Exception):
    """An element of MathML for which there is no TeX here."""


def tex_of(math: Element) -> str | None:
    """The TeX of a `<math>` element; None where there is none that says the same.

    Parameters
    ----------
    math
        The element, with or without MathML's namespace.
    """
    for note in math.iter():
        if _name(note) == "annotation" and note.get("encoding") in TEX_TYPES:
            tex = (note.text or "").strip()
            if tex and "$" not in tex and is_formula(tex):
                return tex
    try:
        tex = _tex(math, 0).strip()
    except _Unknown:
        return None
    return tex if tex and "$" not in tex.replace(r"\$", "") and r"\$" not in tex and is_formula(tex) else None


def _name(element: Element) -> str:
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def _children(element: Element, deep: int) -> str:
    return "".join(_tex(child, deep + 1) for child in element if _name(child))


def _tex(element: Element, deep: int) -> str:
    name = _name(element)
    if deep > _DEEPEST:
        raise _Unknown(name)
    if name in ("mrow", "mstyle", "mpadded", "math"):
        return _bracketed(element, deep) or _children(element, deep)
    if name == "semantics":
        return _tex(element[0], deep + 1) if len(element) else ""
    if name in ("annotation", "annotation-xml", "mprescripts", "none", "maligngroup", "malignmark"):
        return ""
    writer = _ELEMENTS.get(name)
    if writer is None:
        raise _Unknown(name)
    return writer(element, deep)


def _bracketed(element: Element, deep: int) -> str:
    """A row between brackets that grow with what they hold."""
    parts = [child for child in element if _name(child)]
    if len(parts) < 2 or not any(
        _name(child) == "mo" and child.get("fence") == "true" for child in (parts[0], parts[-1])
    ):
        return ""
    tall = any(_name(inner) in ("mfrac", "mtable", "msqrt", "mroot", "munderover") for inner in element.iter())
    first, last = (_letters(end) if _name(end) == "mo" else None for end in (parts[0], parts[-1]))
    if first == "{" and _name(parts[-1]) == "mtable":
        last = ""
        parts.append(parts[-1])
    if not tall or first is None or last is None or first not in _OPENING or last not in _CLOSING:
        return ""
    inside = "".join(_tex(child, deep + 1) for child in parts[1:-1])
    return rf"\left{_SIGNS.get(first, first) or '.'}{inside}\right{_SIGNS.get(last, last) or '.'}"


def _part(element: Element, at: int, deep: int) -> str:
    try:
        return _tex(element[at], deep + 1).strip()
    except IndexError:
        raise _Unknown(_name(element)) from None


def _letters(element: Element) -> str:
    letters = "".join(c for c in "".join((element.text or "").split()) if c not in _INVISIBLE)
    return unicodedata.normalize("NFC", letters)


def _sign(c: str) -> str:
    if c in _SIGNS:
        return _SIGNS[c]
    alphabet = unicodedata.name(c, "").removeprefix("MATHEMATICAL ").split()[:1]
    plain = unicodedata.normalize("NFKC", c)
    if plain != c and plain.isascii() and alphabet and alphabet[0] in _ALPHABETS:
        return rf"\{_ALPHABETS[alphabet[0]]}{{{plain}}}"
    word = unicodedata.name(c, "").lower().split()
    if word[:1] == ["greek"] and word[2:3] == ["letter"] and len(word) == 4:
        letter = {"lamda": "lambda"}.get(word[3], word[3])
        tex = rf"\{letter.capitalize() if word[1] == 'capital' else letter} "
        return tex if is_formula(tex) else c
    return c


def _identifier(element: Element, deep: int) -> str:
    letters = _letters(element)
    if letters in _NAMED:
        return rf"\{letters} "
    tex = "".join(map(_sign, letters))
    variant = element.get("mathvariant", "")
    if variant == "bold":
        return rf"\mathbf{{{tex.strip()}}}"
    if variant == "double-struck":
        return rf"\mathbb{{{tex.strip()}}}"
    upright = variant == "normal" or len(letters) > 1
    return rf"\mathrm{{{tex.strip()}}}" if upright and letters.isalpha() and letters.isascii() else tex


def _number(element: Element, deep: int) -> str:
    return "".join("{,}" if c == "," else _sign(c) for c in _letters(element))


def _operator(element: Element, deep: int) -> str:
    letters = _letters(element)
    return rf"\{letters} " if letters in _NAMED else "".join(map(_sign, letters))


def _text(element: Element, deep: int) -> str:
    text = (element.text or "").replace("\u00a0", " ")
    if not text.strip():
        return r"\ " if text else ""
    return r"\text{" + "".join(rf"\{c}" if c in "{}%#&_" else c for c in text if c not in "\\$^~") + "}"


def _raised(element: Element, deep: int) -> str:
    power = _part(element, 1, deep)
    return f"{_base(element, deep)}{power}" if power.strip("'") == "" else f"{_base(element, deep)}^{{{power}}}"


def _base(element: Element, deep: int) -> str:
    base = _part(element, 0, deep)
    return base if len(base) == 1 or (base.startswith("\\") and base[1:].isalpha()) else f"{{{base}}}"


def _over(element: Element, deep: int) -> str:
    over = _letters(element[1]) if len(element) > 1 and _name(element[1]) == "mo" else ""
    base = _part(element, 0, deep)
    if over in _ACCENTS:
        accent = {"vec": "overrightarrow", "hat": "widehat"}.get(_ACCENTS[over], _ACCENTS[over])
        return rf"\{accent if len(base) > 1 and base[0] != chr(92) else _ACCENTS[over]}{{{base}}}"
    return rf"\overset{{{_part(element, 1, deep)}}}{{{base}}}"


def _under(element: Element, deep: int) -> str:
    under = _letters(element[1]) if len(element) > 1 and _name(element[1]) == "mo" else ""
    base = _part(element, 0, deep)
    if under in _UNDER:
        return rf"\{_UNDER[under]}{{{base}}}"
    if base in (r"\lim", r"\max", r"\min", r"\sum", r"\prod"):
        return (
            rf"{base}\limits_{{{_part(element, 1, deep)}}}"
            if base in (r"\sum", r"\prod")
            else rf"{base}_{{{_part(element, 1, deep)}}}"
        )
    return rf"\underset{{{_part(element, 1, deep)}}}{{{base}}}"


def _under_over(element: Element, deep: int) -> str:
    base, low, high = (_part(element, at, deep) for at in range(3))
    if base.startswith("\\") and base[1:].isalpha() and base[1:] not in ("to", "rightleftharpoons"):
        return f"{base}_{{{low}}}^{{{high}}}"
    return rf"\overset{{{high}}}{{\underset{{{low}}}{{{base}}}}}"


def _fenced(element: Element, deep: int) -> str:
    begin, end = (_sign(element.get(which, usual)) for which, usual in (("open", "("), ("close", ")")))
    between = element.get("separators", ",")[:1].strip()
    inside = between.join(_tex(child, deep + 1) for child in element)
    return rf"\left{begin or '.'}{inside}\right{end or '.'}"


def _table(element: Element, deep: int) -> str:
    rows = []
    for row in element:
        if _name(row) not in ("mtr", "mlabeledtr"):
            raise _Unknown(_name(row))
        rows.append(" & ".join(_children(cell, deep + 2) for cell in row))
    return r"\begin{matrix}" + r" \\ ".join(rows) + r"\end{matrix}"


def _before(element: Element, deep: int) -> str:
    names = [_name(child) for child in element]
    at = names.index("mprescripts") if "mprescripts" in names else len(names)
    after, before = list(element)[1:at], list(element)[at + 1 :]
    if len(before) > 2 or len(after) > 2:
        raise _Unknown("mmultiscripts")
    return f"{{}}{_scripts(before, deep)}{_base(element, deep)}{_scripts(after, deep)}"


def _scripts(parts: list[Element], deep: int) -> str:
    written = ((sign, _tex(part, deep + 1).strip()) for sign, part in zip("_^", parts, strict=False))
    return "".join(f"{sign}{{{tex}}}" for sign, tex in written if tex)


def _enclosed(element: Element, deep: int) -> str:
    notation = set(element.get("notation", "").split())
    for names, command in (
        ({"box"}, "boxed"),
        ({"updiagonalstrike"}, "cancel"),
        ({"downdiagonalstrike"}, "bcancel"),
        ({"top"}, "overline"),
        ({"bottom"}, "underline"),
        ({"horizontalstrike"}, "sout"),
    ):
        if notation == names:
            return rf"\{command}{{{_children(element, deep)}}}"
    raise _Unknown("menclose")


def _fraction(element: Element, deep: int) -> str:
    above, below = _part(element, 0, deep), _part(element, 1, deep)
    bare = element.get("linethickness", "") in ("0", "0px", "0pt", "0em")
    return rf"{{{above} \atop {below}}}" if bare else rf"\frac{{{above}}}{{{below}}}"


_ELEMENTS: dict[str, Callable[[Element, int], str]] = {
    "mi": _identifier,
    "mn": _number,
    "mo": _operator,
    "mtext": _text,
    "ms": _text,
    "mspace": lambda element, deep: r"\ " if element.get("width") else "",
    "mfrac": _fraction,
    "msqrt": lambda element, deep: rf"\sqrt{{{_children(element, deep)}}}",
    "mroot": lambda element, deep: rf"\sqrt[{_part(element, 1, deep)}]{{{_part(element, 0, deep)}}}",
    "msup": _raised,
    "msub": lambda element, deep: f"{_base(element, deep)}_{{{_part(element, 1, deep)}}}",
    "msubsup": lambda element, deep: (
        f"{_base(element, deep)}_{{{_part(element, 1, deep)}}}^{{{_part(element, 2, deep)}}}"
    ),
    "mover": _over,
    "munder": _under,
    "munderover": _under_over,
    "mfenced": _fenced,
    "mtable": _table,
    "mmultiscripts": _before,
    "menclose": _enclosed,
    "mphantom": lambda element, deep: rf"\phantom{{{_children(element, deep)}}}",
}
