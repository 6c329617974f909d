"""Folded cards over the simulated camera's range: what is read, missed and read wrongly, by distance and size of the
picture; and how long a frame takes beside bare decoding of the same JPEG."""

import time

import cv2
import numpy as np

from versomark.core.sheets.card_reading import CardTally, find_cards
from versomark.core.sheets.cards import LETTERS
from versomark.core.sheets.images import photo
from versomark.stand_ins.camera import Classroom

DESKS = range(1, 31)
FRAMES, CLASSES = 6, 4
SETTINGS = (
    # pixels across, down, last row in m, as a still
    (1280, 720, 4.0, False),
    (1920, 1080, 6.0, False),
    (1920, 1080, 8.0, False),
    (4000, 3000, 10.0, True),
)


def at(width: int, height: int, last_row: float, still: bool, wear: float) -> str:
    read = wrong = doubtful = shown = 0
    decoding, finding = [], []
    for seed in range(CLASSES):
        rng = np.random.default_rng([seed, 5])
        room = Classroom(list(DESKS), seed=seed, wear=wear, last_row=last_row)
        showing = {desk: str(rng.choice(list(LETTERS))) for desk in DESKS}
        tally = CardTally(frozenset(DESKS), LETTERS)
        for moment in range(2 if still else FRAMES):
            jpeg = room.frame(showing, width, height, moment)
            data = np.frombuffer(jpeg, np.uint8)
            begun = time.perf_counter()
            cv2.imdecode(data, cv2.IMREAD_GRAYSCALE)
            decoded = time.perf_counter()
            tally.see(find_cards(photo(jpeg)), still)
            finding.append(time.perf_counter() - decoded)
            decoding.append(decoded - begun)
        shown += len(showing)
        read += len(tally.said)
        wrong += sum(showing[desk] != said for desk, said in tally.said.items())
        doubtful += len(tally.doubts)
    ours, least = 1000 * float(np.median(finding)), 1000 * float(np.median(decoding))
    return (
        f"  {width} × {height}, to {last_row:4.1f} m, wear {wear:.1f}: {read:3} of {shown} read, {wrong} wrongly, "
        f"{doubtful} doubtful; {ours:5.1f} ms a picture, {ours / least:4.1f} × its decoding"
    )


def run() -> None:
    print(f"folded cards, {CLASSES} classes of {len(DESKS)}, {FRAMES} frames each or 2 stills; some hide behind a head")
    for setting in SETTINGS:
        for wear in (0.0, 0.5, 1.0):
            print(at(*setting, wear))
