import { type ReactNode, useEffect, useRef } from "react";
import { usePageTitle } from "./page-title";
import { isLost, toTheHead } from "./way-back";

type PageProps = {
  title: ReactNode;
  /** Which thing, where the title says only what is done with it. */
  of?: string | undefined;
  facts?: ReactNode;
  actions?: ReactNode;
  children: ReactNode;
};

let lastPath = "";
/** A page that was gone to is still coming, in several drawings, and nobody has pressed anything on it. */
let arriving = false;
for (const pressed of ["keydown", "pointerdown"])
  globalThis.addEventListener?.(
    pressed,
    () => {
      arriving = false;
    },
    true,
  );

/**
 * Whoever followed a link that went with its page is at the head of the next one. Where a browser begins, the link past
 * the stages comes first, so nothing is moved there.
 */
function useArrival() {
  useEffect(() => {
    arriving ||= lastPath !== "" && lastPath !== location.pathname;
    lastPath = location.pathname;
    if (arriving && isLost()) toTheHead();
  });
}

/** The open book: a running head, and below it one page or a spread of two. */
export function Page({ title, of = "", facts, actions, children }: PageProps) {
  const heading = useRef<HTMLHeadingElement>(null);
  usePageTitle(heading, of);
  useArrival();
  return (
    <main className="flex min-h-full min-w-0 flex-1 flex-col border border-hairline bg-page lg:h-full lg:min-h-0">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-hairline px-5 py-2.5">
        <h1 ref={heading} tabIndex={-1} className="min-w-0 truncate font-serif text-lg font-semibold outline-none">
          {title}
        </h1>
        {(of || facts) && (
          // What is said of a page comes when it is read, and must not move a button somebody is about to press:
          // it has a line of its own on a phone, and elsewhere breaks within its own place.
          <div className="order-last min-w-0 basis-full text-sm wrap-anywhere text-graphite sm:order-none sm:flex-1 sm:basis-40">
            {of}
            {of && facts && " · "}
            {facts}
          </div>
        )}
        <div className="ms-auto flex flex-wrap items-center gap-3" data-screen-only>
          {actions}
        </div>
      </header>
      {children}
    </main>
  );
}

type SpreadProps = {
  left: ReactNode;
  right: ReactNode;
  split?: "wide" | "even" | "narrow";
  /** What each page is about, for those who hear it. */
  names: { left: string; right: string };
};

const columns = {
  wide: "lg:grid-cols-[minmax(0,1.62fr)_minmax(0,1fr)]",
  even: "lg:grid-cols-[minmax(0,1.06fr)_minmax(0,1fr)]",
  narrow: "lg:grid-cols-[minmax(0,1fr)_minmax(0,1.35fr)]",
};

/** Verso: the thing itself. Recto: what one does or learns about it. Below one another on a narrow screen. */
export function SplitPage({ left: verso, right: recto, split = "wide", names }: SpreadProps) {
  return (
    <div className={`grid flex-1 grid-cols-1 lg:min-h-0 ${columns[split]}`}>
      <section
        aria-label={names.left}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a page that scrolls must be reachable by keyboard
        tabIndex={0}
        className="min-w-0 px-6 py-5 -outline-offset-2 lg:overflow-y-auto"
      >
        {verso}
      </section>
      <section
        aria-label={names.right}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: as above
        tabIndex={0}
        // The gutter is a background of the page and not of what scrolls on it.
        className="min-w-0 -outline-offset-2 border-t border-hairline bg-page-2 bg-[length:1.25rem_100%] bg-no-repeat px-6 py-5 lg:overflow-y-auto lg:border-t-0 lg:bg-(image:--gutter)"
      >
        {recto}
      </section>
    </div>
  );
}

/** The sentences that matter, at the head of a page of figures; files that are saved begin with them. */
export function Opening({ children }: { children: ReactNode }) {
  return (
    <p data-opening className="mb-3 font-serif text-lg leading-snug">
      {children}
    </p>
  );
}

/** Names a region in small letter-spaced capitals, with an optional remark at the right. */
export function Region({ name, remark, children }: { name: ReactNode; remark?: ReactNode; children: ReactNode }) {
  return (
    <section className="mb-6">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1 border-b border-hairline pb-2">
        <h2 className="text-xs font-semibold tracking-[0.09em] text-graphite uppercase">{name}</h2>
        {remark && <div className="text-sm text-graphite">{remark}</div>}
      </div>
      {children}
    </section>
  );
}

/** A line of a list: the fact in the margin, the thing, and the one action beside it. */
export function Line({ margin, children, action }: { margin?: ReactNode; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline py-2.5">
      {margin !== undefined && (
        <div className="w-24 shrink-0 self-start pt-1 text-sm text-graphite max-sm:w-full max-sm:pt-0">{margin}</div>
      )}
      <div className="min-w-0 flex-1 basis-48 wrap-anywhere">{children}</div>
      {action}
    </div>
  );
}

/** Why a place is empty, and what fills it. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="max-w-md py-8">
      <p className="font-serif text-xl font-semibold">{title}</p>
      <p className="mt-1 mb-4 text-graphite">{children}</p>
      {action}
    </div>
  );
}

export function Chip({ children }: { children: ReactNode }) {
  return <span className="border border-hairline bg-page px-2 py-0.5 text-sm wrap-anywhere">{children}</span>;
}
