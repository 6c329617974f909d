/** So many of so many, as a bar; the words stand beside it. */
export function ProgressBar({ done, of, label }: { done: number; of: number; label: string }) {
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={done}
      aria-valuemin={0}
      aria-valuemax={of}
      className="h-3 w-full bg-track"
    >
      <div
        className="h-full bg-ink transition-[width] duration-150"
        style={{ width: `${of ? (100 * done) / of : 0}%` }}
      />
    </div>
  );
}
