const KEY = "verso.heard";

/** When something was done: the server's last moment on this device, and how long ago that was by its own count. */
export type When = { moment: string; seconds_since: number };

/** Milliseconds that go on evenly while the page is open, whatever is done to the clock of the device. */
const count = () => performance.timeOrigin + performance.now();

/** A reply came through, with the server's time as it signed it. */
export function heard(moment: string, store: Storage = localStorage): void {
  store.setItem(KEY, JSON.stringify({ moment, at: count() }));
}

/** Now, as the server will understand it whenever it hears of it. */
export function sinceHeard(store: Storage = localStorage): When {
  const last = store.getItem(KEY);
  if (last === null) return { moment: "", seconds_since: 0 };
  const { moment, at } = JSON.parse(last) as { moment: string; at: number };
  return { moment, seconds_since: Math.max(0, (count() - at) / 1000) };
}
