/** The name of the product beside its sign: a spread with a tick on the verso. */
export function Mark() {
  return (
    <span className="flex items-center gap-2 font-serif text-base leading-none font-bold">
      <svg viewBox="0 0 32 32" className="size-7" aria-hidden="true">
        <rect x="2" y="3" width="28" height="26" fill="var(--page)" stroke="var(--ink)" strokeWidth="2" />
        <rect x="16" y="3" width="14" height="26" fill="var(--ink)" />
        <path d="M5.5 16.5l2.8 2.8 4.7-5.4" fill="none" stroke="var(--ink)" strokeWidth="2" />
      </svg>
      <span>
        Verso
        <br className="hidden lg:block" /> Mark
      </span>
    </span>
  );
}
