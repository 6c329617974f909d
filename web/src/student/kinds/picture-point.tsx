import { t } from "@lingui/core/macro";
import { Note } from "./parts";
import type { AnswerProps } from "./types";

const STEP = 0.02;
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};
const within = (share: number) => Math.round(Math.min(1, Math.max(0, share)) * 1000) / 1000;

/** A point set by tapping the picture, or moved with the arrow keys. */
export function PicturePointAnswer({ item, response, onRespond }: AnswerProps<"picture_point">) {
  const at =
    typeof response?.x === "number" && typeof response.y === "number" ? { x: response.x, y: response.y } : null;
  const point = (x: number, y: number) => onRespond({ kind: "picture_point", x: within(x), y: within(y) });
  return (
    <>
      <button
        type="button"
        data-on-picture
        className="relative block w-full max-w-xl cursor-crosshair overflow-hidden border border-hairline"
        style={{ aspectRatio: item.ratio }}
        aria-label={t`${item.picture_words}. ${at ? t`Your point is ${Math.round(at.x * 100)} percent from the left and ${Math.round(at.y * 100)} from the top.` : t`No point yet.`} Arrow keys move it.`}
        onClick={(event) => {
          if (event.detail === 0) return; // Enter on the button is not a place
          const box = event.currentTarget.getBoundingClientRect();
          point((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
        }}
        onKeyDown={(event) => {
          const step = STEPS[event.key];
          if (!step) return;
          event.preventDefault();
          const from = at ?? { x: 0.5, y: 0.5 };
          point(from.x + step[0], from.y + step[1]);
        }}
      >
        {item.picture && <img src={`/pictures/${item.picture}`} alt="" className="size-full" draggable={false} />}
        {at && (
          <span
            className="pointer-events-none absolute size-8 -translate-x-1/2 -translate-y-1/2 rounded-full border-3 border-ink bg-page/40 outline-2 outline-page"
            style={{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }}
          >
            <span className="absolute top-1/2 left-1/2 size-1.5 -translate-x-1/2 -translate-y-1/2 rounded-full bg-ink" />
          </span>
        )}
      </button>
      <p role="status" className="sr-only">
        {at && t`${Math.round(at.x * 100)} percent from the left, ${Math.round(at.y * 100)} from the top`}
      </p>
      <Note>{at ? t`Tap another place to move your point.` : t`Tap the place on the picture.`}</Note>
    </>
  );
}
