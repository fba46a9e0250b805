import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import {
  FormArray,
  NonNullableFormBuilder,
  ReactiveFormsModule,
  type AbstractControl,
  type FormControl,
  type FormRecord,
  type ValidationErrors,
} from '@angular/forms';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { figureTableSchema, parse, type Problem } from '@grellin/contract';
import { tableKind, tableKinds, type FigureTable, type Quantity, type TableKind } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { DatePickerModule } from 'primeng/datepicker';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Api, problemOf } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { isNumber, quantityOf, QuantityField, type TypedQuantity } from '../form/quantityField';
import { KeptTables } from './keptTables';
import { StationDay } from '../account/stationDay';

type Line = FormRecord<FormControl<TypedQuantity>>;

/** What the form holds. */
interface Held {
  readonly id: string;
  readonly edition: string;
  readonly title: string;
  readonly source: { readonly title: string; readonly clause: string };
  readonly from: string | null;
  readonly until: string | null;
  readonly lines: readonly Readonly<Record<string, TypedQuantity>>[];
}

const isSaid = (control: AbstractControl<TypedQuantity>): ValidationErrors | null =>
  control.value.text.trim() === '' ? { words: $localize`must be said` } : null;

/** A new edition of a table: typed line by line, or read from a file, and looked at before it is published. */
@Component({
  selector: 'gr-new-table',
  imports: [ReactiveFormsModule, ButtonModule, DatePickerModule, InputTextModule, SelectModule, Field, QuantityField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './newTable.html',
  styleUrl: './newTable.css',
})
export class NewTableScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly kept = inject(KeptTables);
  private readonly build = inject(NonNullableFormBuilder);
  protected readonly kinds = [...tableKinds];
  protected readonly kind = signal<TableKind>(tableKinds[0] as TableKind);
  protected readonly chosen = this.build.control(this.kind());
  protected readonly problem = signal<Problem | null>(null);
  /** The server asked whether a figure is meant as it stands. */
  protected readonly odd = signal(false);
  protected readonly publishIt = $localize`Publish it`;
  protected readonly publishAll = $localize`It is meant so: publish it`;
  protected readonly flaws = signal<readonly string[]>([]);
  protected readonly form = this.build.group(
    {
      id: '',
      edition: '',
      title: '',
      source: this.build.group({ title: '', clause: '' }),
      from: this.build.control<string | null>(inject(StationDay).today()),
      until: this.build.control<string | null>(null),
      lines: new FormArray<Line>([]),
    },
    { validators: byContract<FigureTable, Held>(figureTableSchema, { request: (held) => this.table(held) }) },
  );

  constructor() {
    const from = inject(ActivatedRoute).snapshot.queryParamMap.get('from');
    const before = this.kept.rows().find((r) => r.digest === from)?.table;
    // The next one holds from today, unless somebody says otherwise.
    if (before) this.fill({ ...before, edition: '', from: this.form.getRawValue().from ?? '', until: undefined });
    else this.add();
    this.kept.fetch();
    this.chosen.valueChanges.pipe(takeUntilDestroyed()).subscribe((kind) => this.choose(kind));
  }

  protected columns(): readonly { readonly id: string; readonly title: string; readonly units: readonly string[] }[] {
    return [this.kind().by, ...this.kind().gives].map(({ id, title, type }) => ({ id, title, units: type.kind === 'quantity' ? type.usual : [] }));
  }

  private line(of?: FigureTable['lines'][number]): Line {
    const { by } = this.kind();
    return this.build.record(
      Object.fromEntries(
        this.columns().map(({ id, units }) => {
          const q = id === by.id ? of?.upTo : of?.gives[id];
          return [id, this.build.control({ text: q ? String(q.value) : '', unit: q?.unit ?? units[0] ?? '1' }, [isNumber, isSaid])];
        }),
      ),
    );
  }

  protected add(): void {
    this.form.controls.lines.push(this.line());
  }

  protected drop(k: number): void {
    this.form.controls.lines.removeAt(k);
  }

  private choose(kind: TableKind): void {
    this.kind.set(kind);
    this.form.controls.lines.clear();
    this.add();
  }

  private fill(table: FigureTable): void {
    const kind = tableKind(table.kind);
    if (kind) {
      this.kind.set(kind);
      this.chosen.setValue(kind, { emitEvent: false });
    }
    const { id, edition, title, source, from, until } = table;
    this.form.patchValue({ id, edition, title, source: { title: source.title, clause: source.clause ?? '' }, from, until: until ?? null });
    this.fillLines(table.lines);
  }

  private fillLines(lines: FigureTable['lines']): void {
    this.form.controls.lines.clear();
    for (const l of lines) this.form.controls.lines.push(this.line(l));
  }

  /** A file: JSON as it was given out, or CSV with a column for each figure. What it says is put into the fields, to be looked at. */
  protected async read(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    const text = await file.text();
    this.problem.set(null);
    this.flaws.set([]);
    if (file.name.toLowerCase().endsWith('.json')) {
      try {
        this.fill(parse<FigureTable>(figureTableSchema, JSON.parse(text)));
      } catch (error) {
        this.flaws.set([error instanceof Error ? error.message : $localize`This file is no table.`]);
      }
      return;
    }
    this.api.readTable(this.kind().id, text).subscribe({
      next: (found) => {
        this.flaws.set(found.flaws.map((f) => f.message));
        if (found.lines.length > 0) this.fillLines(found.lines);
      },
      error: (e: unknown) => this.problem.set(problemOf(e)),
    });
  }

  /** The table as the form holds it. */
  private table(v: Held): FigureTable {
    const { by, gives, id: kind } = this.kind();
    const lines = v.lines.map((l) => {
      const of = (id: string): Quantity => quantityOf(l[id] ?? { text: '', unit: '1' }) ?? { value: 0, unit: '1' };
      return { upTo: of(by.id), gives: Object.fromEntries(gives.map((g) => [g.id, of(g.id)])) };
    });
    const clause = v.source.clause.trim();
    return {
      kind,
      id: v.id.trim(),
      edition: v.edition.trim(),
      title: v.title.trim(),
      source: { title: v.source.title.trim(), ...(clause === '' ? {} : { clause }) },
      from: v.from ?? '',
      ...(v.until === null || v.until === '' ? {} : { until: v.until }),
      lines,
    };
  }

  protected publish(sure: boolean): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const table = this.table(this.form.getRawValue());
    this.api.publishTable({ table, ...(sure ? { sure } : {}) }).subscribe({
      next: () => {
        this.kept.fetch();
        void this.router.navigate(['/tables']);
      },
      error: (e: unknown) => {
        const problem = problemOf(e);
        this.problem.set(problem);
        this.odd.set(problem.code === 'table.odd');
      },
    });
  }
}
