import { language } from "./locales";

const WORDS = { en: () => import("./teacher/en.po"), es: () => import("./teacher/es.po") };

/** The teacher's pages have no Arabic yet: a teacher who reads it gets English. */
export function teacherWords() {
  const chosen = language();
  return WORDS[chosen === "ar" ? "en" : chosen]();
}
