import { t } from "@lingui/core/macro";
import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useRef, useState } from "react";
import { Button } from "./button";

type Undo = () => unknown;
type Note = { id: number; says: string; undo?: Undo | undefined; action: string; stays: boolean };
/** `action`: what the button says where it does something else than undo; such a note goes by itself. */
type Say = (says: string, undo?: Undo, action?: string) => void;
type AllNotes = { say: Say; leave: () => void };

const Notes = createContext<AllNotes>({ say: () => {}, leave: () => {} });
/** How many can be undone at once; an older one has been left alone for long. */
const MOST = 4;
/** A note that was said just before a page was left belongs to the next one. */
const JUST_SAID = 6000;

/** Says quietly what happened, with undo beside it instead of a question before it. */
export const useSay = () => useContext(Notes).say;

/** Undo stands for as long as the page on which it was offered. */
export function useNotesOf(page: string) {
  const { leave } = useContext(Notes);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page is what it is about
  useEffect(leave, [page]);
}

export function UndoProvider({ children }: { children: ReactNode }) {
  const [notes, setNotes] = useState<Note[]>([]);
  const last = useRef(0);
  const say = useCallback<Say>((says, undo, action) => {
    last.current = Math.max(last.current + 1, Date.now());
    const note = { id: last.current, says, undo, action: action ?? t`Undo`, stays: undo !== undefined && !action };
    setNotes((some) => [...some.filter((one) => one.stays), note].slice(-MOST));
  }, []);
  const leave = useCallback(
    () => setNotes((some) => some.filter((one) => !one.stays || one.id > Date.now() - JUST_SAID)),
    [],
  );
  const gone = (id: number) => setNotes((some) => some.filter((one) => one.id !== id));
  const undo = async (note: Note) => {
    try {
      await note.undo?.();
    } catch (error) {
      say(error instanceof Error ? error.message : t`It could not be undone.`);
    }
  };
  return (
    <Notes.Provider value={{ say, leave }}>
      <Toast.Provider duration={8000} swipeDirection="down">
        {children}
        {notes.map((note) => (
          <Toast.Root
            key={note.id}
            duration={note.stays ? Number.POSITIVE_INFINITY : 8000}
            onOpenChange={(open) => !open && gone(note.id)}
            className="flex items-center gap-4 border border-edge bg-page px-4 py-2"
          >
            <Toast.Description className="min-w-0 flex-1 wrap-anywhere">{note.says}</Toast.Description>
            {note.undo && (
              <Toast.Action altText={note.action} asChild>
                <Button onClick={() => undo(note)}>{note.action}</Button>
              </Toast.Action>
            )}
            {note.stays && (
              <Toast.Close asChild>
                <Button variant="quiet">{t`Leave it so`}</Button>
              </Toast.Close>
            )}
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed bottom-5 left-1/2 z-50 flex max-w-[92vw] -translate-x-1/2 flex-col gap-2" />
      </Toast.Provider>
    </Notes.Provider>
  );
}
