import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";

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
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#1b2330]/40" />
        <Radix.Content
          {...(says ? {} : { "aria-describedby": undefined })}
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
