import { t } from "@lingui/core/macro";
import katex from "katex";
import { options } from "../ui/formulas";

/** What a sign of a formula is called when it is read; what stands for itself is not in it. */
const signs = (): Record<string, string> => ({
  "+": t`plus`,
  "−": t`minus`,
  "-": t`minus`,
  "±": t`plus or minus`,
  "=": t`equals`,
  "≠": t`is not equal to`,
  "≈": t`is about`,
  "<": t`is less than`,
  ">": t`is greater than`,
  "≤": t`is at most`,
  "≥": t`is at least`,
  "×": t`times`,
  "⋅": t`times`,
  "·": t`times`,
  "÷": t`divided by`,
  "/": t`divided by`,
  "→": t`goes to`,
  "∞": t`infinity`,
  "∑": t`the sum`,
  "∫": t`the integral`,
  "(": t`open bracket`,
  ")": t`close bracket`,
  "%": t`percent`,
});
/** Signs that are seen and not heard: what is applied to what, and what is multiplied without a sign. */
const SILENT = /[\u2061\u2062\u2063\u200b]/g;

/** A formula as one says it, made from the MathML in which KaTeX sets it too; what is no TeX is said as it was typed. */
export function formulaInWords(tex: string): string {
  try {
    const html = katex.renderToString(tex, { ...options(), output: "mathml" });
    const math = new DOMParser().parseFromString(html, "text/html").querySelector("math");
    return math ? wordsOf(math).replace(/\s+/g, " ").trim() : tex;
  } catch {
    return tex;
  }
}

function wordsOf(node: Element): string {
  const parts = [...node.children];
  const part = (at: number) => (parts[at] ? wordsOf(parts[at]) : "");
  switch (node.localName) {
    case "semantics":
      return part(0);
    case "annotation":
    case "mspace":
    case "mphantom":
      return "";
    case "mi":
    case "mn":
    case "mtext":
      return (node.textContent ?? "").replace(SILENT, "");
    case "mo": {
      const sign = (node.textContent ?? "").replace(SILENT, "").trim();
      return signs()[sign] ?? sign;
    }
    case "mfrac":
      return isPlain(parts[0]) && isPlain(parts[1])
        ? t`${part(0)} over ${part(1)}`
        : t`the fraction ${part(0)} over ${part(1)}, end of the fraction`;
    case "msqrt":
      return t`the square root of ${parts.map(wordsOf).join(" ")}`;
    case "mroot":
      return t`the root of order ${part(1)} of ${part(0)}`;
    case "msub":
      return t`${part(0)} sub ${part(1)}`;
    case "msup":
      // What hangs on nothing is no power: a charge, the numbers of a nuclide.
      return part(0) === "" ? part(1) : raised(part(0), part(1));
    case "msubsup":
      if (part(0) === "") return `${part(2)} ${part(1)}`;
      return parts[0]?.localName === "mo"
        ? t`${part(0)} from ${part(1)} to ${part(2)}`
        : raised(t`${part(0)} sub ${part(1)}`, part(2));
    case "munderover":
      return t`${part(0)} from ${part(1)} to ${part(2)}`;
    case "munder":
      return `${part(0)} ${part(1)}`;
    case "mover":
      return part(1) === t`goes to` ? t`the vector ${part(0)}` : part(0);
    case "mtr":
      return parts.map(wordsOf).join(", ");
    case "mtable":
      return parts.map(wordsOf).join("; ");
    default:
      return parts.map(wordsOf).join(" ");
  }
}

function raised(base: string, by: string): string {
  if (by === "2") return t`${base} squared`;
  if (by === "3") return t`${base} cubed`;
  if (by === "∘" || by === "°") return t`${base} degrees`;
  if (by === "′") return t`${base} prime`;
  return t`${base} to the power of ${by}`;
}

const isPlain = (node: Element | undefined): boolean =>
  node !== undefined &&
  (["mi", "mn"].includes(node.localName) ||
    (node.localName === "mrow" && node.children.length === 1 && isPlain(node.children[0])));
