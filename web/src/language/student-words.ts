import { language } from "./locales";

const WORDS = {
  en: () => import("./student/en.po"),
  es: () => import("./student/es.po"),
  ar: () => import("./student/ar.po"),
};

export const studentWords = () => WORDS[language()]();
