"""QTI: what we write we read again the same, what others write is read by the standard, and what means harm is refused.

The items of other systems below are written by hand after the examples of 1EdTech's QTI 2.1 implementation guide and
QTI 3.0 beginner's guide (from memory: the shapes are the standard's, the words ours).
"""

import io
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.every_kind import ANY, CONTENTS, KEYED, right_answer, wrong_answer
from versomark.core.formats.qti import (
    SentItem,
    SentSection,
    open_package,
    read_item,
    sayable,
    unsayable,
    write_item,
    write_package,
)
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.items import ContentBase, ItemContent
from versomark.core.items.numeric import Numeric
from versomark.core.items.single_choice import SingleChoice, SingleChoiceResponse

PICTURE = "00000000-0000-4000-8000-000000000000"


def back(content: ContentBase) -> ItemContent:
    paths = {PICTURE: "../pictures/p.png"}
    written = write_item("I1", "Title", content, paths)  # type: ignore[arg-type]
    return read_item(written, lambda path: f"/pictures/{PICTURE}" if path == "../pictures/p.png" else None).content


@given(ANY.filter(lambda content: sayable(content) and not unsayable(content)))  # type: ignore[arg-type]
@settings(max_examples=300)
def test_what_the_standard_can_say_comes_back_the_same(content: ContentBase) -> None:
    assert back(content) == content


@given(KEYED.filter(lambda content: sayable(content)))  # type: ignore[arg-type]
def test_even_with_a_listed_loss_the_key_scores_the_same(content: ContentBase) -> None:
    again = back(content)
    if content.kind == "numeric" and unsayable(content):  # type: ignore[arg-type]
        assert unsayable(content) == ["the unit"]  # type: ignore[arg-type]
        return
    for response in (right_answer(content), wrong_answer(content)):
        assert again.score(response) == pytest.approx(content.score(response))


@given(CONTENTS["expression"] | CONTENTS["performance"])
def test_what_qti_has_no_place_for_is_said_by_item(content: ContentBase) -> None:
    assert "no interaction in QTI" in unsayable(content)[0]  # type: ignore[arg-type]
    with pytest.raises(ValueError, match="no interaction"):
        write_item("I", "", content)  # type: ignore[arg-type]


V21 = """<?xml version="1.0" encoding="UTF-8"?>
<assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="unattended" title="Signs" adaptive="false"
  timeDependent="false">
  <responseDeclaration identifier="RESPONSE" cardinality="single" baseType="identifier">
    <correctResponse><value>ChoiceA</value></correctResponse></responseDeclaration>
  <outcomeDeclaration identifier="SCORE" cardinality="single" baseType="integer">
    <defaultValue><value>0</value></defaultValue></outcomeDeclaration>
  <itemBody><p>Look at the <b>sign</b>.</p><p><img src="images/sign.png" alt="NO BAGS"/></p>
    <choiceInteraction responseIdentifier="RESPONSE" shuffle="false" maxChoices="1">
      <prompt>What does it say?</prompt>
      <simpleChoice identifier="ChoiceA">Keep your bag <i>with you</i>.</simpleChoice>
      <simpleChoice identifier="ChoiceB">No bags.
        <feedbackInline outcomeIdentifier="F" identifier="ChoiceB" showHide="show">No!</feedbackInline></simpleChoice>
      <simpleChoice identifier="ChoiceC" fixed="true">None of these</simpleChoice>
    </choiceInteraction></itemBody>
  <responseProcessing template="http://www.imsglobal.org/question/qti_v2p1/rptemplates/match_correct"/>
  <modalFeedback outcomeIdentifier="F" showHide="show" identifier="x">Well done</modalFeedback>
</assessmentItem>"""


