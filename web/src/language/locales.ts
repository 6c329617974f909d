/** The languages that have catalogues, each by its own name. `pseudo` is none that anybody reads: see `pseudo.ts`. */
export const LANGUAGES = { en: "English", es: "Español", ar: "العربية" } as const;
export type Language = keyof typeof LANGUAGES;

/** How numbers and dates are written. Arabic keeps European digits, as papers in the sciences and marks lists do. */
const FORMATS: Record<Language, string> = { en: "en-GB", es: "es", ar: "ar-u-nu-latn" };

/** The language of this page: the server writes it on the page before anything is loaded. */
export function language(): Language {
  const named = typeof document === "undefined" ? "en" : document.documentElement.lang.slice(0, 2);
  return named in LANGUAGES ? (named as Language) : "en";
}

/** Which way a text of that language is read. */
export const directionOf = (language: string) => (language.startsWith("ar") ? "rtl" : "ltr");

export const locales = () => FORMATS[language()];
