import { Toast } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { Button } from "./button";

type Note = { id: number; says: string; undo?: (() => void) | undefined };
const Notes = createContext<(says: string, undo?: () => void) => void>(() => {});

/** Says quietly what happened, with undo beside it instead of a question before it. */
export const useSay = () => useContext(Notes);

export function UndoProvider({ children }: { children: ReactNode }) {
  const [note, setNote] = useState<Note | null>(null);
  const say = useCallback((says: string, undo?: () => void) => setNote({ id: Date.now(), says, undo }), []);
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
              <Toast.Action altText="Undo" asChild>
                <Button onClick={note.undo}>Undo</Button>
              </Toast.Action>
            )}
          </Toast.Root>
        )}
        <Toast.Viewport className="fixed bottom-5 left-1/2 z-50 -translate-x-1/2" />
      </Toast.Provider>
    </Notes.Provider>
  );
}
