import { plural, t } from "@lingui/core/macro";
import { locales } from "../language/locales";

const locale = locales();
const clock = new Intl.DateTimeFormat(locale, { hour: "2-digit", minute: "2-digit" });
const day = new Intl.DateTimeFormat(locale, { day: "numeric", month: "short" });
const shortDay = new Intl.DateTimeFormat(locale, { weekday: "short", day: "numeric", month: "short" });
const longDay = new Intl.DateTimeFormat(locale, { weekday: "long", day: "numeric", month: "long" });

const month = new Intl.DateTimeFormat(locale, { month: "long", year: "numeric" });

export const timeOf = (at: string | Date) => clock.format(new Date(at));
export const dayOf = (at: string | Date) => day.format(new Date(at));
export const monthOf = (at: string | Date) => month.format(new Date(at));
export const longDayOf = (at: string | Date) => longDay.format(new Date(at));

/** `09:40` today, `3 Nov` on other days. */
export function whenOf(at: string): string {
  const date = new Date(at);
  return date.toDateString() === new Date().toDateString() ? timeOf(date) : dayOf(date);
}

/** `Thu 3 Dec, 08:00`. */
export const momentOf = (at: string | Date) => `${shortDay.format(new Date(at)).replace(",", "")}, ${timeOf(at)}`;

/** `4:05`, `1 h 20 min`, `3 days`; a dash where it is not known. */
export function durationOf(length: number | null | undefined): string {
  if (length === null || length === undefined) return "–";
  const seconds = Math.round(length);
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
  const minutes = Math.floor(seconds / 60);
  return minutes < 48 * 60
    ? t`${Math.floor(minutes / 60)} h ${minutes % 60} min`
    : plural(Math.floor(minutes / 1440), { one: "# day", other: "# days" });
}

/** The beginning of a text that is too long for its place, up to the end of a word. */
export const begun = (text: string, most: number) =>
  text.length <= most ? text : `${text.slice(0, most).replace(/\s+\S*$/, "")}…`;

const collator = new Intl.Collator(locale);
/** Which of two names comes first: by the alphabet of the reader’s language, Á beside A and not behind Z. */
export const byName = (one: string, other: string) => collator.compare(one, other);

const list = new Intl.ListFormat(locale, { type: "conjunction" });
/** `3`, `3 and 5`, `3, 5 and 7`. */
export const listed = (words: string[]) => list.format(words);

const choice = new Intl.ListFormat(locale, { type: "disjunction" });
/** `A`, `A or B`. */
export const either = (words: string[]) => choice.format(words);

/** Names as the end of a sentence; a short name brings its own full stop. */
export const namesIn = (names: string[]) => names.join(", ").replace(/\.*$/, ".");

const point = new Intl.NumberFormat(locale).formatToParts(0.5).find((part) => part.type === "decimal")?.value ?? ".";

/** A number of marks: `0.8`, `−1.5`, a dash where there is none. */
export function amount(value: number | null | undefined, places = 1): string {
  if (value === null || value === undefined) return "–";
  const text = Math.abs(value).toFixed(places);
  return (value < 0 && Number(text) !== 0 ? `−${text}` : text).replace(".", point);
}

/**
 * A coefficient as statisticians print it: `.29`, `−.08`, `1.25`, a dash where there is none. The nought is left out
 * where a point is written; after a comma the trade keeps it.
 */
export const figure = (value: number | null | undefined, places = 2) =>
  amount(value, places).replace(/^(−?)0\./, "$1.");

export const percent = (share: number | null | undefined) =>
  share === null || share === undefined ? "–" : `${amount(share * 100, 0)}%`;

/** Longer than this it is a name that a teacher gave, and no number or letter of a paper. */
const LONGEST_NUMBER = 4;
export const isNumbered = (label: string) => label.length <= LONGEST_NUMBER;
/** “Question 7”, or the name that a line of a test given elsewhere has. */
export const questionName = (label: string) => (isNumbered(label) ? t`Question ${label}` : label);
/** The same within a sentence. */
export const questionInWords = (label: string) => (isNumbered(label) ? t`question ${label}` : t`“${label}”`);
