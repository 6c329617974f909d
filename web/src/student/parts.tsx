import { type ComponentProps, type ReactNode, useEffect, useRef } from "react";

const looks = { main: "border-ink bg-ink text-page", plain: "border-edge/60 bg-page text-ink" };

/** A button for a thumb. */
export function BigButton({
  look = "plain",
  className = "",
  ...rest
}: ComponentProps<"button"> & { look?: keyof typeof looks }) {
  return (
    <button
      type="button"
      className={`min-h-12 rounded-xs border px-4.5 text-lg font-semibold whitespace-nowrap disabled:opacity-50 ${looks[look]} ${className}`}
      {...rest}
    />
  );
}

/** For the main part of a page that has just come: keys and ears go on there. */
export const focusOnArrival = (main: HTMLElement | null): void => main?.focus({ preventScroll: true });

/** A calm page with one message, for everything that is not a question. */
export function Sheet({ title, children }: { title: string; children: ReactNode }) {
  const heading = useRef<HTMLHeadingElement>(null);
  // What was pressed went with the page it stood on: keys and ears go on at the head of this one.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another message is another page
  useEffect(() => heading.current?.focus({ preventScroll: true }), [title]);
  return (
    <main className="mx-auto flex min-h-dvh max-w-xl flex-col justify-center bg-page px-6 py-10">
      <h1 ref={heading} tabIndex={-1} className="font-serif text-3xl leading-tight font-semibold outline-none">
        {title}
      </h1>
      <div className="mt-3 text-lg">{children}</div>
    </main>
  );
}

export function Alert({ says }: { says: string | null }) {
  return says ? (
    <p role="alert" className="my-3 border-s-2 border-clay bg-clay-wash px-3 py-2 text-lg">
      {says}
    </p>
  ) : null;
}
