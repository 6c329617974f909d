import { plural, t } from "@lingui/core/macro";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { inWords } from "../ui/code-words";
import { figure } from "../ui/words";
import { kindName } from "./kinds";

type Props = { item: Schemas["ItemLine"]; open: boolean; chosen: boolean; onChoose: () => void };

/** One question of the list, with a box to act on several. */
export function ItemLine({ item, open, chosen, onChoose }: Props) {
  return (
    <li
      className={`flex items-start border-b border-hairline border-s-3 ${open ? "border-s-iris bg-iris-wash" : "border-s-transparent"}`}
    >
      <label className="mt-1.5 flex size-8 shrink-0 cursor-pointer items-center justify-center">
        <input
          type="checkbox"
          aria-label={t`Choose: ${item.words.slice(0, 60) || t`a question without text`}`}
          className="size-4 accent-[var(--ink)]"
          checked={chosen}
          onChange={onChoose}
        />
      </label>
      <Link to={`/bank/${item.id}`} className="block min-w-0 flex-1 px-3 py-2.5" aria-current={open}>
        <span className="line-clamp-2 font-serif leading-snug">{item.words || t`A question without text`}</span>
        <ItemFacts item={item} />
      </Link>
    </li>
  );
}

/** What is known of a question, in one small line. */
export function ItemFacts({ item }: { item: Schemas["ItemLine"] }) {
  return (
    <span className="mt-0.5 block text-sm text-graphite">
      {item.skills.join(", ") || t`no skill yet`} · {kindName(item.kind)} ·{" "}
      {plural(item.marks, { one: "# mark", other: "# marks" })}
      {item.varied && t` · numbers vary`}
      {item.difficulty !== null && ` · p\u00a0${figure(item.difficulty)}`}
      {item.standing.map((found) => (
        <span key={found.short} className={found.a_fault ? "text-clay" : "text-plum"} title={found.heading}>
          {" "}
          · {found.a_fault ? `◆ ${found.short} (${inWords(found.confidence)})` : t`shows an idea`}
        </span>
      ))}
      {item.shared_with && t` · shared with ${item.shared_with}`}
      {!item.ready && <span className="text-ochre"> {t`· ◐ not finished`}</span>}
    </span>
  );
}
