import type { ContentOf, EditorProps } from "./types";
import { WordingFields } from "./wording";

export function ShortTextEditor({ content, onChange }: EditorProps<ContentOf<"short_text">>) {
  return <WordingFields value={content.wording} onChange={(wording) => onChange({ ...content, wording })} />;
}
