import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { AccountActions, accountFeature } from '../account/accountStore';
import { ThemeChoice } from '../preference/themeChoice';
import { FindBox } from './findBox';
import { UndoBar } from '../undo/undoBar';

/** The rail of destinations in the order of the work, and the find box. */
@Component({
  selector: 'gr-shell',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, FindBox, UndoBar],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shell.html',
  styleUrl: './shell.css',
})
export class Shell {
  private readonly store = inject(Store);
  protected readonly theme = inject(ThemeChoice);
  protected readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly places = [
    { path: '/today', name: 'Today' },
    { path: '/bench', name: 'Bench' },
    { path: '/register', name: 'Register' },
    { path: '/plan', name: 'Plan' },
    { path: '/instruments', name: 'Instruments' },
    { path: '/people', name: 'People' },
    { path: '/log', name: 'Log' },
    { path: '/calculator', name: 'Calculator' },
  ];

  protected signOut(): void {
    this.store.dispatch(AccountActions.signOutPressed());
  }
}
