import { Injectable } from '@angular/core';
import { wrap, type Remote } from 'comlink';
import { base64 } from './base64';
import type { MadePicture, PictureMaking } from './pictureWorker';

/** A file becomes a picture that is kept: smaller, and without what a camera wrote beside it. The worker is made when the first one comes. */
@Injectable({ providedIn: 'root' })
export class PictureMaker {
  private worker: Remote<PictureMaking> | null = null;

  /** Whether this page may work out what a picture is kept under: only on this machine itself or over TLS. */
  readonly able = globalThis.isSecureContext;

  make(file: Blob): Promise<MadePicture | null> {
    this.worker ??= wrap<PictureMaking>(new Worker(new URL('./pictureWorker', import.meta.url), { type: 'module' }));
    return this.worker.make(file);
  }
}

/** A picture's bytes as an address that a page shows without asking anybody. */
export const pictureAddress = (bytes: ArrayBuffer): string => `data:image/jpeg;base64,${base64(new Uint8Array(bytes))}`;
