import { t } from "@lingui/core/macro";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, read } from "../api/client";
import { useNudges } from "../api/nudges";
import { type Wall, WallView } from "./wall-view";

const LOOK_AGAIN = 15_000;
const sittingId = Number(location.pathname.split("/").pop());

/** The window for the projector: it follows the console, and has nothing to press. */
export function WallWindow() {
  const [wall, setWall] = useState<Wall | null>(null);
  const [says, setSays] = useState("");
  const turn = useRef(0);
  const look = useCallback(async () => {
    turn.current += 1;
    const mine = turn.current;
    try {
      const found = await read(
        api.GET("/api/v1/sittings/{sitting_id}/wall", { params: { path: { sitting_id: sittingId } } }),
      );
      if (mine === turn.current) setWall(found);
      setSays("");
    } catch (error) {
      setSays((error as Error).message);
    }
  }, []);
  useEffect(() => {
    void look();
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, [look]);
  useNudges(`/ws/sittings/${sittingId}`, look);
  useEffect(() => {
    if (wall) document.title = t`${wall.title} · wall · Verso Mark`;
  }, [wall]);
  return (
    <main className="flex h-dvh flex-col bg-page">
      <h1 className="sr-only">{wall?.title ?? t`Wall`}</h1>
      {wall && <WallView wall={wall} />}
      {says && (
        <p role="alert" className="absolute bottom-2 start-3 text-graphite">
          ◐ {says}
        </p>
      )}
    </main>
  );
}
