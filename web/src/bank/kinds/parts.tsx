import { t } from "@lingui/core/macro";
import type { ReactNode } from "react";
import { Choice, Field, TextArea } from "../../ui/field";
import { RichField } from "../../ui/rich-field";
import { keepPictureAddress } from "../pictures";

export const newId = () => crypto.getRandomValues(new Uint32Array(1))[0]?.toString(36).padStart(7, "0") ?? "0";
export const letterOf = (place: number) => String.fromCharCode(65 + place);

/** A line of rich text in an editor: an option, a row, an entry. */
export function RichLine(props: { label: string; value: string; onChange: (html: string) => void }) {
  return <RichField {...props} line className="font-serif" onPicture={keepPictureAddress} />;
}

type NoteProps = { label: string; value: string; onChange: (note: string) => void; lead?: string };

/** What a wrong answer shows, in the teacher's own pen. */
export function IdeaNote({ label, value, onChange, lead = t`shows they think that` }: NoteProps) {
  return (
    <div className="mt-1 flex items-baseline gap-2 text-sm">
      <span className="shrink-0 text-graphite">{lead}</span>
      <TextArea
        rows={1}
        aria-label={label}
        className="min-w-0 border-dashed! py-0.5! text-plum"
        maxLength={500}
        placeholder="…"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </div>
  );
}

type Credit = "all" | "each" | "right_minus_wrong";
const CREDIT: Record<Credit, string> = {
  all: t`all or nothing`,
  each: t`a share for each part that is right`,
  right_minus_wrong: t`right minus wrong, not below zero`,
};

/** How a partly right answer earns marks. */
export function CreditChoice({ value, onChange }: { value: Credit; onChange: (credit: Credit) => void }) {
  return (
    <Field label={t`Part marks`}>
      {(id) => (
        <Choice id={id} value={value} onChange={(event) => onChange(event.target.value as Credit)}>
          {Object.entries(CREDIT).map(([credit, words]) => (
            <option key={credit} value={credit}>
              {words}
            </option>
          ))}
        </Choice>
      )}
    </Field>
  );
}

/** A list typed one a line; empty lines go when it is left. */
export function LinesField(props: {
  label: string;
  hint?: ReactNode;
  values: string[];
  onChange: (values: string[]) => void;
}) {
  const { label, hint, values, onChange } = props;
  return (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextArea
          id={id}
          rows={2}
          className="font-serif"
          value={values.join("\n")}
          onChange={(event) => onChange(event.target.value.split("\n"))}
          onBlur={() => onChange(values.map((line) => line.trim()).filter(Boolean))}
        />
      )}
    </Field>
  );
}
