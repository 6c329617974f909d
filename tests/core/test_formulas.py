"""One formula is the same wherever it goes: on the screen, on paper, in a document, in another program, and back.

The screen is KaTeX's; its signs are the measure. What draws on paper and what writes documents are other libraries;
each is asked for the signs it has really put down.
"""

import re
from collections import Counter
from html import unescape
from html.entities import name2codepoint
from pathlib import Path

import pint
import pytest
from defusedxml.ElementTree import fromstring
from mathml2omml import convert
from ziamath.config import config
from ziamath.zmath import Math

import versomark.core.notation as notation
from versomark.core.notation.formulas import NotAFormula, annotated, drawable, mathml, signs
from versomark.core.notation.reading_mathml import tex_of

HERE = Path(__file__).parent
FORMULAS = [line for line in (HERE / "formulas.txt").read_text().splitlines() if not line.startswith("#")]
WEB = HERE.parents[1] / "web"
LINES = set("¯‾_→⃗^ˆ˙¨~˜⏞⏟̂̃̄̇̈ˉ∣|\u0302")
"""Signs over and under others, which a library may draw as a line of its own, and bars that have several numbers."""


def letters(text: str) -> Counter[str]:
    return Counter(c for c in "".join(text.split()) if c not in LINES)


def test_there_are_two_hundred() -> None:
    assert len(set(FORMULAS)) == len(FORMULAS) >= 200


@pytest.mark.parametrize("tex", FORMULAS)
def test_a_formula_is_the_same_everywhere(tex: str) -> None:
    math = mathml(tex)
    seen = signs(math)
    assert seen
    # On paper: what is drawn is counted, a path for each letter; a letter that is lost leaves one too few.
    config.svg2 = False
    drawn = Math(drawable(math), size=16)
    width, height = drawn.getsize()
    assert width > 0 < height
    assert drawn.svg().count("<path") >= sum(letters(seen).values())
    # In a document: the text of its runs, and the signs that stand in properties.
    office = unescape(convert(math, name2codepoint))
    written = "".join(re.findall(r"<m:t(?: [^>]*)?>(.*?)</m:t>", office))
    written += "".join(re.findall(r'<m:(?:chr|begChr|endChr) m:val="([^"]*)"', office))
    assert not letters(seen) - letters(written), f"{tex}: {seen} became {written}"
    # To another program and back: exactly, by the note; and by its elements alone with all its signs.
    assert tex_of(fromstring(annotated(tex))) == tex
    back = tex_of(fromstring(math))
    assert back is not None
    assert signs(mathml(back)) == seen


@pytest.mark.parametrize(
    ("tex", "place"),
    [(r"\frac{1}{", 9), (r"2+\foo", 2), ("x^a^b", 3), (r"\left(x", 7), (r"\begin{cases}x", 14)],
)
def test_what_is_no_formula_is_said_with_its_place(tex: str, place: int) -> None:
    with pytest.raises(NotAFormula) as refusal:
        mathml(tex)
    assert refusal.value.place == place


def test_a_hostile_formula_ends() -> None:
    for tex in (
        r"\def\a{\a\a}\a",
        "x" * 5000,
        "{" * 2000,
        r"\frac" * 900,
        r"\href{javascript:x}{y}",
        "\x00",
        "x\ud800",
    ):
        try:
            assert "javascript" not in mathml(tex)
        except NotAFormula:
            continue
    assert signs(mathml("x")) == "x"  # and the next one is read


@pytest.mark.parametrize("name", ["katex.min.js", "mhchem.min.js"])
def test_the_server_and_the_pages_read_with_the_same_library(name: str) -> None:
    """Byte for byte: the server's copy is what the pages are built with."""
    ours = Path(notation.__path__[0]) / name
    [theirs] = (WEB / "node_modules" / "katex" / "dist").rglob(name)
    assert ours.read_bytes() == theirs.read_bytes()


