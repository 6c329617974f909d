import { Refused } from "../../api/client";
import { type Change, joined } from "./grid";

const AGAIN = 3_000;

/**
 * Changes of marks on their way to the server: all that wait go out in one piece, the next only after the last has
 * arrived, so that they arrive in order. What could not be sent stays in this browser, also when the page is closed.
 */
export class MarksQueue<Page> {
  waiting: Change[];
  offline = false;
  error: unknown = null;
  keptAt: Date | null = null;
  private busy = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly store: string,
    private readonly send: (change: Change) => Promise<Page>,
    private readonly onPage: (page: Page) => void,
    private readonly onChange: () => void,
  ) {
    this.waiting = load(store);
  }

  add(change: Change): void {
    this.settle([...this.waiting, change]);
    void this.flush();
  }

  async flush(): Promise<void> {
    if (this.busy || this.waiting.length === 0) return;
    this.busy = true;
    clearTimeout(this.timer);
    const sent = this.waiting.length;
    let again = 0;
    try {
      const page = await this.send(joined(this.waiting));
      this.keptAt = new Date();
      this.error = null;
      this.offline = false;
      this.onPage(page);
      this.settle(this.waiting.slice(sent));
    } catch (problem) {
      const refused = problem instanceof Refused && problem.status >= 400 && problem.status < 500;
      this.offline = !refused;
      this.error = refused ? problem : null;
      // What the server refuses it would refuse again; what did not reach it waits, and so does who has to sign in.
      if (refused && problem.status !== 401) this.settle(this.waiting.slice(sent));
      else again = AGAIN;
      this.onChange();
    } finally {
      this.busy = false;
    }
    if (this.waiting.length > 0) this.timer = setTimeout(() => void this.flush(), again);
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private settle(changes: Change[]): void {
    this.waiting = changes;
    if (changes.length > 0) localStorage.setItem(this.store, JSON.stringify(changes));
    else localStorage.removeItem(this.store);
    this.onChange();
  }
}

function load(store: string): Change[] {
  try {
    return JSON.parse(localStorage.getItem(store) ?? "[]") as Change[];
  } catch {
    return [];
  }
}
