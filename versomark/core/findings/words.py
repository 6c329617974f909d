"""Findings in words a teacher reads: plain, short, with the counts they rest on."""

from collections.abc import Sequence

from versomark.core.language import N_, _, _n, either, in_figures, listed

from .facts import FindingFacts, RivalFacts
from .flags import Confidence, Flag, Thresholds

FEWEST_STUDENTS = Thresholds().fewest_students


def number(value: float, places: int = 2) -> str:
    """A figure as printed in a sentence: `.29`, `−.08`, `1.25`; a true minus sign and no leading zero."""
    text = f"{abs(value):.{places}f}"
    text = text[1:] if text.startswith("0.") else text
    return f"−{text}" if value < 0 and float(f"{abs(value):.{places}f}") else text


def idea_clause(note: str) -> str:
    """An idea note as the end of “… seem to think that”: no capital, no full stop."""
    note = note.strip().rstrip(".")
    # A capital kept by names and abbreviations is not a sentence's first letter.
    if len(note) > 1 and note[0].isupper() and not note[1].isupper():
        note = note[0].lower() + note[1:]
    return note


HOW_LIKELY = {
    Confidence.ALMOST_CERTAIN: N_("almost certainly"),
    Confidence.PROBABLE: N_("probably"),
    Confidence.POSSIBLE: N_("perhaps"),
}


def how_likely(probability: float) -> str:
    """As an adverb: perhaps, probably, almost certainly."""
    return _(HOW_LIKELY[Thresholds().confidence(probability)])


def how_sure(probability: float) -> str:
    """A probability as natural frequencies, which lay readers follow best (Gigerenzer & Hoffrage 1995)."""
    right = round(10 * probability)
    if right >= 10:
        return _("Of a hundred findings this sure, all but a few prove right.")
    return _(
        "Of ten findings this sure, about {numeral} prove right and {numeral_2} do not.",
        numeral=_numeral(right),
        numeral_2=_numeral(10 - right),
    )


NUMERALS = (
    N_("none"), N_("one"), N_("two"), N_("three"), N_("four"), N_("five"), N_("six"), N_("seven"), N_("eight"),
    N_("nine"), N_("ten"),
)  # fmt: skip


def _numeral(count: int) -> str:
    return _(NUMERALS[count])


def heading(f: FindingFacts) -> str:
    """The finding as the line one reads first; how likely it is stands in its verb."""
    likely = how_likely(f.probability)
    may = Thresholds().confidence(f.probability) is Confidence.POSSIBLE
    if f.flag is Flag.CHECK_THE_KEY:
        return (
            _("The key may be wrong: look at {option}.", option=_letter(f.option))
            if may
            else _("The key is {likely} wrong: look at {option}.", likely=likely, option=_letter(f.option))
        )
    if f.flag is Flag.TWO_RIGHT_ANSWERS:
        return (
            _("It may have two right answers: {either} and {option}.", either=_either(f.keys), option=_letter(f.option))
            if may
            else _(
                "It {likely} has two right answers: {either} and {option}.",
                likely=likely,
                either=_either(f.keys),
                option=_letter(f.option),
            )
        )
    if f.flag is Flag.SHARED_IDEA:
        idea = (
            _("the idea that {idea_clause}", idea_clause=idea_clause(f.idea_note))
            if f.idea_note
            else _("a shared idea")
        )
        return _(
            "{count_of} of {takers} {chose} {option}: {likely} {idea}.",
            count_of=f.count_of(f.option),
            takers=f.takers,
            chose=_chose(f),
            option=_letter(f.option),
            likely=likely,
            idea=idea,
        )
    if f.flag is Flag.GUESSING:
        return _("They may have guessed.") if may else _("They have {likely} guessed.", likely=likely)
    if f.flag is Flag.RATERS_DISAGREE:
        return _("Two markers do not agree on “{criterion}”.", criterion=f.criterion)
    if f.flag is Flag.NOT_REACHED:
        return _("{students} of {takers} did not come to it.", students=f.students, takers=f.takers)
    if f.flag is Flag.UNUSED_LEVELS:
        who = _("Hardly anyone") if any(level.students for level in f.levels) else _("Nobody")
        return _(
            "{who} was given {level_points} on “{criterion}”.",
            who=who,
            level_points=_level_points(f),
            criterion=f.criterion,
        )
    if f.flag is Flag.LEVELS_OUT_OF_ORDER:
        if len(f.levels) != 2:
            return _("The levels of “{criterion}” are {likely} out of order.", criterion=f.criterion, likely=likely)
        return _(
            "On “{criterion}”, {points} {likely} stands for less than {points_2}.",
            criterion=f.criterion,
            points=in_figures(f.levels[1].points, "g"),
            likely=likely,
            points_2=in_figures(f.levels[0].points, "g"),
        )
    if f.flag is Flag.SOMETHING_ELSE:
        return _("“{criterion}” {likely} measures something else than the rest.", criterion=f.criterion, likely=likely)
    return {
        Flag.WORKS_AGAINST: _("It pulls against the other questions."),
        Flag.DOES_NOT_TELL_APART: _("It {likely} does not tell strong from weak.", likely=likely),
        Flag.TOO_HARD: _("Hardly anyone could do it."),
        Flag.TOO_EASY: _("Nearly everyone got it right."),
        Flag.DEAD_OPTION: _("Some options draw nobody."),
    }[f.flag]


