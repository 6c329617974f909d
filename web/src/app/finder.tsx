import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Dialog } from "../ui/dialog";
import { TextInput } from "../ui/field";
import { KeyCap } from "../ui/key-cap";

/** Find anything by typing: classes, students, tests, sittings, questions. */
export function Finder({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        onOpen(true);
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [onOpen]);
  const found = useQuery({
    queryKey: ["find", typed],
    queryFn: () => read(api.GET("/api/v1/find", { params: { query: { typed } } })),
    enabled: open && typed.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const lines = typed.trim() ? (found.data ?? []) : [];
  const go = (path: string) => {
    onOpen(false);
    setTyped("");
    navigate(path);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt((now) => Math.min(now + 1, lines.length - 1));
    else if (event.key === "ArrowUp") setAt((now) => Math.max(now - 1, 0));
    else if (event.key === "Enter" && lines[at]) go(lines[at].path);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog open={open} onClose={() => onOpen(false)} title="Find" wide>
      <TextInput
        autoFocus
        role="combobox"
        aria-label="Type a name or a few words"
        aria-expanded={lines.length > 0}
        aria-controls="found"
        aria-activedescendant={lines[at] ? `found-${at}` : undefined}
        placeholder="A class, a student, a question, a test, a code…"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
      />
      <div id="found" role="listbox" aria-label="Found" className="mt-3">
        {lines.map((line, place) => (
          <div
            key={`${line.path} ${line.title}`}
            id={`found-${place}`}
            role="option"
            aria-selected={place === at}
            tabIndex={-1}
            onClick={() => go(line.path)}
            onKeyDown={onKeyDown}
            className={`flex cursor-pointer items-baseline gap-3 px-2 py-1.5 ${place === at ? "bg-iris-wash" : ""}`}
          >
            <span className="w-20 shrink-0 text-sm text-graphite">{line.kind}</span>
            <span className="min-w-0 flex-1 truncate font-serif">{line.title}</span>
            <span className="shrink-0 text-sm text-graphite">{line.detail}</span>
            {place === at && <KeyCap>Enter</KeyCap>}
          </div>
        ))}
      </div>
      {typed.trim() && found.data?.length === 0 && (
        <p className="mt-2 text-graphite">Nothing holds all of these words.</p>
      )}
    </Dialog>
  );
}
