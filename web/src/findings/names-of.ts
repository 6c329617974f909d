import type { Schemas } from "../api/client";

/** The students in these seats, in the order of the seats. */
export const namesOf = (students: Pick<Schemas["FindingsStudent"], "seat" | "name">[], seats: number[]): string[] =>
  seats.flatMap((seat) => students.find((student) => student.seat === seat)?.name ?? []);
