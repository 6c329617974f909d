"""Folded cards: what a marker means, how a sheet folds, and what pictures of a simulated class say."""

from pathlib import Path

import cv2
import numpy as np
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.sheets import cards_cli
from versomark.core.sheets.card_reading import SURE, VOTES, CardSeen, CardTally, find_cards
from versomark.core.sheets.cards import (
    BESIDE,
    DICTIONARY,
    FIRST_ID,
    LETTERS,
    MOST_DESKS,
    desk_numbers,
    draw_cards,
    marker_of,
    meaning_of,
)
from versomark.core.sheets.images import BadScan, photo
from versomark.core.sheets.layout import corners
from versomark.core.sheets.shapes import marker_cells
from versomark.stand_ins import cli as stand_ins
from versomark.stand_ins.camera import Classroom

DESKS = range(1, 31)


def grey_of(jpeg: bytes) -> np.ndarray:
    return photo(jpeg)


def test_a_marker_means_one_desk_and_one_letter() -> None:
    meanings = {marker_of(desk, letter): (desk, letter) for desk in range(1, MOST_DESKS + 1) for letter in LETTERS}
    assert len(meanings) == 4 * MOST_DESKS
    assert all(meaning_of(marker) == meaning for marker, meaning in meanings.items())
    # A corner of an answer sheet that lies about is nobody's answer.
    assert [meaning_of(corner.id) for corner in corners(210, 297)] == [None] * 4
    assert meaning_of(max(meanings) + 1) is None
    for desk in (0, MOST_DESKS + 1):
        with pytest.raises(ValueError, match="desk numbers 1 to 61"):
            marker_of(desk, "A")


def test_markers_differ_in_three_bits_however_they_are_turned() -> None:
    """Why no bit is mended: worked out here from the dictionary itself (OpenCV, DICT_4X4_250)."""
    cells = [np.array(marker_cells(DICTIONARY, id))[1:5, 1:5] for id in range(FIRST_ID, FIRST_ID + 4 * MOST_DESKS)]
    every = np.array([np.rot90(cell, turn) for cell in cells for turn in range(4)]).reshape(len(cells), 4, 16)
    apart = [
        int((every[a, 0] != every[b]).sum(axis=-1).min()) for a in range(len(cells)) for b in range(a + 1, len(cells))
    ]
    assert min(apart) == 3
    own = [int((every[a, 0] != every[a, turn]).sum()) for a in range(len(cells)) for turn in (1, 2, 3)]
    assert min(own) >= 3


def folded(page: np.ndarray, letter: str) -> tuple[np.ndarray, np.ndarray]:
    """What faces the teacher and what faces the student, of a page printed on one side and folded across, then down,
    always to the back: worked out with layers of paper, seen from the front; `None` beside a layer is its back."""
    tall, wide = page.shape[0] // 2, page.shape[1] // 2
    row, column = divmod(LETTERS.index(letter), 2)
    halves = [page[:tall], page[tall : 2 * tall]]
    front, behind = halves[row], halves[1 - row]
    # The half behind turns over the crease: its print looks to the back, upside down as seen from the front.
    layers = [("front", front), ("back", np.flipud(behind))]
    kept = [(side, part[:, column * wide : (column + 1) * wide]) for side, part in layers]
    turned = [(side, part[:, (1 - column) * wide : (2 - column) * wide]) for side, part in layers]
    # What is folded down beside it is mirrored, looks the other way, and comes to lie in the reverse order behind.
    swap = {"front": "back", "back": "front"}
    stack = [*kept, *((swap[side], np.fliplr(part)) for side, part in reversed(turned))]
    teacher, student = stack[0], stack[-1]
    assert (teacher[0], student[0]) == ("front", "back")
    return teacher[1], np.fliplr(student[1])


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_each_answer_can_be_folded_to_the_front_alone(paper: str) -> None:
    document = pypdfium2.PdfDocument(draw_cards([7], paper))  # type: ignore[arg-type]
    page = np.asarray(document[0].render(scale=2, grayscale=True).to_numpy()).squeeze()
    texts = document[0].get_textpage().get_text_range()
    assert [texts.count(f"You show {letter}") for letter in LETTERS] == [1] * 4
    assert {(card.desk, card.letter) for card in find_cards(page)} == {(7, letter) for letter in LETTERS}
    for letter in LETTERS:
        to_teacher, to_student = (find_cards(np.ascontiguousarray(side)) for side in folded(page, letter))
        assert [(entry.desk, entry.letter) for entry in to_teacher] == [(7, letter)]
        # The quarter that faces the student is the one that says which letter is shown.
        assert [entry.letter for entry in to_student] == [BESIDE[letter]]
    assert {BESIDE[BESIDE[letter]] == letter for letter in LETTERS} == {True}


