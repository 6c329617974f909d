import { t } from "@lingui/core/macro";
import { type Editor, useEditorState } from "@tiptap/react";
import { useEffect, useState } from "react";
import type { Drawn } from "./formulas";
import { formulasFor } from "./formulas-for";
import { TEX } from "./tex";

/** What is put in at the cursor, and how far back it goes afterwards: into the first pair of braces. */
type Piece = { shows: string; says: string; tex: string; back: number };

const PIECES: Piece[] = [
  { shows: "a⁄b", says: t`Fraction`, tex: "\\frac{}{}", back: 3 },
  { shows: "√", says: t`Root`, tex: "\\sqrt{}", back: 1 },
  { shows: "x²", says: t`Power`, tex: "^{}", back: 1 },
  { shows: "x₁", says: t`Index`, tex: "_{}", back: 1 },
  { shows: "×", says: t`Times`, tex: "\\times ", back: 0 },
  { shows: "≤", says: t`At most`, tex: "\\le ", back: 0 },
  { shows: "≥", says: t`At least`, tex: "\\ge ", back: 0 },
  { shows: "≈", says: t`About`, tex: "\\approx ", back: 0 },
  { shows: "π", says: t`Pi`, tex: "\\pi ", back: 0 },
  { shows: "Δ", says: t`Delta`, tex: "\\Delta ", back: 0 },
  { shows: "→", says: t`Arrow`, tex: "\\to ", back: 0 },
  { shows: "9 kg", says: t`A number with its unit`, tex: "\\qty{}{kg}", back: 5 },
  { shows: "H₂O", says: t`Chemistry`, tex: "\\ce{H2O}", back: 1 },
];

/** The formula around the cursor, without its dollar signs; null where it stands in none. */
export function formulaAround(text: string, cursor: number): string | null {
  for (const found of text.matchAll(TEX)) {
    const begin = found.index + 1;
    const end = found.index + found[0].length - 1;
    if (cursor >= begin && cursor <= end) return found[1] ?? "";
  }
  return null;
}

/** Shows the formula one is typing as it will look, or where it is not understood, with what is often needed in it. */
export function FormulaTools({ editor }: { editor: Editor }) {
  const tex = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      const { $from } = now.state.selection;
      // A picture in the line stands for one letter, as it does for the cursor.
      return formulaAround($from.parent.textBetween(0, $from.parent.content.size, undefined, "￼"), $from.parentOffset);
    },
  });
  const drawn = useDrawn(tex);
  const put = ({ tex, back }: Piece) => {
    editor.chain().focus().insertContent({ type: "text", text: tex }).run();
    editor.commands.setTextSelection(editor.state.selection.from - back);
  };
  const begin = () => {
    const { from } = editor.state.selection;
    editor.chain().focus().insertContent({ type: "text", text: "$x$" }).run();
    editor.commands.setTextSelection({ from: from + 1, to: from + 2 });
  };
  if (tex === null)
    return (
      <button
        type="button"
        onMouseDown={(event) => event.preventDefault()}
        onClick={begin}
        className="mx-1 h-7 px-1 text-xs text-graphite hover:text-ink"
      >{t`formula: $I = U/R$`}</button>
    );
  return (
    <span className="flex w-full flex-wrap items-center gap-0.5 border-t border-hairline">
      {PIECES.map((piece) => (
        <button
          key={piece.tex}
          type="button"
          title={piece.says}
          aria-label={`${piece.says} ${piece.shows}`}
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => put(piece)}
          className="h-7 min-w-7 px-1 font-serif text-sm text-graphite hover:text-ink"
        >
          {piece.shows}
        </button>
      ))}
      <span role="status" className="ms-auto flex min-h-8 items-center overflow-x-auto px-2">
        {drawn && "html" in drawn ? (
          // biome-ignore lint/security/noDangerouslySetInnerHtml: KaTeX draws it, and trusts nothing in it
          <span className="text-lg text-ink" dangerouslySetInnerHTML={{ __html: drawn.html }} />
        ) : (
          drawn && <NotUnderstood tex={tex} from={drawn.from} />
        )}
      </span>
    </span>
  );
}

function NotUnderstood({ tex, from }: { tex: string; from: number }) {
  const rest = tex.slice(from);
  return (
    <span className="text-sm text-clay">
      ◆ {rest ? t`not understood from here:` : t`something is missing at the end`}{" "}
      {rest && <code className="underline decoration-wavy">{rest}</code>}
    </span>
  );
}

function useDrawn(tex: string | null): Drawn | null {
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  useEffect(() => {
    let stale = false;
    if (tex === null) setDrawn(null);
    // Fetched only by whoever types a formula.
    else void formulasFor(tex).then(({ drawFormula }) => stale || setDrawn(drawFormula(tex)));
    return () => {
      stale = true;
    };
  }, [tex]);
  return drawn;
}
