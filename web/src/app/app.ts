import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterOutlet } from '@angular/router';
import { ThemeChoice } from './preference/themeChoice';

@Component({
  selector: 'gr-root',
  imports: [RouterOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<router-outlet />',
})
export class App {
  // Held here so that the choice is in force before the first screen.
  protected readonly theme = inject(ThemeChoice);
}