def idea_heading(idea: str, probability: float, expected: float, low: int, high: int, students: int) -> str:
    """How many hold an idea, as the line one reads first."""
    facts = {"idea_count": idea_count(expected, low, high, students), "idea_clause": idea_clause(idea)}
    if Thresholds().confidence(probability) is Confidence.POSSIBLE:
        return _("Perhaps {idea_count} think that {idea_clause}.", **facts)
    return _("{idea_count} {likely} think that {idea_clause}.", likely=how_likely(probability), **facts)


def idea_count(expected: float, low: int, high: int, students: int) -> str:
    """“12 of 24 (8 to 15)”."""
    between = _(" ({low} to {high})", low=low, high=high) if low < high else ""
    return _("{value} of {students}{between}", value=round(expected), students=students, between=between)


def idea_elsewhere(
    where: str, there: bool, count: tuple[float, int, int, int], before: bool, fewer_later: float
) -> str:
    """An idea in another sitting of the class, beside this one. there: whether it more likely than not showed there.
    fewer_later: the probability that fewer held it at the later of the two."""
    count_words = (
        (
            _("{idea_count} thought so", idea_count=idea_count(*count))
            if before
            else _("{idea_count} think so", idea_count=idea_count(*count))
        )
        if there
        else _("more likely than not nobody did")
    )
    t = Thresholds()
    trend = next(
        (
            _(template, how_likely=_(HOW_LIKELY[t.confidence(probability)]))
            for probability, template in (
                (fewer_later, N_("{how_likely} fewer now") if before else N_("{how_likely} fewer then")),
                (1 - fewer_later, N_("{how_likely} more now") if before else N_("{how_likely} more then")),
            )
            if probability >= t.probable
        ),
        _("a difference that may be chance"),
    )
    return f"{where[0].upper()}{where[1:]} {count_words}; {trend}."


def idea_gone(idea: str, where: str, count: tuple[float, int, int, int], probability: float) -> str:
    """An idea that the class showed before and does not show here. probability: that it is here all the same."""
    in_a_hundred = round(100 * probability)
    return (
        _(
            "{idea_count} thought {where} that {idea_clause}. Here it does not show, though "
            "{in_a_hundred} in 100 say that it is still there.",
            idea_count=idea_count(*count),
            where=where,
            idea_clause=idea_clause(idea),
            in_a_hundred=in_a_hundred,
        )
        if in_a_hundred >= 5
        else _(
            "{idea_count} thought {where} that {idea_clause}. Here it does not show.",
            idea_count=idea_count(*count),
            where=where,
            idea_clause=idea_clause(idea),
        )
    )


