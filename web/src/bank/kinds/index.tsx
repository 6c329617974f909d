import { t } from "@lingui/core/macro";
import type { ComponentType } from "react";
import { FileEditor, PerformanceEditor, WrittenEditor } from "./by-rubric";
import { ExpressionEditor } from "./expression";
import { GapsEditor } from "./gaps";
import { MatchingEditor } from "./matching";
import { NumericEditor } from "./numeric";
import { blankOption } from "./options";
import { OrderingEditor } from "./ordering";
import { newId } from "./parts";
import { PicturePointEditor } from "./picture-point";
import { blankRubric } from "./rubric";
import { SeveralAnswersEditor } from "./several-answers";
import { ShortTextEditor } from "./short-text";
import { SingleChoiceEditor } from "./single-choice";
import { TrueFalseEditor } from "./true-false";
import type { Content, ContentOf, EditorProps, Kind } from "./types";
import { blankWording } from "./wording";

const shared = (marks = 1) => ({ stem: "", marks, rationale: "", variation: null });
const four = () => [blankOption(), blankOption(), blankOption(), blankOption()];
const line = () => ({ id: newId(), text: "" });

/** What each kind of item brings to the bank: its name, an empty one, and its editor. The one place that knows them all. */
export const KINDS: { [K in Content["kind"]]: Kind<ContentOf<K>> } = {
  single_choice: {
    name: t`Single choice`,
    says: t`one of the options is right`,
    blank: () => ({ kind: "single_choice", ...shared(), options: four(), key: null }),
    Editor: SingleChoiceEditor,
  },
  several_answers: {
    name: t`Several answers`,
    says: t`any number of the options are right`,
    blank: () => ({ kind: "several_answers", ...shared(2), options: four(), keys: [], credit: "all" }),
    Editor: SeveralAnswersEditor,
  },
  true_false: {
    name: t`True or false`,
    says: t`one statement to judge`,
    blank: () => ({ kind: "true_false", ...shared(), key: null, idea_note: "" }),
    Editor: TrueFalseEditor,
  },
  numeric: {
    name: t`Numeric`,
    says: t`a value, with or without its unit`,
    blank: () => ({
      kind: "numeric",
      ...shared(),
      value: null,
      tolerance: "exact",
      amount: 0,
      unit: "",
      unit_rule: "none",
      without_unit: 0,
      ideas: [],
      value_rule: "",
    }),
    Editor: NumericEditor,
  },
  short_text: {
    name: t`Short text`,
    says: t`a word or a few, typed`,
    blank: () => ({ kind: "short_text", ...shared(), wording: blankWording() }),
    Editor: ShortTextEditor,
  },
  gaps: {
    name: t`Gaps in a text`,
    says: t`words typed or picked from a list`,
    blank: () => ({ kind: "gaps", ...shared(2), text: "", gaps: [], credit: "each" }),
    Editor: GapsEditor,
  },
  matching: {
    name: t`Matching`,
    says: t`each row with its partner`,
    blank: () => ({
      kind: "matching",
      ...shared(3),
      rows: [1, 2, 3].map(() => ({ ...line(), key: null })),
      choices: [1, 2, 3, 4].map(() => ({ ...line(), idea_note: "" })),
      credit: "each",
    }),
    Editor: MatchingEditor,
  },
  ordering: {
    name: t`Ordering`,
    says: t`entries put in their right order`,
    blank: () => ({ kind: "ordering", ...shared(2), entries: [line(), line(), line(), line()], credit: "pairs" }),
    Editor: OrderingEditor,
  },
  expression: {
    name: t`Algebraic expression`,
    says: t`right when it is equal in value`,
    blank: () => ({ kind: "expression", ...shared(), key: "", names: [], positive: false, wrong: [] }),
    Editor: ExpressionEditor,
  },
  picture_point: {
    name: t`Point on a picture`,
    says: t`a place marked in a region`,
    blank: () => ({ kind: "picture_point", ...shared(), picture: null, picture_words: "", ratio: 1.5, regions: [] }),
    Editor: PicturePointEditor,
  },
  written: {
    name: t`Extended answer`,
    says: t`written, and marked with a rubric`,
    blank: () => ({
      kind: "written",
      ...shared(4),
      rubric: blankRubric(),
      show_rubric: false,
      least_words: 0,
      most_words: 0,
      lines: 8,
      formatting: false,
    }),
    Editor: WrittenEditor,
  },
  file: {
    name: t`File to hand in`,
    says: t`marked with a rubric`,
    blank: () => ({
      kind: "file",
      ...shared(4),
      rubric: blankRubric(),
      show_rubric: false,
      file_kinds: ["pdf", "picture", "text"],
      most_files: 1,
      most_megabytes: 10,
    }),
    Editor: FileEditor,
  },
  performance: {
    name: t`Performance`,
    says: t`spoken, played or shown, scored while watching`,
    blank: () => ({ kind: "performance", ...shared(4), rubric: blankRubric(), show_rubric: false, minutes: 0 }),
    Editor: PerformanceEditor,
  },
};

export const kindName = (kind: string) => KINDS[kind as Content["kind"]]?.name.toLowerCase() ?? kind;

/** The editor of an item of any kind. */
export function KindEditor({ content, onChange }: EditorProps<Content>) {
  // The union narrows per kind in the table above; here one cast joins content and editor again.
  const Editor = KINDS[content.kind].Editor as ComponentType<EditorProps<Content>>;
  return <Editor content={content} onChange={onChange} />;
}
