import type { Attributes, Id } from '../procedure';
import { usualRule, type DueRule } from './dueRule';

/** What an item of a class usually owes: one row a check, with where its interval comes from. */
export interface UsualCheck extends Omit<DueRule, 'anchor'> {
  readonly class: Id;
  readonly procedure: Id;
  /** Taken where the item's own attributes choose no rule set. */
  readonly ruleSet: Id;
  readonly source: string;
  /** Owed only by an item that says so of itself; `unsaid` where it says nothing. */
  readonly when?: { readonly attribute: Id; readonly is: readonly (string | boolean)[]; readonly unsaid?: true };
}

const practice = 'common practice';
const row = (
  kind: Id,
  procedure: Id,
  ruleSet: Id,
  interval: string | null,
  source: string,
  more: Partial<DueRule & Pick<UsualCheck, 'when'>> = {},
): UsualCheck => ({
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
  // Each layout owes its own test; a circuit that does not say what it is owes the one that most are.
  ...(
    [
      ['circle', 'anaes.circle', 'human'],
      ['mapleson-f', 'anaes.t-piece', 'by-feel'],
      ['mapleson-a', 'anaes.mapleson-a', 'by-feel'],
      ['coaxial-d', 'anaes.coaxial-d', 'by-feel'],
    ] as const
  ).map(([layout, procedure, ruleSet]) =>
    row('breathing-circuit', procedure, ruleSet, 'P1D', 'AAGBI checklist: daily and before each case, from memory', {
      triggers: ['beforeUse'],
      when: { attribute: 'layout', is: [layout], ...(layout === 'circle' ? { unsaid: true } : {}) },
    }),
  ),
  // What a machine says of itself takes nothing off the manual test: two obligations, each at its own interval.
  row('breathing-circuit', 'anaes.automatic', 'ml-150', 'P1D', practice, { when: { attribute: 'automaticTest', is: [true] } }),
  // A vehicle owes its whole test and its cab at the first use of a day, the applied minute every week, its strokes every month: or as its officer lays down.
  ...(['truck', 'bus', 'fire-apparatus'] as const).flatMap((kind) => {
    const school = kind === 'bus' ? 'bus-a' : kind === 'truck' ? 'single' : 'fire-apparatus';
    return [
      row(kind, 'brakes.whole', school, 'P1D', practice, { triggers: ['afterRepair'] }),
      row(kind, 'brakes.in-cab', 'general', 'P1D', practice),
      row(kind, 'brakes.applied-loss', school, 'P1W', practice, { triggers: ['afterRepair'] }),
      row(kind, 'brakes.strokes', 'most', 'P1M', practice, { triggers: ['afterRepair'] }),
    ];
  }),
  // A trailer owes for itself and is tested with what pulls it: a pass of both settles for both.
  row('trailer', 'brakes.whole', 'combination', 'P1D', practice, { triggers: ['afterRepair'] }),
  row('trailer', 'brakes.strokes', 'most', 'P1M', practice, { triggers: ['afterRepair'] }),
  row('cylinder', 'cyl.water-jacket', 'us-metal', 'P5Y', '49 CFR 180.209: month stamp, from memory', { stamp: 'month', filled: 'untilEmptied', hard: true }),
  row('cylinder', 'cyl.visual', 'us-metal', 'P1Y', practice, { filled: 'untilEmptied' }),
  row('ibc', 'tank.ibc', 'un', 'P30M', 'UN Model Regulations 6.5.4.4.2: 2.5 years, from memory', {
    counting: 'window',
    early: 'P3M',
    filled: 'untilEmptied',
    hard: true,
    when: { attribute: 'school', is: ['un'], unsaid: true },
  }),
  // Two on one cycle: the outside every thirty months, under pressure every sixty.
  row('ibc', 'tank.ibc-look', 'general', 'P30M', practice, { counting: 'window', early: 'P3M', when: { attribute: 'school', is: ['psi-2'] } }),
  row('ibc', 'tank.ibc', 'psi-2', 'P60M', practice, { counting: 'window', early: 'P3M', when: { attribute: 'school', is: ['psi-2'] } }),
  row('storage-tank', 'tank.vapour-10', 'in-use', 'P1Y', practice, { triggers: ['afterRepair'] }),
  row('cargo-tank', 'tank.cargo', 'annual', 'P1Y', '49 CFR 180.407: month mark, from memory', { stamp: 'month', filled: 'untilEmptied', hard: true }),
  row('vent-valve', 'valve.vent', 'in-order', 'P3Y', 'CARB executive orders: three years, from memory', { counting: 'anchored' }),
  row('relief-valve', 'valve.relief', 'asme', 'P5Y', 'NB-23 and API 510 practice: five years, from memory', { hard: true }),
  row('sealed-store', 'store.half-life', 'new', 'P1Y', 'AS 2628: yearly and before every fumigation, from memory', {
    triggers: ['onReceipt', 'beforeFumigation', 'afterRepair'],
  }),
];

/**
 * What an item of a class usually owes, by what it says of itself.
 * @example usualChecksOf('gas-tight-suit').map((c) => c.interval) // ['P1Y']
 * @example usualChecksOf('breathing-circuit', { layout: 'mapleson-a' }).map((c) => c.procedure) // ['anaes.mapleson-a']
 */
export function usualChecksOf(assetClass: Id, attributes: Attributes = {}): readonly UsualCheck[] {
  const owes = ({ when }: UsualCheck): boolean => {
    if (!when) return true;
    const said = attributes[when.attribute];
    return said === undefined ? when.unsaid === true : when.is.some((v) => v === said);
  };
  return usualChecks.filter((c) => c.class === assetClass && owes(c));
}
