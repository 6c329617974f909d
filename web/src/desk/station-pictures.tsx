// What comes out at each station, drawn small. The colours are those of the page, so that they hold in the dark too.

const SIZE = "0 0 160 84";
const line = { stroke: "currentColor", strokeWidth: 1.2, fill: "none" } as const;
const faint = { ...line, opacity: 0.45 } as const;

/** A list of names with desk numbers. */
export function ClassPicture() {
  return (
    <svg viewBox={SIZE} className="block w-full" role="presentation">
      {[0, 1, 2, 3].map((row) => (
        <g key={row} transform={`translate(18 ${14 + row * 17})`}>
          <text x="0" y="8" fontSize="10" fill="currentColor">
            {row + 1}
          </text>
          <line x1="16" y1="5" x2={66 + ((row * 37) % 22)} y2="5" {...line} />
          <rect x="98" y="-1" width="28" height="11" {...faint} />
          <line x1="102" y1="5" x2="121" y2="5" {...faint} />
        </g>
      ))}
    </svg>
  );
}

/** A question; beside one of its wrong answers stands the idea behind it. */
export function QuestionPicture() {
  return (
    <svg viewBox={SIZE} className="block w-full" role="presentation">
      <line x1="18" y1="15" x2="140" y2="15" {...line} />
      <line x1="18" y1="23" x2="96" y2="23" {...line} />
      {["A", "B", "C"].map((letter, at) => (
        <g key={letter} transform={`translate(18 ${40 + at * 15})`}>
          <text x="0" y="4" fontSize="10" fill="currentColor">
            {letter}
          </text>
          <line x1="14" y1="0" x2={40 + at * 6} y2="0" {...line} />
        </g>
      ))}
      <path d="M66 55 h14" {...line} className="text-clay" />
      <rect x="82" y="44" width="60" height="22" className="fill-clay-wash text-clay" stroke="currentColor" />
      <path d="M88 52 h44 M88 59 h28" {...line} className="text-clay" />
    </svg>
  );
}

/** A paper with a seal: it does not change any more. */
export function TestPicture() {
  return (
    <svg viewBox={SIZE} className="block w-full" role="presentation">
      <rect x="48" y="8" width="64" height="70" className="fill-page" stroke="currentColor" />
      {[0, 1, 2, 3, 4].map((row) => (
        <line key={row} x1="56" y1={20 + row * 10} x2={88 + ((row * 29) % 17)} y2={20 + row * 10} {...faint} />
      ))}
      <circle cx="106" cy="68" r="9" className="fill-iris-wash text-iris" stroke="currentColor" strokeWidth="1.4" />
      <path d="M102 68 l3 3 l5 -6" {...line} className="text-iris" />
    </svg>
  );
}

/** A board with a code, and seats that fill. */
export function SittingPicture() {
  return (
    <svg viewBox={SIZE} className="block w-full" role="presentation">
      <rect x="46" y="8" width="68" height="24" className="fill-page" stroke="currentColor" />
      <text x="80" y="25" fontSize="14" textAnchor="middle" fill="currentColor" className="font-serif">
        4 7 2 9
      </text>
      {Array.from({ length: 12 }, (_, seat) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: a drawing, and nothing moves in it
          key={seat}
          x={28 + (seat % 6) * 18}
          y={44 + Math.floor(seat / 6) * 17}
          width="12"
          height="10"
          className={seat % 5 < 3 ? "fill-teal text-teal" : "fill-transparent text-graphite"}
          stroke="currentColor"
        />
      ))}
    </svg>
  );
}

/** One question in which more chose a wrong answer than the right one. */
export function FindingPicture() {
  return (
    <svg viewBox={SIZE} className="block w-full" role="presentation">
      {[
        ["A", 34, "text-teal"],
        ["B", 74, "text-clay"],
        ["C", 16, "text-graphite"],
        ["D", 9, "text-graphite"],
      ].map(([letter, width, colour], at) => (
        <g key={letter} transform={`translate(24 ${14 + at * 17})`} className={String(colour)}>
          <text x="0" y="9" fontSize="10" fill="currentColor">
            {letter}
          </text>
          <rect x="14" y="0" width={Number(width)} height="11" fill="currentColor" opacity="0.8" />
        </g>
      ))}
      <path d="M122 37 l-6 -4 v8 z" className="fill-clay" />
      <line x1="126" y1="37" x2="140" y2="37" {...line} className="text-clay" />
    </svg>
  );
}
