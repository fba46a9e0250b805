import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { type FormControl, NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { newInstrumentSchema, type NewInstrument } from '@grellin/contract';
import { byName, gaugeFigures, itemField, unitLabel, units, type GaugeFigure, type Quantity } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { DatePickerModule } from 'primeng/datepicker';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Api, problemOf } from '../api/api';
import { byContract, refusedBy, type Flaws } from '../form/byContract';
import { Field } from '../form/field';
import { typedNumber } from '../form/typedNumber';

/** What an instrument is asked for in words, and in figures of its own unit. */
const words = (['tag', 'serial', 'title', 'place'] as const).map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? null }));
const figures = (Object.keys(gaugeFigures) as GaugeFigure[]).map((id) => ({ id, title: gaugeFigures[id] }));
const figureNames = figures.map((f) => f.id);

/** The units by what they measure, pressure first: most gauges are pressure gauges. */
const unitGroups = [...new Set(['pressure', ...units.map((u) => u.dimension)])].map((dimension) => ({
  label: dimension,
  items: units.filter((u) => u.dimension === dimension).map((u) => ({ value: u.code, label: unitLabel(u.code) })),
}));

type Word = (typeof words)[number]['id'];
/** All that the form holds: figures as they are typed, in the one unit that the instrument reads in. */
type Held = Readonly<Record<Word | GaugeFigure | 'unit' | 'correlation' | 'address', string>> & {
  readonly calibratedOn: string | null;
  readonly calibrationDue: string | null;
};

/** The instrument that a form holds, as the server is asked for it. A figure that is no number is none. */
function instrumentOf(held: Held): NewInstrument {
  const figure = (id: GaugeFigure): Quantity => ({ value: typedNumber(held[id]) ?? NaN, unit: held.unit });
  return {
    ...byName<Record<Word, string>>(
      words.map((w) => w.id),
      (id) => held[id].trim(),
    ),
    ...byName<Record<GaugeFigure, Quantity>>(figureNames, figure),
    fittedTo: null,
    correlation: held.correlation.trim() === '' ? 0 : (typedNumber(held.correlation) ?? NaN),
    calibratedOn: held.calibratedOn,
    calibrationDue: held.calibrationDue,
    address: held.address.trim() || null,
    rig: null,
  };
}

/** What the form sees before the server: a figure that is none, and a range that does not rise. */
function besides(held: Held): Flaws {
  const none = figureNames.filter((id) => typedNumber(held[id]) === null).map((id) => [id, $localize`must be a number, such as 4.02`] as const);
  const falls = (typedNumber(held.high) ?? Infinity) <= (typedNumber(held.low) ?? -Infinity);
  const alike = held.correlation.trim() === '' ? 0 : typedNumber(held.correlation);
  return {
    ...(falls ? { high: $localize`must be above where the range begins` } : {}),
    ...Object.fromEntries(none),
    ...(alike === null || alike < 0 || alike > 1 ? { correlation: $localize`must be from 0 to 1` } : {}),
  };
}

/** A new instrument: who it is, what it can tell apart, and how long its calibration stands. */
@Component({
  selector: 'gr-new-instrument',
  imports: [ReactiveFormsModule, ButtonModule, DatePickerModule, InputTextModule, SelectModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './newInstrument.html',
})
export class NewInstrumentScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly words = words;
  protected readonly figures = figures;
  protected readonly label = unitLabel;
  protected readonly unitGroups = unitGroups;
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly form = this.fields.group(
    {
      ...byName<Record<Word | GaugeFigure, FormControl<string>>>([...words.map((w) => w.id), ...figureNames], () => this.fields.control('')),
      unit: 'mbar',
      correlation: '',
      calibratedOn: this.fields.control<string | null>(null),
      calibrationDue: this.fields.control<string | null>(null),
      address: '',
    },
    { validators: byContract(newInstrumentSchema, { request: instrumentOf, besides }) },
  );
  protected readonly unit = toSignal(this.form.controls.unit.valueChanges, { initialValue: 'mbar' });

  protected add(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.api.addInstrument(instrumentOf(this.form.getRawValue())).subscribe({
      next: (made) => void this.router.navigate(['/instruments', made.id]),
      error: (e: unknown) => {
        this.busy.set(false);
        const refused = problemOf(e);
        this.problem.set(refused.message);
        refusedBy(this.form, refused);
      },
    });
  }
}
