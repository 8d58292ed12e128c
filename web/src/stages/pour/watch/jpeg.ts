/** What is shown, as JPEG of at most that many pixels along its longer side. */
export interface Picture {
  blob: Blob;
  width: number;
  height: number;
}

const LONGEST_PX = 1280;
const QUALITY = 0.82;

/** Null where the browser makes none. */
export async function jpegOf(
  shown: CanvasImageSource,
  width: number,
  height: number,
): Promise<Picture | null> {
  const times = Math.min(1, LONGEST_PX / Math.max(width, height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(width * times);
  canvas.height = Math.round(height * times);
  canvas.getContext("2d")!.drawImage(shown, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((made) => canvas.toBlob(made, "image/jpeg", QUALITY));
  return blob ? { blob, width: canvas.width, height: canvas.height } : null;
}
