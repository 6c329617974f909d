import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Field, TextInput } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { useKeys } from "../ui/keys";

type Place = Schemas["Place"];
type Props = { place: Place; onSettle: (answer: string) => void; busy: boolean };

/** The ways to say what a place means, one key each. */
export function Settle(props: Props) {
  if (props.place.entry === "one") return <OneOf {...props} />;
  if (props.place.entry === "several") return <SeveralOf {...props} />;
  return <Typed {...props} />;
}

const letters = (answer: string) => (answer ? answer.split("+") : []);

function OneOf({ place, onSettle, busy }: Props) {
  const keys = Object.fromEntries(place.circles.map(({ option }) => [option.toLowerCase(), () => onSettle(option)]));
  useKeys({ ...keys, n: () => onSettle("") });
  return (
    <div className="mt-4">
      {place.circles.map(({ option, text }) => (
        <Choice
          key={option}
          cap={option}
          says={text}
          now={!place.waiting && place.answer === option}
          onChoose={() => onSettle(option)}
          busy={busy}
        />
      ))}
      <Choice
        cap="N"
        says={t`nothing given`}
        now={!place.waiting && !place.answer}
        onChoose={() => onSettle("")}
        busy={busy}
      />
    </div>
  );
}

function SeveralOf({ place, onSettle, busy }: Props) {
  const [chosen, setChosen] = useState(letters(place.answer || place.read));
  const toggle = (option: string) =>
    setChosen((before) => (before.includes(option) ? before.filter((one) => one !== option) : [...before, option]));
  const done = () => onSettle([...chosen].sort().join("+"));
  const keys = Object.fromEntries(place.circles.map(({ option }) => [option.toLowerCase(), () => toggle(option)]));
  useKeys({ ...keys, n: () => onSettle(""), Enter: done });
  return (
    <div className="mt-4">
      {place.circles.map(({ option, text }) => (
        <Choice
          key={option}
          cap={option}
          says={text}
          now={chosen.includes(option)}
          onChoose={() => toggle(option)}
          busy={busy}
        />
      ))}
      <div className="mt-3 flex gap-3">
        <Button variant="main" keyHint={t`Enter`} disabled={busy} onClick={done}>
          {chosen.length > 0 ? t`It says ${[...chosen].sort().join(", ")}` : t`Nothing given`}
        </Button>
      </div>
    </div>
  );
}

const HINTS: Record<string, string> = {
  points: t`Points by criterion, as filled. They become a draft that you can change when marking.`,
  text: t`As it stands on the sheet; leave it empty where nothing is given.`,
};

function Typed({ place, onSettle, busy }: Props) {
  const [text, setText] = useState((place.answer || place.read).replaceAll("_", ""));
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.select(), []);
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        onSettle(text);
      }}
    >
      <Field label={t`What it says`} hint={HINTS[place.entry]}>
        {(id) => (
          <TextInput id={id} ref={input} value={text} autoFocus onChange={(event) => setText(event.target.value)} />
        )}
      </Field>
      <Button variant="main" type="submit" keyHint={t`Enter`} disabled={busy}>
        {text ? t`That is it` : t`Nothing given`}
      </Button>
    </form>
  );
}

function Choice({
  cap,
  says,
  now,
  onChoose,
  busy,
}: {
  cap: string;
  says: string;
  now: boolean;
  onChoose: () => void;
  busy: boolean;
}) {
  return (
    <button
      type="button"
      disabled={busy}
      aria-pressed={now}
      onClick={onChoose}
      className={`flex w-full items-baseline gap-3 border-b border-hairline px-2 py-2 text-start hover:bg-iris-wash ${now ? "bg-iris-wash font-semibold" : ""}`}
    >
      <KeyCap>{cap}</KeyCap>
      <span className="min-w-0 wrap-anywhere">{says}</span>
    </button>
  );
}
