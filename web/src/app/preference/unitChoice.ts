import { effect, Injectable, signal } from '@angular/core';
import { scales, unitRow, type Scale, type UnitChoices } from '@grellin/core';

const KEY = 'grellin.units';

/** What was kept, so far as it still makes sense: whoever else wrote there, nothing that is no unit comes in. */
export function keptUnits(text: string | null): UnitChoices {
  try {
    const kept: unknown = JSON.parse(text ?? '{}');
    if (typeof kept !== 'object' || kept === null) return {};
    return Object.fromEntries(
      Object.entries(kept).filter(([scale, unit]) => scales.some((s) => s === scale) && typeof unit === 'string' && unitRow(unit) !== undefined),
    );
  } catch {
    return {};
  }
}

/** The units that the person at this machine reads in. What is judged stays in the unit of its source. */
@Injectable({ providedIn: 'root' })
export class UnitChoice {
  readonly choices = signal<UnitChoices>(keptUnits(localStorage.getItem(KEY)));

  constructor() {
    effect(() => localStorage.setItem(KEY, JSON.stringify(this.choices())));
  }

  /** @param unit null to read as it was measured */
  choose(scale: Scale, unit: string | null): void {
    this.choices.update((c) => {
      const rest = Object.fromEntries(Object.entries(c).filter(([s]) => s !== scale));
      return unit === null ? rest : { ...rest, [scale]: unit };
    });
  }
}