@pytest.mark.parametrize("wear", [0.0, 0.3, 0.6, 1.0])
def test_no_frame_of_a_class_is_believed_wrongly(wear: float) -> None:
    """Thirty cards at 2.2 to 5.6 m, frames of 1920 × 1080; the simulated camera is the only source there is."""
    rng = np.random.default_rng(round(wear * 10))
    room = Classroom(list(DESKS), seed=5, wear=wear)
    showing = {desk: str(rng.choice(list(LETTERS))) for desk in DESKS}
    tally = CardTally(frozenset(DESKS), LETTERS)
    for at in range(8):
        tally.see(find_cards(grey_of(room.frame(showing, at=at))))
    assert {desk: said for desk, said in tally.said.items() if showing[desk] != said} == {}
    # Some are hidden behind a head and stay named as missing, more so where hands hold still.
    assert len(tally.said) >= {0.0: 27, 0.3: 27, 0.6: 26, 1.0: 21}[wear]


def test_thirty_cards_at_ten_metres_on_a_still_of_twelve_megapixels() -> None:
    room = Classroom(list(DESKS), seed=2, wear=0.2, last_row=10)
    showing = {desk: LETTERS[desk % 4] for desk in DESKS}
    tally = CardTally(frozenset(DESKS), LETTERS)
    for at in range(2):
        tally.see(find_cards(grey_of(room.frame(showing, 4000, 3000, at=at))), still=True)
    assert all(showing[desk] == said for desk, said in tally.said.items())
    assert len(tally.said) >= 28