def says(f: FindingFacts) -> str:
    """The finding as one or two sentences, with its evidence."""
    if f.flag in (Flag.CHECK_THE_KEY, Flag.TWO_RIGHT_ANSWERS):
        return f"{_count_words(f)}{_ends(f)}."
    if f.flag is Flag.SHARED_IDEA:
        return f"{_count_words(f)}{_ends(f)}."
    if f.flag is Flag.GUESSING:
        counts = ", ".join(f"{entry.count} {entry.option}" for entry in f.counts)
        return _("Hardly anybody seems to have known it; the answers are {counts}.", counts=counts)
    if f.flag is Flag.RATERS_DISAGREE:
        return _(
            "On {students} answers marked twice their points for it agree little better than chance would.",
            students=f.students,
        )
    if f.flag is Flag.UNUSED_LEVELS:
        given = [
            _("{value} got {points}", value=level.students or "none", points=in_figures(level.points, "g"))
            for level in f.levels
        ]
        return _("Of {students} answers {listed}.", students=f.students, listed=listed(given))
    if f.flag is Flag.LEVELS_OUT_OF_ORDER and len(f.levels) == 2:
        low, high = f.levels
        return _(
            "The {students} with {points} earned {value} of everything else on average, the "
            "{students_2} with {points_2} {value_2}.",
            students=high.students,
            points=in_figures(high.points, "g"),
            value=in_figures(high.rest or 0, ".0%"),
            students_2=low.students,
            points_2=in_figures(low.points, "g"),
            value_2=in_figures(low.rest or 0, ".0%"),
        )
    if f.flag is Flag.SOMETHING_ELSE:
        r = "" if f.r_rest is None else f" (r {number(f.r_rest)})"
        better = _("does no better") if (f.r_rest or 0) <= 0 else _("hardly does better")
        return _("Who does well on everything else {better} on it{r}.", better=better, r=r)
    if f.flag is Flag.NOT_REACHED:
        return _(
            "{students} of {takers} gave no answer to it nor to anything after it.",
            students=f.students,
            takers=f.takers,
        )
    if f.flag is Flag.WORKS_AGAINST:
        first = _("Who does well on it does worse on the others (r {number}).", number=number(f.r_rest or 0))
        if f.alpha is None or f.alpha_without is None or f.alpha_without <= f.alpha:
            return first
        return _(
            "{first} Alpha would be {number} without it instead of {number_2}.",
            first=first,
            number=number(f.alpha_without),
            number_2=number(f.alpha),
        )
    if f.flag is Flag.DOES_NOT_TELL_APART:
        if f.r_rest is not None and f.r_rest < 0:
            return _("Who does well on it does worse on the others (r {number}).", number=number(f.r_rest))
        r = "" if f.r_rest is None else _(" (r {number}; under .20 is poor)", number=number(f.r_rest))
        return _("Who is good at the other questions does about equally well on it{r}.", r=r)
    if f.flag is Flag.TOO_HARD:
        if not f.counts:
            return _("The class earned {value} of its marks.", value=in_figures(f.earned or 0, ".0%"))
        if not f.offered:
            return _("{right} of {takers} got it right.", right=f.right, takers=f.takers)
        chance = len(f.keys) / len(f.counts)
        return _(
            "{right} of {takers} got it right, about what guessing would give ({chance}).",
            right=f.right,
            takers=f.takers,
            chance=in_figures(chance, ".0%"),
        )
    if f.flag is Flag.TOO_EASY:
        if not f.counts:
            return _(
                "The class earned {value} of its marks: it says little about who understands.",
                value=in_figures(f.earned or 0, ".0%"),
            )
        return _(
            "{right} of {takers} got it right: it says little about who understands.", right=f.right, takers=f.takers
        )
    never = [option for option in f.options if f.count_of(option) == 0]
    hardly = [option for option in f.options if f.count_of(option) > 0]
    parts = [_("Nobody chose {either}.", either=_either(never))] if never else []
    if hardly:
        parts.append(_("Hardly anyone chose {either}.", either=_either(hardly)))
    return " ".join(parts)


def _count_words(f: FindingFacts) -> str:
    key = _("the key") if f.offered else _("the right answer")
    named = f" {_either(f.keys)}" if f.offered else ""
    return _(
        "{count_of} of {takers} {chose} {option}, {right} {key}{named}",
        count_of=f.count_of(f.option),
        takers=f.takers,
        chose=_chose(f),
        option=_letter(f.option),
        right=f.right,
        key=key,
        named=named,
    )


def _ends(f: FindingFacts) -> str:
    """How the option goes with what students can do otherwise, where both ends are known."""
    if f.upper_option is None or f.lower_option is None:
        return ""
    return _(
        "; {option} was taken by {upper_option} of the strongest and {lower_option} of the weakest",
        option=_letter(f.option),
        upper_option=in_figures(f.upper_option, ".0%"),
        lower_option=in_figures(f.lower_option, ".0%"),
    )


