import type { Language } from "./locales";

const A_YEAR = 60 * 60 * 24 * 365;

/** This browser's pages are in that language from now on. What is typed or answered is kept before the page goes. */
export function choose(language: Language) {
  // biome-ignore lint/suspicious/noDocumentCookie: the cookie store is not in every browser that students have
  document.cookie = `verso_language=${language}; path=/; max-age=${A_YEAR}; SameSite=Lax`;
  location.reload();
}