UNITS = pint.UnitRegistry()
NAMES = [
    "metre", "gram", "second", "ampere", "kelvin", "mole", "candela", "hertz", "newton", "pascal", "joule", "watt",
    "coulomb", "volt", "farad", "siemens", "weber", "tesla", "henry", "lumen", "lux", "becquerel", "gray", "sievert",
    "katal", "radian", "steradian", "minute", "hour", "day", "hectare", "electronvolt",
]  # fmt: skip


@pytest.mark.parametrize("name", NAMES)
def test_units_have_the_signs_that_another_library_knows(name: str) -> None:
    """Against pint's registry, which follows the SI brochure; each alone and with every prefix."""
    pint_name = {"electronvolt": "electron_volt"}.get(name, name)
    for prefix in ("", "nano", "milli", "centi", "kilo", "mega", "giga"):
        math = mathml(rf"\unit{{{chr(92) + prefix + ' ' if prefix else ''}\{name}}}")
        expected = (
            f"{UNITS.Unit(prefix + pint_name):~}"
            if name not in ("minute", "hour", "day", "hectare") or not prefix
            else None
        )
        if expected is not None:
            assert signs(math) == expected


def test_quantities_by_name_or_by_letter_are_the_same() -> None:
    """The power of a unit belongs to it with its prefix, and `per` to the next unit only (SI brochure, 5.4)."""
    by_name = mathml(r"\qty{3}{\kilo\metre\squared\per\second\cubed\kelvin}")
    assert by_name == mathml(r"\qty{3}{km^2.s^{-3}.K}") == mathml(r"3\,\mathrm{km}^{2}\,\mathrm{s}^{-3}\,\mathrm{K}")
    assert mathml(r"\unit{\cubic\metre}") == mathml(r"\unit{m^3}") == mathml(r"\mathrm{m}^{3}")
    assert mathml(r"\num{12345,6}") == mathml(r"12\,345{,}6")
    assert mathml(r"\num{1234.56789}") == mathml(r"1234.567\,89")
    assert mathml(r"\num{-1.5e-7}") == mathml(r"-1.5\times 10^{-7}")


MATH = '<math xmlns="http://www.w3.org/1998/Math/MathML">{}</math>'


@pytest.mark.parametrize(
    ("elements", "tex"),
    [
        # Worked examples of MathML 3 (W3C), sections 3.2.4 to 3.6, as they stand there or shortened.
        ("<mrow><mn>12</mn><mo>+</mo><msup><mi>x</mi><mn>2</mn></msup><mo>=</mo><mn>3</mn></mrow>", "12+x^{2}=3"),
        ("<mfrac><mi>a</mi><mi>b</mi></mfrac>", r"\frac{a}{b}"),
        ("<mfenced><mi>x</mi><mi>y</mi></mfenced>", r"\left(x,y\right)"),
        ("<msqrt><mi>x</mi><mo>+</mo><mn>1</mn></msqrt>", r"\sqrt{x+1}"),
        ("<munderover><mo>&#x222B;</mo><mn>0</mn><mi>&#x221E;</mi></munderover>", r"\int_{0}^{\infty}"),
        ("<mover><mi>x</mi><mo>&#xAF;</mo></mover>", r"\bar{x}"),
        ("<mi>sin</mi><mo>&#x2061;</mo><mi>x</mi>", r"\sin x"),
        ("<mtable><mtr><mtd><mn>1</mn></mtd><mtd><mn>2</mn></mtd></mtr></mtable>", r"\begin{matrix}1 & 2\end{matrix}"),
        ("<mmultiscripts><mi>F</mi><mn>1</mn><none/><mprescripts/><mn>0</mn><none/></mmultiscripts>", r"{}_{0}F_{1}"),
        ("<mstack><mn>424</mn></mstack>", None),
        ("<mi>x</mi><maction><mn>1</mn></maction>", None),
    ],
)
def test_mathml_of_others_is_read_or_refused(elements: str, tex: str | None) -> None:
    assert tex_of(fromstring(MATH.format(elements))) == tex
