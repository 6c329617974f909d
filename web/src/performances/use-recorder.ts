import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";

/** What browsers record, and what such a file is called. */
const FORMATS = [
  { type: "audio/webm;codecs=opus", ending: "weba" },
  { type: "audio/mp4", ending: "m4a" },
  { type: "audio/ogg;codecs=opus", ending: "ogg" },
];

/** Records sound by the microphone; what was recorded is told once it is whole. */
export function useRecorder(onSound: (sound: Blob, ending: string) => void) {
  const [recorder, setRecorder] = useState<MediaRecorder | null>(null);
  const [problem, setProblem] = useState("");
  const latest = useRef(onSound);
  latest.current = onSound;
  useEffect(() => {
    if (!recorder) return;
    // A page that is closed would take with it what is being recorded.
    const stay = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener("beforeunload", stay);
    return () => {
      removeEventListener("beforeunload", stay);
      if (recorder.state !== "inactive") recorder.stop();
    };
  }, [recorder]);
  const start = async () => {
    setProblem("");
    const format = FORMATS.find(({ type }) => globalThis.MediaRecorder?.isTypeSupported(type));
    if (!navigator.mediaDevices || !format)
      return setProblem(
        t`This browser records only at an address that begins with https, or on the server itself. A sound file can be chosen instead.`,
      );
    let stream: MediaStream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: true });
    } catch {
      return setProblem(t`The microphone could not be used. Allow it in the browser, or choose a sound file instead.`);
    }
    const made = new MediaRecorder(stream, { mimeType: format.type, audioBitsPerSecond: 32_000 });
    const parts: Blob[] = [];
    made.addEventListener("dataavailable", (event) => void (event.data.size && parts.push(event.data)));
    made.addEventListener("stop", () => {
      for (const track of stream.getTracks()) track.stop();
      setRecorder(null);
      if (parts.length) latest.current(new Blob(parts, { type: format.type }), format.ending);
    });
    made.start(1_000);
    setRecorder(made);
  };
  return { records: recorder !== null, problem, start: () => void start(), stop: () => recorder?.stop() };
}
