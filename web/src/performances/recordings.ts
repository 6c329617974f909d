import { del, get, set } from "idb-keyval";

/** Sound and pictures that are not known to be on the server's disk: in this browser's store until they are. */
export const keepRecording = (key: string, file: Blob): Promise<void> => set(`verso.recording.${key}`, file);
export const recordingOf = (key: string): Promise<Blob | undefined> => get(`verso.recording.${key}`);
export const dropRecording = (key: string): Promise<void> => del(`verso.recording.${key}`);