def test_a_single_choice_of_version_2_1() -> None:
    read = read_item(V21.encode(), lambda path: f"/pictures/{PICTURE}" if path == "images/sign.png" else None)
    content = read.content
    assert isinstance(content, SingleChoice)
    assert (read.identifier, read.title, content.marks) == ("unattended", "Signs", 1)
    assert content.stem == (
        f'<p>Look at the <strong>sign</strong>.</p><p><img src="/pictures/{PICTURE}" alt="NO BAGS"></p>'
        "<p>What does it say?</p>"
    )
    assert [option.text for option in content.options] == [
        "Keep your bag <em>with you</em>.",
        "No bags.",
        "None of these",
    ]
    assert content.options[2].stays_last
    assert content.score(SingleChoiceResponse(option="ChoiceA")) == 1
    assert read.lost == ["what is said after a choice: “No!”", "what is said after answering: “Well done”"]


def item(body: str, declared: str, processing: str = "") -> bytes:
    return (
        '<qti-assessment-item xmlns="http://www.imsglobal.org/xsd/imsqtiasi_v3p0" identifier="i" title="t">'
        f"{declared}<qti-item-body>{body}</qti-item-body>{processing}</qti-assessment-item>"
    ).encode()


def test_numbers_gaps_pairs_and_points_of_version_3() -> None:
    number = read_item(
        item(
            "<p>How many? <qti-text-entry-interaction response-identifier='R'/></p>",
            "<qti-response-declaration identifier='R' cardinality='single' base-type='float'><qti-correct-response>"
            "<qti-value>42.5</qti-value></qti-correct-response></qti-response-declaration>",
            "<qti-response-processing><qti-response-condition><qti-response-if><qti-equal tolerance-mode='absolute' "
            "tolerance='1 1'><qti-variable identifier='R'/><qti-correct identifier='R'/></qti-equal>"
            "<qti-set-outcome-value identifier='SCORE'><qti-base-value base-type='float'>1</qti-base-value>"
            "</qti-set-outcome-value></qti-response-if></qti-response-condition></qti-response-processing>",
        )
    ).content
    assert isinstance(number, Numeric)
    assert (number.value, number.tolerance, number.amount, number.stem) == (42.5, "absolute", 1, "How many?")
    gaps = read_item(
        item(
            "<p>Richard of <qti-inline-choice-interaction response-identifier='A'>"
            "<qti-inline-choice identifier='G'>Gloucester</qti-inline-choice>"
            "<qti-inline-choice identifier='L'>Lancaster</qti-inline-choice></qti-inline-choice-interaction> and "
            "<qti-text-entry-interaction response-identifier='B'/>.</p>",
            "<qti-response-declaration identifier='A' cardinality='single' base-type='identifier'>"
            "<qti-correct-response><qti-value>G</qti-value></qti-correct-response></qti-response-declaration>"
            "<qti-response-declaration identifier='B' cardinality='single' base-type='string'><qti-mapping "
            "default-value='0'><qti-map-entry map-key='York' mapped-value='1'/><qti-map-entry map-key='york' "
            "mapped-value='0.5'/></qti-mapping></qti-response-declaration>",
        )
    )
    content = gaps.content
    assert (content.kind, content.text, content.marks) == ("gaps", "Richard of [a] and [b].", 1)  # type: ignore[union-attr]
    # Half a point for one word is no way of scoring here, and a wrong key is worse than none.
    assert content.key_words() == "a ; b "
    (lost,) = gaps.lost
    assert lost.startswith("its key (a Gloucester; b York or york)")
    point = read_item(
        item(
            "<qti-select-point-interaction response-identifier='R' max-choices='1'><qti-prompt>Mark it.</qti-prompt>"
            "<object type='image/png' width='200' height='100' data='m.png'>A map</object>"
            "</qti-select-point-interaction>",
            "<qti-response-declaration identifier='R' cardinality='single' base-type='point'><qti-area-mapping>"
            "<qti-area-map-entry shape='circle' coords='100,50,10' mapped-value='2'/><qti-area-map-entry shape='poly' "
            "coords='0,0,9,9,0,9' mapped-value='1'/></qti-area-mapping></qti-response-declaration>",
        ),
        lambda path: f"/pictures/{PICTURE}",
    )
    (region,) = point.content.regions  # type: ignore[union-attr]
    assert (region.x, region.y, region.width, region.height, region.round) == (0.45, 0.4, 0.1, 0.2, True)
    assert point.lost[0] == "a region of the shape poly 0,0,9,9,0,9"
    assert "an area of the shape poly" in point.lost[1]
    assert not region.right


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ("<p>Read.</p>", "nothing to answer"),
        ("<qti-slider-interaction response-identifier='R'/>", "slider interaction is not a kind"),
        ("<qti-choice-interaction/><qti-upload-interaction/>", "several things"),
        ("<qti-choice-interaction response-identifier='R'/>", "cannot be used"),
        (
            "<qti-order-interaction response-identifier='R'><qti-simple-choice identifier='a'>x</qti-simple-choice>"
            "</qti-order-interaction>",
            "right order",
        ),
    ],
)  # fmt: skip
def test_what_cannot_become_ours_is_refused_in_words(body: str, words: str) -> None:
    with pytest.raises(UnreadableFileError, match=words):
        read_item(item(body, ""))


