import type { Schemas } from "../api/client";

/** A sitting as it is named everywhere: its test and its class. */
export function SittingTitle({ sitting }: { sitting: Pick<Schemas["SittingLine"], "title" | "class_name"> }) {
  return (
    <p className="font-serif text-lg leading-snug font-semibold">
      {sitting.title} <span className="font-sans text-base font-normal text-graphite">· {sitting.class_name}</span>
    </p>
  );
}
