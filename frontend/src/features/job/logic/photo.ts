const MOST_PIXELS = 1600;
const QUALITY = 0.82;

/** How large a picture is kept: its longer side at most 1600 pixels, never enlarged. */
export function keptSize(width: number, height: number): [number, number] {
  const scale = Math.min(1, MOST_PIXELS / Math.max(width, height));
  return [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
}

/** A picture made smaller by the browser, as base64 text. */
export async function asPhoto(file: File): Promise<string> {
  const picture = await createImageBitmap(file);
  const [width, height] = keptSize(picture.width, picture.height);
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, width, height);
  picture.close();
  return canvas.toDataURL("image/jpeg", QUALITY).split(",")[1] ?? "";
}
