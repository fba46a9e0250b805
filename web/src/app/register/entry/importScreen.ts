import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { ImportReport } from '@grellin/contract';
import { assetClasses, isNeeded, itemFieldNames, itemFields } from '@grellin/core';
import { parse } from 'papaparse';
import { CheckboxModule } from 'primeng/checkbox';
import { Api, problemOf } from '../../api/api';
import { csv, save } from '../../api/csv';
import { Undo } from '../../undo/undo';

interface Field {
  readonly id: string;
  readonly title: string;
  readonly needed: boolean;
}

const facts: readonly Field[] = itemFieldNames.map((name) => ({ id: itemFields[name].column, title: itemFields[name].title, needed: isNeeded(name) }));
/** Every attribute once: where classes call one otherwise, as the first of them does. */
const attributes: readonly Field[] = assetClasses
  .flatMap((c) => c.attributes.filter((a) => !a.asked))
  .filter((a, i, all) => all.findIndex((other) => other.id === a.id) === i)
  .map((a) => ({ id: `attribute:${a.id}`, title: a.title, needed: false }));
const PREVIEW_ROWS = 3;
const MOST_SHOWN = 100;
const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');

/** The column that a field most likely stands in. */
export function guessColumn(field: { readonly id: string; readonly title: string }, columns: readonly string[]): string {
  const wanted = [plain(field.id), plain(field.id.replace('attribute:', '')), plain(field.title)];
  return columns.find((c) => wanted.includes(plain(c))) ?? '';
}

