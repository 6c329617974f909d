import { t } from "@lingui/core/macro";
import { choose } from "../language/choose";
import { LANGUAGES, type Language, language } from "../language/locales";

type Props = { languages?: Language[]; className?: string };

/** The languages there are, each by its own name, so that whoever cannot read this page finds theirs. */
export function LanguageLine({ languages = Object.keys(LANGUAGES) as Language[], className = "" }: Props) {
  return (
    <p className={`flex flex-wrap gap-x-5 ${className}`}>
      <span className="sr-only">{t`Language`}</span>
      {languages.map((one) => (
        <button
          key={one}
          type="button"
          lang={one}
          dir="auto"
          className={one === language() ? "font-semibold" : "underline underline-offset-2"}
          aria-pressed={one === language()}
          onClick={() => one !== language() && choose(one)}
        >
          {LANGUAGES[one]}
        </button>
      ))}
    </p>
  );
}
