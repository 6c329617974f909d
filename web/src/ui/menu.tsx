import { DropdownMenu } from "radix-ui";
import { type ReactNode, useRef } from "react";
import { isKeyOfThePage } from "./keys";
import { type Choice, useFoundByWords } from "./on-this-page";
import { noteMenu } from "./way-back";

type Props = { trigger: ReactNode; choices: Choice[]; open?: boolean; onOpen?: (open: boolean) => void };

/** A list of things to do, under the button that opens it. */
export function Menu({ trigger, choices, open, onOpen }: Props) {
  useFoundByWords(choices);
  const button = useRef<HTMLButtonElement>(null);
  const control = open === undefined ? {} : { open, ...(onOpen ? { onOpenChange: onOpen } : {}) };
  return (
    <DropdownMenu.Root modal={false} {...control}>
      <DropdownMenu.Trigger
        asChild
        ref={button}
        // Enter keeps a mark, and opens no menu, where the focus only came back to its button.
        onKeyDown={(event) => isKeyOfThePage(event.nativeEvent) && event.preventDefault()}
      >
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 max-h-[80vh] min-w-56 overflow-y-auto border border-edge bg-page py-1"
        >
          {choices.map((choice, at) => (
            <DropdownMenu.Item
              // biome-ignore lint/suspicious/noArrayIndexKey: the choices of a menu do not move
              key={at}
              disabled={choice.disabled ?? false}
              onSelect={() => {
                noteMenu(button.current);
                choice.onChoose();
              }}
              className="cursor-pointer px-4 py-1.5 outline-none data-disabled:cursor-default data-disabled:opacity-50 data-highlighted:bg-iris-wash"
            >
              <span className="font-semibold">{choice.name}</span>
              {choice.says && <span className="ms-2 text-sm text-graphite">{choice.says}</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
