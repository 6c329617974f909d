import { t } from "@lingui/core/macro";
import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./button";
import { useWayBack } from "./way-back";

type DialogProps = {
  open: boolean;
  onClose: () => void;
  title: string;
  says?: string;
  children: ReactNode;
  wide?: boolean;
};

/** A sheet of paper laid over the spread. */
export function Dialog({ open, onClose, title, says, children, wide = false }: DialogProps) {
  const wayBack = useWayBack(open);
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#1b2330]/40" />
        <Radix.Content
          {...(says ? {} : { "aria-describedby": undefined })}
          {...wayBack}
          className={`fixed top-[8vh] left-1/2 z-50 max-h-[86vh] w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto border border-edge bg-page p-6 ${wide ? "max-w-2xl" : "max-w-lg"}`}
        >
          <Radix.Title className="font-serif text-xl font-semibold">{title}</Radix.Title>
          {says && <Radix.Description className="mt-1 text-graphite">{says}</Radix.Description>}
          <div className="mt-4">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** A sheet beside the page, which stays in use: what is written on it speaks of what is seen there. */
export function BesideThePage({
  onClose,
  title,
  children,
}: {
  onClose: () => void;
  title: string;
  children: ReactNode;
}) {
  const wayBack = useWayBack(true);
  return (
    <Radix.Root open modal={false} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Content
          aria-describedby={undefined}
          {...wayBack}
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed inset-y-0 end-0 z-40 w-[min(25rem,100vw)] overflow-y-auto border-s border-edge bg-page p-5 print:static print:w-full print:border-0"
        >
          <div className="flex items-baseline justify-between gap-3">
            <Radix.Title className="font-serif text-xl font-semibold">{title}</Radix.Title>
            <Radix.Close asChild>
              <Button variant="quiet" data-screen-only>{t`Close`}</Button>
            </Radix.Close>
          </div>
          <div className="mt-4">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
