import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Calculator } from './calculator';

/** The calculator on its own. */
@Component({
  selector: 'gr-calculator-screen',
  imports: [Calculator],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Calculator</h1>
        <p i18n class="faint">Worked out as you type, with the formula. It judges nothing: a run does.</p>
      </header>
      <gr-calculator />
    </div>
  `,
})
export class CalculatorScreen {}
