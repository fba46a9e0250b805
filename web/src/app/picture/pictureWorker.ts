import { plainPicture, readPicture } from '@grellin/contract';
import { expose, transfer } from 'comlink';
import { firstFit, makingsOf, type Making } from './fitted';

/** A picture as it is kept: a JPEG that fits, without a word beside it, under the SHA-256 of its bytes. */
export interface MadePicture {
  readonly bytes: ArrayBuffer;
  readonly sha256: string;
}

const hex = (bytes: ArrayBuffer): string => Array.from(new Uint8Array(bytes), (b) => b.toString(16).padStart(2, '0')).join('');

async function drawn(image: ImageBitmap, { width, height, quality }: Making): Promise<Uint8Array<ArrayBuffer>> {
  const canvas = new OffscreenCanvas(width, height);
  const pen = canvas.getContext('2d', { alpha: false });
  if (!pen) throw new Error('no canvas');
  pen.drawImage(image, 0, 0, width, height);
  const made = await canvas.convertToBlob({ type: 'image/jpeg', quality });
  // What was drawn anew has nothing of the camera's in it; a colour profile that the browser writes goes too.
  return Uint8Array.from(plainPicture(new Uint8Array(await made.arrayBuffer())) ?? []);
}

/** Makes pictures fit to be kept, off the main thread. */
const making = {
  /** @returns null where the file is no picture that this browser can read */
  async make(file: Blob): Promise<MadePicture | null> {
    const image = await createImageBitmap(file).catch(() => null);
    if (!image) return null;
    const bytes = await firstFit(makingsOf(image.width, image.height), (how) => drawn(image, how));
    image.close();
    if (!bytes || 'flaw' in readPicture(bytes)) return null;
    const { buffer } = bytes;
    return transfer({ bytes: buffer, sha256: hex(await crypto.subtle.digest('SHA-256', buffer)) }, [buffer]);
  },
};
export type PictureMaking = typeof making;

expose(making);
