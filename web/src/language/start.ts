import { i18n, type Messages } from "@lingui/core";
import { language, locales } from "./locales";

/**
 * The words are there before the page is: what a module says once, when it is loaded, is then said in the reader's
 * language too. Who changes the language loads the page anew.
 */
export async function start(words: Promise<{ messages: Messages }>, page: () => Promise<unknown>) {
  const { messages } = await words;
  i18n.loadAndActivate({ locale: language(), locales: locales(), messages });
  await page();
}
