import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { Store } from '@ngrx/store';
import { DialogModule } from 'primeng/dialog';
import { AccountActions, accountFeature } from '../account/accountStore';
import { ThemeChoice } from '../preference/themeChoice';
import { UndoBar } from '../undo/undoBar';
import { FindBox } from './findBox';
import { ownPlaces, workPlaces } from './places';

/** The destinations in the order of the work, and the find box: a rail at a desk and on a tablet, a bar at the thumb on a phone with the rest behind *More*. */
@Component({
  selector: 'gr-shell',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, DialogModule, FindBox, UndoBar],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shell.html',
  styleUrl: './shell.css',
})
export class Shell {
  private readonly store = inject(Store);
  protected readonly theme = inject(ThemeChoice);
  protected readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly work = workPlaces;
  protected readonly own = computed(() => ownPlaces.filter((p) => p.officer !== true || this.me()?.role === 'officer'));
  /** What a phone shows behind *More*. */
  protected readonly rest = computed(() => [...workPlaces.filter((p) => p.atThumb !== true), ...this.own()]);
  protected readonly more = signal(false);

  protected signOut(): void {
    this.store.dispatch(AccountActions.signOutPressed());
  }
}
