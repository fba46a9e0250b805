import { BinaryBitmap, Code128Reader, DataMatrixReader, DecodeHintType, HybridBinarizer, QRCodeReader, RGBLuminanceSource } from '@zxing/library';

const hints = new Map<DecodeHintType, unknown>([[DecodeHintType.TRY_HARDER, true]]);
/** Our labels' QR, and the makers' Data Matrix and Code 128. */
const readers = [new QRCodeReader(), new DataMatrixReader(), new Code128Reader()];

/**
 * The code in a picture of a camera; null where there is none that can be read.
 * @param rgba four bytes a pixel, row by row
 */
export function codeIn(rgba: Uint8ClampedArray, width: number, height: number): string | null {
  const grey = new Uint8ClampedArray(width * height);
  // ITU-R BT.601: what the eye takes for brightness.
  for (let i = 0; i < grey.length; i++) grey[i] = 0.299 * (rgba[4 * i] ?? 0) + 0.587 * (rgba[4 * i + 1] ?? 0) + 0.114 * (rgba[4 * i + 2] ?? 0);
  const image = new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, width, height)));
  for (const reader of readers)
    try {
      return reader.decode(image, hints).getText();
    } catch {
      // What is blurred, cut off or not there fails in as many ways as there are parts of a code; the next picture comes in a moment.
    } finally {
      reader.reset();
    }
  return null;
}
