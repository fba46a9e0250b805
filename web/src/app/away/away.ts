import { HttpClient, HttpContext } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { AlongState, HandedIn, Problem, TakeAlong, TakenAlong } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { firstValueFrom } from 'rxjs';
import { AccountActions } from '../account/accountStore';
import { problemOf } from '../api/api';
import { DeviceStation, type DoneHere } from './deviceStation';
import { AwayDoor, TO_SERVER } from '../door/awayDoor';
import { Vault, type Unlocked } from './vault';

/** What became of a run that was handed in, or why it could not be. */
export interface Brought {
  readonly tag: string;
  readonly run: string;
  readonly handedIn: HandedIn | null;
  readonly problem: Problem | null;
}

const LOCK = 'grellin.away';

/** Takes along, opens, hands in, puts away: what this device holds while it is away from the server. */
@Injectable({ providedIn: 'root' })
export class Away {
  private readonly vault = inject(Vault);
  private readonly door = inject(AwayDoor);
  private readonly http = inject(HttpClient);
  private readonly store = inject(Store);
  private readonly station = signal<DeviceStation | null>(null);
  private readonly runs = signal<readonly DoneHere[]>([]);
  private release: (() => void) | null = null;

  readonly onDevice = this.door.onDevice;
  readonly isOpen = computed(() => this.station() !== null);
  readonly bundle = computed(() => this.station()?.bundle ?? null);
  readonly done = this.runs.asReadonly();

  /** Whether this page may encrypt and keep anything: only on this machine itself or over TLS. */
  readonly able = globalThis.isSecureContext && 'locks' in navigator;

  private readonly changed = (): void => {
    const station = this.station();
    if (!station) return;
    this.runs.set(station.done());
    const { id, account, until } = station.bundle;
    this.door.note({ id, account: account.id, by: account.fullName, until, unsent: this.runs().length, secret: station.secret });
  };

  /** Takes items along, under a PIN. What lay here before must have been handed in. */
  async take(what: TakeAlong, pin: string): Promise<TakenAlong['bundle']> {
    const taken = await firstValueFrom(this.http.post<TakenAlong>('/api/along', what, { context: new HttpContext().set(TO_SERVER, true) }));
    await this.vault.create(pin);
    await DeviceStation.lay(this.vault, taken);
    this.vault.shut();
    const { id, account, until } = taken.bundle;
    this.door.note({ id, account: account.id, by: account.fullName, until, unsent: 0, secret: taken.secret });
    await navigator.storage.persist();
    return taken.bundle;
  }

  /** Opens what lies here. From then on this device answers. @returns 'elsewhere' where another tab has it open */
  async open(pin: string): Promise<Unlocked | 'elsewhere'> {
    if (!(await this.enter())) return 'elsewhere';
    const unlocked = await this.vault.unlock(pin);
    const station = unlocked === 'open' ? await DeviceStation.open(this.vault, { wall: () => Date.now(), tick: () => performance.now() }, this.changed) : null;
    if (!station) {
      this.leave();
      if (unlocked !== 'wrong') this.door.note(null);
      return unlocked === 'open' ? 'nothing' : unlocked;
    }
    this.station.set(station);
    this.changed();
    this.door.open(station, () => this.closed());
    const { account, zone } = station.bundle;
    this.store.dispatch(AccountActions.known({ me: { ...account, mustChange: false, zone } }));
    return 'open';
  }

  /** Back at the server: this device answers no more. What was done on it stays until it is handed in. */
  shut(): void {
    this.door.shut();
  }

  private closed(): void {
    this.station.set(null);
    this.vault.shut();
    this.leave();
  }

  private sendPicture(sha256: string, bytes: ArrayBuffer): Promise<unknown> {
    const headers = { 'content-type': 'image/jpeg' };
    return firstValueFrom(this.http.put(`/api/pictures/${sha256}`, bytes, { headers, context: new HttpContext().set(TO_SERVER, true) }));
  }

  /** Hands in every run that is closed, one after the other. What is refused stays here. */
  async handIn(): Promise<readonly Brought[]> {
    const station = this.station();
    if (!station) return [];
    const brought: Brought[] = [];
    for (const { id, tag } of station.done().filter((r) => r.closed)) {
      try {
        for (const { sha256, bytes } of await station.picturesOf(id)) await this.sendPicture(sha256, bytes);
        const answer = this.http.post<HandedIn>(`/api/along/${station.bundle.id}/runs`, station.handInOf(id), {
          context: new HttpContext().set(TO_SERVER, true),
        });
        const handedIn = await firstValueFrom(answer);
        await station.handedIn(id);
        brought.push({ tag, run: id, handedIn, problem: null });
      } catch (error) {
        brought.push({ tag, run: id, handedIn: null, problem: problemOf(error) });
      }
    }
    this.changed();
    return brought;
  }

  /**
   * Asks the server whether this device may go on, where it can be reached. Where the account is disabled, or an officer has ended it, all of it is wiped at once,
   * open or shut.
   */
  async asked(): Promise<AlongState | null> {
    const held = this.door.onDevice();
    if (!held || held.secret === '') return null;
    try {
      const reply = this.http.post<{ state: AlongState }>(
        `/api/along/${held.id}/state`,
        { secret: held.secret },
        { context: new HttpContext().set(TO_SERVER, true) },
      );
      const { state } = await firstValueFrom(reply);
      if (state === 'disabled' || state === 'ended') await this.wipe();
      return state;
    } catch {
      return null;
    }
  }

  /** Nothing is left here. */
  async wipe(): Promise<void> {
    this.shut();
    await this.vault.wipe();
    this.door.note(null);
  }

  exported(): Promise<string> {
    return this.vault.exported();
  }

  /** Lays an exported file down on this device, shut. @throws Error when it is none */
  async laidDown(text: string): Promise<void> {
    await this.vault.laidDown(text);
    this.door.note({ id: '', account: '', by: '', until: '', unsent: 1, secret: '' });
  }

  private enter(): Promise<boolean> {
    if (this.release) return Promise.resolve(true);
    return new Promise((resolve) => {
      void navigator.locks.request(LOCK, { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        if (lock === null) return undefined;
        return new Promise<void>((release) => (this.release = release));
      });
    });
  }

  private leave(): void {
    this.release?.();
    this.release = null;
  }
}
