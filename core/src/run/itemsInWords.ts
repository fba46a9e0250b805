import { attributeInWords, attributesOf, mainRole, type Procedure, type Role, type ToldList } from '../procedure';
import type { AssetCopy, Opened } from './event';

/** Beyond every date: what has no end. */
const NO_END = '9999-12-31';

/**
 * What was tested, as it was told when the run was opened: each item with its figures, the mileage of that day, what is coupled to it and what it carries.
 * @example itemsInWords(procedureById('suit.inflation'), { suit: { id: 'GS-01', attributes: { exhaustValves: { value: 2, unit: '1' } } } }).things[0] // { name: 'GS-01', words: 'Exhaust valves 2' }
 */
export function itemsInWords(procedure: Procedure, items: Readonly<Record<Role, AssetCopy>>): ToldList {
  const main = mainRole(procedure);
  const inOrder = Object.entries(items).sort(([a], [b]) => Number(b === main) - Number(a === main) || (a < b ? -1 : 1));
  const things = inOrder.map(([role, item]) => {
    const known = (procedure.roles[role]?.classes ?? []).flatMap(attributesOf);
    const told = Object.entries(item.attributes).flatMap(([id, value]) => {
      const row = known.find((a) => a.id === id);
      return row && value !== '' ? [{ at: known.indexOf(row), words: `${row.title} ${attributeInWords(row, value)}` }] : [];
    });
    // A store may keep the figures in another order: they stand as their class has them.
    const figures = told.sort((a, b) => a.at - b.at).map((t) => t.words);
    const carried = (item.carries ?? []).map((c) => (c.until === NO_END ? `carries ${c.id}` : `carries ${c.id}, usable until ${c.until}`));
    return { name: item.id, words: [...figures, ...carried].join('; ') };
  });
  return { title: 'What was tested', things };
}

/** An instant as the clocks of the station show it, to the minute. @param offset from UTC, `+13:00` */
function atStation(instant: string, offset: string): string {
  const [, sign = '+', hours = '0', minutes = '0'] = /^([+-])(\d\d):(\d\d)$/.exec(offset) ?? [];
  const ms = (Number(hours) * 60 + Number(minutes)) * 60_000 * (sign === '-' ? -1 : 1);
  return new Date(Date.parse(instant) + ms).toISOString().slice(0, 16).replace('T', ' ');
}

/**
 * That a run was carried out away from the server, as its record tells it.
 * @example awayInWords({ startedAt: '2026-12-01T08:30:00Z', offset: '+13:00', away: { along: 'a', takenAt: '2026-12-01T08:00:00Z' } })?.things[0] // { name: 'Taken along', words: '2026-12-01 21:00' }
 */
export function awayInWords({ startedAt, offset = '+00:00', away }: Pick<Opened, 'startedAt' | 'offset' | 'away'>): ToldList | null {
  if (!away) return null;
  return {
    title: 'Carried out away from the server',
    things: [
      { name: 'Taken along', words: atStation(away.takenAt, offset) },
      { name: 'Begun', words: `${atStation(startedAt, offset)} by the device’s own clock; there was time for all of it before it was handed in` },
      { name: 'Known there', words: 'what was known when it was taken along, and nothing that came later' },
    ],
  };
}
