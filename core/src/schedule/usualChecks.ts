import type { Id } from '../procedure';
import { usualRule, type DueRule } from './dueRule';

/** What an item of a class usually owes: one row a check, with where its interval comes from. */
export interface UsualCheck extends Omit<DueRule, 'anchor'> {
  readonly class: Id;
  readonly procedure: Id;
  /** Taken where the item's own attributes choose no rule set. */
  readonly ruleSet: Id;
  readonly source: string;
}

const practice = 'common practice';
const row = (kind: Id, procedure: Id, ruleSet: Id, interval: string | null, source: string, more: Partial<DueRule> = {}): UsualCheck => ({
  ...usualRule,
  class: kind,
  procedure,
  ruleSet,
  interval,
  source,
  ...more,
});

/** The usual intervals. An officer may change any of them for an item; the maker's instructions and local codes come first. */
export const usualChecks: readonly UsualCheck[] = [
  row('breathing-set', 'ba.user-check', 'quarter', 'P1M', 'EN 137 users’ guidance: monthly and around use; common practice', {
    triggers: ['beforeUse', 'afterUse'],
  }),
  row('breathing-set', 'ba.soap-survey', 'general', 'P3M', practice),
  row('breathing-set', 'ba.high-pressure', 'bar-10', 'P1Y', '29 CFR 1910.134 and makers: yearly, from memory', { triggers: ['afterRepair'] }),
  row('face-piece', 'ba.facepiece', 'mbar-10', 'P6M', practice, { triggers: ['afterRepair'] }),
  row('gas-tight-suit', 'suit.inflation', 'in-h2o-4', 'P1Y', 'ASTM F1052 and makers: on receipt, after use and repair, yearly; from memory', {
    triggers: ['onReceipt', 'afterUse', 'afterRepair'],
  }),
  row('dry-suit', 'drysuit.survey', 'general', 'P6M', practice, { triggers: ['onReceipt', 'afterRepair'] }),
  row('anaesthetic-machine', 'anaes.machine', 'general', 'P1D', 'AAGBI checklist: daily and before each case, from memory', { triggers: ['beforeUse'] }),
  row('breathing-circuit', 'anaes.circle', 'human', 'P1D', 'AAGBI checklist: daily and before each case, from memory', { triggers: ['beforeUse'] }),
  ...(['truck', 'bus', 'fire-apparatus'] as const).map((kind) =>
    row(
      kind,
      'brakes.applied-loss',
      kind === 'bus' ? 'bus-a' : kind === 'truck' ? 'single' : 'fire-apparatus',
      kind === 'fire-apparatus' ? 'P1W' : 'P1M',
      practice,
      {
        counting: 'anchored',
        triggers: ['afterRepair'],
      },
    ),
  ),
  row('cylinder', 'cyl.water-jacket', 'us-metal', 'P5Y', '49 CFR 180.209: month stamp, from memory', { stamp: 'month', filled: 'untilEmptied', hard: true }),
  row('cylinder', 'cyl.visual', 'us-metal', 'P1Y', practice, { filled: 'untilEmptied' }),
  row('ibc', 'tank.ibc', 'un', 'P30M', 'UN Model Regulations 6.5.4.4.2: 2.5 years, from memory', {
    counting: 'window',
    early: 'P3M',
    filled: 'untilEmptied',
    hard: true,
  }),
  row('storage-tank', 'tank.vapour-10', 'in-use', 'P1Y', practice, { triggers: ['afterRepair'] }),
  row('cargo-tank', 'tank.cargo', 'annual', 'P1Y', '49 CFR 180.407: month mark, from memory', { stamp: 'month', filled: 'untilEmptied', hard: true }),
  row('vent-valve', 'valve.vent', 'in-order', 'P3Y', 'CARB executive orders: three years, from memory', { counting: 'anchored' }),
  row('relief-valve', 'valve.relief', 'asme', 'P5Y', 'NB-23 and API 510 practice: five years, from memory', { hard: true }),
  row('sealed-store', 'store.half-life', 'new', 'P1Y', 'AS 2628: yearly and before every fumigation, from memory', {
    triggers: ['onReceipt', 'beforeFumigation', 'afterRepair'],
  }),
];

/**
 * What an item of a class usually owes.
 * @example usualChecksOf('gas-tight-suit').map((c) => c.interval) // ['P1Y']
 */
export function usualChecksOf(assetClass: Id): readonly UsualCheck[] {
  return usualChecks.filter((c) => c.class === assetClass);
}
