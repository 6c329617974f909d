/** How much of the whole, beside the number that says it. */
export function Bar({ share, right, thick }: { share: number; right: boolean; thick: string }) {
  return (
    <span aria-hidden="true" className={`block bg-track ${thick}`}>
      <span className={`block h-full ${right ? "bg-teal" : "bg-ink"}`} style={{ width: `${100 * share}%` }} />
    </span>
  );
}
