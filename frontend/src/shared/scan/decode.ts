import jsQR from "jsqr";

/** The text of a label's code in a picture; null where none is found. */
export function decode(image: ImageData): string | null {
  return jsQR(image.data, image.width, image.height)?.data ?? null;
}

const WIDEST = 1600;

/** The pixels of a picture or a camera's frame, no wider than is needed to read a code. */
export function pixels(source: CanvasImageSource, width: number, height: number): ImageData | null {
  const scale = Math.min(1, WIDEST / width);
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(width * scale);
  canvas.height = Math.round(height * scale);
  const context = canvas.getContext("2d", { willReadFrequently: true });
  if (!context || canvas.width === 0) return null;
  context.drawImage(source, 0, 0, canvas.width, canvas.height);
  return context.getImageData(0, 0, canvas.width, canvas.height);
}

/** The text of a label's code in a picture file; null where none is found. */
export async function decodeFile(file: File): Promise<string | null> {
  const picture = await createImageBitmap(file);
  const image = pixels(picture, picture.width, picture.height);
  picture.close();
  return image && decode(image);
}
