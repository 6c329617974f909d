import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ComponentType, useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { ScrollBox } from "../ui/scroll-box";
import { Empty } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { ItemFacts } from "./item-line";

const MOST = 50;

/** Shows a colleague's question as students see it. Given by whoever puts the pages together, since it is the paper that
 * knows how, and that comes later in the job. */
export type LookAtQuestion = ComponentType<{ id: string }>;

export function useOwnDepartments() {
  return useQuery({
    queryKey: ["departments"],
    queryFn: () => read(api.GET("/api/v1/me/departments")),
    staleTime: 60_000,
  });
}

/** What colleagues share with one's departments: found by words, looked at, taken as a copy. */
export function SharedQuestions({ Look, onClose }: { Look: LookAtQuestion; onClose: () => void }) {
  const [search, setSearch] = useState("");
  const [open, setOpen] = useState<string>();
  const departments = useOwnDepartments();
  const found = useQuery({
    queryKey: ["shared-items", search],
    queryFn: () => read(api.GET("/api/v1/items/shared", { params: { query: { search, most: MOST } } })),
    placeholderData: keepPreviousData,
  });
  const items = found.data?.items ?? [];
  const inNone = departments.data?.length === 0;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Questions of colleagues`}
      says={t`What they share with your department. A question that you take is a copy of your own: change it as you like.`}
    >
      {inNone ? (
        <Empty title={t`You are in no department yet.`}>
          {t`An administrator of the school says who belongs to which, under “People of the school”.`}
        </Empty>
      ) : (
        <>
          <Field label={t`Find among them`}>
            {(id) => <TextInput id={id} autoFocus value={search} onChange={(event) => setSearch(event.target.value)} />}
          </Field>
          <Problem error={found.error ?? departments.error} />
          {found.data?.total === 0 && (
            <Empty title={search ? t`No question fits.` : t`Nobody shares a question yet.`}>
              {t`To share your own, choose them in the bank and say with which department.`}
            </Empty>
          )}
          <ScrollBox label={t`Questions of colleagues`}>
            <ul>
              {items.map((line) => (
                <SharedLine
                  key={line.item.id}
                  line={line}
                  Look={Look}
                  open={open === line.item.id}
                  onOpen={() => setOpen(open === line.item.id ? undefined : line.item.id)}
                  onTaken={onClose}
                />
              ))}
            </ul>
          </ScrollBox>
          {(found.data?.total ?? 0) > items.length && (
            <p className="pt-2 text-sm text-graphite">{t`The first ${items.length} of ${found.data?.total ?? 0}. Type more words to find others.`}</p>
          )}
        </>
      )}
      <div className="mt-4 text-end">
        <Button onClick={onClose}>{t`Close`}</Button>
      </div>
    </Dialog>
  );
}

type LineProps = {
  line: Schemas["SharedLine"];
  Look: LookAtQuestion;
  open: boolean;
  onOpen: () => void;
  onTaken: () => void;
};

function SharedLine({ line, Look, open, onOpen, onTaken }: LineProps) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const take = useMutation({
    mutationFn: () => read(api.POST("/api/v1/items/shared/take", { body: { ids: [line.item.id] } })),
    onSuccess: ([copy]) => {
      void changed(client, "items");
      say(t`The question is in your bank.`);
      onTaken();
      if (copy) navigate(`/bank/${copy.id}`);
    },
  });
  const name = line.item.words.slice(0, 60);
  return (
    <li className="border-b border-hairline py-2">
      <div className="flex items-start gap-3">
        <button type="button" className="min-w-0 flex-1 text-start" aria-expanded={open} onClick={onOpen}>
          <span className="line-clamp-2 font-serif leading-snug">{line.item.words}</span>
          <ItemFacts item={{ ...line.item, shared_with: "" }} />
          <span className="block text-sm text-graphite">
            {line.owner} · {line.department}
            {line.taken && <strong>{t` · in your bank already`}</strong>}
          </span>
        </button>
        <Button disabled={take.isPending} aria-label={t`Take: ${name}`} onClick={() => take.mutate()}>{t`Take`}</Button>
      </div>
      <Problem error={take.error} />
      {open && <Look id={line.item.id} />}
    </li>
  );
}

/** With which department the chosen questions are shared; nothing where one belongs to none. */
export function useSharing(ids: string[], onDone: () => void) {
  const client = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: (department: number | null) => read(api.POST("/api/v1/items/share", { body: { ids, department } })),
    onSuccess: ({ count }, department) => {
      void changed(client, "items");
      const questions = plural(count, { one: "# question", other: "# questions" });
      say(department === null ? t`${questions} shared with nobody any more.` : t`${questions} shared.`);
      onDone();
    },
  });
}
