import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { SwUpdate } from '@angular/service-worker';
import { Store } from '@ngrx/store';
import { filter, map, NEVER } from 'rxjs';
import { DialogModule } from 'primeng/dialog';
import { AccountActions, accountFeature } from '../account/accountStore';
import { ThemeChoice } from '../preference/themeChoice';
import { AwayDoor } from '../door/awayDoor';
import { OldPage } from '../door/oldPage';
import { UndoBar } from '../undo/undoBar';
import { FindBox } from './findBox';
import { ownPlaces, workPlaces } from './places';

/** The destinations in the order of the work, and the find box: a rail at a desk and on a tablet, a bar at the thumb on a phone with the rest behind *More*. */
@Component({
  selector: 'gr-shell',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, DialogModule, FindBox, OldPage, UndoBar],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shell.html',
  styleUrl: './shell.css',
})
export class Shell {
  private readonly store = inject(Store);
  private readonly document = inject(DOCUMENT);
  private readonly door = inject(AwayDoor);
  protected readonly theme = inject(ThemeChoice);
  protected readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly work = workPlaces;
  protected readonly own = computed(() => ownPlaces.filter((p) => p.officer !== true || this.me()?.role === 'officer'));
  /** What a phone shows behind *More*. */
  protected readonly rest = computed(() => [...workPlaces.filter((p) => p.atThumb !== true), ...this.own()]);
  protected readonly more = signal(false);

  /** A newer version of the pages is kept already. It is taken when somebody says so, and never on the bench, which is not within this frame. */
  protected readonly newer = toSignal(
    inject(SwUpdate, { optional: true })?.versionUpdates.pipe(
      filter((e) => e.type === 'VERSION_READY'),
      map(() => true),
    ) ?? NEVER,
    { initialValue: false },
  );

  protected load(): void {
    this.document.location.reload();
  }

  /** This device answers in the server's place. */
  protected readonly isAway = computed(() => this.door.station() !== null);

  protected signOut(): void {
    this.store.dispatch(AccountActions.signOutPressed());
  }
}
