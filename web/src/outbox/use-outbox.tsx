import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from "react";
import { useNavigate } from "react-router";
import { useSay } from "../ui/undo";
import { Outbox } from "./outbox";

/** What a sender needs to show that something arrived. */
export type Surroundings = {
  outbox: Outbox;
  client: QueryClient;
  say: ReturnType<typeof useSay>;
  go: (to: string) => void;
};

const Current = createContext<Outbox | null>(null);

type Props = {
  /** Whose it is: what one teacher typed is never sent as another's. */
  owner: number;
  register: (surroundings: Surroundings) => void;
  children: ReactNode;
};

/** Holds the outbox of the teacher who is signed in, and sends from it whatever page is open. */
export function OutboxProvider({ owner, register, children }: Props) {
  const client = useQueryClient();
  const say = useSay();
  const navigate = useNavigate();
  const [outbox, setOutbox] = useState<Outbox | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: one outbox a teacher; what it says and where it goes never change meaning
  useEffect(() => {
    const made = new Outbox(String(owner));
    register({ outbox: made, client, say, go: (to) => void navigate(to) });
    setOutbox(made);
    const hear = (event: StorageEvent) => made.hear(event.key);
    const again = () => void made.sendNow();
    addEventListener("storage", hear);
    addEventListener("online", again);
    addEventListener("pagehide", made.release);
    addEventListener("pageshow", made.reopen);
    void made.flush();
    return () => {
      removeEventListener("storage", hear);
      removeEventListener("online", again);
      removeEventListener("pagehide", made.release);
      removeEventListener("pageshow", made.reopen);
      made.stop();
    };
  }, [owner]);
  return outbox && <Current.Provider value={outbox}>{children}</Current.Provider>;
}

export function useOutbox(): Outbox {
  const outbox = useContext(Current);
  if (!outbox) throw new Error("There is no outbox around this.");
  return outbox;
}

/** Draws anew whenever something is stored, sent or refused. */
export function useOutboxState() {
  const outbox = useOutbox();
  return useSyncExternalStore(outbox.subscribe, outbox.getState);
}
