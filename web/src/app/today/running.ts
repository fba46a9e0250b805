import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Chime } from '../preference/chime';
import { RoundRows } from '../round/roundRows';
import { WatchRows } from '../watch/watchRows';

/** The benches: every run that is still open, running side by side. */
@Component({
  selector: 'gr-running',
  imports: [WatchRows, RoundRows],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Bench</h1>
        <p i18n class="faint">Runs that are still open</p>
        <button type="button" [attr.aria-pressed]="chime.on()" (click)="chime.toggle()">{{ chime.on() ? 'Sound is on' : 'Sound is off' }}</button>
      </header>
      <gr-watch-rows [big]="true" />
      <gr-round-rows />
    </div>
  `,
  styles: `
    button {
      font: 600 var(--type-body) var(--text);
      min-height: var(--touch);
      padding: 0 var(--space-4);
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
    }
  `,
})
export class Running {
  protected readonly chime = inject(Chime);
}
