import { readdirSync, readFileSync } from 'node:fs';
import { foldAll, planOfRun, procedureById, type Opened, type Plan, type RunEvent, type RunState } from '../../src';

/** A published run file, opened and read. */
export interface Sample {
  readonly name: string;
  readonly plan: Plan;
  readonly events: readonly RunEvent[];
  readonly state: RunState;
}

interface RunFile extends Omit<Opened, 'kind' | 'procedure'> {
  readonly procedure: { readonly id: string };
  readonly events: readonly RunEvent[];
}

const folder = new URL('../../../docs/samples/', import.meta.url);

/** The run files of docs/samples, in order of their names. */
export const sampleNames = readdirSync(folder)
  .filter((name) => name.endsWith('.json'))
  .sort();

/** One of them. */
export function sample(name: string): Sample {
  const { procedure, events, ...rest } = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as RunFile;
  const document = procedureById(procedure.id);
  if (!document) throw new Error(`there is no procedure ${procedure.id}`);
  const opened: Omit<Opened, 'kind'> = { ...rest, procedure: '0'.repeat(64) };
  const planned = planOfRun(document, opened);
  if (!planned.ok) throw new Error(`${name}: ${planned.refusal.code}`);
  const head: RunEvent = { kind: 'opened', id: 'e0', source: 'server', n: 1, at: 0, ...opened };
  const whole = events[0]?.kind === 'opened' ? events : [head, ...events];
  return { name, plan: planned.plan, events: whole, state: foldAll(whole) };
}
