import type { SeatPage } from "./api";
import type { Question } from "./kinds/types";

export type Paper = NonNullable<SeatPage["paper"]>;
export type Section = Paper["sections"][number];
export type Stimulus = Paper["stimuli"][number];
export type Page = Paper["pages"][number]["pages"][number];

/** What one turns through: questions, and pages to read between them. */
export type Step = { page: Page } | { question: Question; section: Section | null; stimulus: Stimulus | null };

/** The paper as steps. The section stands with its first question, the stimulus with every question that shares it. */
export function stepsOf(paper: Paper): Step[] {
  const pagesBefore = (number: number): Step[] =>
    paper.pages.filter((group) => group.before === number).flatMap((group) => group.pages.map((page) => ({ page })));
  const steps = paper.items.flatMap((question): Step[] => {
    const section = paper.sections[question.section] ?? null;
    const stimulus = paper.stimuli.find((stimulus) => stimulus.ref === question.stimulus) ?? null;
    const first = section?.first === question.number;
    return [...pagesBefore(question.number), { question, section: first ? section : null, stimulus }];
  });
  return [...steps, ...pagesBefore(paper.items.length + 1)];
}
