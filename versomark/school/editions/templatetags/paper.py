"""What the templates of printed papers use besides Django's own tags."""

import re
from base64 import b64encode
from functools import lru_cache
from html import escape
from string import ascii_uppercase

from django import template
from django.utils.safestring import SafeString, mark_safe

from versomark.core.items.by_rubric import FileKind, file_kinds_in_words
from versomark.core.language import _n, in_figures
from versomark.core.notation.formulas import drawable, mathml
from versomark.core.text import plain, with_formulas

register = template.Library()

LARGER = 1.16
"""The letters of the formulas are smaller than Literata's at the same size; so enlarged, they stand level with it."""
GAP = re.compile(r"\[([a-z])\]")


@lru_cache(maxsize=4000)
def formula(tex: str, alone: bool) -> str:
    """A formula as a picture that stands on the line, or alone; what is not TeX stays as it was typed."""
    from ziamath.config import config
    from ziamath.zmath import Math

    # Letters as paths in their place: symbols that are drawn by reference cost WeasyPrint three times as long.
    config.svg2 = False
    try:
        # For this library whatever is not said to be within a line stands alone.
        style = "" if alone else 'display="inline" '
        drawn = Math(drawable(mathml(tex, alone)).replace("<math ", f"<math {style}", 1), size=16)
        svg, drop = drawn.svg(), drawn.getyofst()
        width, height = drawn.getsize()
    except Exception:  # ziamath raises whatever the text makes it
        return escape(f"${tex}$", quote=False)
    source = b64encode(svg.encode()).decode()
    width, height, drop = (length / 16 * LARGER for length in (width, height, drop))
    style = f"width:{width:.3f}em;height:{height:.3f}em;vertical-align:{drop:.3f}em"
    names = "tex alone" if alone else "tex"
    return f'<img class="{names}" style="{style}" alt="{escape(tex)}" src="data:image/svg+xml;base64,{source}">'


@register.filter
def letter(place: int) -> str:
    """The letter of an entry, counting from 0: what an answer sheet calls it."""
    return ascii_uppercase[place]


@register.filter
def rich(text: str) -> SafeString:
    """Rich text, which the core has cleaned, with its formulas drawn and its pictures found."""
    text = with_formulas(text, formula)
    return mark_safe(text.replace('src="/pictures/', 'src="verso:/pictures/'))  # cleaned by core.text


@register.filter
def with_gaps(text: str) -> SafeString:
    """The text of a gap item with a ruled gap for each letter."""
    return rich(GAP.sub('<span class="gap"></span>', text))


@register.filter
def words(text: str) -> str:
    return plain(text)


@register.filter
def marks(value: float) -> str:
    return _n("{value} mark", "{value} marks", value, value=in_figures(value))


@register.filter
def in_words(kinds: list[FileKind]) -> str:
    return file_kinds_in_words(kinds)


@register.filter
def times(count: int) -> range:
    return range(int(count))


@register.filter
def joined(parts: list[str]) -> str:
    return " / ".join(parts)