def test_what_is_no_card_is_read_as_none() -> None:
    """A class without cards, noise, and an answer sheet held up."""
    assert find_cards(grey_of(Classroom(list(DESKS)).frame({}))) == []
    noise = np.random.default_rng(1).integers(0, 256, (1080, 1920), np.uint8)
    assert find_cards(noise) == []
    sheet = np.full((900, 700), 255, np.uint8)
    for at, id in enumerate(range(4)):
        mark = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), id, 60)
        sheet[20 + 400 * (at // 2) :, 20 + 400 * (at % 2) :][:60, :60] = mark
    assert find_cards(sheet) == []


def test_a_dark_room_stays_dark() -> None:
    picture = cv2.imdecode(np.frombuffer(Classroom([1, 2, 3]).frame({1: "B"}), np.uint8), 1)
    dark = cv2.imencode(".png", (picture * 0.22).astype(np.uint8))[1].tobytes()
    assert float(np.median(photo(dark))) < 60
    assert [(card.desk, card.letter) for card in find_cards(photo(dark))] == [(1, "B")]


def seen(desk: int, letters: str, side: float = 40) -> list[CardSeen]:
    return [CardSeen(desk, letter, ((0.0, 0.0),) * 4, side) for letter in letters]


FRAMES = st.lists(
    st.lists(st.tuples(st.integers(1, 4), st.sampled_from(["A", "B", "C", "AB"])), max_size=4), max_size=30
)


@given(frames=FRAMES)
def test_an_answer_needs_votes_one_after_another(frames: list[list[tuple[int, str]]]) -> None:
    """Against a plain model: the letter of a desk is what the last two single sightings in a row agree on."""
    tally = CardTally(frozenset({1, 2, 3}), "AB")
    last: dict[int, list[str]] = {}
    stands: dict[int, str] = {}
    for frame in frames:
        tally.see([card for desk, letters in frame for card in seen(desk, letters)])
        together: dict[int, set[str]] = {}
        for desk, letters in frame:
            together.setdefault(desk, set()).update(letters)
        for desk, shown in together.items():
            one = next(iter(shown)) if len(shown) == 1 else ""
            row = last.setdefault(desk, [])
            row.append(one if one in ("A", "B") and desk != 4 else "")
            if row[-1] and row[-VOTES:] == [row[-1]] * VOTES:
                stands[desk] = row[-1]
                assert desk not in tally.doubts
            elif not row[-1]:
                assert desk in tally.doubts
    assert tally.said == stands


def test_why_a_card_does_not_count() -> None:
    tally = CardTally(frozenset({1, 2, 3}), "ABC")
    frame = tally.see([*seen(1, "AB"), *seen(2, "D"), *seen(9, "A"), *seen(3, "A", SURE - 1)], still=True)
    assert {desk: why for desk, (why, _) in frame.doubts.items()} == {1: "two", 2: "letter", 9: "nobody", 3: "small"}
    assert frame.counts == {}
    frame = tally.see([*seen(1, "B"), *seen(3, "A", SURE)], still=True)
    assert (dict(frame.counts), set(frame.doubts)) == ({1: "B", 3: "A"}, {2, 9})
    assert tally.see(seen(1, "B"), still=True).counts == {}  # the same again changes nothing
    assert dict(tally.see(seen(1, "C"), still=True).counts) == {1: "C"}


@given(st.sets(st.integers(1, 99), min_size=1))
def test_desk_numbers_come_back(numbers: set[int]) -> None:
    assert desk_numbers(",".join(map(str, sorted(numbers)))) == sorted(numbers)
    assert desk_numbers(f"{min(numbers)}-{max(numbers)}") == list(range(min(numbers), max(numbers) + 1))


@pytest.mark.parametrize("text", ["", "a", "0-3", "5-2", "1,,2", "1-", "-4"])
def test_what_is_no_list_of_desks(text: str) -> None:
    with pytest.raises(ValueError, match="“"):
        desk_numbers(text)


def test_cards_from_a_shell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """The whole chain: cards made, a class that holds them, pictures read."""
    pdf, answers, picture, out = (tmp_path / name for name in ("cards.pdf", "answers.csv", "class.jpg", "reads.csv"))
    assert cards_cli.main(["make", "--desks", "1-12", "--out", str(pdf)]) == 0
    assert len(pypdfium2.PdfDocument(pdf)) == 12
    answers.write_text("desk,answer\n" + "".join(f"{d},{LETTERS[d % 4]}\n" for d in range(1, 12)) + "12,AB\n13,\n")
    assert stand_ins.main(["camera", "--answers", str(answers), "--out", str(picture), "--wear", "0"]) == 0
    read = ["read", str(picture), "--desks", "1-13", "--out", str(out)]
    assert cards_cli.main(read) == 0
    assert "1 pictures, 11 cards read, 1 doubtful, 1 missing" in capsys.readouterr().out
    lines = out.read_text().splitlines()
    assert lines[0] == "desk,answer,state,note"
    assert lines[1:12] == [f"{desk},{LETTERS[desk % 4]},answer," for desk in range(1, 12)]
    assert lines[12:] == ["12,,query,shows A and B at once: not folded all the way", "13,,missing,"]
    for bad in (["read", str(answers), "--out", str(out)], ["make", "--desks", "1-99", "--out", str(pdf)]):
        assert cards_cli.main(bad) == cards_cli.MISUSE
    err = capsys.readouterr().err
    assert "This is no JPEG or PNG picture" in err
    assert "desk numbers 1 to 61" in err


@pytest.mark.parametrize("data", [b"", b"GIF89a", b"\xff\xd8\xff\xe0" + b"x" * 100, b"%PDF-1.4"])
def test_what_is_no_picture(data: bytes) -> None:
    with pytest.raises(BadScan):
        photo(data)
