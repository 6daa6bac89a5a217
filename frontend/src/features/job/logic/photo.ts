const MOST_PIXELS = 1600;
const QUALITY = 0.82;

/** How large a picture is kept: its longer side at most 1600 pixels, never enlarged. */
export function keptSize(width: number, height: number): [number, number] {
  const scale = Math.min(1, MOST_PIXELS / Math.max(width, height));
  return [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
}

/** Where something is on a picture, as shares of its width and height. */
export interface OnPicture {
  x: number;
  y: number;
}

/** A picture made smaller by the browser, with a ring where something is, as base64 text. */
export async function asPhoto(file: File, mark: OnPicture | null = null): Promise<string> {
  const picture = await createImageBitmap(file);
  const [width, height] = keptSize(picture.width, picture.height);
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, width, height);
  picture.close();
  if (mark) drawRing(canvas, mark);
  return canvas.toDataURL("image/jpeg", QUALITY).split(",")[1] ?? "";
}

/** A ring that shows on bright and on dark. */
function drawRing(canvas: HTMLCanvasElement, { x, y }: OnPicture): void {
  const pen = canvas.getContext("2d");
  if (!pen) return;
  const radius = Math.max(canvas.width, canvas.height) / 24;
  for (const [color, width] of [
    ["#ffffff", radius / 3],
    ["#9a4d00", radius / 6],
  ] as const) {
    pen.beginPath();
    pen.arc(x * canvas.width, y * canvas.height, radius, 0, 2 * Math.PI);
    pen.strokeStyle = color;
    pen.lineWidth = width;
    pen.stroke();
  }
}
