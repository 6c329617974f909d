const CHEMISTRY = /\\(ce|pu)\b/;

type Formulas = Pick<typeof import("./formulas"), "drawFormula" | "setFormulas">;

/** What sets formulas, with what a text has need of: chemistry is as large as all of a test's page. */
export async function formulasFor(text: string): Promise<Formulas> {
  if (CHEMISTRY.test(text)) await import("./chemistry");
  const { drawFormula, setFormulas } = await import("./formulas");
  return { drawFormula, setFormulas };
}
