import { t } from "@lingui/core/macro";
import { Refused } from "../api/client";
import { newId } from "../api/new-id";

/** One change on its way to the server. Its id travels along, so that sending it twice is the same as once. */
export type Entry<Body = unknown> = {
  id: string;
  /** Place in the line; rises with the clock, so that tabs of one browser agree on it. */
  order: number;
  kind: string;
  /** What it changes; where a kind lets the newest replace an older one, that of the same slot goes. */
  slot: string;
  /** For the person, should it be refused: “Question 12, No. 7”. */
  name: string;
  body: Body;
  /** Why the server will not have it; it stays until its sender has seen that. */
  refusal?: string;
  /** Begun and not to be sent before its writer says so. */
  parked?: boolean;
};

/** How changes of one kind are sent. */
export type Sender<Body = never, Reply = unknown> = {
  send: (body: Body, id: string, signal: AbortSignal) => Promise<Reply>;
  /** The server has it. The reply is undefined where an earlier delivery had brought it. */
  arrived: (entry: Entry<Body>, reply: Reply | undefined) => unknown;
  /** Two that follow each other as one; kinds without it go one by one. */
  join?: (earlier: Body, later: Body) => Body;
  /** Only the newest of a slot counts. */
  newestOnly?: boolean;
  /** No work of the teacher's, so nobody is told that it waits. */
  silent?: boolean;
  /** Large: it goes when nothing else waits, and may take its time. */
  large?: boolean;
};

export type OutboxState = {
  waiting: number;
  refused: Entry[];
  trouble: "none" | "offline" | "signed out";
  /** False where this browser lets nothing be stored: then a closed tab would lose what waits. */
  safe: boolean;
};

const WAITS = [500, 1000, 2000, 4000, 8000, 15_000];
/** A tab that is ended while it sends keeps the others waiting no longer than this. */
const LEASE = 5_000;
const PATIENCE = 20_000;
const PATIENCE_WITH_LARGE = 600_000;
/** Answers that say nothing about the change itself: sending again may help, for as long as it takes. */
const PASSING = new Set([0, 401, 403, 408, 425, 429, 502, 503, 504, 507]);
const MOST_FAILURES = 4;
const SHOWN_WITHIN = 5_000;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Everything a teacher changed at speed that is not known to be on the server's disk: marks, numbers, cards. It is in
 * this browser's store before anything else, goes out in order and one at a time, again until it is acknowledged, from
 * whichever tab is open, after an outage, a reload or a new sign-in. One outbox a teacher: what one of them typed is
 * never sent as another's.
 */
export class Outbox {
  state: OutboxState = { waiting: 0, refused: [], trouble: "none", safe: true };
  #entries: Entry[] = [];
  #senders = new Map<string, Sender>();
  #arrived = new Map<string, Date>();
  #due = new Map<string, number>();
  #tries = 0;
  #failures = new Map<string, number>();
  #running: Promise<void> | undefined;
  #inFlight: string | null = null;
  #closed = false;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #listeners = new Set<() => void>();
  #tab = newId();
  readonly #prefix: string;
  readonly #store: Storage;

  constructor(owner: string, store: Storage = localStorage) {
    this.#prefix = `verso.outbox.${owner}.`;
    this.#store = store;
    this.#reload();
  }

  register<Body, Reply>(kind: string, sender: Sender<Body, Reply>): void {
    this.#senders.set(kind, sender as unknown as Sender);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => void this.#listeners.delete(listener);
  };

  getState = (): OutboxState => this.state;

  /** What waits of one kind, in order. */
  of<Body>(kind: string): Entry<Body>[] {
    return this.#entries.filter((entry) => entry.kind === kind) as Entry<Body>[];
  }

  newest<Body>(kind: string, slot: string): Entry<Body> | undefined {
    return this.of<Body>(kind).findLast((entry) => entry.slot === slot);
  }

  /** When the server had a change of this kind last, since the page was opened. */
  arrivedAt(kind: string): Date | null {
    return this.#arrived.get(kind) ?? null;
  }

