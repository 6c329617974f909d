import type { QueryClient, QueryKey } from "@tanstack/react-query";

/** What the server is asked for, by the first word of its key. */
type Resource =
  | "answer"
  | "class"
  | "classes"
  | "colleagues"
  | "comments"
  | "comparison"
  | "desk"
  | "editions"
  | "empty"
  | "eyes"
  | "findings"
  | "growth"
  | "item"
  | "item-history"
  | "items"
  | "marking"
  | "materials"
  | "marks"
  | "paper"
  | "pile"
  | "placement"
  | "practice"
  | "queries"
  | "record"
  | "results"
  | "scan"
  | "scans"
  | "second"
  | "settling"
  | "sheet"
  | "shelf"
  | "sitting"
  | "sitting-events"
  | "sittings"
  | "skills"
  | "terms"
  | "tests"
  | "watching";

/** What changed, and what may read otherwise for it. The one place that knows: whoever changes something names it here. */
const ASKED_AGAIN = {
  classes: ["classes", "class", "colleagues"],
  dismissed: ["findings", "desk", "item-history"],
  items: ["items", "item", "skills", "item-history"],
  key: ["settling", "findings", "marking", "results", "record", "placement", "items", "item", "desk"],
  comments: ["comments", "marking", "answer", "pile"],
  comparison: ["comparison"],
  pile: ["pile", "marking", "answer", "findings", "results", "record", "desk"],
  marks: ["marking", "watching", "answer", "second", "findings", "results", "record", "placement", "desk"],
  "marks of a test given elsewhere": ["marks", "sitting", "sittings", "findings", "results", "record", "desk"],
  materials: ["materials"],
  practice: [
    "practice",
    "classes",
    "items",
    "item",
    "skills",
    "tests",
    "editions",
    "sitting",
    "sittings",
    "findings",
    "marking",
    "results",
    "desk",
  ],
  plan: ["sittings", "desk", "tests", "editions", "practice"],
  record: ["record", "growth", "terms", "results"],
  results: ["results", "eyes", "empty", "findings", "marking", "sitting", "sittings", "record", "placement", "desk"],
  scans: ["scans", "scan", "paper", "queries", "sheet", "findings", "sitting", "sittings", "desk"],
  shelf: ["shelf"],
  sitting: ["sitting", "sittings", "sitting-events", "findings", "desk", "practice"],
  tests: ["tests", "editions", "items", "desk"],
} satisfies Record<string, Resource[]>;

/** Everything that may read otherwise is asked for again. `besides`: what the answer to the change has brought already. */
export async function changed(client: QueryClient, what: keyof typeof ASKED_AGAIN, besides?: Resource): Promise<void> {
  const keys = ASKED_AGAIN[what].filter((key) => key !== besides);
  await Promise.all(keys.map((key) => client.invalidateQueries({ queryKey: [key] })));
}

/**
 * What the server answered to a change, shown in place of what is. A reading that is on its way began before the answer
 * came: it may be older and would put back what was, so it is given up and asked for once more.
 */
export function answered<T>(client: QueryClient, queryKey: QueryKey, page: T): void {
  const reading = client.isFetching({ queryKey, exact: true }) > 0;
  void client.cancelQueries({ queryKey, exact: true });
  client.setQueryData<T>(queryKey, page);
  if (reading) void client.invalidateQueries({ queryKey, exact: true });
}
