import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { NewObligation } from '@grellin/contract';
import { countings, filledRules, stamps, triggerInWords, useTriggers, type Procedure, type UseTrigger } from '@grellin/core';
import { draftFor, draftLacks, obligationOf, type OweDraft, type Span } from './oweDraft';

/** A check that an item shall owe: by which rules, how often or after what, and how its days are counted. */
@Component({
  selector: 'gr-owe-form',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (ngSubmit)="keep()" aria-label="Another check" i18n-aria-label>
      <label i18n for="owe-procedure">Check</label>
      <select id="owe-procedure" class="control" name="procedure" [ngModel]="draft().procedure" (ngModelChange)="choose($event)">
        @for (p of procedures(); track p.id) {
          <option [value]="p.id">{{ p.title }}</option>
        }
      </select>
      <label i18n for="owe-rules">Rules</label>
      <select id="owe-rules" class="control" name="ruleSet" [ngModel]="draft().ruleSet" (ngModelChange)="set({ ruleSet: $event })">
        @for (r of ruleSets(); track r.id) {
          <option [value]="r.id">{{ r.title }}</option>
        }
      </select>
      <label i18n for="owe-every">Every</label>
      <span class="line">
        <input
          id="owe-every"
          class="control short"
          name="every"
          inputmode="numeric"
          autocomplete="off"
          [ngModel]="draft().every.count"
          (ngModelChange)="span('every', { count: $event })"
        />
        <select
          class="control"
          name="everyOf"
          aria-label="Every, of what"
          i18n-aria-label
          [ngModel]="draft().every.of"
          (ngModelChange)="span('every', { of: $event })"
        >
          @for (u of spans; track u.id) {
            <option [value]="u.id">{{ u.title }}</option>
          }
        </select>
        <span i18n class="faint">nothing: only what happens to it makes it owed</span>
      </span>
      <label i18n for="owe-counting">Counted</label>
      <span class="line">
        <select id="owe-counting" class="control" name="counting" [ngModel]="draft().counting" (ngModelChange)="set({ counting: $event })">
          @for (c of countings; track c.id) {
            <option [value]="c.id">{{ c.title }}</option>
          }
        </select>
        @if (draft().counting === 'window') {
          <label i18n for="owe-early">Early by</label>
          <input
            id="owe-early"
            class="control short"
            name="early"
            inputmode="numeric"
            autocomplete="off"
            [ngModel]="draft().early.count"
            (ngModelChange)="span('early', { count: $event })"
          />
          <select
            class="control"
            name="earlyOf"
            aria-label="Early, of what"
            i18n-aria-label
            [ngModel]="draft().early.of"
            (ngModelChange)="span('early', { of: $event })"
          >
            @for (u of spans; track u.id) {
              <option [value]="u.id">{{ u.title }}</option>
            }
          </select>
        }
      </span>
      <label i18n for="owe-anchor">From</label>
      <input id="owe-anchor" class="control" type="date" name="anchor" [ngModel]="draft().anchor" (ngModelChange)="set({ anchor: $event })" />
      <label i18n for="owe-stamp">Stamped by</label>
      <select id="owe-stamp" class="control" name="stamp" [ngModel]="draft().stamp" (ngModelChange)="set({ stamp: $event })">
        @for (x of stamps; track x.id) {
          <option [value]="x.id">{{ x.title }}</option>
        }
      </select>
      <span i18n id="owe-when">And</span>
      <span class="line" role="group" aria-labelledby="owe-when">
        @for (t of triggers; track t.id) {
          <label><input type="checkbox" [name]="t.id" [ngModel]="draft().triggers.includes(t.id)" (ngModelChange)="toggle(t.id)" /> {{ t.title }}</label>
        }
      </span>
      <label i18n for="owe-filled">Filled before it is due</label>
      <select id="owe-filled" class="control" name="filled" [ngModel]="draft().filled" (ngModelChange)="set({ filled: $event })">
        <option i18n value="">does not matter: nothing is filled</option>
        @for (f of filled; track f.id) {
          <option [value]="f.id">{{ f.title }}</option>
        }
      </select>
      <span></span>
      <label
        ><input type="checkbox" name="hard" [ngModel]="draft().hard" (ngModelChange)="set({ hard: $event })" />&ngsp;
        <ng-container i18n>A law’s date: it cannot be put off</ng-container></label
      >
      <span></span>
      <span class="line">
        <button i18n class="control main" type="submit" [disabled]="lacks() !== null">Let it owe this</button>
        <button i18n class="control" type="button" (click)="left.emit()">Leave it</button>
        @if (lacks(); as l) {
          <span class="faint">{{ l }}</span>
        }
      </span>
    </form>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: 9.375rem minmax(0, 1fr);
      gap: var(--space-2) var(--space-4);
      align-items: center;
      padding: var(--space-3) 0;
      border-bottom: var(--edge) solid var(--ink);
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
    }
    .short {
      width: 8ch;
    }
    select {
      max-width: 100%;
    }
  `,
})
export class OweForm {
  readonly asset = input.required<string>();
  readonly procedures = input.required<readonly Procedure[]>();
  readonly today = input.required<string>();
  readonly kept = output<NewObligation>();
  readonly left = output();
  protected readonly countings = Object.entries(countings).map(([id, title]) => ({ id, title }));
  protected readonly stamps = Object.entries(stamps).map(([id, title]) => ({ id, title }));
  protected readonly filled = Object.entries(filledRules).map(([id, { words }]) => ({ id, title: words }));
  protected readonly spans = [
    { id: 'Y', title: 'years' },
    { id: 'M', title: 'months' },
    { id: 'W', title: 'weeks' },
    { id: 'D', title: 'days' },
  ] as const;
  protected readonly triggers = useTriggers.map((id) => ({ id, title: triggerInWords(id) }));
  protected readonly draft = linkedSignal((): OweDraft => draftFor(this.procedures()[0], this.today()));
  protected readonly ruleSets = computed(() => this.procedures().find((p) => p.id === this.draft().procedure)?.ruleSets ?? []);
  protected readonly lacks = computed(() => draftLacks(this.draft()));

  protected set(change: Partial<OweDraft>): void {
    this.draft.update((d) => ({ ...d, ...change }));
  }

  protected span(which: 'every' | 'early', change: Partial<Span>): void {
    this.draft.update((d) => ({ ...d, [which]: { ...d[which], ...change } }));
  }

  protected choose(id: string): void {
    const { ruleSet } = draftFor(
      this.procedures().find((p) => p.id === id),
      this.today(),
    );
    this.set({ procedure: id, ruleSet });
  }

  protected toggle(trigger: UseTrigger): void {
    const { triggers } = this.draft();
    this.set({ triggers: triggers.includes(trigger) ? triggers.filter((t) => t !== trigger) : [...triggers, trigger] });
  }

  protected keep(): void {
    if (this.lacks() === null) this.kept.emit(obligationOf(this.asset(), this.draft()));
  }
}
