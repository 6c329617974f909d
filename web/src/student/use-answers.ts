import { useEffect, useMemo, useRef, useState } from "react";
import { newId } from "../api/new-id";
import { type SeatPage, sendAnswers } from "./api";
import { sinceHeard } from "./heard";
import { type Given, keepGiven, outboxKey } from "./on-this-device";
import { type Change, Outbox } from "./outbox";

/** A student's answers: what the server has, overlaid with what is still on its way. */
export function useAnswers(seat: SeatPage) {
  const [, redraw] = useState(0);
  const outbox = useMemo(() => new Outbox(outboxKey(seat.seat), sendAnswers, () => redraw((n) => n + 1)), [seat.seat]);
  const sequence = useRef(Math.max(seat.sequence, ...outbox.waiting.map((change) => change.sequence)));
  const [given, setGiven] = useState<Record<string, Given>>(() => {
    const start: Record<string, Given> = {};
    for (const answer of seat.answers) start[answer.item] = { response: answer.response, comeBack: answer.come_back };
    for (const change of outbox.waiting) start[change.item] = { response: change.response, comeBack: change.come_back };
    return start;
  });
  useEffect(() => {
    const flush = () => void outbox.flush();
    flush();
    addEventListener("online", flush);
    return () => {
      removeEventListener("online", flush);
      outbox.stop();
    };
  }, [outbox]);
  useEffect(() => keepGiven(seat.seat, { sequence: sequence.current, given: newest.current }), [seat.seat]);
  // What was given so far, also for a field that gives its text while the question is already being left.
  const newest = useRef(given);
  const set = (item: string, part: Partial<Given>) => {
    const next = { ...(newest.current[item] ?? { response: null, comeBack: false }), ...part };
    newest.current = { ...newest.current, [item]: next };
    setGiven(newest.current);
    sequence.current += 1;
    const change: Change = {
      client_id: newId(),
      sequence: sequence.current,
      item,
      response: next.response,
      come_back: next.comeBack,
      ...sinceHeard(),
    };
    outbox.add(change);
    keepGiven(seat.seat, { sequence: sequence.current, given: newest.current });
  };
  return { given, set, outbox };
}
