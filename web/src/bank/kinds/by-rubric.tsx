import { t } from "@lingui/core/macro";
import { Checkbox } from "../../ui/checkbox";
import { FILE_KINDS, type FileKind } from "../../ui/file-kinds";
import { ByRubricFields, CountField } from "./rubric";
import type { ContentOf, EditorProps } from "./types";

export function WrittenEditor({ content, onChange }: EditorProps<ContentOf<"written">>) {
  return (
    <>
      <div className="grid gap-x-6 sm:grid-cols-3">
        <CountField
          label={t`Least words`}
          max={5000}
          value={content.least_words}
          onChange={(least_words) => onChange({ ...content, least_words })}
        />
        <CountField
          label={t`Most words`}
          hint={t`0 for no limit`}
          max={10_000}
          value={content.most_words}
          onChange={(most_words) => onChange({ ...content, most_words })}
        />
        <CountField
          label={t`Lines on paper`}
          max={60}
          value={content.lines}
          onChange={(lines) => onChange({ ...content, lines: Math.max(1, lines) })}
        />
      </div>
      <Checkbox
        label={t`students may use bold, lists and tables`}
        checked={content.formatting}
        onChange={(formatting) => onChange({ ...content, formatting })}
      />
      <ByRubricFields content={content} onChange={onChange} />
    </>
  );
}

export function FileEditor({ content, onChange }: EditorProps<ContentOf<"file">>) {
  return (
    <>
      <fieldset className="mb-3">
        <legend className="mb-1 text-sm font-semibold">{t`Students may hand in`}</legend>
        <div className="flex flex-wrap gap-x-5">
          {(Object.entries(FILE_KINDS) as [FileKind, string][]).map(([kind, words]) => (
            <Checkbox
              key={kind}
              label={words}
              checked={content.file_kinds.includes(kind)}
              onChange={(on) =>
                onChange({
                  ...content,
                  file_kinds: on
                    ? [...content.file_kinds, kind]
                    : content.file_kinds.filter((file_kind) => file_kind !== kind),
                })
              }
            />
          ))}
        </div>
      </fieldset>
      <div className="grid gap-x-6 sm:grid-cols-3">
        <CountField
          label={t`Most files`}
          max={10}
          value={content.most_files}
          onChange={(most_files) => onChange({ ...content, most_files: Math.max(1, most_files) })}
        />
        <CountField
          label={t`Most MB a file`}
          max={50}
          value={content.most_megabytes}
          onChange={(most_megabytes) => onChange({ ...content, most_megabytes: Math.max(1, most_megabytes) })}
        />
      </div>
      <ByRubricFields content={content} onChange={onChange} />
    </>
  );
}

export function PerformanceEditor({ content, onChange }: EditorProps<ContentOf<"performance">>) {
  return (
    <>
      <div className="grid gap-x-6 sm:grid-cols-3">
        <CountField
          label={t`Minutes for each student`}
          hint={t`0 where it does not matter`}
          max={120}
          value={content.minutes}
          onChange={(minutes) => onChange({ ...content, minutes })}
        />
      </div>
      <ByRubricFields content={content} onChange={onChange} />
    </>
  );
}
