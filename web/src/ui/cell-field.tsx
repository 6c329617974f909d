import type { useCells } from "./cells";

type Props = {
  cells: ReturnType<typeof useCells>;
  label: string;
  /** What stands in the cell while nothing is typed. */
  now: string;
  onType: (typed: string) => void;
  onKey: (event: React.KeyboardEvent) => void;
  onPaste: (event: React.ClipboardEvent) => void;
  onCopy?: (event: React.ClipboardEvent) => void;
};

/** The field in the cell of a grid that is typed in, with why its number cannot stand. */
export function CellField({ cells, label, now, onType, onKey, ...clipboard }: Props) {
  const { draft, refused, input, take } = cells;
  return (
    <>
      <input
        ref={input}
        aria-label={label}
        aria-invalid={refused !== null}
        inputMode="decimal"
        autoComplete="off"
        maxLength={12}
        size={1}
        className={`w-full min-w-14 bg-transparent px-2 py-1 text-end outline-2 -outline-offset-2 ${refused ? "outline-clay" : "outline-iris"}`}
        value={draft ?? now}
        onFocus={(event) => event.target.select()}
        onBlur={() => take()}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={onKey}
        {...clipboard}
      />
      {refused && (
        <span
          role="alert"
          className="absolute top-full end-0 z-30 border border-clay bg-clay-wash px-2 py-0.5 whitespace-nowrap text-clay"
        >
          ◆ {refused}
        </span>
      )}
    </>
  );
}