/** A register's CSV: columns matched, a dry run that tells every row's fate, and then all good rows or none. */
@Component({
  selector: 'gr-import',
  imports: [FormsModule, RouterLink, CheckboxModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head"><h1 i18n>Import into the register</h1></header>
      <p>
        <label i18n for="file">A CSV file (RFC 4180)</label>
        <input #file id="file" class="control" type="file" accept=".csv,text/csv" (change)="take(file.files?.[0])" />
      </p>
      @if (columns().length > 0) {
        <h2 i18n>Which column is what</h2>
        <div class="grid">
          @for (f of fields(); track f.id) {
            <label [attr.for]="f.id">{{ f.title }}{{ f.needed ? ' (needed)' : '' }}</label>
            <select [id]="f.id" class="control" [ngModel]="match()[f.id] ?? ''" (ngModelChange)="set(f.id, $event)">
              <option value="">–</option>
              @for (c of columns(); track c) {
                <option [value]="c">{{ c }}</option>
              }
            </select>
            <span class="faint">{{ sample(f.id) }}</span>
          }
        </div>
        <p>
          <button type="button" class="control" (click)="all.set(!all())">{{ all() ? 'Only what is matched' : 'Every attribute' }}</button>
        </p>
        <p class="ticked">
          <p-checkbox inputId="sure" [binary]="true" [ngModel]="sure()" (ngModelChange)="sure.set($event); report.set(null)" />
          <label i18n for="sure">Figures that nobody would expect of such an item are meant as they stand</label>
        </p>
        <p class="acts">
          <button i18n type="button" class="control main" [disabled]="lacks() !== null || busy() !== null" (click)="run(false)">
            Try it: nothing is written
          </button>
          <span class="faint">{{ lacks() }}</span>
        </p>
      }
      @if (busy(); as b) {
        <p role="status">{{ b }}</p>
        <progress aria-label="Under way" i18n-aria-label></progress>
      }
      @if (problem(); as p) {
        <p class="problem" role="alert">{{ p }}</p>
      }
      @if (report(); as r) {
        <section aria-labelledby="fate">
          <h2 id="fate">{{ r.written ? 'What was written' : 'What would be written' }}</h2>
          <p i18n role="status">
            {{ r.rows }} rows: <strong>{{ r.new }}</strong> new, <strong>{{ r.changed }}</strong> changed, {{ r.same }} as they are,
            <strong [class.problem]="r.bad > 0">{{ r.bad }} bad</strong>
          </p>
          @if (bad().length > 0) {
            <table>
              <thead>
                <tr>
                  <th i18n scope="col">Row</th>
                  <th i18n scope="col">Tag</th>
                  <th i18n scope="col">What is wrong</th>
                </tr>
              </thead>
              <tbody>
                @for (b of bad().slice(0, most); track b.row) {
                  <tr>
                    <td>{{ b.row }}</td>
                    <td class="tag">{{ b.tag }}</td>
                    <td>{{ b.words }}</td>
                  </tr>
                }
              </tbody>
            </table>
          }
          <p class="acts">
            @if (!r.written) {
              <button i18n type="button" class="control main" [disabled]="r.new + r.changed === 0 || busy() !== null" (click)="run(true)">
                Write {{ r.new + r.changed }} rows, all or none
              </button>
            } @else {
              <a i18n class="control main" routerLink="/register">To the register</a>
            }
            <button i18n type="button" class="control" (click)="download()">Every row’s fate as CSV</button>
          </p>
        </section>
      }
    </div>
  `,
  styles: `
    h2 {
      margin: var(--space-4) 0 var(--space-2);
    }
    label[for='file'] {
      display: block;
    }
    .grid {
      display: grid;
      grid-template-columns: 16.25rem 15rem 1fr;
      gap: var(--space-2) var(--space-4);
      align-items: center;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-3);
      align-items: center;
      margin: var(--space-3) 0;
    }
    .ticked {
      display: flex;
      gap: var(--space-2);
      align-items: center;
    }
    progress {
      width: 20rem;
      accent-color: var(--accent);
    }
    table {
      border-collapse: collapse;
    }
    th,
    td {
      padding: var(--space-1) var(--space-4) var(--space-1) 0;
      text-align: left;
      border-bottom: var(--line) solid var(--rule);
    }
  `,
})
export class ImportScreen {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly document = inject(DOCUMENT);
  protected readonly most = MOST_SHOWN;
  private readonly text = signal('');
  protected readonly columns = signal<readonly string[]>([]);
  private readonly rows = signal<readonly Readonly<Record<string, string>>[]>([]);
  protected readonly match = signal<Readonly<Record<string, string>>>({});
  protected readonly all = signal(false);
  protected readonly busy = signal<string | null>(null);
  protected readonly problem = signal<string | null>(null);
  /** Odd figures are meant as they stand: said of the whole file, after its rows were looked at. */
  protected readonly sure = signal(false);
  protected readonly report = signal<ImportReport | null>(null);
  protected readonly fields = computed(() => [...facts, ...attributes.filter((a) => this.all() || (this.match()[a.id] ?? '') !== '')]);
  protected readonly lacks = computed(() => {
    const missing = facts.find((f) => f.needed && (this.match()[f.id] ?? '') === '');
    return missing ? `Match a column to: ${missing.title.toLowerCase()}.` : null;
  });
  protected readonly bad = computed(() =>
    (this.report()?.fates ?? [])
      .filter((f) => f.fate === 'bad')
      .map((f) => ({ row: f.row, tag: f.tag, words: f.flaws.map((x) => `${x.column}: ${x.message}`).join('; ') })),
  );

  protected async take(file: File | undefined): Promise<void> {
    if (!file) return;
    const text = await file.text();
    const head = parse<Record<string, string>>(text, { header: true, preview: PREVIEW_ROWS, skipEmptyLines: true });
    const columns = head.meta.fields ?? [];
    this.text.set(text);
    this.columns.set(columns);
    this.rows.set(head.data);
    this.report.set(null);
    this.problem.set(columns.length < 2 ? 'This file has no columns: the first line must name them.' : null);
    this.match.set(Object.fromEntries([...facts, ...attributes].map((f) => [f.id, guessColumn(f, columns)] as const).filter(([, c]) => c !== '')));
  }

  protected set(field: string, column: string): void {
    this.match.update((m) => ({ ...m, [field]: column }));
    this.report.set(null);
  }

  protected sample(field: string): string {
    const column = this.match()[field] ?? '';
    return column === '' ? '' : this.rows().map((r) => r[column] ?? '').filter((t) => t !== '').join(', '); // prettier-ignore
  }

  protected run(write: boolean): void {
    this.busy.set(write ? 'Writing…' : 'Looking at every row…');
    this.problem.set(null);
    const columns = Object.fromEntries(Object.entries(this.match()).filter(([, c]) => c !== ''));
    this.api.importRegister({ csv: this.text(), columns, write, ...(this.sure() ? { sure: true } : {}) }).subscribe({
      next: (report) => {
        this.busy.set(null);
        this.report.set(report);
        if (report.change) this.undo.done(report.change, `${String(report.new)} items added, ${String(report.changed)} changed`, () => this.report.set(null));
      },
      error: (e: unknown) => {
        this.busy.set(null);
        this.problem.set(problemOf(e).message);
      },
    });
  }

  protected download(): void {
    const rows = (this.report()?.fates ?? []).map((f) => [f.row, f.tag, f.fate, f.flaws.map((x) => `${x.column}: ${x.message}`).join('; ')]);
    save(this.document, 'import.csv', csv(['row', 'tag', 'fate', 'flaws'], rows));
  }
}
