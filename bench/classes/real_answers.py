"""Classes drawn from real answers: 1,525 people on 16 questions with six or eight options, in which troubles are
planted.

The data are `iqitems` of the R package psychTools (GPL-2 or later), collected by Condon and Revelle (2014) with the
open questions of the International Cognitive Ability Resource; the keys are those of its help page. They are read
from the installed package (Debian's `r-cran-psychtools`) and not kept here. What is planted changes answers or the
key only: the pulls of the options and the abilities are people's own.
"""

import csv
import io
import subprocess
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .planted import Planted, PlantedClass, class_of

KEYS = (4, 4, 4, 6, 6, 3, 4, 4, 5, 2, 2, 4, 3, 2, 6, 7)
EXPORT = "library(psychTools); write.csv(iqitems, stdout(), row.names=FALSE, na='0')"


@cache
def answers() -> NDArray[np.int64]:
    """(1525, 16) places of the chosen options from 0, −1 where nothing was chosen."""
    text = subprocess.run(["Rscript", "-e", EXPORT], check=True, capture_output=True, text=True).stdout
    rows = list(csv.reader(io.StringIO(text)))[1:]
    return np.array(rows, dtype=np.int64) - 1


def make_class(students: int, items: int, rng: np.random.Generator, troubled: bool = True) -> PlantedClass:
    """Some of the people, with two ideas and each of the other troubles half of the time. items: at most 16."""
    everyone = answers()
    there = everyone[(everyone < 0).sum(1) <= 4]
    choice = there[rng.integers(len(there), size=students)][:, :items].copy()
    options = [int(everyone[:, j].max()) + 1 for j in range(items)]
    keys, truths = [key - 1 for key in KEYS[:items]], [key - 1 for key in KEYS[:items]]
    planted, option = [Planted.FAIR] * items, [-1] * items
    if troubled:
        at = iter(rng.permutation(items).tolist())
        kinds = [Planted.SHARED_IDEA] * 2
        kinds += [kind for kind in (Planted.WRONG_KEY, Planted.TWO_RIGHT, Planted.GUESSING) if rng.random() < 0.5]
        for kind in kinds:
            j = next(at)
            planted[j] = kind
            rival = int(rng.choice([k for k in range(options[j]) if k != truths[j]]))
            given = choice[:, j] >= 0
            if kind is Planted.WRONG_KEY:
                keys[j], option[j] = rival, truths[j]
            elif kind is Planted.TWO_RIGHT:
                option[j] = rival
                share = rng.uniform(0.35, 0.65)
                choice[(choice[:, j] == truths[j]) & (rng.random(students) < share), j] = rival
            elif kind is Planted.SHARED_IDEA:
                option[j] = rival
                choice[given & (rng.random(students) < rng.uniform(0.3, 0.6)), j] = rival
            else:
                choice[given, j] = rng.integers(options[j], size=int(given.sum()))
    return class_of(choice, options, keys, planted, option)
