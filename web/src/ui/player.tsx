type Props = { plays: "sound" | "film"; src: string; name: string };

/** Sound or a film that somebody handed in, to hear and to look at where it is. */
export function Player({ plays, src, name }: Props) {
  return plays === "sound" ? (
    // biome-ignore lint/a11y/useMediaCaption: what a student says has no words written down
    <audio controls preload="none" src={src} aria-label={name} className="h-9 w-full" />
  ) : (
    // biome-ignore lint/a11y/useMediaCaption: as above
    <video controls preload="none" src={src} aria-label={name} className="max-h-96 w-full bg-ink" />
  );
}
