import { t } from "@lingui/core/macro";
import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { Button } from "./button";

type Say = (says: string, undo?: () => void, action?: string) => void;
type Note = { id: number; says: string; undo?: (() => void) | undefined; action: string };
const Notes = createContext<Say>(() => {});

/** Says quietly what happened, with undo beside it instead of a question before it. */
export const useSay = () => useContext(Notes);

export function UndoProvider({ children }: { children: ReactNode }) {
  const [note, setNote] = useState<Note | null>(null);
  const say = useCallback<Say>((says, undo, action = t`Undo`) => setNote({ id: Date.now(), says, undo, action }), []);
  return (
    <Notes.Provider value={say}>
      <Toast.Provider duration={8000} swipeDirection="down">
        {children}
        {note && (
          <Toast.Root
            key={note.id}
            onOpenChange={(open) => !open && setNote(null)}
            className="flex items-center gap-4 border border-edge bg-page px-4 py-2"
          >
            <Toast.Description>{note.says}</Toast.Description>
            {note.undo && (
              <Toast.Action altText={note.action} asChild>
                <Button onClick={note.undo}>{note.action}</Button>
              </Toast.Action>
            )}
          </Toast.Root>
        )}
        <Toast.Viewport className="fixed bottom-5 left-1/2 z-50 -translate-x-1/2" />
      </Toast.Provider>
    </Notes.Provider>
  );
}
