"""Rich text: whatever comes in, what is kept is safe, stays so when cleaned again, and reads as the same words."""

import re
from html import unescape
from html.parser import HTMLParser
from pathlib import Path

import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st

from versomark.core.text import (
    ATTRIBUTES,
    TAGS,
    TEX,
    clean,
    escaped,
    is_empty,
    pictures,
    pictures_without_words,
    plain,
    readable,
    with_formulas,
)

PICTURE = "/pictures/00000000-0000-4000-8000-000000000000"
PIECES = st.sampled_from(
    [
        "<p>", "</p>", "<b>", "</b>", "<script>", "</script>", "<img src=x onerror=alert(1)>", f'<img src="{PICTURE}">',
        "<table><tr><td colspan=3>", "</td></tr></table>", "<a href='javascript:1'>", "&amp;", "&", "<", ">", "$x<y$",
        "<svg/onload=1>", "<style>p{}</style>", "<!-- note -->", "\u00a0", "&nbsp;", "word ", "é", '"', "'", "<h1>",
        "<br>",
        "<iframe src=//elsewhere>", "<math><mi>x</mi></math>", "<p style='x'>", "<ul><li>", "</li></ul>", "\x00", "\n",
    ]
)  # fmt: skip
MESS = st.lists(PIECES, max_size=12).map("".join) | st.text(max_size=40)


class Seen(HTMLParser):
    def __init__(self, text: str) -> None:
        super().__init__()
        self.tags: list[tuple[str, dict[str, str | None]]] = []
        self.feed(text)

    def handle_starttag(self, tag: str, attributes: list[tuple[str, str | None]]) -> None:
        self.tags.append((tag, dict(attributes)))


@given(MESS)
def test_what_is_kept_is_of_the_short_list_and_stays_as_it_is(text: str) -> None:
    kept = clean(text)
    assert clean(kept) == kept
    for tag, attributes in Seen(kept).tags:
        assert tag in TAGS
        assert set(attributes) <= ATTRIBUTES.get(tag, set())
        if "src" in attributes:
            assert attributes["src"] == PICTURE
    assert "<script" not in kept.lower()
    assert "onerror" not in kept or "&" in kept or not Seen(kept).tags


@given(st.text(max_size=60))
def test_plain_words_made_rich_read_as_they_were(words: str) -> None:
    assert plain(clean(escaped(words))) == " ".join(words.replace("\x00", "").split()) or "\x00" in words
    assert plain(escaped(words)) == plain(escaped(plain(escaped(words))))


@pytest.mark.parametrize(
    ("text", "kept"),
    [
        ("<p>One line</p>", "One line"),
        ("if $x<y$ and a<b and c>d", "if $x&lt;y$ and a&lt;b and c&gt;d"),
        ("1 <b 2> 3 <i>so</i>", "1 &lt;b 2&gt; 3 <em>so</em>"),
        ("<o:p></o:p>Pasted<![endif]--> <foo>", "Pasted &lt;foo&gt;"),
        ("<p>One</p><p>Two</p>", "<p>One</p><p>Two</p>"),
        ("<p>End</p><p></p><p><br></p>", "End"),
        ("<h1>Big</h1>", "<h3>Big</h3>"),
        ("<B>b</B><i>i</i>", "<strong>b</strong><em>i</em>"),
        ("<p class=MsoNormal><span lang=EN>From <o:p></o:p>a document</span></p>", "From a document"),
        ("3 &lt; 5", "3 &lt; 5"),
        ("5&nbsp;m", "5\u00a0m"),
        ('<td colspan="900">x</td>', "x"),
    ],
)
def test_pasted_text_keeps_its_structure_and_loses_its_dress(text: str, kept: str) -> None:
    assert clean(text) == kept


def test_words_pictures_and_formulas_of_a_text() -> None:
    text = (
        f'<p>Look at <strong>this</strong></p><p><img src="{PICTURE}" alt="a lamp">and <img src="{PICTURE}" alt=""></p>'
    )
    assert plain(text) == "Look at this a lamp and"
    assert pictures(text) == [PICTURE.rsplit("/", 1)[1]] * 2
    assert pictures_without_words(text) == 1
    assert not is_empty(f'<img src="{PICTURE}">')
    assert is_empty("<p> </p>")
    assert readable("$x^2$ costs $5 and $10") == "x^2 costs $5 and $10"
    assert [found[1] for found in TEX.finditer("$a$ and $ b$ and $5 and $6")] == ["a"]


def test_formulas_on_paper_are_pictures_on_the_line_and_bad_ones_stay_as_typed() -> None:
    from versomark.school.editions.templatetags.paper import marks, rich, with_gaps

    drawn = str(rich("so $\\frac{1}{2}$ &lt; $x$"))
    assert len(re.findall(r'<img class="tex"', drawn)) == 2
    assert 'alt="\\frac{1}{2}"' in drawn
    assert "vertical-align:" in drawn
    assert str(rich("costs $5 and $10")) == "costs $5 and $10"
    assert str(with_gaps("One [a] and [b].")).count('class="gap"') == 2
    assert (marks(1), marks(2.5)) == ("1 mark", "2.5 marks")


@given(st.text("xyz<>=$&1 .;-()", max_size=40))
@example("<x->")
@example("<x-y>")
def test_signs_that_are_no_tags_are_never_lost(text: str) -> None:
    """“Less than” and “greater than” as they are typed in a table of questions, without a tag among them."""
    assume(not re.search(r"</?[xyz]{2,}-", text))  # could be an element of two words
    assert plain(clean(text)) == " ".join(unescape(text).split())
    assert clean(clean(text)) == clean(text)


@pytest.mark.parametrize(
    ("text", "formulas"),
    [
        ("$x^2$", ["x^2"]),
        ("costs $5 and $10", []),
        ("a $x$ b $y+1$ c", ["x", "y+1"]),
        ("$ x$", []),
        ("$x $", []),
        ("$x$5", []),
        ("$5 for $x$", ["x"]),
        ("<p>$a<b$</p>", ["a&lt;b"]),
        ("no formula", []),
        ("$\\frac{1}{2}$ of $12", ["\\frac{1}{2}"]),
    ],
)
def test_formulas_are_told_from_money(text: str, formulas: list[str]) -> None:
    """The rule of the page is the rule of the paper: web/src/ui/tex.ts holds the same expression."""
    assert TEX.findall(clean(text)) == formulas
    page = (Path(__file__).parents[2] / "web" / "src" / "ui" / "tex.ts").read_text(encoding="utf-8")
    ours = re.search(r"export const TEX = /(.*)/g;", page)
    assert ours
    assert ours[1] == TEX.pattern


def test_formulas_are_found_where_the_pages_find_them() -> None:
    """Within one line of text: not in what an attribute says, and not from one element into another."""
    found = list[tuple[str, bool]]()
    text = clean(
        '<p>$a&lt;b$ and $5 to <em>6$</em> of it</p><p>$x$</p><p><img src="/pictures/'
        '00000000-0000-4000-8000-000000000000" alt="$no$ > 3"></p><p>$$y$$</p>'
    )
    written = with_formulas(text, lambda tex, alone: found.append((tex, alone)) or "F")
    assert found == [("a<b", False), ("x", True), (r"\displaystyle y", True)]
    assert "<p>F and $5 to <em>6$</em> of it</p><p>F</p>" in written
    assert 'alt="$no$ &gt; 3"' in written
