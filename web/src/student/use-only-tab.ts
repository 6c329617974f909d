import { useEffect, useState } from "react";
import { newId } from "../api/new-id";

/**
 * Whether this page is the one at work on a seat. Two tabs would each hold their own idea of the answers, so the last
 * one opened works and the others step aside; any of them can take over again.
 */
export function useOnlyTab(seat: number | undefined): { mine: boolean; take: () => void } {
  const [id] = useState(newId);
  const [mine, setMine] = useState(true);
  const key = `verso.tab.${seat}`;
  useEffect(() => {
    if (seat === undefined) return;
    localStorage.setItem(key, id);
    setMine(true);
    const onStorage = (event: StorageEvent) => {
      if (event.key === key && event.newValue !== null) setMine(event.newValue === id);
    };
    addEventListener("storage", onStorage);
    return () => removeEventListener("storage", onStorage);
  }, [seat, key, id]);
  const take = () => {
    localStorage.setItem(key, id);
    setMine(true);
  };
  return { mine, take };
}
