import { t } from "@lingui/core/macro";
import { matchPath } from "react-router";
import type { FigureName } from "./figures";

export type HelpPage = {
  name: string;
  /** The routes it is about, as the router has them. */
  routes: string[];
  /** What the page is for. */
  about: string;
  /** How the commonest things are done there. */
  ways: string[];
  keys?: [string, string][];
  figures?: FigureName[];
};

export const HELP: HelpPage[] = [
  {
    name: t`The desk`,
    routes: ["/"],
    about: t`What is open now, what comes next, and what waits for you. Findings of the sittings closed last stand on the right. In a new school the desk is the way to the first finding.`,
    ways: [
      t`Watch a sitting that is open: press “Watch” on its line.`,
      t`Mark what waits: press “Mark them”, or “All there is to mark” for every sitting.`,
      t`See who has not sat a test: press “See who” on its line.`,
      t`Read a finding: press its sentence.`,
      t`Go anywhere: press Ctrl K and type what you want to do, or a name.`,
    ],
  },
  {
    name: t`Classes`,
    routes: ["/classes"],
    about: t`Your classes, and those that colleagues share with you. A class put away keeps its results and can be taken out again.`,
    ways: [
      t`Make a class: press N, type its name, then paste the names, one a line.`,
      t`Bring in a list from the school office: make the class first, then press “Bring in a list” in it.`,
      t`Find a class of an earlier year: look at the classes put away.`,
    ],
    keys: [["N", t`a new class`]],
  },
  {
    name: t`A class`,
    routes: ["/classes/:classId"],
    about: t`Students with their desk numbers and passes, what they need, their groups, and the colleagues who may see the class. A pass opens one student’s own seat and nothing else.`,
    ways: [
      t`Add a late student: type the name on the right. The desk number goes on from the highest.`,
      t`Give somebody extra time or large print: press “change” on their line.`,
      t`Print the passes, one slip a student: press “Print the passes”.`,
      t`Somebody has lost a pass: press “change”, then give a new one. The old one opens nothing any more.`,
      t`Let a colleague mark: choose them on the right and tick “may mark”.`,
    ],
  },
  {
    name: t`The bank`,
    routes: ["/bank/:itemId?", "/materials", "/skills"],
    about: t`Your questions, written once and used for years. Beside a wrong answer stands the idea it shows; findings count who holds it. What a question did in each sitting stands below it.`,
    ways: [
      t`Write a question: press N and choose its kind. It is kept as you type.`,
      t`Say what a wrong answer shows: type it beside the option.`,
      t`Tag or share several: tick them, then choose above the list.`,
      t`Bring in questions from a file: open “More”.`,
      t`Put skills in order, rename or merge them: press “Skills”. Plans of tests follow.`,
      t`Find a question again: type some of its words, or narrow the list with the filters.`,
    ],
    keys: [["N", t`a new question`]],
  },
  {
    name: t`Tests`,
    routes: ["/tests", "/shelf"],
    about: t`The papers you build from questions, and tests given elsewhere of which only the marks are kept. Ready-made tests can be taken as your own.`,
    ways: [
      t`Build a test: press N, type its title, choose its questions.`,
      t`Keep the marks of a test given elsewhere: make a test of “marks only”.`,
      t`Take a ready-made one: press “From the shelf”.`,
      t`Give it again: press “Plan a sitting” on its line.`,
    ],
    keys: [["N", t`a new test`]],
  },
  {
    name: t`A test`,
    routes: ["/tests/:testId"],
    about: t`The paper stands on the left. On the right are the bank to choose from, the plan of the whole with what the class will make of it, and what is to be mended. A frozen edition never changes, so that its results stay explained.`,
    ways: [
      t`Put a question in: press it in the bank, or drag it to its place.`,
      t`Move a question: drag its handle, or focus the handle and use the arrow keys.`,
      t`See it as students do: press “As students see it”.`,
      t`Make two forms so that neighbours differ: choose “two, A and B” under “Forms” before you freeze.`,
      t`Finish it: press “Freeze an edition”, then “Plan a sitting”.`,
    ],
  },
  {
    name: t`An equivalent test`,
    routes: ["/tests/:testId/equivalent"],
    about: t`A second paper that asks the same, for a class that sits later or again. Each question of the test stands beside the closest other one of your bank: on the same skill, and of like difficulty, kind and marks, as far as those are known from earlier use. The test itself stays as it is.`,
    ways: [
      t`Take another one: press “Another one” beside it and choose.`,
      t`Leave a question as it is: press “Keep the same”.`,
      t`See whether both are equally hard: look at “What to expect of both”; nothing is foretold of questions never used.`,
      t`Make it: give it a title and press “Make the test”.`,
    ],
  },
  {
    name: t`Sittings`,
    routes: ["/sittings"],
    about: t`Every occasion on which a class sits a test: open, paused, to come, closed. Closed ones stand by month.`,
    ways: [
      t`Plan one: press N, choose the test and the class.`,
      t`Find one of long ago: type words of its test or class in the field above.`,
      t`See what the copier sent: press “Scan inbox”.`,
    ],
    keys: [["N", t`a new sitting`]],
  },
  {
    name: t`Timetable and calendar`,
    routes: ["/timetable"],
    about: t`The periods of the school’s day, so that a sitting is planned by day and period; and an address under which your own calendar reads your sittings.`,
    ways: [
      t`Set the periods, as an administrator: add each with its beginning and end, then keep them.`,
      t`See your sittings on your phone: copy the address and subscribe to it there.`,
      t`Somebody else has the address: make a new one; the old one leads nowhere then.`,
    ],
  },
  {
    name: t`A sitting`,
    routes: [
      "/sittings/:sittingId",
      "/sittings/:sittingId/one-to-one",
      "/sittings/:sittingId/watching",
      "/sittings/:sittingId/camera",
      "/sittings/:sittingId/rounds",
      "/sittings/:sittingId/placement",
    ],
    about: t`Who is here, who needs you, who has handed in. The code on the right goes on the board; students come in with it and their pass. Without a connection answers wait on the student’s device until there is one.`,
    ways: [
      t`Begin: press “Open it”, and show the code large on the board.`,
      t`Stop everybody for a moment: press “Pause all”; their time stands still.`,
      t`Give one student more time: open the menu on their line.`,
      t`Go on another day with those who are not done: press “Close it…” and choose it there.`,
      t`Let one who handed in by mistake go on: press “give back” on their line.`,
    ],
  },
  {
    name: t`Answer sheets`,
    routes: [
      "/sittings/:sittingId/paper",
      "/sittings/:sittingId/sheets/:seatId",
      "/sittings/scans/:scanId?",
      "/sittings/queries",
    ],
    about: t`Sheets are printed for a class, filled in by pen, scanned in one pile in any order. What is clear is read; what is doubtful is asked about, place by place, beside its picture.`,
    ways: [
      t`Print: press “Make the sheets”.`,
      t`Read a scan: drop its file on the page, or let the copier save into your folder.`,
      t`Settle what is doubtful: press “Settle them”, then the letter that the circles say.`,
      t`A page is missing: the answer to the scan names the students.`,
    ],
    keys: [[t`A to H`, t`what the circles say; N for nothing, U takes the last one back`]],
  },
  {
    name: t`What waits to be marked`,
    routes: ["/marking", "/marking/comments"],
    about: t`Every sitting with answers that a person marks, and piles that colleagues share with you. Your comments are what you say often; changed once, they change wherever no student has read them yet.`,
    ways: [
      t`Go on where you stopped: press “Go on marking”.`,
      t`Judge what was typed alike once for all: press “Same answers”.`,
      t`See how far everybody is: press “How far it is”.`,
    ],
  },
  {
    name: t`Marking`,
    routes: ["/marking/:sittingId", "/marking/:sittingId/same/:item", "/marking/:sittingId/away"],
    about: t`One answer beside its rubric. A digit is a level, Enter keeps and goes on; what you have marked is kept at once, with or without a connection. Names can be hidden until you are done.`,
    ways: [
      t`Mark: press the digit of a level, an arrow for the next criterion, Enter for the next answer.`,
      t`Say something: press C and type, or choose one of your comments.`,
      t`Go through one question across the class, or one student: press B.`,
      t`Have some read twice: open “More”, “A second marker”.`,
      t`Mark on the train: open “More”, “Away from the desk”.`,
    ],
    keys: [
      [t`0 to 9, .`, t`a level, half a point more`],
      [t`Arrows`, t`another criterion or answer`],
      [t`C, E, S, B`, t`comment, sample answers, stimulus, by question or by student`],
      [t`Enter`, t`keep and next`],
    ],
  },
  {
    name: t`Several markers`,
    routes: [
      "/marking/:sittingId/pile",
      "/piles/:pileId",
      "/piles/:pileId/mark",
      "/marking/:sittingId/second",
      "/marking/:sittingId/compare",
      "/comparisons/:comparisonId",
      "/comparisons/:comparisonId/judge",
    ],
    about: t`A pile is shared by question, by student, or the next free answer. Agreed answers among the others show how close markers are while there is time to act. Pairs are for work that is easier to compare than to mark.`,
    ways: [
      t`Share: open the sitting’s marking, “More”, “Share with colleagues…”.`,
      t`See who is harsh: look at the shared pile; the range says how sure that is.`,
      t`Send answers back: press “Ask to look again…” and say why.`,
      t`Compare: press the arrow of the better one.`,
    ],
    figures: ["kappa"],
  },
  {
    name: t`All findings`,
    routes: ["/findings"],
    about: t`Each sitting with the spread of its totals and the finding to read first. The bars are students by tenths of the marks, the line is the mean.`,
    ways: [
      t`Open one: press its name, or the finding to come to its question.`,
      t`Find an older one: type words of its test or class.`,
      t`Release marks: press “Results”.`,
    ],
  },
  {
    name: t`Findings`,
    routes: ["/findings/:sittingId"],
    about: t`Which questions were misunderstood, how far the marks can be trusted, and who needs what. What to do first stands at the top, each with the chance that it is right. Nothing here changes a mark by itself.`,
    ways: [
      t`Look at a question: press it on the paper. J and K go through those to look at.`,
      t`The key was wrong: press the question, then settle its key; totals follow.`,
      t`Get those who hold an idea: open “Who” under it, then “make a group”.`,
      t`Leave out a question or a student to see what changes: press “Change and see”.`,
      t`Take it with you: press “Save”.`,
    ],
    keys: [
      [t`J, K`, t`next and previous question to look at`],
      ["W", t`the whole test`],
      [t`0 to 9`, t`the looks, in their order`],
    ],
    figures: ["mean", "sd", "alpha", "sem", "p", "d", "rrest", "chance"],
  },
  {
    name: t`Results`,
    routes: [
      "/results/:sittingId",
      "/results/:sittingId/answers",
      "/results/:sittingId/skills",
      "/results/:sittingId/groups",
      "/results/:sittingId/questions",
    ],
    about: t`Each student’s total, and what a student sees of it before and after release. Nobody sees a mark before you release it.`,
    ways: [
      t`Release: press “Release…”, to all or to those chosen, with marks or in words only.`,
      t`Print feedback sheets: press “By skill”, then “Feedback sheets…”.`,
      t`Give a total to somebody who was away: open “More”, “Fill what is empty…”.`,
      t`Let students ask about a mark: open “Questions about marks”.`,
    ],
    figures: ["mean", "band"],
  },
  {
    name: t`Records`,
    routes: [
      "/records",
      "/records/:classId",
      "/records/:classId/not-tested",
      "/records/side-by-side",
      "/records/:classId/growth",
      "/records/:classId/rules",
    ],
    about: t`A class through the year: every total, and the average of a term by your weights on the school’s scale. A sitting is here once it is closed.`,
    ways: [
      t`Set weights, terms and the scale: open the rules of the record.`,
      t`Type numbers along the grid: press “Type numbers”.`,
      t`See who has to sit what: open those not tested.`,
      t`Send it to the office: press “Save”, or “For the school office”.`,
    ],
    figures: ["growth"],
  },
  {
    name: t`One student`,
    routes: ["/records/:classId/students/:studentId"],
    about: t`Everything of one student in one class: tests, skills, terms, and the report for the parents.`,
    ways: [
      t`Hand it out: press “PDF to hand out”; tick the tests whose papers go with it.`,
      t`Change a need or a pass: press “The class”, then “change” on the student’s line.`,
    ],
    figures: ["band"],
  },
  {
    name: t`Your account, and the people of the school`,
    routes: ["/account", "/people", "/people/privacy", "/people/log"],
    about: t`Your password, keys and devices. An administrator invites colleagues, helps those who cannot sign in, and looks after what is kept of students.`,
    ways: [
      t`Sign in without a password: add a passkey.`,
      t`End a sign-in elsewhere: end it in the list of devices.`,
      t`Hand a colleague’s work over: open “People”, as an administrator.`,
    ],
  },
];

/** What is said of the page at this address. */
export const helpOf = (path: string): HelpPage | undefined =>
  HELP.find((page) => page.routes.some((route) => matchPath(route, path)));
