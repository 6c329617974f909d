import { Trans } from "@lingui/react/macro";
import { type ReactNode, useRef } from "react";
import { Mark } from "../ui/mark";
import { usePageTitle } from "../ui/page-title";

/** The page before the book: one sheet on the board. */
export function WayIn({ title, says, children }: { title: string; says: string; children: ReactNode }) {
  const heading = useRef<HTMLHeadingElement>(null);
  usePageTitle(heading);
  return (
    <main className="mx-auto flex min-h-screen max-w-4xl items-center p-4">
      <div className="grid w-full border border-hairline bg-page md:grid-cols-2">
        <div className="flex flex-col justify-between gap-10 p-8">
          <Mark />
          <div>
            <h1 ref={heading} className="font-serif text-3xl leading-tight font-semibold">
              {title}
            </h1>
            <p className="mt-3 max-w-sm text-graphite">{says}</p>
          </div>
          <p className="text-sm text-graphite">
            <Trans>
              Students:{" "}
              <a className="underline underline-offset-2" href="/join">
                join with the code on the board
              </a>
            </Trans>
          </p>
        </div>
        <div className="bg-page-2 p-8">{children}</div>
      </div>
    </main>
  );
}
