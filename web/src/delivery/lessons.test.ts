import { expect, test } from "vitest";
import { dayOfLesson, momentOfLesson } from "./lessons";

test("a lesson begins when the wall says so, on the day the clocks change too", () => {
  for (const day of ["2026-12-03", "2026-03-29", "2026-10-25", "2028-02-29"]) {
    const moment = momentOfLesson(day, "10:25:00");
    expect(dayOfLesson(moment)).toBe(day);
    expect([moment.getHours(), moment.getMinutes()]).toEqual([10, 25]);
  }
});
