import { expect, it } from "vitest";
import { NO_PLAN } from "../api/plan";
import { local, rulesInWords } from "./plan-form";

it("says of a sitting's rules only what is out of the ordinary", () => {
  expect(rulesInWords(NO_PLAN.rules)).toBe("");
  expect(rulesInWords({ ...NO_PLAN.rules, minutes: 20, going_back: false, formula_sheet: "U = RI" })).toBe(
    "20 min, no going back, formula sheet",
  );
});

it("gives a moment back as the field of a form had it, in the zone of this computer", () => {
  for (const typed of ["2026-11-03T09:40", "2026-03-29T23:59", "2027-01-01T00:00"])
    expect(local(new Date(typed).toISOString())).toBe(typed);
});
