import { eq, sql } from 'drizzle-orm';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import {
  account,
  asset,
  authorisation,
  type ChangedTable,
  deferral,
  kit,
  obligation,
  occasion,
  outsideCertificate,
  planBench,
  type Queries,
  type Transaction,
  type Values,
} from '../db';
import { accountFacts, endSessions, requireOfficer } from '../account';
import { kitFacts, writeKit } from '../register/kit';
import { planFacts, writePlan } from '../answer/plan';

/** How the rows of one table are looked at and put back. */
interface Restorable {
  /** The row as it is, locked against everybody else. */
  readonly find: (tx: Transaction, id: string) => Promise<Values | null>;
  readonly write: (tx: Transaction, id: string, values: Values) => Promise<void>;
  /** The column that puts a row away: what was made is not erased. */
  readonly away: 'archivedAt' | 'withdrawnAt' | 'disabledAt';
  /** The assets whose standing these rows decide. */
  readonly assets: (tx: Queries, ids: readonly string[]) => Promise<readonly string[]>;
}

type Keyed = PgTable & { readonly id: AnyPgColumn };

interface More {
  readonly away?: Restorable['away'];
  /** The column that names the asset. */
  readonly asset?: AnyPgColumn;
  /** Written besides, whatever is put back. */
  readonly also?: Values;
}

function rowsOf(table: Keyed, { away = 'archivedAt', asset: of, also = {} }: More = {}): Restorable {
  return {
    away,
    find: async (tx, id) => {
      const [held] = await tx.select().from(table).where(eq(table.id, id)).for('no key update');
      return held ?? null;
    },
    write: async (tx, id, values) => {
      await tx
        .update(table)
        .set({ ...values, ...also })
        .where(eq(table.id, id));
    },
    assets: async (tx, ids) => {
      if (!of) return [];
      // One parameter, however many: a change may touch a whole import.
      const found = await tx
        .select({ asset: of })
        .from(table)
        .where(sql`${table.id} = ANY(${sql.param(ids)}::uuid[])`);
      return found.map((f) => String(f.asset));
    },
  };
}

const wholeKit: Restorable['find'] = async (tx, id) => {
  const facts = await kitFacts(tx, id);
  return facts && { ...facts };
};

/** Everything that a change may touch. A new table that can be undone is a row here. */
export const restorable: Readonly<Record<ChangedTable, Restorable>> = {
  // Never its password; and somebody is left who can let others in. Whoever is put away with it is signed out.
  account: {
    away: 'disabledAt',
    find: async (tx, id) => {
      await tx.select({ id: account.id }).from(account).where(eq(account.id, id)).for('update');
      return accountFacts(tx, id);
    },
    write: async (tx, id, values) => {
      await tx.update(account).set(values).where(eq(account.id, id));
      await requireOfficer(tx);
      if (values['disabledAt']) await endSessions(tx, id);
    },
    assets: () => Promise.resolve([]),
  },
  asset: rowsOf(asset, { asset: asset.id, also: { revision: sql`revision + 1` } }),
  obligation: rowsOf(obligation, { asset: obligation.asset }),
  occasion: rowsOf(occasion, { asset: occasion.asset }),
  deferral: rowsOf(deferral),
  outside: rowsOf(outsideCertificate),
  authorisation: rowsOf(authorisation, { away: 'withdrawnAt' }),
  bench: rowsOf(planBench),
  // A plan is kept whole, and taken back whole.
  plan: {
    away: 'archivedAt',
    find: async (tx) => ({ ...(await planFacts(tx)) }),
    write: (tx, _id, values) => writePlan(tx, values),
    assets: () => Promise.resolve([]),
  },
  // A kit is its own row and what it needs and holds.
  kit: { ...rowsOf(kit), find: wholeKit, write: writeKit },
};
