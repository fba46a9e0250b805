import type { AccountRole } from '../account';

export interface Me {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
  /** Signed in with a one-time password, which has to be changed first. */
  readonly mustChange: boolean;
}

/** What a browser is told of whoever is signed in. */
export interface SignedIn extends Me {
  /** The station's time zone: what day it is, is by it. */
  readonly zone: string;
}

/** Where somebody is signed in. */
export interface SessionRow {
  readonly id: string;
  readonly createdAt: string;
  readonly seenAt: string;
  readonly address: string;
  /** What the browser says of itself. */
  readonly agent: string;
  readonly current: boolean;
}

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
  readonly disabled: boolean;
  readonly authorisations: readonly {
    readonly id: string;
    readonly procedure: string;
    readonly title: string;
    readonly until: string;
    readonly stamp: string;
    readonly runsOut: boolean;
  }[];
}
