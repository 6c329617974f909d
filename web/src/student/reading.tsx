import { t } from "@lingui/core/macro";
import { Rich } from "../ui/rich";
import type { Page, Section, Stimulus } from "./steps";

/** A page to read, between the questions. */
export function TeachingPage({ page }: { page: Page }) {
  return (
    <article>
      {page.title && <h2 className="mb-3 font-serif text-3xl leading-tight font-semibold">{page.title}</h2>}
      <Rich html={page.body} className="font-serif text-xl leading-relaxed" />
    </article>
  );
}

/** The heading of a section, before its first question. */
export function SectionHead({ section }: { section: Section }) {
  const count = section.last - section.first + 1;
  if (!section.title && !section.instructions && !section.choose) return null;
  return (
    <div className="mb-6 border-b border-hairline pb-4">
      {section.title && <h2 className="font-serif text-2xl font-semibold">{section.title}</h2>}
      {section.choose && (
        <p className="mt-1 font-semibold">{t`Answer ${section.choose} of the ${count} questions ${section.first} to ${section.last}. If you answer more, the first ${section.choose} count.`}</p>
      )}
      <Rich html={section.instructions} className="mt-1 text-lg" />
    </div>
  );
}

/** The passage or picture that a question is about. */
export function StimulusView({ stimulus }: { stimulus: Stimulus }) {
  return (
    <section aria-label={stimulus.title || t`What the questions are about`} className="border-s-2 border-edge ps-4">
      {stimulus.title && <h2 className="mb-1 font-serif text-xl font-semibold">{stimulus.title}</h2>}
      <Rich html={stimulus.body} className="font-serif text-lg leading-relaxed" />
    </section>
  );
}
