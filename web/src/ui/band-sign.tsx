import { t } from "@lingui/core/macro";
import { inWords } from "./code-words";
export type Band = "secure" | "nearly" | "not yet";

const LOOKS: Record<Band, { sign: string; colour: string }> = {
  secure: { sign: "●", colour: "text-teal" },
  nearly: { sign: "◐", colour: "text-ochre" },
  "not yet": { sign: "○", colour: "text-clay" },
};

/** How far somebody is with a skill: a shape, and the word for those who hear it. A dash where it is too little to say. */
export function BandSign({ band, words = false }: { band: Band | null; words?: boolean }) {
  if (!band)
    return (
      <span className="text-graphite">
        –<span className="sr-only">{t`too little to say`}</span>
      </span>
    );
  const { sign, colour } = LOOKS[band];
  return (
    <span className={`${colour} font-semibold`}>
      {sign} {words ? inWords(band) : <span className="sr-only">{inWords(band)}</span>}
    </span>
  );
}
