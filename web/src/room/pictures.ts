import { t } from "@lingui/core/macro";
import { read, type Schemas, withCsrfToken } from "../api/client";

export type Look = Schemas["Look"];

/** Where frames come from: a picture of the class, or null while there is none yet. */
export type Source = {
  picture: () => Promise<Blob | null>;
  stop: () => void;
};

const WANTED = { video: { width: { ideal: 1920 }, height: { ideal: 1080 }, facingMode: "environment" }, audio: false };
const QUALITY = 0.85;

/** The camera of this device, shown in `video`. Throws, in words, where there is none. */
export async function openCamera(video: HTMLVideoElement): Promise<Source> {
  if (!navigator.mediaDevices)
    throw new Error(
      t`This browser gives the camera only to pages of this same computer, or over https. Take pictures instead.`,
    );
  const stream = await navigator.mediaDevices.getUserMedia(WANTED).catch((error: DOMException) => {
    throw new Error(
      error.name === "NotAllowedError"
        ? t`The browser was told not to give the camera to this page. Allow it beside the address, or take pictures.`
        : t`No camera was found on this device. Take pictures with another one instead.`,
    );
  });
  video.srcObject = stream;
  await video.play();
  const canvas = document.createElement("canvas");
  return {
    picture: () => {
      canvas.width = video.videoWidth;
      canvas.height = video.videoHeight;
      if (!canvas.width) return Promise.resolve(null);
      canvas.getContext("2d")?.drawImage(video, 0, 0);
      return new Promise((resolve) => canvas.toBlob(resolve, "image/jpeg", QUALITY));
    },
    stop: () => {
      for (const track of stream.getTracks()) track.stop();
      video.srcObject = null;
    },
  };
}

/** The camera before the practice class, shown in `image`. */
export function practiceCamera(sittingId: number, image: HTMLImageElement): Source {
  let at = 0;
  let shown = "";
  return {
    picture: async () => {
      at += 1;
      const response = await fetch(`/api/v1/cards/${sittingId}/practice?at=${at}`);
      if (!response.ok) return null;
      const blob = await response.blob();
      URL.revokeObjectURL(shown);
      shown = URL.createObjectURL(blob);
      image.src = shown;
      return blob;
    },
    stop: () => URL.revokeObjectURL(shown),
  };
}

/** One picture, read; a still counts by itself, frames of a camera vote. */
export function lookAt(sittingId: number, picture: Blob, still: boolean): Promise<Look> {
  const address = `/api/v1/cards/${sittingId}/pictures?still=${still}`;
  const headers = { ...withCsrfToken(), "Content-Type": picture.type };
  return read(
    fetch(address, { method: "POST", body: picture, headers }).then(async (response) => {
      const body = await response.json().catch(() => ({}));
      return response.ok ? { data: body as Look, response } : { error: body, response };
    }),
  );
}
