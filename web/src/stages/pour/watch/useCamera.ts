/** This device's camera: its picture as it is now, its light where it has one, and why there is none. */
import { useCallback, useEffect, useRef, useState } from "react";
import { jpegOf, type Picture } from "./jpeg";

const LONGEST_PX = 1280;

interface Lamp {
  can: boolean;
  on: boolean;
}

const WHY: Record<string, string> = {
  NotAllowedError: "The browser may not use the camera. Allow it for this page in the browser's settings.",
  NotFoundError: "This device has no camera that the browser can reach.",
  NotReadableError: "Another program holds the camera. Close it, then load this page again.",
};

export function useCamera(isOn: boolean) {
  const video = useRef<HTMLVideoElement>(null);
  const track = useRef<MediaStreamTrack | null>(null);
  const [problem, setProblem] = useState("");
  const [ready, setReady] = useState(false);
  const [lamp, setLamp] = useState<Lamp>({ can: false, on: false });

  useEffect(() => {
    if (!isOn) return;
    if (!navigator.mediaDevices?.getUserMedia) {
      setProblem("The camera needs the protected address (https). Open Cavatum at that one.");
      return;
    }
    let over = false;
    let stream: MediaStream | null = null;
    void navigator.mediaDevices
      .getUserMedia({
        audio: false,
        video: { facingMode: { ideal: "environment" }, width: { ideal: LONGEST_PX }, height: { ideal: 960 } },
      })
      .then(async (found) => {
        stream = found;
        if (over || !video.current) return end(found);
        track.current = found.getVideoTracks()[0] ?? null;
        video.current.srcObject = found;
        await video.current.play();
        setReady(true);
        const can = (track.current?.getCapabilities?.() as { torch?: boolean } | undefined)?.torch === true;
        setLamp({ can, on: false });
        track.current?.addEventListener("ended", () => {
          setReady(false);
          setProblem("The camera was taken away by the system. Load this page again.");
        });
      })
      .catch((error: unknown) => {
        const { name, message } = error as Error;
        if (!over && name !== "AbortError")
          setProblem(WHY[name] ?? `The camera does not start (${message}).`);
      });
    return () => {
      over = true;
      setReady(false);
      if (stream) end(stream);
    };
  }, [isOn]);

  const turnLamp = useCallback(async (on: boolean) => {
    // TypeScript's DOM does not know the torch (Media Capture from image streams)
    const wish = { advanced: [{ torch: on }] } as unknown as MediaTrackConstraints;
    await track.current?.applyConstraints(wish);
    setLamp({ can: true, on });
  }, []);

  /** The picture of now, as JPEG; null while there is none. */
  const take = useCallback(async (): Promise<Picture | null> => {
    const from = video.current;
    if (!from?.videoWidth) return null;
    return jpegOf(from, from.videoWidth, from.videoHeight);
  }, []);

  return [video, { ready, problem, lamp, turnLamp, take }] as const;
}

function end(stream: MediaStream): void {
  for (const one of stream.getTracks()) one.stop();
}
