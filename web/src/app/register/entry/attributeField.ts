import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Field } from '../../form/field';
import { QuantityField } from '../../form/quantityField';
import { KeptTables } from '../../table/keptTables';
import type { AskedAttribute, HeldAttribute } from './itemForm';

/** One attribute of an item, asked for by its kind: a figure with the units of its trade, an answer of those that there are, yes or no, or words. */
@Component({
  selector: 'gr-attribute',
  imports: [ReactiveFormsModule, InputTextModule, SelectModule, Field, QuantityField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <gr-field [label]="row().title" [for]="id()">
      @switch (row().type.kind) {
        @case ('quantity') {
          <gr-quantity [inputId]="id()" [formControl]="$any(control())" [name]="row().title" [units]="row().units" />
        }
        @case ('words') {
          @if (row().table) {
            <p-select
              [inputId]="id()"
              [formControl]="$any(control())"
              [options]="names()"
              placeholder="not known"
              i18n-placeholder
              [showClear]="true"
              [ariaLabel]="row().title"
              emptyMessage="No table is kept: an officer publishes it under Tables"
              i18n-emptyMessage
            />
          } @else {
            <input pInputText [id]="id()" [formControl]="$any(control())" autocomplete="off" />
          }
        }
        @default {
          <p-select
            [inputId]="id()"
            [formControl]="control()"
            [options]="$any(answers())"
            optionLabel="title"
            optionValue="value"
            placeholder="not known"
            i18n-placeholder
            [ariaLabel]="row().title"
          />
        }
      }
    </gr-field>
  `,
})
export class AttributeField {
  readonly row = input.required<AskedAttribute>();
  readonly control = input.required<FormControl<HeldAttribute>>();
  /** Told apart from the same attribute of another thing beside it. */
  readonly within = input('');
  protected readonly id = computed(() => `a-${this.within()}${this.row().id}`);
  private readonly kept = inject(KeptTables);
  /** Kept tables of its kind; one that was named before stays. */
  protected readonly names = computed(() => {
    const held = this.control().value;
    const names = this.kept.names(this.row().table ?? '');
    return typeof held === 'string' && held !== '' && !names.includes(held) ? [...names, held] : [...names];
  });

  constructor() {
    effect(() => {
      if (this.row().table !== undefined) untracked(() => this.kept.fetch());
    });
  }

  /** What may be answered; an answer of earlier that is none of them stays as it was written. */
  protected readonly answers = computed(() => {
    const held = this.control().value;
    const { answers } = this.row();
    const stray = typeof held === 'string' && held !== '' && !answers.some((a) => a.value === held);
    return stray ? [...answers, { value: held, title: held }] : answers;
  });
}
