import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { NewObligation } from '@grellin/contract';
import { countings, filledRules, stamps, triggerInWords, useTriggers, type Procedure, type UseTrigger } from '@grellin/core';
import { SelectModule } from 'primeng/select';
import { draftFor, draftLacks, obligationOf, type OweDraft, type Span } from './oweDraft';

/** A check that an item shall owe: by which rules, how often or after what, and how its days are counted. */
@Component({
  selector: 'gr-owe-form',
  imports: [FormsModule, SelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (ngSubmit)="keep()" aria-label="Another check" i18n-aria-label>
      <label i18n for="owe-procedure">Check</label>
      <p-select
        inputId="owe-procedure"
        name="procedure"
        [options]="$any(procedures())"
        optionLabel="title"
        optionValue="id"
        [ngModel]="draft().procedure"
        (ngModelChange)="choose($event)"
        appendTo="body"
      />
      <label i18n for="owe-rules">Rules</label>
      <p-select
        inputId="owe-rules"
        name="ruleSet"
        [options]="$any(ruleSets())"
        optionLabel="title"
        optionValue="id"
        [ngModel]="draft().ruleSet"
        (ngModelChange)="set({ ruleSet: $event })"
        appendTo="body"
      />
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
        <p-select
          ariaLabel="Every, of what"
          i18n-ariaLabel
          name="everyOf"
          [options]="$any(spans)"
          optionLabel="title"
          optionValue="id"
          [ngModel]="draft().every.of"
          (ngModelChange)="span('every', { of: $event })"
          appendTo="body"
        />
        <span i18n class="faint">nothing: only what happens to it makes it owed</span>
      </span>
      <label i18n for="owe-counting">Counted</label>
      <span class="line">
        <p-select
          inputId="owe-counting"
          name="counting"
          [options]="$any(countings)"
          optionLabel="title"
          optionValue="id"
          [ngModel]="draft().counting"
          (ngModelChange)="set({ counting: $event })"
          appendTo="body"
        />
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
          <p-select
            ariaLabel="Early, of what"
            i18n-ariaLabel
            name="earlyOf"
            [options]="$any(spans)"
            optionLabel="title"
            optionValue="id"
            [ngModel]="draft().early.of"
            (ngModelChange)="span('early', { of: $event })"
            appendTo="body"
          />
        }
      </span>
      <label i18n for="owe-anchor">From</label>
      <input id="owe-anchor" class="control" type="date" name="anchor" [ngModel]="draft().anchor" (ngModelChange)="set({ anchor: $event })" />
      <label i18n for="owe-stamp">Stamped by</label>
      <p-select
        inputId="owe-stamp"
        name="stamp"
        [options]="$any(stamps)"
        optionLabel="title"
        optionValue="id"
        [ngModel]="draft().stamp"
        (ngModelChange)="set({ stamp: $event })"
        appendTo="body"
      />
      <span i18n id="owe-when">And</span>
      <span class="line" role="group" aria-labelledby="owe-when">
        @for (t of triggers; track t.id) {
          <label><input type="checkbox" [name]="t.id" [ngModel]="draft().triggers.includes(t.id)" (ngModelChange)="toggle(t.id)" /> {{ t.title }}</label>
        }
      </span>
      <label i18n for="owe-filled">Filled before it is due</label>
      <p-select
        inputId="owe-filled"
        name="filled"
        [options]="$any(filled)"
        optionLabel="title"
        optionValue="id"
        [ngModel]="draft().filled || null"
        (ngModelChange)="set({ filled: $event ?? '' })"
        appendTo="body"
        [showClear]="true"
        placeholder="does not matter: nothing is filled"
        i18n-placeholder
      />
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
    p-select {
      max-width: 100%;
      min-width: 0;
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