@given(st.lists(ANY, min_size=1, max_size=5))
@settings(max_examples=25)
def test_a_package_holds_what_can_go_and_lists_what_cannot(contents: list[ItemContent]) -> None:
    items = [SentItem(f"item-{at}", content, ["A skill"]) for at, content in enumerate(contents)]
    data, unsent = write_package("T", [SentSection("S", items)], {PICTURE: ("p.png", b"png")})
    going = [content for content in contents if sayable(content)]
    assert len(unsent) == sum(bool(unsayable(content)) for content in contents)
    if not going:
        with pytest.raises(UnreadableFileError, match="no items"):
            open_package(data)
        return
    package = open_package(data)
    opened = package.items
    assert package.lost[0].startswith("the test “T”")
    assert [packed.skills for packed in opened] == [["A skill"]] * len(going)
    for packed, content in zip(opened, going, strict=True):
        assert packed.missing == []
        again = packed.read(dict.fromkeys(packed.pictures, f"/pictures/{PICTURE}")).content
        assert again == content or unsayable(content)


CHOICES = "".join(f"<qti-simple-choice identifier='{id}'>{id}</qti-simple-choice>" for id in "ABCD")
RIGHT_B = "<qti-correct-response><qti-value>B</qti-value></qti-correct-response>"


def declared(inside: str, cardinality: str = "single", base: str = "identifier") -> str:
    return (
        f"<qti-response-declaration identifier='R' cardinality='{cardinality}' base-type='{base}'>{inside}"
        "</qti-response-declaration>"
    )


def mapped(default: str = "", **worth: float) -> str:
    entries = "".join(f"<qti-map-entry map-key='{key}' mapped-value='{value}'/>" for key, value in worth.items())
    return f"<qti-mapping {default}>{entries}</qti-mapping>"


def rules(inside: str) -> str:
    return f"<qti-response-processing>{inside}</qti-response-processing>"


def when(condition: str, points: float) -> str:
    return (
        f"<qti-response-condition><qti-response-if>{condition}<qti-set-outcome-value identifier='SCORE'>"
        f"<qti-base-value base-type='float'>{points}</qti-base-value></qti-set-outcome-value></qti-response-if>"
        "</qti-response-condition>"
    )


def is_value(value: str) -> str:
    return (
        f"<qti-match><qti-variable identifier='R'/><qti-base-value base-type='identifier'>{value}</qti-base-value>"
        "</qti-match>"
    )


