import type { Schemas } from "../api/client";

/** What a student needs, in a few words each. */
export const needsInWords = (needs: Schemas["Needs"]): string[] =>
  [
    needs.extra_time > 0 && `+${needs.extra_time}% time`,
    needs.large_print && "large print",
    needs.quiet_start && "quiet start",
    needs.ground && `${needs.ground} ground`,
    needs.read_aloud === "on" && "read aloud",
    needs.read_aloud === "off" && "no read-aloud",
  ].filter((words): words is string => Boolean(words));
