import { type ComponentProps, type ReactNode, useEffect, useRef, useState } from "react";
import { directionOf, language } from "../../language/locales";

const PAUSE = 700;

/**
 * What is being typed: shown at once, given as an answer when the typing pauses, when the field is left, and when the
 * question is.
 */
export function useTyped(value: string, give: (text: string) => void) {
  const [text, setText] = useState(value);
  const latest = useRef({ text, value, give });
  latest.current = { text, value, give };
  const commit = useRef(() => {
    const now = latest.current;
    if (now.text !== now.value) now.give(now.text);
  });
  useEffect(() => {
    if (text === latest.current.value) return;
    const timer = setTimeout(commit.current, PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  useEffect(() => {
    const leave = commit.current;
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
  return { text, setText, commit: commit.current };
}

export const inputLook = "rounded-xs border border-edge bg-page px-3.5 py-2.5 font-serif text-xl";

/** One line to type an answer in. */
export function TypedLine({
  value,
  onGive,
  className = "",
  ...rest
}: { value: string; onGive: (text: string) => void } & Omit<ComponentProps<"input">, "value" | "onChange">) {
  const { text, setText, commit } = useTyped(value, onGive);
  return (
    <input
      type="text"
      autoComplete="off"
      autoCapitalize="none"
      autoCorrect="off"
      spellCheck={false}
      className={`${inputLook} ${className}`}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={commit}
      {...rest}
    />
  );
}

export function Note({ children }: { children: ReactNode }) {
  return (
    <p dir={directionOf(language())} className="mt-2 text-base text-graphite">
      {children}
    </p>
  );
}

type PickProps = {
  type: "radio" | "checkbox";
  name: string;
  letter: string;
  on: boolean;
  onPick: () => void;
  children: ReactNode;
};

/** A lettered answer to pick, as wide as the page. */
export function Pick({ type, name, letter, on, onPick, children }: PickProps) {
  return (
    <label
      className={`relative flex min-h-16 cursor-pointer items-center gap-3.5 rounded-xs border px-4 py-2 has-focus-visible:outline-2 has-focus-visible:outline-offset-2 has-focus-visible:outline-iris ${on ? "border-2 border-ink bg-page-2" : "border-edge/60"}`}
    >
      <input type={type} className="absolute opacity-0" name={name} checked={on} onChange={onPick} />
      <span
        aria-hidden="true"
        className={`flex size-9 shrink-0 items-center justify-center border border-ink font-serif font-semibold ${type === "radio" ? "rounded-full" : "rounded-xs"} ${on ? "bg-ink text-page" : ""}`}
      >
        {letter}
      </span>
      <span className="min-w-0 flex-1 font-serif text-xl leading-snug">{children}</span>
    </label>
  );
}
