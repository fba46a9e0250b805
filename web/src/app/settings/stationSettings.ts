import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { stationSchema } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { AccountActions, accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';

/** The station's name and time zone. For officers: days and due dates of everybody are by it. */
@Component({
  selector: 'gr-station-settings',
  imports: [ReactiveFormsModule, ButtonModule, InputTextModule, SelectModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 i18n id="station">The station</h2>
    <form [formGroup]="form" (ngSubmit)="keep()">
      <gr-field label="Name" i18n-label for="station-name">
        <input pInputText id="station-name" formControlName="name" autocomplete="organization" />
      </gr-field>
      <gr-field label="Time zone" i18n-label for="station-zone" hint="Days, due dates and documents are by it, wherever the server stands." i18n-hint>
        <p-select
          inputId="station-zone"
          formControlName="zone"
          [options]="zones"
          [filter]="true"
          [virtualScroll]="true"
          [virtualScrollItemSize]="40"
          ariaLabel="Time zone"
          i18n-ariaLabel
        />
      </gr-field>
      <button i18n pButton type="submit">Keep</button>
    </form>
  `,
  styles: `
    form {
      max-width: 26.25rem;
    }
    input,
    p-select,
    button {
      min-height: 3rem;
    }
    p-select {
      align-items: center;
    }
  `,
})
export class StationSettings {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly store = inject(Store);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((z) => z !== 'UTC')];
  protected readonly form = inject(NonNullableFormBuilder).group({ name: [''], zone: ['UTC'] }, { validators: byContract(stationSchema) });

  constructor() {
    this.api.station().subscribe({ next: (facts) => this.form.reset(facts), error: (e: unknown) => this.undo.refused(e) });
  }

  protected keep(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    this.api.changeStation(this.form.getRawValue()).subscribe({
      next: ({ zone }) => {
        const me = this.me();
        if (me) this.store.dispatch(AccountActions.known({ me: { ...me, zone } }));
        this.undo.done(null, 'Kept', () => undefined);
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
