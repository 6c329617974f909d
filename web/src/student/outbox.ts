import type { When } from "./heard";
import type { Response } from "./kinds/types";

/** One change on its way to the server. The id makes sending it twice the same as once. */
export type Change = {
  client_id: string;
  sequence: number;
  item: string;
  response: Response | null;
  come_back: boolean;
} & When;
export type Delivery = "kept" | "sending" | "waiting" | "refused";
type Send = (changes: Change[]) => Promise<string[]>;

const WAITS = [500, 1000, 2000, 4000, 8000];

/** A refusal that sending again will not change. */
export class Refusal extends Error {}

/**
 * The answers that are not known to be on the server's disk. They are written to this device first, sent in order, sent
 * again until they are acknowledged, and only then forgotten.
 */
export class Outbox {
  #changes: Change[];
  #running: Promise<boolean> | undefined;
  #tries = 0;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #refusal: string | null = null;
  readonly #key: string;
  readonly #send: Send;
  readonly #onChange: () => void;
  readonly #store: Storage;

  constructor(key: string, send: Send, onChange: () => void, store: Storage = localStorage) {
    this.#key = key;
    this.#send = send;
    this.#onChange = onChange;
    this.#store = store;
    this.#changes = JSON.parse(store.getItem(key) ?? "[]");
  }

  get waiting(): readonly Change[] {
    return this.#changes;
  }

  /** How many questions something waits of: an answer that was changed twice is one. */
  get questionsWaiting(): number {
    return new Set(this.#changes.map((change) => change.item)).size;
  }

  get refusal(): string | null {
    return this.#refusal;
  }

  get delivery(): Delivery {
    if (this.#refusal) return "refused";
    if (this.#changes.length === 0) return "kept";
    return this.#tries > 0 ? "waiting" : "sending";
  }

  add(change: Change): void {
    this.#changes = [...this.#changes, change];
    this.#keep();
    void this.flush();
  }

  /** Sends what waits; resolves to whether everything is on the server now. Joins a sending that is under way. */
  flush(): Promise<boolean> {
    clearTimeout(this.#timer);
    this.#running ??= this.#run().finally(() => {
      this.#running = undefined;
    });
    return this.#running;
  }

  stop(): void {
    clearTimeout(this.#timer);
  }

  async #run(): Promise<boolean> {
    try {
      while (this.#changes.length > 0) {
        const kept = new Set(await this.#send(this.#changes.slice(0, 100)));
        this.#changes = this.#changes.filter((change) => !kept.has(change.client_id));
        this.#tries = 0;
        this.#refusal = null;
        this.#keep();
      }
      this.#refusal = null;
    } catch (error) {
      if (error instanceof Refusal) this.#refusal = error.message;
      const wait = WAITS[Math.min(this.#tries, WAITS.length - 1)];
      this.#tries += 1;
      this.#timer = setTimeout(() => void this.flush(), wait);
      this.#onChange();
    }
    return this.#changes.length === 0;
  }

  #keep(): void {
    if (this.#changes.length > 0) this.#store.setItem(this.#key, JSON.stringify(this.#changes));
    else this.#store.removeItem(this.#key);
    this.#onChange();
  }
}
