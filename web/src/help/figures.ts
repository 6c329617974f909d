import { t } from "@lingui/core/macro";

export type FigureName = "mean" | "sd" | "alpha" | "sem" | "p" | "d" | "rrest" | "chance" | "kappa" | "band" | "growth";
/** The figures of the test on the page, where there are some. */
export type Shown = { mean: number | null; sd: number | null; alpha: number | null; sem: number | null; max: number };
export type Figure = {
  name: string;
  means: string;
  made: string;
  /** The same with the numbers of the page. */
  here?: (shown: Shown) => string;
};

const one = (value: number | null) => (value ?? 0).toFixed(1);

export const FIGURES: Record<FigureName, Figure> = {
  mean: {
    name: t`Mean`,
    means: t`The average of the totals.`,
    made: t`All totals added, divided by the number of students.`,
    here: (shown) => (shown.mean === null ? "" : t`Here: ${one(shown.mean)} of ${shown.max} marks.`),
  },
  sd: {
    name: t`Standard deviation`,
    means: t`How far totals lie from the mean, typically.`,
    made: t`The square root of the average squared distance from the mean, with one student less in the divisor.`,
    here: (shown) =>
      shown.sd === null || shown.mean === null
        ? ""
        : t`Here: ${one(shown.sd)}. One such step below and above the mean are ${one(shown.mean - shown.sd)} and ${one(shown.mean + shown.sd)} marks.`,
  },
  alpha: {
    name: t`Alpha`,
    means: t`How well the questions agree on who is strong; 1 at most. The range behind it says how sure that is with so few students.`,
    made: t`From how much the questions vary by themselves against how much the totals vary (Cronbach).`,
    here: (shown) => (shown.alpha === null ? "" : t`Here: ${shown.alpha.toFixed(2)}.`),
  },
  sem: {
    name: t`Standard error of measurement`,
    means: t`About two thirds of students would come out within this many marks on a test just like this one.`,
    made: t`The standard deviation times the square root of 1 less alpha.`,
    here: (shown) =>
      shown.sem === null
        ? ""
        : t`Here: ${one(shown.sem)} marks, so that ${one(2 * shown.sem)} marks between two students say little.`,
  },
  p: {
    name: t`p, how easy a question is`,
    means: t`The share of its marks that the class earned. Near 1 everybody could do it, near 0 nobody.`,
    made: t`The average of what was earned, divided by what could be.`,
  },
  d: {
    name: t`D, how it tells strong from weak`,
    means: t`How much more the strongest earn on it than the weakest. Below 0, the weak do better: look at the key.`,
    made: t`What those with the most marks on the other questions earn, less what those with the fewest earn, as a share.`,
  },
  rrest: {
    name: t`r rest`,
    means: t`How well a question agrees with the others.`,
    made: t`The correlation of what was earned on it with the total of the other questions.`,
  },
  chance: {
    name: t`“97 in 100”, how sure a finding is`,
    means: t`Of a hundred findings this sure, about so many prove right.`,
    made: t`Several explanations of the answers are weighed against each other, with what is usual; the method is written down in full.`,
  },
  kappa: {
    name: t`Quadratic kappa`,
    means: t`How far two markers agree beyond chance; a large difference counts for more than a small one. 1 is full agreement.`,
    made: t`From the squared differences of the two marks, against those expected if each marked by habit alone (Cohen, with quadratic weights).`,
  },
  band: {
    name: t`Secure, nearly, not yet`,
    means: t`Where a student stands in a skill. No band is given where too little was asked.`,
    made: t`By the share of the marks of the questions with that skill, against the two lines you set under “By skill”.`,
  },
  growth: {
    name: t`Growth`,
    means: t`How totals moved from test to test. Tests differ, so that a step up may be an easier test.`,
    made: t`Each total as a share of its marks, in the order of the days.`,
  },
};