MAP = "<qti-response-processing template='https://purl.imsglobal.org/spec/qti/v3p0/rptemplates/map_response.xml'/>"
SUM = rules(
    "<qti-set-outcome-value identifier='SCORE'><qti-sum><qti-base-value base-type='float'>2</qti-base-value>"
    "<qti-map-response identifier='R'/></qti-sum></qti-set-outcome-value>"
)
ONE = f"<qti-choice-interaction response-identifier='R' max-choices='1'>{CHOICES}</qti-choice-interaction>"
SEVERAL = f"<qti-choice-interaction response-identifier='R' max-choices='0'>{CHOICES}</qti-choice-interaction>"
TYPED = "<p><qti-text-entry-interaction response-identifier='R'/></p>"
EQUAL = (
    "<qti-equal tolerance-mode='absolute' tolerance='{}'><qti-variable identifier='R'/>"
    "<qti-base-value base-type='float'>5</qti-base-value></qti-equal>"
)
FIVE = "<qti-correct-response><qti-value>5</qti-value></qti-correct-response>"


@pytest.mark.parametrize(
    ("body", "declares", "processing", "key"),
    [
        # Said in other words than ours, and yet our own way of scoring.
        (ONE, declared(""), rules(when(is_value("C"), 1)), "C"),
        (ONE, declared(RIGHT_B + mapped(A=0, B=3)), MAP, "B"),
        (SEVERAL, declared(mapped("lower-bound='0'", A=1, B=1, C=-1, D=-1), "multiple"), MAP, "A and B"),
        (SEVERAL, declared(mapped(A=1, B=1, C=-1, D=-1), "multiple"), SUM, "A and B"),
        (TYPED, declared(FIVE, base="float"), rules(when(EQUAL.format("1 1"), 2)), "5 ± 1"),
        # Points for what is not the key, points for some of it alone, the word of another rule: no way of ours.
        (ONE, declared(RIGHT_B + mapped(A=1, B=2)), MAP, ""),
        (ONE, declared(RIGHT_B), rules(when(is_value("C"), 1) + when(is_value("D"), 1)), ""),
        (ONE, declared(RIGHT_B), rules("<qti-custom-operator class='x'/>"), ""),
        (ONE, declared(RIGHT_B), "<qti-response-processing template='https://school.example/own.xml'/>", ""),
        (ONE, declared(RIGHT_B), rules("<qti-lookup-outcome-value identifier='SCORE'/>"), ""),
        (SEVERAL, declared(mapped(A=2, B=1), "multiple"), MAP, ""),
        (SEVERAL, declared(mapped("upper-bound='1'", A=1, B=1), "multiple"), MAP, ""),
        (TYPED, declared(FIVE, base="float"), rules(when(EQUAL.format("1 3"), 2)), ""),
        (TYPED, declared(mapped("default-value='1'", York=2), base="string"), MAP, ""),
    ],
)  # fmt: skip
def test_a_key_comes_in_only_where_ours_scores_what_the_rules_of_the_item_give(
    body: str, declares: str, processing: str, key: str
) -> None:
    read = read_item(item(body, declares, processing))
    letters = {"single_choice", "several_answers"}
    shown = read.content.key_words() if read.content.kind not in letters else " and ".join(keyed(read.content))
    assert shown.strip() == key
    assert bool(key) != any(lost.startswith("its key") for lost in read.lost)


def keyed(content: ItemContent) -> list[str]:
    return [content.key] if getattr(content, "key", None) else list(getattr(content, "keys", []))  # type: ignore[union-attr, list-item]


def test_an_order_whose_rule_is_not_ours_is_refused_since_it_cannot_stand_without_one() -> None:
    body = f"<qti-order-interaction response-identifier='R'>{CHOICES}</qti-order-interaction>"
    order = "".join(f"<qti-value>{id}</qti-value>" for id in "ABCD")
    declares = declared(f"<qti-correct-response>{order}</qti-correct-response>", "ordered")
    assert read_item(item(body, declares)).lost == []
    first = "<qti-match><qti-index n='1'><qti-variable identifier='R'/></qti-index><qti-base-value "
    first += "base-type='identifier'>A</qti-base-value></qti-match>"
    with pytest.raises(UnreadableFileError, match="order cannot be scored"):
        read_item(item(body, declares, rules(when(first, 1))))


