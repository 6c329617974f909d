import { type RefObject, useEffect, useState } from "react";
import { type Look, lookAt, openCamera, practiceCamera, type Source } from "./pictures";

const PAUSE = 120;
const AFTER_TROUBLE = 1500;

type Shown = { video: RefObject<HTMLVideoElement | null>; image: RefObject<HTMLImageElement | null> };

/** Looks at frame after frame while it is on; the next one goes out when the last has come back. */
export function useCamera(sittingId: number, on: "camera" | "practice" | null, { video, image }: Shown) {
  const [look, setLook] = useState<Look | null>(null);
  const [says, setSays] = useState("");
  useEffect(() => {
    if (!on) return;
    let going = true;
    let source: Source | null = null;
    const rest = (time: number) => new Promise((resolve) => setTimeout(resolve, time));
    const run = async () => {
      try {
        if (on === "camera" && video.current) source = await openCamera(video.current);
        if (on === "practice" && image.current) source = practiceCamera(sittingId, image.current);
      } catch (error) {
        if (going) setSays((error as Error).message);
        return;
      }
      while (going && source) {
        try {
          const picture = await source.picture();
          if (picture && going) setLook(await lookAt(sittingId, picture, false));
          setSays("");
          await rest(PAUSE);
        } catch (error) {
          setSays((error as Error).message);
          await rest(AFTER_TROUBLE);
        }
      }
      source?.stop();
    };
    void run();
    return () => {
      going = false;
      source?.stop();
      setLook(null);
      setSays("");
    };
  }, [on, sittingId, video, image]);
  return { look, says, setLook, setSays };
}
