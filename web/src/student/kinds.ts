import type { components } from "./schema";

export type Question = components["schemas"]["PaperItem"];
export type Response = NonNullable<components["schemas"]["KeptAnswer"]["response"]>;

type Kind = { give: (option: string) => Response; picked: (response: Response) => string | null };

/** How each kind of item turns a picked option into a response, and back. The one place that knows the kinds. */
const KINDS: Record<Response["kind"], Kind> = {
  single_choice: {
    give: (option) => ({ kind: "single_choice", option }),
    picked: (response) => ("option" in response ? (response.option ?? null) : null),
  },
  true_false: {
    give: (option) => ({ kind: "true_false", value: option === "true" }),
    picked: (response) => ("value" in response && response.value !== null ? String(response.value) : null),
  },
};

export const give = (question: Question, option: string): Response =>
  KINDS[question.item.kind as Response["kind"]].give(option);
export const pickedIn = (response: Response | null): string | null =>
  response ? KINDS[response.kind].picked(response) : null;