def test_everything_that_is_left_out_is_named() -> None:
    body = (
        "<qti-stylesheet href='a.css'/><audio src='call.mp3'/><object type='video/mp4' data='film.mp4'/>"
        "<a href='https://museum.example'>See</a><svg xmlns='http://www.w3.org/2000/svg'/>"
        "<math xmlns='http://www.w3.org/1998/Math/MathML'><mstack><mn>42</mn></mstack></math>"
        "<qti-printed-variable identifier='T'/><qti-feedback-block identifier='b'>Look again</qti-feedback-block>"
        "<qti-choice-interaction response-identifier='R' max-choices='2' min-choices='1'>"
        "<qti-simple-choice identifier='A'>a<qti-feedback-inline identifier='A'>No</qti-feedback-inline>"
        "</qti-simple-choice><qti-simple-choice identifier='B'>b</qti-simple-choice>"
        "<qti-simple-choice identifier='C'>c</qti-simple-choice></qti-choice-interaction>"
    )
    before = declared(RIGHT_B, "multiple") + "<qti-template-declaration identifier='T'/>"
    before += "<qti-assessment-stimulus-ref identifier='s1' href='s1.xml' title='The letter'/>"
    after = "<qti-modal-feedback identifier='m'>Think of the sign</qti-modal-feedback>"
    assert read_item(item(body, before, after)).lost == [
        "values that vary by a template",
        "the passage it shares with other items: The letter",
        "a style sheet",
        "audio: call.mp3",
        "a medium: film.mp4",
        "a link, whose words stay: https://museum.example",
        "a drawing (SVG)",
        "a value that is worked out and printed in the text",
        "a text that depends on the answer: “Look again”",
        "what is said after a choice: “No”",
        "what is said after answering: “Think of the sign”",
        "that at most 2 may be chosen",
        "that at least 1 must be chosen",
        "a formula in MathML could not be read and is left out: 42",
    ]


def test_formulas_go_out_as_mathml_and_come_back_the_same() -> None:
    """Never “12+x2=3”: what was TeX is TeX again; what another program wrote is TeX by rule."""
    stem = "<p>Solve $12+x^2=3$ &amp; $a&lt;b$, at \\$5.</p><p>$\\begin{aligned}x&amp;=1\\\\y&amp;=2\\end{aligned}$</p>"
    content = Numeric(stem=stem, value=3)
    written = write_item("i1", "An item", content)
    assert b"<m:msup><m:mi>x</m:mi><m:mn>2</m:mn></m:msup>" in written
    assert read_item(written).content.stem == content.stem
    for kept in (
        f'<p>The sign <img src="/pictures/{PICTURE}" alt="costs $x$ &lt; 3">.</p><p>Read it.</p>',
        "<p>One costs $5 <strong>and</strong> 6$ are left.</p><p>$\\foo$</p><p>$5</p><p>6$</p>",
    ):
        number = Numeric(stem=kept, value=3)
        assert back(number).stem == number.stem
    theirs = item(
        "<p>Find x: <math xmlns='http://www.w3.org/1998/Math/MathML'><mn>12</mn><mo>+</mo><msup><mi>x</mi><mn>2</mn></msup>"
        "</math></p><qti-text-entry-interaction response-identifier='R'/>",
        declared(RIGHT_B, "single"),
    )
    assert "$12+x^{2}$" in read_item(theirs).content.stem


def test_what_a_test_says_beside_its_questions_is_named() -> None:
    manifest = (
        b'<manifest><resources><resource type="imsqti_test_xmlv2p1" href="t.xml"/>'
        b'<resource type="imsqti_item_xmlv2p1" href="i.xml"/></resources></manifest>'
    )
    held = (
        b'<assessmentTest title="Unit 3"><timeLimits maxTime="600"/><testPart><assessmentSection title="Reading">'
        b'<selection select="1"/><assessmentItemRef href="i.xml"><weight identifier="W" value="2"/>'
        b"<branchRule target='X'/></assessmentItemRef></assessmentSection></testPart></assessmentTest>"
    )
    package = open_package(zipped(**{"imsmanifest.xml": manifest, "t.xml": held, "i.xml": V21.encode()}))
    assert package.lost == [
        "the test “Unit 3”: its questions come into the bank, without it",
        "its sections: Reading",
        "ways through it that depend on the answers",
        "a choice of some of its questions",
        "time limits",
        "weights of questions",
    ]


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    return out.getvalue()


