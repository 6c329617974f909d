import { t } from "@lingui/core/macro";
import { folded } from "../ui/folded";

/** A place where something is done, found by its name or by what others call it. */
export type Action = {
  to: string;
  name: string;
  /** What is done there, in a line. */
  says: string;
  /** What else people call it, from other schools and other programs. */
  also: string;
};

/** What the page in hand is about. */
export type InHand = { sitting?: string; class?: string; test?: string };

export function inHand(path: string): InHand {
  const [, room, first] = path.split("/");
  if (!first || !/^\d+$/.test(first)) return {};
  if (["sittings", "marking", "results", "findings"].includes(room ?? "")) return { sitting: first };
  if (room === "classes" || room === "records") return { class: first };
  return room === "tests" ? { test: first } : {};
}

/** What is done with the thing in hand. */
export function actionsHere({ sitting, class: ofClass, test }: InHand): Action[] {
  return [
    ...(sitting ? ofSitting(sitting) : []),
    ...(ofClass ? ofOneClass(ofClass) : []),
    ...(test
      ? [
          {
            to: `/tests/${test}`,
            name: t`This test`,
            says: t`its paper, its plan, what is to be mended; freeze it and give it`,
            also: t`quiz exam print booklet key guide download`,
          },
          {
            to: `/tests/${test}/equivalent`,
            name: t`An equivalent test`,
            says: t`question by question the closest other one of the bank`,
            also: t`parallel form version second paper retake resit same difficulty`,
          },
        ]
      : []),
  ];
}

const ofSitting = (id: string): Action[] => [
  {
    to: `/sittings/${id}`,
    name: t`This sitting`,
    says: t`the door, pauses, time, who is absent, open and close it`,
    also: t`code join extra time lock absent close open session schedule`,
  },
  {
    to: `/marking/${id}`,
    name: t`Mark this sitting`,
    says: t`an answer beside its rubric, the next one a key away`,
    also: t`grade grading score essays open answers rubric`,
  },
  {
    to: `/results/${id}`,
    name: t`Results of this sitting`,
    says: t`each total, and releasing them to students`,
    also: t`marks scores totals release publish grades export download late`,
  },
  {
    to: `/findings/${id}`,
    name: t`Findings of this sitting`,
    says: t`which questions were misunderstood, and how far the marks can be trusted`,
    also: t`item analysis statistics difficulty discrimination reliability report`,
  },
  {
    to: `/findings/${id}?view=ideas`,
    name: t`Findings by idea`,
    says: t`every idea beside a wrong answer, and how many hold it`,
    also: t`misconceptions distractors`,
  },
  {
    to: `/findings/${id}?view=totals`,
    name: t`Totals and cuts`,
    says: t`how sure a decision at a cut is, and what more questions would bring`,
    also: t`pass mark boundary reliability alpha histogram`,
  },
  {
    to: `/findings/${id}?view=table`,
    name: t`Students by questions`,
    says: t`who got what right`,
    also: t`matrix grid responses`,
  },
  {
    to: `/sittings/${id}/paper`,
    name: t`Answer sheets of this sitting`,
    says: t`print them for the class, and see which have come back`,
    also: t`print papers bubble sheets booklet scan`,
  },
  {
    to: `/results/${id}/answers`,
    name: t`Answers by question`,
    says: t`students down, questions across`,
    also: t`matrix responses who answered what marksheet table`,
  },
  {
    to: `/results/${id}/skills`,
    name: t`By skill, and feedback sheets`,
    says: t`who is secure in what, and a sheet for each student`,
    also: t`feedback topics standards mastery letters print`,
  },
  {
    to: `/results/${id}/groups`,
    name: t`By group`,
    says: t`each group beside the others`,
    also: t`sets compare groups gap tags`,
  },
  {
    to: `/results/${id}/questions`,
    name: t`Questions about marks`,
    says: t`let students ask about a mark, and answer them`,
    also: t`regrade appeal remark query complaint`,
  },
  {
    to: `/marking/${id}/second`,
    name: t`A second marker`,
    says: t`some answers read twice, and how far the two agree`,
    also: t`double marking moderation agreement kappa blind`,
  },
  {
    to: `/marking/${id}/pile`,
    name: t`Share answers with colleagues`,
    says: t`one pile, several markers`,
    also: t`team marking split share pile department`,
  },
  {
    to: `/marking/${id}/compare`,
    name: t`Compare answers in pairs`,
    says: t`which of two is better, until all are in an order`,
    also: t`rank judge essays order`,
  },
  {
    to: `/marking/${id}/away`,
    name: t`Mark away from the desk`,
    says: t`all work as a zip, and back with marks`,
    also: t`offline export download work zip spreadsheet`,
  },
  {
    to: `/sittings/${id}/placement`,
    name: t`Placement by score`,
    says: t`who goes on with which second part`,
    also: t`levels sets streaming branching second part`,
  },
];

const ofOneClass = (id: string): Action[] => [
  {
    to: `/classes/${id}`,
    name: t`This class`,
    says: t`its students, their passes, needs and groups`,
    also: t`pupils roster list new passes parents import add student`,
  },
  {
    to: `/records/${id}`,
    name: t`The record of this class`,
    says: t`every total through the year, and what it comes to`,
    also: t`gradebook marksheet markbook average term report card`,
  },
  {
    to: `/records/${id}/growth`,
    name: t`Growth of this class`,
    says: t`how totals moved from test to test`,
    also: t`progress trend chart`,
  },
  {
    to: `/records/${id}/not-tested`,
    name: t`Who was not tested`,
    says: t`who misses which test, to sit it later`,
    also: t`absent missing catch up`,
  },
  {
    to: `/records/${id}/rules`,
    name: t`Terms, weights and the scale`,
    says: t`how totals become the average of a term`,
    also: t`grades scale average weighting letters boundaries`,
  },
];

