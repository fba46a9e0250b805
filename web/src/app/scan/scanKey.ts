import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { ScanDialog } from './scanDialog';
import { scannedCode, type ScannedCode } from './scannedCode';

/** The key that opens the camera for a code; what reads it comes when it is pressed. */
@Component({
  selector: 'gr-scan-key',
  imports: [ScanDialog],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button i18n type="button" class="control" [class.within]="within()" aria-haspopup="dialog" [attr.aria-expanded]="open()" (click)="open.set(true)">
      Scan
    </button>
    @defer (when open()) {
      @if (open()) {
        <gr-scan-dialog (found)="read($event)" (left)="open.set(false)" />
      }
    }
  `,
  styles: `
    .within {
      border-color: transparent;
      background: none;
    }
  `,
})
export class ScanKey {
  /** It stands within the frame of a field. */
  readonly within = input(false);
  readonly scanned = output<ScannedCode>();
  protected readonly open = signal(false);

  protected read(text: string): void {
    this.open.set(false);
    this.scanned.emit(scannedCode(text));
  }
}
