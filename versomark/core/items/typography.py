"""The same letters, however a keyboard, a phone or another script writes them.

Phones type ’ for ' and – for -, some keyboards full-width or Arabic-Indic digits, editors no-break spaces; é may be one
letter or two. None of that is part of an answer. Unicode's own tables say what is the same (UAX #15, compatibility
composition, with canonical caseless matching of chapter 3.13). What they leave apart though no reader sees it is listed
here: quotation marks, dashes and primes of several shapes.
"""

import re
import unicodedata

_SHAPES = str.maketrans(
    {
        **dict.fromkeys("‘’‚‛′‵ʼʹ`ˈ＇", "'"),
        **dict.fromkeys("“”„‟″‶«»＂", '"'),
        **dict.fromkeys("‐‑‒–—―−﹘﹣－⁃˗", "-"),
        **dict.fromkeys("⁄∕／", "/"),
        # Neither seen nor meant: joiners, marks of direction, soft hyphens, the mark at the head of a file.
        **dict.fromkeys("\u00ad\u200b\u200c\u200d\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2060\ufeff", None),
    }
)
_SEPARATORS = str.maketrans({"٫": ".", "٬": ","})
_AFTER_DIGIT = re.compile(r"(?<=\d)(?=[¼-¾⅐-⅞↉])")


def same_letters(text: str) -> str:
    """The text with one spelling for what looks the same; runs of spaces are one space, none at the ends.

    Applying it twice is the same as once. Case and accents stay.
    """
    # 1½ is one and a half, and not eleven halves.
    text = _AFTER_DIGIT.sub(" ", ascii_digits(text))
    text = unicodedata.normalize("NFKC", text.translate(_SHAPES)).translate(_SHAPES)
    # ´ alone, which Unicode takes for a space with an accent on it.
    text = text.replace(" \u0301", "'")
    return " ".join(ascii_digits(unicodedata.normalize("NFKC", text)).split())


def caseless(text: str) -> str:
    """Of `same_letters`, without capitals: ΑΣ and ας, STRASSE and straße are the same."""
    return same_letters(unicodedata.normalize("NFKC", same_letters(text).casefold()))


def without_accents(text: str) -> str:
    apart = unicodedata.normalize("NFD", text)
    return unicodedata.normalize("NFC", "".join(c for c in apart if not unicodedata.combining(c)))


def ascii_digits(text: str) -> str:
    """Decimal digits of any script as 0 to 9."""
    return "".join(str(unicodedata.decimal(c)) if c.isdecimal() and not c.isascii() else c for c in text)


def fractions_written_out(text: str) -> str:
    """½ as (1/2), where a product may stand beside it."""
    return "".join(
        f"({unicodedata.normalize('NFKC', c)})" if unicodedata.decomposition(c).startswith("<fraction>") else c
        for c in text
    )


def number_letters(text: str) -> str:
    """As a number is read: digits, signs and separators of any script in one shape, fractions written out; units, with
    their raised figures, as they were typed."""
    results = []
    for c in _AFTER_DIGIT.sub(" ", ascii_digits(text)):
        wide = "\uff01" <= c <= "\uff5e"
        parts = unicodedata.decomposition(c)
        if wide or parts.startswith("<fraction>"):
            c = unicodedata.normalize("NFKC", c)
        results.append(" " if unicodedata.category(c[0]) == "Zs" else c)
    return "".join(results).translate(_SHAPES | _SEPARATORS)
