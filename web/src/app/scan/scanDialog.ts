import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, afterNextRender, inject, output, signal, viewChild } from '@angular/core';
import { DialogModule } from 'primeng/dialog';
import { wrap, type Remote } from 'comlink';
import type { Scanning } from './scanWorker';

/** A picture is looked at this often, ms: often enough for a hand that moves past, and seldom enough for an old phone. */
const LOOK_MS = 300;
/** Wider than this a picture tells nothing more, px. */
const MOST_WIDE = 960;

/** What hinders a camera, in words that say what to do. */
const hindrance = (e: unknown): string => {
  const name = e instanceof Error ? e.name : '';
  if (name === 'NotAllowedError') return $localize`The camera may not be used here. Allow it in the browser’s settings for this page, or type the code.`;
  if (name === 'NotFoundError' || name === 'OverconstrainedError') return $localize`This device has no camera. Type the code, or use a scanner that types.`;
  if (name === 'NotReadableError') return $localize`Another program holds the camera. Close it, or type the code.`;
  return $localize`The camera cannot be opened. Type the code.`;
};

/** The camera, looking for a code: the first one that it reads is told, and the camera is let go. */
@Component({
  selector: 'gr-scan-dialog',
  imports: [DialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-dialog
      header="Scan a code"
      i18n-header
      closeAriaLabel="Close"
      i18n-closeAriaLabel
      [modal]="true"
      [dismissableMask]="true"
      [draggable]="false"
      [resizable]="false"
      [visible]="true"
      (visibleChange)="left.emit()"
    >
      @if (problem(); as p) {
        <p role="alert" class="problem">{{ p }}</p>
      } @else {
        <p i18n role="status">Hold the label’s code, or the maker’s, before the camera.</p>
      }
      <video #video muted playsinline [hidden]="problem() !== null" aria-label="What the camera sees" i18n-aria-label></video>
    </p-dialog>
  `,
  styles: `
    video {
      display: block;
      width: min(32rem, 80vw);
      max-height: 60vh;
      background: var(--soft);
      border-radius: var(--radius);
      object-fit: cover;
    }
    video[hidden] {
      display: none;
    }
  `,
})
export class ScanDialog {
  readonly found = output<string>();
  readonly left = output();
  protected readonly problem = signal<string | null>(null);
  private readonly video = viewChild.required<ElementRef<HTMLVideoElement>>('video');
  private worker: Worker | null = null;
  private stream: MediaStream | null = null;
  private gone = false;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.letGo());
    afterNextRender(() => void this.look());
  }

  private letGo(): void {
    this.gone = true;
    for (const track of this.stream?.getTracks() ?? []) track.stop();
    this.worker?.terminate();
  }

  private async look(): Promise<void> {
    try {
      if (!isSecureContext) {
        this.problem.set($localize`A camera needs a secure connection (https). Type the code.`);
        return;
      }
      const stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment', width: { ideal: 1280 } } });
      this.stream = stream;
      // Who closed this while the camera was being asked for must not leave it running.
      if (this.gone) {
        this.letGo();
        return;
      }
      const video = this.video().nativeElement;
      video.srcObject = stream;
      await video.play();
      this.worker = new Worker(new URL('./scanWorker', import.meta.url), { type: 'module' });
      const text = await this.firstCode(video, wrap<Scanning>(this.worker));
      if (text === null) return;
      if ('vibrate' in navigator) navigator.vibrate(80);
      this.found.emit(text);
    } catch (e) {
      if (!this.gone) this.problem.set(hindrance(e));
    }
  }

  private async firstCode(video: HTMLVideoElement, scanning: Remote<Scanning>): Promise<string | null> {
    const canvas = document.createElement('canvas');
    const pen = canvas.getContext('2d', { willReadFrequently: true });
    while (!this.gone && pen) {
      const scale = Math.min(1, MOST_WIDE / video.videoWidth);
      canvas.width = Math.round(video.videoWidth * scale);
      canvas.height = Math.round(video.videoHeight * scale);
      if (canvas.width > 0 && canvas.height > 0) {
        pen.drawImage(video, 0, 0, canvas.width, canvas.height);
        const { data } = pen.getImageData(0, 0, canvas.width, canvas.height);
        const text = await scanning.codeIn(data, canvas.width, canvas.height);
        if (text !== null) return text;
      }
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
    return null;
  }
}
