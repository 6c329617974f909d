import { i18n, type MessageDescriptor, type Messages } from "@lingui/core";
import { directionOf, language, locales } from "./locales";

type Values = Record<string, unknown>;

/**
 * The words are there before the page is: what a module says once, when it is loaded, is then said in the reader's
 * language too. Who changes the language loads the page anew.
 */
export async function start(words: Promise<{ messages: Messages }>, page: () => Promise<unknown>) {
  const { messages } = await words;
  i18n.loadAndActivate({ locale: language(), locales: locales(), messages });
  if (directionOf(language()) === "rtl") isolateNames();
  await page();
}

/** A name in Latin letters inside an Arabic sentence keeps its own order, its full stop and its numbers with it. */
function isolateNames() {
  const plainly = i18n._.bind(i18n) as (id: unknown, values?: Values, options?: object) => string;
  const isolated = (values: Values = {}) =>
    Object.fromEntries(
      Object.entries(values).map(([name, value]) => [
        name,
        typeof value === "string" && /[A-Za-z]/.test(value) ? `\u2068${value}\u2069` : value,
      ]),
    );
  i18n._ = ((id: string | MessageDescriptor, values?: Values, options?: object) =>
    typeof id === "string"
      ? plainly(id, isolated(values), options)
      : plainly({ ...id, values: isolated(id.values) })) as typeof i18n._;
}