  /** Stored at once, sent after `pause` ms; another of the same slot within that time replaces it. */
  put<Body>(
    kind: string,
    slot: string,
    name: string,
    body: Body,
    more: { pause?: number; parked?: boolean } = {},
  ): void {
    const order = Math.max(Date.now(), (this.#entries.at(-1)?.order ?? 0) + 1);
    const entry: Entry = { id: newId(), order, kind, slot, name, body };
    if (more.parked) entry.parked = true;
    this.#due.set(entry.id, Date.now() + (more.pause ?? 0));
    const replaced = this.#senders.get(kind)?.newestOnly
      ? this.#entries.filter((one) => one.kind === kind && one.slot === slot && one.id !== this.#inFlight)
      : [];
    // The new one is stored before the old one goes: a browser that is ended in between has both, and not neither.
    this.#write(entry);
    for (const one of replaced) this.#remove(one.id);
    this.#changed();
    void this.flush();
  }

  /** Forget what waits in a slot: its writer took it back, or has seen that it was refused. */
  drop(kind: string, slot: string): void {
    for (const entry of this.of(kind)) if (entry.slot === slot) this.#remove(entry.id);
    this.#changed();
  }

  /** Send what was refused once more. */
  retry(): void {
    for (const entry of this.#entries.filter((one) => one.refusal)) {
      const { refusal: _, ...again } = entry;
      this.#failures.delete(entry.id);
      this.#write(again);
    }
    this.#changed();
    void this.flush();
  }

  dropRefused(): void {
    for (const entry of this.#entries.filter((one) => one.refusal)) this.#remove(entry.id);
    this.#changed();
  }

  /** Another tab of this browser stored or sent something. */
  hear(key: string | null): void {
    if (key !== null && !key.startsWith(this.#prefix)) return;
    const before = new Map(this.#entries.map((entry) => [entry.id, entry]));
    this.#reload();
    for (const entry of this.#entries) before.delete(entry.id);
    for (const entry of before.values()) this.#senders.get(entry.kind)?.arrived(entry as Entry<never>, undefined);
    this.#changed();
    void this.flush();
  }

  /** Resolves once nothing can be done now: all is sent, or what is left waits for its time or the connection. */
  flush(): Promise<void> {
    this.#running ??= this.#run().finally(() => {
      this.#running = undefined;
    });
    return this.#running;
  }

  /** As `flush`, at once: the connection is back, or somebody asks for it. */
  sendNow(): Promise<void> {
    this.#tries = 0;
    return this.flush();
  }

  stop(): void {
    clearTimeout(this.#timer);
    this.#listeners.clear();
    this.release();
  }

  /** Let another tab send: this one is closed, and what it still hears in its last moments starts nothing. */
  release = (): void => {
    this.#closed = true;
    clearTimeout(this.#timer);
    this.#leave();
  };

  /** A page that was closed is shown again. */
  reopen = (): void => {
    this.#closed = false;
    this.hear(null);
  };

  async #run(): Promise<void> {
    clearTimeout(this.#timer);
    while (!this.#closed) {
      const entry = this.#next();
      if (!entry) break;
      const rest = (this.#due.get(entry.id) ?? 0) - Date.now();
      if (rest > 0) return this.#later(rest);
      if (!this.#lease()) return this.#later(1000);
      const sender = this.#senders.get(entry.kind) as Sender;
      const whole = this.#joined(entry, sender);
      this.#inFlight = whole.id;
      const renewing = setInterval(() => this.#lease(), LEASE / 3);
      try {
        const reply = await sender.send(
          whole.body as never,
          whole.id,
          AbortSignal.timeout(sender.large ? PATIENCE_WITH_LARGE : PATIENCE),
        );
        // Shown from the server's answer before it leaves the store: in between it would be seen nowhere.
        await Promise.race([sender.arrived(whole as Entry<never>, reply), pause(SHOWN_WITHIN)]);
        this.#inFlight = null;
        this.#remove(whole.id);
        this.#tries = 0;
        this.state.trouble = "none";
        this.#arrived.set(whole.kind, new Date());
        this.#changed();
      } catch (error) {
        this.#inFlight = null;
        if (!this.#failed(whole, error)) return;
      } finally {
        clearInterval(renewing);
      }
    }
    this.#leave();
  }

  /** Whether to go on with the next one. */
  #failed(entry: Entry, error: unknown): boolean {
    const status = error instanceof Refused ? error.status : 0;
    const failures = (this.#failures.get(entry.id) ?? 0) + 1;
    this.#failures.set(entry.id, failures);
    if (!PASSING.has(status) && (status < 500 || failures >= MOST_FAILURES)) {
      // Nothing of it is lost: it stays in the store, out of the line, and its writer is told why.
      if (this.#senders.get(entry.kind)?.silent) this.#remove(entry.id);
      else if (this.#entries.some((one) => one.id === entry.id))
        this.#write({ ...entry, refusal: error instanceof Error ? error.message : t`It was not taken.` });
      this.#changed();
      return true;
    }
    // What was typed while this one was on its way says all that it said.
    if (this.#senders.get(entry.kind)?.newestOnly && this.newest(entry.kind, entry.slot)?.id !== entry.id)
      this.#remove(entry.id);
    this.#changed();
    this.#set({ trouble: status === 401 ? "signed out" : "offline" });
    this.#later(WAITS[Math.min(this.#tries, WAITS.length - 1)] as number);
    this.#tries += 1;
    this.#leave();
    return false;
  }

  #next(): Entry | undefined {
    const line = this.#entries.filter((entry) => !entry.refusal && !entry.parked && this.#senders.has(entry.kind));
    return line.find((entry) => !this.#senders.get(entry.kind)?.large) ?? line[0];
  }

  /** The entry with those right behind it that can go along. */
  #joined(first: Entry, sender: Sender): Entry {
    if (!sender.join) return first;
    const line = this.#entries.filter((entry) => !entry.refusal && !entry.parked);
    const along: Entry[] = [];
    for (const entry of line.slice(1)) {
      if (entry.kind !== first.kind || entry.slot !== first.slot) break;
      along.push(entry);
    }
    // One that was tried keeps its id and its content, since it may have arrived.
    if (along.length === 0 || this.#failures.has(first.id)) return first;
    const body = along.reduce((sum, entry) => sender.join?.(sum as never, entry.body as never) as unknown, first.body);
    const whole: Entry = { ...first, id: newId(), body };
    this.#write(whole);
    for (const entry of [first, ...along]) this.#remove(entry.id);
    return whole;
  }

  /** Only one tab sends at a time, so that what arrives stays in order. */
  #lease(): boolean {
    if (this.#closed) return false;
    try {
      const held = JSON.parse(this.#store.getItem(`${this.#prefix}lease`) ?? "null") as [string, number] | null;
      if (held && held[0] !== this.#tab && held[1] > Date.now()) return false;
      this.#store.setItem(`${this.#prefix}lease`, JSON.stringify([this.#tab, Date.now() + LEASE]));
    } catch {
      // Without a store there is no other tab to wait for.
    }
    return true;
  }

  #leave(): void {
    const held = this.#store.getItem(`${this.#prefix}lease`);
    if (held?.includes(this.#tab)) this.#store.removeItem(`${this.#prefix}lease`);
  }

  #later(wait: number): void {
    clearTimeout(this.#timer);
    if (this.#closed) return;
    this.#timer = setTimeout(() => void this.flush(), wait);
  }

  #write(entry: Entry): void {
    this.#entries = [...this.#entries.filter((one) => one.id !== entry.id), entry].sort((a, b) => a.order - b.order);
    try {
      this.#store.setItem(`${this.#prefix}e.${entry.id}`, JSON.stringify(entry));
    } catch {
      this.#set({ safe: false });
    }
  }

  #remove(id: string): void {
    this.#entries = this.#entries.filter((entry) => entry.id !== id);
    this.#due.delete(id);
    this.#failures.delete(id);
    this.#store.removeItem(`${this.#prefix}e.${id}`);
  }

  #reload(): void {
    const found: Entry[] = [];
    for (let at = 0; at < this.#store.length; at++) {
      const key = this.#store.key(at);
      if (!key?.startsWith(`${this.#prefix}e.`)) continue;
      try {
        found.push(JSON.parse(this.#store.getItem(key) ?? "") as Entry);
      } catch {
        // Half a line of a browser that was ended while it wrote.
      }
    }
    this.#entries = found.sort((a, b) => a.order - b.order);
    this.#changed();
  }

  #changed(): void {
    const loud = this.#entries.filter((entry) => !this.#senders.get(entry.kind)?.silent);
    const refused = loud.filter((entry) => entry.refusal);
    this.#set({ waiting: loud.filter((entry) => !entry.refusal && !entry.parked).length, refused });
  }

  #set(part: Partial<OutboxState>): void {
    this.state = { ...this.state, ...part };
    if (this.state.waiting === 0) this.state.trouble = "none";
    for (const listener of this.#listeners) listener();
  }
}