def rival(entry: RivalFacts, keys: list[str]) -> str:
    """Another explanation, as the end of “or else …”."""
    if entry.flag is None:
        return _("nothing is wrong with it")
    idea = (
        _("the idea that {idea_clause}", idea_clause=idea_clause(entry.idea_note))
        if entry.idea_note
        else _("a shared idea")
    )
    option = _letter(entry.option)
    return {
        Flag.CHECK_THE_KEY: _("{option} is the right answer", option=option),
        Flag.TWO_RIGHT_ANSWERS: _("{either} and {option} are both right", either=_either(keys), option=option),
        Flag.SHARED_IDEA: _("{idea} leads to {option}", idea=idea, option=option),
        Flag.GUESSING: _("they guessed"),
    }[entry.flag]


def quiet(fair: float | None) -> str:
    """Of a question that no finding leads: how far its answers say that nothing is wrong. fair: the probability that
    nothing is, where there is one."""
    if fair is None or fair >= Thresholds.almost_certain:
        return _("Nothing says that it misled anybody.")
    if fair >= Thresholds.probable:
        return _("Probably nothing is wrong with it.")
    return _("Whether something is wrong with it cannot be told from these answers.")


def short(f: FindingFacts) -> str:
    """The finding as a note in the margin of the paper."""
    return {
        Flag.CHECK_THE_KEY: _("Is {option} the key?", option=_letter(f.option)),
        Flag.TWO_RIGHT_ANSWERS: _("{either} or {option}?", either=_either(f.keys), option=_letter(f.option)),
        Flag.SHARED_IDEA: f"{f.count_of(f.option)} {_chose(f)} {_letter(f.option)}",
        Flag.GUESSING: _("Guessed?"),
        Flag.RATERS_DISAGREE: _("Markers disagree"),
        Flag.WORKS_AGAINST: _("Pulls against the rest"),
        Flag.NOT_REACHED: _("{students} did not get here", students=f.students),
        Flag.DOES_NOT_TELL_APART: _("Does not tell apart"),
        Flag.TOO_HARD: _("Too hard"),
        Flag.TOO_EASY: _("Too easy"),
        Flag.DEAD_OPTION: _("{listed} hardly chosen", listed=listed(f.options)) if f.options else "",
        Flag.SOMETHING_ELSE: _("{criterion} apart from the rest", criterion=f.criterion),
        Flag.LEVELS_OUT_OF_ORDER: _("{criterion}: levels out of order", criterion=f.criterion),
        Flag.UNUSED_LEVELS: _(
            "{criterion}: {level_points} hardly given", criterion=f.criterion, level_points=_level_points(f)
        ),
    }[f.flag]


ADVICE = {
    Flag.CHECK_THE_KEY: N_("Settle the key: accept the other answer, or change it."),
    Flag.TWO_RIGHT_ANSWERS: N_("Accept both, or reword the stem or the option before its next use."),
    Flag.SHARED_IDEA: N_("Teach those again who hold the idea, and ask once more."),
    Flag.GUESSING: N_("It was not taught, or not understood: ask it again in the room, or teach it first."),
    Flag.DOES_NOT_TELL_APART: N_("Read the stem and the options as a student would, and reword what is unclear."),
    Flag.TOO_HARD: N_("Ask it again in the room to see what keeps them from it."),
    Flag.WORKS_AGAINST: N_("See the figures without it; reword it before its next use."),
    Flag.TOO_EASY: N_("Keep it as a way in, or ask something harder."),
    Flag.NOT_REACHED: N_("Fewer questions or more time."),
    Flag.RATERS_DISAGREE: N_("Look at sample answers together, and say what each level takes."),
    Flag.DEAD_OPTION: N_("Put in its place what students really get wrong."),
    Flag.SOMETHING_ELSE: N_("Report it by itself, or leave it out of the marks of this question."),
    Flag.LEVELS_OUT_OF_ORDER: N_("Read some answers of both levels side by side, and say what sets them apart."),
    Flag.UNUSED_LEVELS: N_("Take the level out, or say more clearly what earns it."),
}
"""What to do about each, in a sentence."""


def d_in_words(d: float, students: int) -> str:
    """Ebel and Frisbie's (1991) bands of D; of too few students nothing is said."""
    if students < FEWEST_STUDENTS:
        return _("says nothing yet: {too_few}", too_few=too_few(students))
    bands = (
        (0.40, _("tells them apart very well")),
        (0.30, _("tells them apart well")),
        (0.20, _("tells them apart a little")),
    )
    return next((words for least, words in bands if d >= least), _("hardly tells them apart"))


