const two = (number: number) => String(number).padStart(2, "0");

/** A day of this computer's zone, as a value of a list. */
export const dayOfLesson = (date: Date): string =>
  `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;

/** When a period begins on a day, by the clock of this computer: an hour that is put forward or back stays the hour on
 * the wall. `starts` is hh:mm or hh:mm:ss. */
export function momentOfLesson(day: string, starts: string): Date {
  const [year = 0, month = 1, date = 1] = day.split("-").map(Number);
  const [hours = 0, minutes = 0] = starts.split(":").map(Number);
  return new Date(year, month - 1, date, hours, minutes);
}