export const actionsAnywhere = (): Action[] => [
  { to: "/", name: t`Desk`, says: t`what is open, what waits, what is new`, also: t`home start today` },
  {
    to: "/classes",
    name: t`Classes`,
    says: t`lists of students, and a new class`,
    also: t`students pupils roster register import passes new class`,
  },
  {
    to: "/bank",
    name: t`Bank`,
    says: t`write, find and bring in questions`,
    also: t`items questions import QTI new question`,
  },
  {
    to: "/tests",
    name: t`Tests`,
    says: t`put questions into a paper, and describe one given elsewhere`,
    also: t`quiz exam assessment paper new test print`,
  },
  { to: "/classes?new=1", name: t`Make a class`, says: t`type its name, paste the names`, also: t`new create add` },
  {
    to: "/bank?new=1",
    name: t`Write a question`,
    says: t`choose its kind; it is kept as you type`,
    also: t`new create add item`,
  },
  {
    to: "/tests?new=1",
    name: t`Make a test`,
    says: t`a title, then its questions`,
    also: t`new create build quiz exam assessment`,
  },
  {
    to: "/sittings?new=1",
    name: t`Plan a sitting`,
    says: t`a test, a class, a day`,
    also: t`new create give assign schedule`,
  },
  { to: "/shelf", name: t`Ready-made tests`, says: t`take one as your own`, also: t`examples samples templates` },
  {
    to: "/sittings",
    name: t`Sittings`,
    says: t`give a test online, in the room or on paper`,
    also: t`give assign schedule homework session live start`,
  },
  {
    to: "/sittings/scans",
    name: t`Scans`,
    says: t`read answer sheets that came from a copier`,
    also: t`scan upload sheets copier PDF bubble`,
  },
  {
    to: "/timetable",
    name: t`Timetable and calendar`,
    says: t`when the periods are, and your sittings in your own calendar`,
    also: t`periods bells lessons schedule calendar subscribe ics feed`,
  },
  {
    to: "/sittings/queries",
    name: t`Doubtful marks on sheets`,
    says: t`say what a smudge or two crosses mean`,
    also: t`unclear smudge query check scan`,
  },
  {
    to: "/marking",
    name: t`What waits to be marked`,
    says: t`every sitting with answers for you`,
    also: t`grade grading score correct essays`,
  },
  {
    to: "/marking/comments",
    name: t`Your comments`,
    says: t`what you say often, changed once for all`,
    also: t`feedback comment bank phrases remarks`,
  },
  {
    to: "/findings",
    name: t`Findings`,
    says: t`which questions were misunderstood`,
    also: t`item analysis statistics results difficulty reliability`,
  },
  {
    to: "/skills",
    name: t`Skills`,
    says: t`what questions test: make, order, merge, bring in a framework`,
    also: t`standards objectives curriculum outcomes competences topics tree`,
  },
  {
    to: "/materials",
    name: t`Materials`,
    says: t`what helps with a skill, offered with results`,
    also: t`worksheets links practice resources`,
  },
  {
    to: "/records",
    name: t`Records`,
    says: t`a class through the year`,
    also: t`gradebook marksheet markbook averages term report`,
  },
  {
    to: "/records/side-by-side",
    name: t`Classes and terms side by side`,
    says: t`the same test in several classes and years`,
    also: t`compare classes cohorts years`,
  },
  {
    to: "/account",
    name: t`Your account`,
    says: t`password, second factor, where you are signed in`,
    also: t`password passkey profile settings devices`,
  },
  {
    to: "/people",
    name: t`People of the school`,
    says: t`who teaches here, departments, invitations`,
    also: t`colleagues teachers invite administrator staff`,
  },
  {
    to: "/people/privacy",
    name: t`What is kept of a student`,
    says: t`hand it over, or erase it`,
    also: t`privacy data erase delete export`,
  },
  {
    to: "/people/log",
    name: t`Security log`,
    says: t`who saw whose data, who signed in`,
    also: t`audit access log`,
  },
];

const plain = (text: string) =>
  folded(text)
    .split(/[^\p{L}\p{M}\p{N}]+/u)
    .filter(Boolean);

/** The actions that every typed word begins a word of; those it begins the name of first. */
export function matching(actions: Action[], typed: string): Action[] {
  const wanted = plain(typed);
  if (wanted.length === 0) return [];
  const holds = (text: string) => {
    const words = plain(text);
    return wanted.every((one) => words.some((word) => word.startsWith(one)));
  };
  const named = actions.filter((action) => holds(action.name));
  return [...named, ...actions.filter((a) => !named.includes(a) && holds(`${a.name} ${a.says} ${a.also}`))];
}

const RECENT = "verso.finder.recent";
const MOST_RECENT = 4;

/** The addresses that were gone to from here, the latest first. */
export function recent(store: Pick<Storage, "getItem"> = localStorage): string[] {
  try {
    const kept: unknown = JSON.parse(store.getItem(RECENT) ?? "[]");
    return Array.isArray(kept) ? kept.filter((one) => typeof one === "string") : [];
  } catch {
    return [];
  }
}

export function noteRecent(to: string, store: Pick<Storage, "getItem" | "setItem"> = localStorage): void {
  const rest = recent(store).filter((one) => one !== to);
  store.setItem(RECENT, JSON.stringify([to, ...rest].slice(0, MOST_RECENT)));
}
