/** A list with one part of one entry changed. */
export const changed = <T extends { id: string }>(list: T[], id: string, part: Partial<T>): T[] =>
  list.map((entry) => (entry.id === id ? { ...entry, ...part } : entry));

/** The same by place, for entries without an id. */
export const changedAt = <T>(list: T[], at: number, part: Partial<T>): T[] =>
  list.map((entry, place) => (place === at ? { ...entry, ...part } : entry));
