import { t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Dialog } from "../ui/dialog";
import { folded } from "../ui/folded";
import { KeyCap } from "../ui/key-cap";
import { actsOnThisPage, type PageAct } from "../ui/on-this-page";
import { type Action, actionsAnywhere, actionsHere, inHand, matching, noteRecent, recent } from "./actions";

const MOST_ACTIONS = 6;

/** Find anything by typing: what is done where, and classes, students, tests, sittings, questions. */
export function Finder({ onClose }: { onClose: () => void }) {
  const [typed, setTyped] = useState("");
  const [onPage] = useState(actsOnThisPage);
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ["find", typed],
    queryFn: () => read(api.GET("/api/v1/find", { params: { query: { typed } } })),
    enabled: typed.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const lines = typed.trim() ? (found.data ?? []) : [];
  const here = actionsHere(inHand(useLocation().pathname));
  const every = [...here, ...actionsAnywhere()];
  const before = recent().flatMap((to) => every.find((one) => one.to === to && !here.includes(one)) ?? []);
  const actions = typed.trim() ? matching(every, typed).slice(0, MOST_ACTIONS) : [...here, ...before];
  const words = folded(typed).split(/\s+/).filter(Boolean);
  // A link at the head of the page to what is in the list already.
  const known = new Set(every.map(({ to }) => to));
  const held = onPage.filter(
    ({ name, says, to }) => !known.has(to) && words.every((word) => folded(`${name} ${says}`).includes(word)),
  );

  const first = typed.trim() ? held.slice(0, MOST_ACTIONS) : held.filter((act) => act.head);
  const last = typed.trim() ? [] : held.filter((act) => !act.head);
  const press = (act: PageAct) => {
    onClose();
    // The page has the focus back by then, and a dialog of its own can take it.
    requestAnimationFrame(act.does);
  };
  const go = (path: string) => {
    if (every.some((one) => one.to === path)) noteRecent(path);
    onClose();
    navigate(path);
  };
  return (
    <Dialog open onClose={onClose} title={t`Find`} wide>
      {/* The server has chosen the lines and their order. */}
      <Command shouldFilter={false} loop label={t`Type a name or a few words`}>
        <Command.Input
          autoFocus
          placeholder={t`What you want to do, a class, a student, a question, a code…`}
          value={typed}
          onValueChange={setTyped}
          className="w-full border border-edge bg-page px-2.5 py-1.5"
        />
        <Command.List label={t`Found`} className="mt-3 max-h-[60vh] overflow-y-auto">
          {first.map((act) => (
            <ActLine key={act.name} act={act} onPress={() => press(act)} />
          ))}
          {actions.map((action) => (
            <ActionLine key={action.to} action={action} onGo={() => go(action.to)} />
          ))}
          {last.map((act) => (
            <ActLine key={act.name} act={act} onPress={() => press(act)} />
          ))}
          {lines.map((line) => (
            <Command.Item
              key={`${line.path} ${line.title}`}
              value={`${line.path} ${line.title}`}
              onSelect={() => go(line.path)}
              className="group/line flex cursor-pointer items-baseline gap-3 px-2 py-1.5 data-[selected=true]:bg-iris-wash"
            >
              <span className="w-20 shrink-0 text-graphite text-sm">{line.kind}</span>
              <span className="min-w-0 flex-1 truncate font-serif">{line.title}</span>
              <span className="shrink-0 text-graphite text-sm">{line.detail}</span>
              <span className="hidden group-data-[selected=true]/line:block">
                <KeyCap>{t`Enter`}</KeyCap>
              </span>
            </Command.Item>
          ))}
          {typed.trim() && found.data?.length === 0 && actions.length === 0 && first.length === 0 && (
            <p className="mt-2 text-graphite">{t`Nothing holds all of these words.`}</p>
          )}
        </Command.List>
      </Command>
    </Dialog>
  );
}

/** Something on the page behind, done from here. */
function ActLine({ act, onPress }: { act: PageAct; onPress: () => void }) {
  return (
    <Command.Item
      value={`on this page ${act.name}`}
      onSelect={onPress}
      className="group/line flex cursor-pointer items-baseline gap-3 px-2 py-1.5 data-[selected=true]:bg-iris-wash"
    >
      <span className="shrink-0 font-semibold">{act.name}</span>
      <span className="min-w-0 flex-1 truncate text-sm text-graphite">{act.says || t`on this page`}</span>
      <span className="hidden group-data-[selected=true]/line:block">
        <KeyCap>{t`Enter`}</KeyCap>
      </span>
    </Command.Item>
  );
}

function ActionLine({ action, onGo }: { action: Action; onGo: () => void }) {
  return (
    <Command.Item
      value={action.to}
      onSelect={onGo}
      className="group/line flex cursor-pointer items-baseline gap-3 px-2 py-1.5 data-[selected=true]:bg-iris-wash"
    >
      <span className="shrink-0 font-semibold">{action.name}</span>
      <span className="min-w-0 flex-1 truncate text-sm text-graphite">{action.says}</span>
      <span className="hidden group-data-[selected=true]/line:block">
        <KeyCap>{t`Enter`}</KeyCap>
      </span>
    </Command.Item>
  );
}
