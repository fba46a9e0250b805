import type { Procedure } from '../language';
import { brakesWhole } from './brakesWhole';
import { limit, of } from './parts';

const own = new Set(['gather', 'six', 'six-again', 'stroke', 'stroke-over', 'aftercare']);
const [school] = brakesWhole.ruleSets.filter((r) => r.id === 'build-from-low');
const inUse = school?.limits.filter((l) => own.has(l.stage)) ?? [];

/** The strokes alone, as they are measured every month: the adjusters are worked first, and every axle of every unit is measured. */
export const brakesStrokes: Procedure = {
  ...brakesWhole,
  id: 'brakes.strokes',
  edition: '1',
  title: 'Air brakes, push-rod strokes',
  verdictWords: { pass: 'within its strokes', fail: 'past its strokes' },
  lists: brakesWhole.lists ?? {},
  channels: Object.fromEntries(Object.entries(brakesWhole.channels).filter(([id]) => id !== 'secondary')),
  stages: brakesWhole.stages.filter((s) => own.has(s.id)),
  ruleSets: [
    {
      id: 'most',
      title: 'The table is the most there may be',
      edition: '1',
      note: 'Six applications, then every axle at 90 to 100 psi: no more than the table, and the sides of an axle within a quarter of an inch.',
      order: 'free',
      skip: [],
      parameters: school?.parameters ?? {},
      limits: inUse.map((l) => ({ ...l, id: l.id.replace('low.', 'most.') })),
      decision: { kind: 'simple' },
    },
    {
      id: 'less-than',
      title: 'Less than the table',
      edition: '1',
      note: 'As the other, and a stroke as long as the table is too long already.',
      order: 'free',
      skip: [],
      parameters: school?.parameters ?? {},
      limits: inUse.map((l) =>
        l.of === 'stroke' ? { ...l, id: 'less-than.stroke', op: '<' } : limit('less-than.difference', l.stage, 'difference', '<=', of(0.25, '[in_i]')),
      ),
      decision: { kind: 'simple' },
    },
  ],
  cautions: brakesWhole.cautions.filter((c) => own.has(c.before)),
  faults: brakesWhole.faults.filter((f) => own.has(f.stage)),
};
