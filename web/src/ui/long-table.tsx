import { type ReactNode, useState } from "react";
import { windowOf } from "./window";

type Props = {
  /** What the table is, for who hears it. */
  name: string;
  /** Height of a row in pixels. */
  height: number;
  heads: ReactNode;
  rows: number;
  /** The row at a place. */
  row: (at: number) => ReactNode;
  foot?: ReactNode;
};

const LINES_MORE = 12;

/** A table that scrolls in its own place, of which only the rows in sight and some more are drawn. */
export function LongTable({ name, height, heads, rows, row, foot }: Props) {
  const [scroll, setScroll] = useState(0);
  const { first, last } = windowOf(scroll, rows, height, LINES_MORE);
  return (
    <section
      aria-label={name}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a place that scrolls must be reachable by keyboard
      tabIndex={0}
      className="min-h-80 flex-1 overflow-auto border border-hairline"
      onScroll={(event) => setScroll(event.currentTarget.scrollTop)}
    >
      <table className="border-separate border-spacing-0 text-sm">
        <caption className="sr-only">{name}</caption>
        <thead>{heads}</thead>
        <tbody>
          {first > 0 && (
            <tr>
              <td style={{ height: first * height }} />
            </tr>
          )}
          {Array.from({ length: last - first }, (_, at) => row(first + at))}
          {last < rows && (
            <tr>
              <td style={{ height: (rows - last) * height }} />
            </tr>
          )}
        </tbody>
        {foot && <tfoot>{foot}</tfoot>}
      </table>
    </section>
  );
}
