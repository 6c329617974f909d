import { useId } from "react";
import { Button } from "../../ui/button";
import { TextArea, TextInput } from "../../ui/field";
import { blankOption, type ContentOf, type EditorProps } from ".";
import { KeyToggle } from "./key-toggle";

const MOST = 8;
const FEWEST = 2;
type Single = ContentOf<"single_choice">;

export function SingleChoiceEditor({ content, onChange }: EditorProps<Single>) {
  const name = useId();
  const change = (id: string, part: Partial<Single["options"][number]>) =>
    onChange({
      ...content,
      options: content.options.map((option) => (option.id === id ? { ...option, ...part } : option)),
    });
  const remove = (id: string) =>
    onChange({
      ...content,
      options: content.options.filter((option) => option.id !== id),
      key: content.key === id ? null : (content.key ?? null),
    });
  return (
    <fieldset>
      <legend className="mb-2 text-sm font-semibold">Options: choose the key by its letter</legend>
      {content.options.map((option, place) => {
        const letter = String.fromCharCode(65 + place);
        const isKey = content.key === option.id;
        return (
          <div key={option.id} className="mb-3 flex items-start gap-2.5">
            <KeyToggle
              letter={letter}
              on={isKey}
              name={name}
              onChoose={() => onChange({ ...content, key: option.id })}
            />
            <div className="min-w-0 flex-1">
              <TextInput
                aria-label={`Option ${letter}`}
                className="font-serif"
                maxLength={1000}
                value={option.text ?? ""}
                onChange={(event) => change(option.id, { text: event.target.value })}
              />
              {!isKey && (
                <div className="mt-1 flex items-baseline gap-2 text-sm">
                  <span className="shrink-0 text-graphite">shows they think that</span>
                  <TextArea
                    rows={1}
                    aria-label={`What choosing ${letter} shows`}
                    className="min-w-0 border-dashed! py-0.5! text-plum"
                    maxLength={500}
                    placeholder="…"
                    value={option.idea_note ?? ""}
                    onChange={(event) => change(option.id, { idea_note: event.target.value })}
                  />
                </div>
              )}
            </div>
            {content.options.length > FEWEST && (
              <Button look="quiet" aria-label={`Take out option ${letter}`} onClick={() => remove(option.id)}>
                take out
              </Button>
            )}
          </div>
        );
      })}
      {content.options.length < MOST && (
        <Button onClick={() => onChange({ ...content, options: [...content.options, blankOption()] })}>
          Add an option
        </Button>
      )}
    </fieldset>
  );
}
