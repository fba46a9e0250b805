import type { RoundView, RunView } from '@grellin/contract';
import { HeldSpeaker, type HeldClock } from './speaker';
import type { Person, Station } from './station';

/** What a test of rounds works with; asked for each time, because it is there only once the tests have begun. */
interface Given {
  readonly s: () => Station;
  readonly clock: HeldClock;
  readonly officer: () => Person;
  readonly tester: () => Person;
}

export type OpenedInRound = RunView & { readonly code?: string; readonly values?: Record<string, string> };

/** Suits, rounds of them, and runs carried through in a round. */
export function rounds({ s, clock, officer, tester }: Given) {
  let made = 0;
  return {
    /** A gas-tight suit of its own. */
    suit: async (more: object = {}): Promise<string> => {
      made += 1;
      const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' }, buildStandard: 'ASTM F1052' };
      const item = {
        tag: `GS-8${String(made)}`,
        serial: `SG 8-${String(made)}`,
        class: 'gas-tight-suit',
        title: 'Suit',
        place: 'Store',
        practice: true,
        attributes,
        ...more,
      };
      const { status, body } = await officer().ask('POST', '/api/assets', item);
      if (status !== 201) throw new Error(JSON.stringify(body));
      return item.tag;
    },
    round: async (more: object = {}): Promise<string> => {
      const given = { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', instruments: { suit: s().ids.manual }, ...more };
      const { status, body } = await tester().ask<{ id: string; code?: string }>('POST', '/api/rounds', given);
      if (status !== 201) throw new Error(JSON.stringify(body));
      return body.id;
    },
    next: (id: string, code: string, more: object = {}, who = tester()) => who.ask<OpenedInRound>('POST', `/api/rounds/${id}/runs`, { code, ...more }),
    /** Carries a run to its end at so many inH2O. @returns the number of its record */
    through: async (run: RunView, end: number, kit: { proves: boolean; left: number }, who = tester()): Promise<string> => {
      await new HeldSpeaker(run, who, clock, run.lease, kit).through(end);
      clock.ms += 60_000;
      return (await who.ask<RunView>('GET', `/api/runs/${run.id}`)).body.record ?? '';
    },
    sheet: async (id: string): Promise<RoundView> => (await tester().ask<RoundView>('GET', `/api/rounds/${id}`)).body,
  };
}
