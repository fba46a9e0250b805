import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { scales, unitLabel, unitsOf, type Scale } from '@grellin/core';
import { Store } from '@ngrx/store';
import { SelectModule } from 'primeng/select';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Undo } from '../undo/undo';
import { ThemeChoice } from '../preference/themeChoice';
import { Chime } from '../preference/chime';
import { Voice } from '../preference/voice';
import { StationSettings } from './stationSettings';
import { UnitChoice } from '../preference/unitChoice';

const titles: Readonly<Record<Scale, { readonly title: string; readonly of: string }>> = {
  'low pressure': { title: 'Low pressure', of: 'suits, face-pieces, tanks, stores' },
  'high pressure': { title: 'High pressure', of: 'cylinders, brakes, valves' },
  flow: { title: 'Flow', of: 'make-up gas, leaks' },
  volume: { title: 'Volume', of: 'shells, ullage, expansion' },
  temperature: { title: 'Temperature', of: 'gas, water, air' },
};

/** What one person likes at one machine: units, light, sound. */
@Component({
  selector: 'gr-settings-screen',
  imports: [FormsModule, SelectModule, StationSettings],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head"><h1 i18n>Settings of this machine</h1></header>
      <section aria-labelledby="units">
        <h2 i18n id="units">Units to read in</h2>
        <p i18n>A limit is judged, and always shown, in the unit of its source. What is chosen here is shown beside it, and in the largest figures.</p>
        <div class="grid">
          @for (row of rows; track row.scale) {
            <label [attr.for]="row.id"
              >{{ row.title }} <span>{{ row.of }}</span></label
            >
            <p-select
              [inputId]="row.id"
              [options]="row.units"
              optionLabel="label"
              optionValue="unit"
              [placeholder]="asMeasured"
              [showClear]="true"
              [ariaLabel]="row.title"
              [ngModel]="units.choices()[row.scale] ?? null"
              (ngModelChange)="units.choose(row.scale, $event ?? null)"
            />
          }
        </div>
      </section>
      <section aria-labelledby="calendar">
        <h2 i18n id="calendar">Your calendar</h2>
        <p i18n>A secret link (iCalendar) that any calendar program can read: due dates, and what is planned. A new link closes the one before.</p>
        <button i18n type="button" (click)="newLink()">Make a new link</button>
        @if (link(); as l) {
          <p><input class="link" readonly aria-label="The link of your calendar" i18n-aria-label [value]="l" /></p>
        }
      </section>
      @if (officer()) {
        <section aria-labelledby="station"><gr-station-settings /></section>
      }
      <section aria-labelledby="light">
        <h2 i18n id="light">Light and sound</h2>
        <div class="row">
          <button i18n type="button" [attr.aria-pressed]="!theme.dark()" (click)="theme.dark.set(false)">Bright yard</button>
          <button i18n type="button" [attr.aria-pressed]="theme.dark()" (click)="theme.dark.set(true)">Dark bay</button>
          <button type="button" [attr.aria-pressed]="chime.on()" (click)="chime.toggle()">{{ chime.on() ? 'Sound on' : 'Sound off' }}</button>
          <button i18n type="button" [disabled]="!chime.on()" (click)="chime.sound()">Try the sound</button>
        </div>
      </section>
      <section aria-labelledby="hands">
        <h2 i18n id="hands">Both hands at the item</h2>
        <p i18n>
          A voice says what comes next, and the clock at two minutes, one minute, thirty and ten seconds. The screen stays lit while a clock runs, where the
          device lets it.
        </p>
        @if (voice.can) {
          <div class="row">
            <button type="button" [attr.aria-pressed]="voice.on()" (click)="voice.toggle()">{{ voice.on() ? voiceOn : voiceOff }}</button>
          </div>
        } @else {
          <p i18n>This browser has no voice: there are tones.</p>
        }
      </section>
    </div>
  `,
  styles: `
    .screen {
      max-width: 52rem;
    }
    section {
      margin-block: var(--space-6);
    }
    .grid {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 14rem);
      gap: var(--space-2) var(--space-6);
      align-items: center;
    }
    label span {
      display: block;
      font-size: var(--type-label);
      color: var(--faint);
    }
    button {
      min-height: 3rem;
      padding: 0 var(--space-3);
      border: var(--line) solid var(--rule);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      font: inherit;
    }
    .link {
      width: 100%;
      min-height: var(--touch);
      margin-top: var(--space-2);
      padding: 0 var(--space-3);
      font: 400 var(--type-small) var(--text);
      border: var(--line) solid var(--rule);
      background: var(--panel);
      color: var(--ink);
    }
    .row {
      display: flex;
      gap: var(--space-2);
    }
    button[aria-pressed='true'] {
      border-color: var(--accent);
      box-shadow: inset 0 calc(-1 * var(--strong-edge)) var(--accent);
    }
  `,
})
export class SettingsScreen {
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly units = inject(UnitChoice);
  protected readonly theme = inject(ThemeChoice);
  protected readonly chime = inject(Chime);
  protected readonly voice = inject(Voice);
  protected readonly voiceOn = $localize`Voice on`;
  protected readonly voiceOff = $localize`Voice off`;
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly document = inject(DOCUMENT);
  protected readonly link = signal<string | null>(null);
  protected readonly asMeasured = $localize`as it is measured`;
  protected readonly rows = scales.map((scale) => ({
    scale,
    id: scale.replace(' ', '-'),
    ...titles[scale],
    units: unitsOf(scale).map((unit) => ({ unit, label: unitLabel(unit) })),
  }));

  protected newLink(): void {
    this.api.newCalendar().subscribe({
      next: ({ path }) => this.link.set(`${this.document.location.origin}${path}`),
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