def test_packages_that_mean_harm_or_are_none_are_refused() -> None:
    manifest = b'<manifest><resources><resource type="imsqti_item_xmlv2p1" href="%s"/></resources></manifest>'
    for data, words in [
        (b"not xml", "well-formed"),
        (b"<html/>", "neither a QTI package"),
        (zipped(a=b"x"), "no imsmanifest"),
        (zipped(**{"imsmanifest.xml": b"<manifest/>"}), "holds no items"),
        (zipped(**{"imsmanifest.xml": manifest % b"../../etc/passwd"}), "not in the zip"),
        (zipped(**{"imsmanifest.xml": b'<!DOCTYPE m [<!ENTITY x "y">]><m>&x;</m>'}), "document type"),
    ]:
        with pytest.raises(UnreadableFileError, match=words):
            open_package(data)
    evil = zipped(
        **{"imsmanifest.xml": manifest % b"i.xml", "i.xml": V21.replace("images/sign.png", "/etc/passwd").encode()}
    )
    (packed,) = open_package(evil).items
    assert packed.pictures == {}
    assert packed.missing == ["/etc/passwd"]


VALUES = st.sampled_from(
    ["", "1", "-1", "0", "1e400", "-99999999999999", "nan", "true", "multiple", "ordered", "float", "A", "A B", "B A",
     "1,2,3", "1,2,3,4", "rect", "circle", "significantFigures", "decimalPlaces", "absolute", "1 2", "../x.png",
     "ext:idea A",
     "ext:range x 1..2", "ext:criterion c 3", "ext:exemplar e c=9", "words-9-2", "gap-text", "scorer"]
)  # fmt: skip
NAMES = st.sampled_from(
    ["identifier", "cardinality", "base-type", "map-key", "mapped-value", "default-value", "figures", "rounding-mode",
     "tolerance", "tolerance-mode", "shape", "coords", "width", "height", "src", "data", "use", "view", "class",
     "fixed", "response-identifier", "expected-lines", "format", "normal-maximum", "max-choices"]
)  # fmt: skip
TAGS = st.sampled_from(
    ["p", "div", "img", "object", "math", "table", "qti-prompt", "qti-simple-choice", "qti-inline-choice",
     "qti-simple-match-set", "qti-simple-associable-choice", "qti-mapping", "qti-map-entry", "qti-area-map-entry",
     "qti-correct-response", "qti-value", "qti-equal", "qti-equal-rounded", "qti-rubric-block", "qti-content-body",
     "li", "qti-choice-interaction", "qti-text-entry-interaction", "qti-inline-choice-interaction",
     "qti-match-interaction",
     "qti-order-interaction", "qti-select-point-interaction", "qti-extended-text-interaction", "qti-upload-interaction",
     "qti-response-declaration", "qti-outcome-declaration"]
)  # fmt: skip


@st.composite
def element(draw: st.DrawFn, depth: int = 3) -> str:
    tag, attributes = draw(TAGS), draw(st.dictionaries(NAMES, VALUES, max_size=4))
    inside = "".join(draw(st.lists(element(depth - 1), max_size=3))) if depth else draw(VALUES)
    told = "".join(f' {name}="{value}"' for name, value in attributes.items())
    return f"<{tag}{told}>{inside}</{tag}>"


@given(st.lists(element(), max_size=3), st.lists(element(), max_size=3))
@settings(max_examples=400)
def test_whatever_an_item_holds_it_is_read_or_refused_and_never_breaks(declared: list[str], body: list[str]) -> None:
    try:
        read = read_item(item("".join(body), "".join(declared)), lambda path: f"/pictures/{PICTURE}")
    except UnreadableFileError:
        return
    assert read.content.key_words() is not None
    read.content.problems()
    read.content.for_student()
