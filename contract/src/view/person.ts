import type { AccountRole } from '../api';

export interface Me {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
}

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
  readonly authorisations: readonly {
    readonly id: string;
    readonly procedure: string;
    readonly title: string;
    readonly until: string;
    readonly stamp: string;
    readonly runsOut: boolean;
  }[];
}
