import { useEffect, useRef, useState } from "react";

/** What browsers call a listener that hears on this device; not in TypeScript's own types yet. */
type Heard = { results: ArrayLike<ArrayLike<{ transcript: string }> & { isFinal: boolean }>; resultIndex: number };
type Listener = {
  lang: string;
  continuous: boolean;
  processLocally: boolean;
  onresult: ((heard: Heard) => void) | null;
  onend: (() => void) | null;
  start: () => void;
  stop: () => void;
};
type ListenerClass = {
  new (): Listener;
  available?: (wish: { langs: string[]; processLocally: boolean }) => Promise<string>;
};

/**
 * Dictation, where this browser hears on the device itself. Where it would send what is said to another host there is
 * none: what is said of a student stays in the school.
 */
export function useDictation(language: string, onWords: (words: string) => void) {
  const [can, setCan] = useState(false);
  const [listener, setListener] = useState<Listener | null>(null);
  const latest = useRef(onWords);
  latest.current = onWords;
  useEffect(() => {
    const { SpeechRecognition: known } = globalThis as { SpeechRecognition?: ListenerClass };
    let here = true;
    known?.available?.({ langs: [language], processLocally: true }).then(
      (answer) => here && setCan(answer === "available"),
      () => undefined,
    );
    return () => {
      here = false;
    };
  }, [language]);
  useEffect(() => () => listener?.stop(), [listener]);
  const start = () => {
    const { SpeechRecognition: known } = globalThis as { SpeechRecognition?: ListenerClass };
    if (!known) return;
    const made = new known();
    made.lang = language;
    made.continuous = true;
    made.processLocally = true;
    made.onresult = ({ results, resultIndex }) => {
      for (let at = resultIndex; at < results.length; at += 1) {
        const result = results[at];
        const words = result?.[0]?.transcript.trim();
        if (result?.isFinal && words) latest.current(words);
      }
    };
    made.onend = () => setListener(null);
    made.start();
    setListener(made);
  };
  return { can, listens: listener !== null, start, stop: () => listener?.stop() };
}
