import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useState } from "react";
import { LanguageLine } from "../ui/language-line";
import type { SeatPage } from "./api";
import { BigButton } from "./parts";

const SIZES = [100, 115, 130, 150, 180];
const GROUNDS = { "": t`white`, cream: t`cream`, blue: t`blue`, green: t`green`, rose: t`rose` } as const;
type Ground = keyof typeof GROUNDS;
type Comfort = { size: number; ground: Ground | null };
const KEY = "verso.comfort";

/** Text size and ground of this student’s own choosing, kept on this device; else what the class list says they need. */
export function useComfort(needs: SeatPage["needs"] | undefined) {
  const [own, setOwn] = useState<Comfort>(() => ({
    size: 0,
    ground: null,
    ...JSON.parse(localStorage.getItem(KEY) ?? "{}"),
  }));
  const size = own.size || (needs?.large_print ? 130 : 100);
  const ground = own.ground ?? needs?.ground ?? "";
  useEffect(() => {
    const root = document.documentElement;
    root.style.fontSize = size === 100 ? "" : `${size}%`;
    if (ground) root.dataset.ground = ground;
    else delete root.dataset.ground;
  }, [size, ground]);
  const targets = needs?.large_targets ?? false;
  useEffect(() => {
    if (targets) document.documentElement.dataset.targets = "large";
    else delete document.documentElement.dataset.targets;
  }, [targets]);
  const set = (part: Partial<Comfort>) => {
    const next = { ...own, ...part };
    localStorage.setItem(KEY, JSON.stringify(next));
    setOwn(next);
  };
  return { size, ground, set };
}

export type ComfortInHand = ReturnType<typeof useComfort>;

/** Larger, smaller, and on which ground. */
export function ComfortPanel({ comfort, onClose }: { comfort: ComfortInHand; onClose: () => void }) {
  const at = SIZES.findIndex((size) => size >= comfort.size);
  return (
    <section aria-label={t`How it looks`} className="border-b border-hairline bg-page-2 px-4.5 py-4">
      <div className="flex flex-wrap items-center gap-2.5">
        <BigButton disabled={at <= 0} onClick={() => comfort.set({ size: SIZES[at - 1] ?? 100 })}>
          <Trans>
            A−<span className="sr-only"> smaller text</span>
          </Trans>
        </BigButton>
        <BigButton disabled={at >= SIZES.length - 1} onClick={() => comfort.set({ size: SIZES[at + 1] ?? 180 })}>
          <Trans>
            A+<span className="sr-only"> larger text</span>
          </Trans>
        </BigButton>
        <label className="flex min-h-12 items-center gap-2">
          {t`Ground`}
          <select
            className="min-h-12 rounded-xs border border-edge/60 bg-page px-2"
            value={comfort.ground}
            onChange={(event) => comfort.set({ ground: event.target.value as Ground })}
          >
            {Object.entries(GROUNDS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <LanguageLine className="min-h-12 items-center" />
        <BigButton className="ms-auto" onClick={onClose}>{t`Done`}</BigButton>
      </div>
    </section>
  );
}
