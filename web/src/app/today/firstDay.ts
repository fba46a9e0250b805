import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AssetRow, StationFacts } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { forkJoin, map } from 'rxjs';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Seal } from '../mark/seal';

/** What there is of a station so far. */
interface SoFar {
  readonly station: StationFacts;
  readonly people: number;
  readonly gauges: number;
  readonly item: Pick<AssetRow, 'id' | 'tag'> | null;
  readonly sealed: number;
}

interface Step {
  readonly title: string;
  readonly why: string;
  readonly done: boolean;
  readonly ways: readonly { readonly words: string; readonly path: readonly string[]; readonly fragment?: string }[];
}

/** The way from an empty station to its first sealed check: what is done is ticked by what there is, and the first thing left is offered. */
@Component({
  selector: 'gr-first-day',
  imports: [RouterLink, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (steps(); as all) {
      <section aria-labelledby="first-day">
        <h2 i18n id="first-day">Your first day</h2>
        <ol>
          @for (s of all; track s.title) {
            <li [class.next]="s === next()" [attr.aria-current]="s === next() ? 'step' : null">
              <gr-seal [kind]="s.done ? 'pass' : 'none'" />
              <span class="what">
                {{ s.title }}
                @if (s.done) {
                  <span i18n class="spoken">done</span>
                }
                <span class="faint">{{ s.why }}</span>
              </span>
              <span class="ways">
                @for (w of s.ways; track w.words) {
                  <a class="control" [class.main]="s === next() && $first" [routerLink]="w.path" [fragment]="w.fragment">{{ w.words }}</a>
                }
              </span>
            </li>
          }
        </ol>
      </section>
    }
  `,
  styles: `
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      max-width: 60rem;
    }
    li {
      display: grid;
      grid-template-columns: var(--space-6) minmax(0, 1fr) auto;
      gap: var(--space-2) var(--space-4);
      align-items: center;
      padding: var(--space-3) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    .faint {
      display: block;
      font-size: var(--type-label);
    }
    .next {
      font-weight: 600;
    }
    .next .faint {
      font-weight: 400;
    }
    .ways {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    .spoken {
      position: absolute;
      width: 1em;
      height: 1em;
      overflow: hidden;
      clip-path: inset(50%);
    }
    @media (width < 48rem) {
      li {
        grid-template-columns: var(--space-6) minmax(0, 1fr);
      }
      .ways {
        grid-column: 2;
      }
    }
  `,
})
export class FirstDay {
  private readonly api = inject(Api);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  private readonly soFar = new Loader<SoFar>();

  protected readonly steps = computed((): readonly Step[] | null => {
    const s = this.soFar.value();
    // A station that has sealed a check knows its way.
    if (!s || s.sealed > 0) return null;
    const officer = this.me()?.role === 'officer';
    const start = s.item === null ? [] : [{ words: $localize`Check ${s.item.tag}:tag:`, path: ['/register', s.item.id], fragment: 'start' }];
    const mine = (ways: Step['ways']): Step['ways'] => (officer ? ways : []);
    return [
      {
        title: $localize`Name the station, and say where its clocks are`,
        why: $localize`Due days and certificates go by its time zone, now ${s.station.zone}:zone:.`,
        done: s.station.name.trim() !== '',
        ways: mine([{ words: $localize`Settings`, path: ['/settings'] }]),
      },
      {
        title: $localize`Add the people who test, and what each may test`,
        why: $localize`Every record carries who sealed it. One person alone can do without.`,
        done: s.people > 1,
        ways: mine([{ words: $localize`People`, path: ['/people'] }]),
      },
      {
        title: $localize`Add the gauges, with their calibration`,
        why: $localize`A gauge whose calibration has run out decides nothing.`,
        done: s.gauges > 0,
        ways: mine([{ words: $localize`New instrument`, path: ['/instruments/new'] }]),
      },
      {
        title: $localize`Add an item, or take your register in from a file`,
        why: $localize`With what it owes: the usual checks of its class at one press.`,
        done: s.item !== null,
        ways: mine([
          { words: $localize`New item`, path: ['/register/new'] },
          { words: $localize`Import`, path: ['/register/import'] },
        ]),
      },
      {
        title: $localize`Carry out a first check, and seal it`,
        why: $localize`The bench asks one thing at a time; the clock is its own.`,
        done: false,
        ways: start,
      },
    ];
  });
  protected readonly next = computed(() => this.steps()?.find((s) => !s.done && s.ways.length > 0) ?? null);

  constructor() {
    this.soFar.load(
      forkJoin({
        station: this.api.station(),
        people: this.api.people(),
        gauges: this.api.instruments(),
        items: this.api.assets({ limit: '1' }),
        records: this.api.records({ limit: '1' }),
      }).pipe(
        map(({ station, people, gauges, items, records }) => ({
          station,
          people: people.length,
          gauges: gauges.length,
          item: items.rows[0] ?? null,
          sealed: records.rows.length,
        })),
      ),
    );
  }
}
