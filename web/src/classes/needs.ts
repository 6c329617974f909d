import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { inWords } from "../ui/code-words";

/** What a student needs, in a few words each. */
export const needsInWords = (needs: Schemas["Needs"]): string[] =>
  [
    needs.extra_time > 0 && t`+${needs.extra_time}% time`,
    needs.large_print && t`large print`,
    needs.quiet_start && t`quiet start`,
    needs.break_minutes > 0 && t`${needs.break_minutes} min of breaks`,
    needs.alone_on_page && t`one question a page`,
    needs.large_targets && t`large buttons`,
    needs.ground && t`${inWords(needs.ground)} ground`,
    needs.read_aloud === "on" && t`read aloud`,
    needs.read_aloud === "off" && t`no read-aloud`,
  ].filter((words): words is string => Boolean(words));