def too_few(students: int) -> str:
    return _n("{students} student is too few", "{students} students are too few", students, students=students)


def alpha_in_words(alpha: float | None, low: float | None, students: int) -> str:
    """What a reliability means for this class (common practice: .80 for decisions on one student, .60 for groups).

    The end of the interval decides, not the coefficient alone: a small class can look dependable by luck. Of too few
    students nothing is said at all.
    """
    if students < FEWEST_STUDENTS:
        return _(
            "How dependable the totals are is not known: {too_few}, {fewest_students} are needed.",
            too_few=too_few(students),
            fewest_students=FEWEST_STUDENTS,
        )
    if alpha is None:
        return _("How dependable the totals are cannot be said from these answers.")
    if low is not None and low >= 0.80:
        return _("The totals are dependable enough to tell single students apart.")
    if alpha >= 0.80:
        return _("The totals look dependable, but for a group of this size that is not certain.")
    if alpha >= 0.60:
        return _("The totals are good enough to speak of the class, with care about single students.")
    return _("The totals are shaky: speak of questions and ideas, not of ranks.")


def opening(
    students: int,
    share: float,
    alpha: tuple[float | None, float | None],
    urgent: Sequence[float],
    complete: bool,
    others: bool = False,
) -> str:
    """The sentences that open a page of figures.

    share: of the marks, in the mean. alpha: with the lower end of its interval. urgent: the probability of each finding
    that should be looked at. complete: whether everybody took every question. others: whether something less pressing
    was found.
    """
    who = _n("{count} student", "{count} students", students, count=students)
    first = _("{who} earned {share} of the marks on average.", who=who, share=in_figures(share, ".0%"))
    chosen = "" if complete else _(" A question counts for those who took it.")
    if students < FEWEST_STUDENTS:
        # Of so few nothing is claimed: neither that a question failed, nor that none did, nor how dependable it is.
        return _(
            "{first} That is too few to judge questions by: {fewest_students} are needed.{chosen}",
            first=first,
            fewest_students=FEWEST_STUDENTS,
            chosen=chosen,
        )
    return f"{first} {alpha_in_words(*alpha, students)} {to_look_at(urgent, others)}{chosen}"


def evidence_before(papers: int, in_part: bool) -> str:
    """Of earlier sittings whose answers were weighed too; in_part: with some of the questions only. Papers and not
    students, since the same class may have sat both."""
    if not papers:
        return ""
    some = _(", with some of its questions,") if in_part else ""
    return _n(
        "{papers} paper handed in before{some} counts as evidence too.",
        "{papers} papers handed in before{some} count as evidence too.",
        papers,
        papers=papers,
        some=some,
    )


def to_look_at(urgent: Sequence[float], others: bool = False) -> str:
    """How many findings there are, and how many of them may be expected to be wrong: the sum of what speaks against
    each."""
    if not urgent:
        return (
            _("No question is more likely than not to have misled anybody.") if others else _("No question stands out.")
        )
    wrong = sum(1 - probability for probability in urgent)
    if len(urgent) == 1:
        return _("One thing needs a look. {how_sure}", how_sure=how_sure(urgent[0]))
    look = _("{count} things need a look", count=len(urgent))
    about = round(wrong)
    if about == 0:
        return _("{look}; most likely none of these findings is wrong.", look=look)
    return _(
        "{look}; expect about {value} of these findings to be wrong.",
        look=look,
        value=_numeral(about) if about <= 10 else about,
    )


def _level_points(f: FindingFacts) -> str:
    """“2 points”, “1 or 3 points”."""
    points = [f"{level.points:g}" for level in f.levels]
    return f"{_either(points)} {'point' if points == ['1'] else 'points'}"


LETTERS = {
    "right": N_("right"),
    "other": N_("something else"),
    "else": N_("somewhere else"),
    "unreadable": N_("what is no expression"),
    "no unit": N_("no unit"),
}
"""What stands for the answers of a typed question that no idea names; other letters are letters."""


def _letter(option: str) -> str:
    return _(LETTERS[option]) if option in LETTERS else option


def _chose(f: FindingFacts) -> str:
    return _("chose") if f.offered else _("gave")


def _either(letters: Sequence[str]) -> str:
    if not letters:
        return _("nothing")
    return either([_letter(letter) for letter in letters])
