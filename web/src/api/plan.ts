import type { Schemas } from "./client";

export type Plan = Schemas["PlanBody"];

/** What a new sitting has before anybody says otherwise. */
export const NO_PLAN: Plan = {
  planned_for: null,
  closes_at: null,
  opens_itself: false,
  name: "",
  rules: {
    minutes: null,
    let_in: false,
    all_at_once: false,
    going_back: true,
    own_order: false,
    calculator: false,
    notes: false,
    formula_sheet: "",
    take_back: false,
    attempts: 1,
    tell: false,
    results: "released",
  },
};
