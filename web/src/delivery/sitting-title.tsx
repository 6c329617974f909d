import type { Schemas } from "../api/client";

/** A sitting as it is named everywhere: what the teacher calls it, or its test, and its class. */
export function SittingTitle({
  sitting,
}: {
  sitting: Pick<Schemas["SittingLine"], "own_name" | "title" | "class_name">;
}) {
  return (
    <p className="font-serif text-lg leading-snug font-semibold wrap-anywhere">
      {sitting.own_name || sitting.title}{" "}
      <span className="font-sans text-base font-normal text-graphite">· {sitting.class_name}</span>
    </p>
  );
}
