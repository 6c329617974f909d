"""Words for passes and for the code on the board: short, common, hard to mishear, and none that a class would laugh at."""

import secrets

WORDS = tuple(
    """acorn amber anchor apple arrow aspen badge basil beach berry birch bloom brook brush cabin camel canoe cedar
    chalk cherry cloud clover coast cocoa comet copper coral crane creek daisy delta drift eagle ember fable falcon
    feather fern fiddle field finch fjord flint forest fossil fox garden gecko ginger glider grape gravel harbor hazel
    heron hill honey indigo island ivory jade juniper kayak kelp kettle kite lagoon lantern larch laurel lemon lilac
    linen lotus lynx magpie maple marble meadow melon mint mirror moss nectar nickel oak oasis ocean olive onyx opal
    orbit orchid otter owl paddle panda paper pearl pebble pepper petal pier pilot pine planet plum pocket pond poppy
    prairie quartz quill rabbit raven reef ribbon ridge river robin rocket rose saddle saffron sail salmon sand
    seal shell silver sparrow spruce star stone summit sunny swan table teal thistle tiger topaz trail tulip tundra
    turtle valley velvet violet walnut water whale wheat willow winter wren yarrow zebra""".split()
)


def word_and_digits(digits: int) -> str:
    """Such as `kelp-47`: a random word, then digits that never start with 0."""
    low = 10 ** (digits - 1)
    return f"{secrets.choice(WORDS)}-{low + secrets.randbelow(9 * low)}"


def normalised(typed: str) -> str:
    """`Kelp 47` and `KELP47` as `kelp-47`: what students type on phones."""
    letters = "".join(c for c in typed.casefold() if c.isalpha())
    digits = "".join(c for c in typed if c.isdigit())
    return f"{letters}-{digits}"
