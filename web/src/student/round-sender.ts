import { newId } from "../api/new-id";
import type { StudentRoom } from "./api";
import type { Response } from "./kinds/types";
import { Refusal } from "./outbox";

const AGAIN = 2_000;

type Change = { client_id: string; round: number; response: Response | null };

/**
 * The answer of a round on its way: the newest is what counts, so only one waits. Tried until it arrives or is refused;
 * the id goes along, so that the same answer arriving twice is kept once.
 */
export class RoundSender {
  unsent: Change | null = null;
  lost = false;
  /** Why the last answer was not taken, in the server's words. */
  says: string | null = null;
  private busy = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly send: (change: Change) => Promise<StudentRoom>,
    private readonly onRoom: (room: StudentRoom) => void,
    private readonly onChange: () => void,
  ) {}

  give(round: number, response: Response | null): void {
    this.unsent = { client_id: newId(), round, response };
    this.says = null;
    this.onChange();
    void this.flush();
  }

  /** What was chosen in a round and has not arrived yet; undefined where nothing waits for it. */
  of(round: number | null): Response | null | undefined {
    return this.unsent && this.unsent.round === round ? this.unsent.response : undefined;
  }

  async flush(): Promise<void> {
    if (this.busy || !this.unsent) return;
    this.busy = true;
    clearTimeout(this.timer);
    const sent = this.unsent;
    let again = false;
    try {
      const room = await this.send(sent);
      this.lost = false;
      if (this.unsent === sent) this.unsent = null;
      this.onRoom(room);
    } catch (error) {
      again = !(error instanceof Refusal);
      this.lost = again;
      if (!again) {
        this.says = (error as Error).message;
        if (this.unsent === sent) this.unsent = null;
      }
    } finally {
      this.busy = false;
    }
    this.onChange();
    // Chosen anew meanwhile, or not arrived: that goes out next.
    if (this.unsent) this.timer = setTimeout(() => void this.flush(), again ? AGAIN : 0);
  }

  stop(): void {
    clearTimeout(this.timer);
  }
}
