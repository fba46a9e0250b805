import { computed, linkedSignal, type Signal } from '@angular/core';
import type { AssetRow } from '@grellin/contract';
import { assetClass, type Quantity, type RuleSet } from '@grellin/core';
import { typedNumber } from '../../form/typedNumber';
import { askedAttribute } from '../entry/itemForm';

/** A figure of the day, as the form asks for it. */
interface AskedFigure {
  readonly id: string;
  readonly title: string;
  /** It is noted for the record, and may be left unsaid. */
  readonly optional: boolean;
  /** A span of time is asked for as the moment that it began. */
  readonly since: boolean;
  readonly unit: string;
  readonly units: readonly string[];
}

/** What a rule set asks of an item on the day: what was typed, and the figures that it comes to. */
export class DayFigures {
  constructor(private readonly given: { readonly asset: Signal<AssetRow>; readonly role: Signal<string>; readonly ruleSet: Signal<RuleSet | undefined> }) {}

  /** Figures of the day that this class asks for, where the rule set needs them. */
  readonly asked = computed((): readonly AskedFigure[] =>
    (assetClass(this.given.asset().class)?.attributes ?? [])
      .filter((a) => a.asked && (a.noted ?? JSON.stringify(this.given.ruleSet() ?? '').includes(`"${this.given.role()}.${a.id}"`)))
      .map((a) => {
        const dimension = a.type.kind === 'quantity' ? a.type.dimension : 'number';
        const units = a.type.kind === 'quantity' ? a.type.usual : askedAttribute(a).units;
        return { id: a.id, title: a.title, optional: a.noted === true, since: dimension === 'time', unit: units[0] ?? '1', units };
      }),
  );

  /** What was typed: a number or a moment, by attribute. */
  readonly typed = linkedSignal<Readonly<Record<string, string>>>(() => Object.fromEntries(this.asked().map((a) => [a.id, ''])));
  readonly unit = linkedSignal<Readonly<Record<string, string>>>(() => Object.fromEntries(this.asked().map((a) => [a.id, a.unit])));

  readonly figures = computed((): Readonly<Record<string, Quantity>> => {
    const now = Date.now();
    return Object.fromEntries(
      this.asked().flatMap((a): (readonly [string, Quantity])[] => {
        const text = this.typed()[a.id] ?? '';
        if (text === '') return [];
        const value = a.since ? (now - Date.parse(text)) / 3_600_000 : (typedNumber(text) ?? NaN);
        return Number.isFinite(value) && value >= 0
          ? [[a.id, { value: Number(value.toPrecision(6)), unit: a.since ? 'h' : (this.unit()[a.id] ?? a.unit) }]]
          : [];
      }),
    );
  });

  say(id: string, text: string): void {
    this.typed.update((t) => ({ ...t, [id]: text }));
  }

  sayUnit(id: string, unit: string): void {
    this.unit.update((t) => ({ ...t, [id]: unit }));
  }
}
