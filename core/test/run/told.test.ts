import { describe, expect, it } from 'vitest';
import {
  confidenceInWords,
  endedBy,
  findingInWords,
  headline,
  judge,
  limitInWords,
  next,
  reasonInWords,
  sameDimension,
  stageTrace,
  stageUnit,
  verdictSentence,
  verdictWord,
  type Finding,
} from '../../src';
import { sample, sampleNames } from '../testing/samples';

/** A gauge that shows a thousandth of a bar of three hundred has six. */
const MOST_DIGITS = 6;

/** All that a person is told of a finding. */
const told = (f: Finding): string =>
  [
    `${f.stage} ${String(f.attempt)} ${f.channel ?? '–'}: ${f.verdict}`,
    ...(f.limit ? [limitInWords(f.limit)] : []),
    findingInWords(f),
    ...f.reasons.slice(1).map(reasonInWords),
    confidenceInWords(f) ?? 'no confidence',
    `by ${f.engine}, on ${String(f.evidence.length)}`,
  ].join(' | ');

/** What every published sample says, as people read it: a word that changes is seen, and so is a figure behind it. */
describe('what is told of a run', () => {
  it.each(sampleNames)('%s', (name) => {
    const { plan, state } = sample(name);
    const result = judge(plan, state);
    const first = headline(plan, result.findings);
    const traces = plan.stages.flatMap((s) =>
      Object.entries(plan.procedure.channels).flatMap(([channel, { unit }]) => {
        // A strip is drawn of what the stage is compared in.
        const t = sameDimension(unit, stageUnit(plan, s.id)) ? stageTrace(plan, state, s.id, channel) : null;
        return t
          ? [
              `${s.id} ${channel}: ${String(t.points.length)} points in ${t.unit}, from ${String(t.points[0]?.[1])} to ${String(t.points.at(-1)?.[1])}, marks ${t.marks.map((m) => `${m.mark} ${String(m.at)}`).join(', ')}, ${String(t.beganAt)} to ${String(t.endedAt)}, hold ${t.hold ? `${String(t.hold.startAt)} to ${String(t.hold.until)}` : 'none'}`,
            ]
          : [];
      }),
    );
    expect({
      verdict: `${verdictSentence('IT-01', result.verdict, verdictWord(plan, result.verdict))}; blocks ${String(result.blocks)}, simulated ${String(result.simulated)}`,
      ended: endedBy(plan, state),
      next: next(plan, state).kind,
      headline: first ? told(first) : null,
      findings: result.findings.map(told),
      earlier: result.earlier.map(told),
      traces,
    }).toMatchSnapshot();
  });

  it('has no figure with more digits than it can be worth', () => {
    const long = sampleNames.flatMap((name) => {
      const { plan, state } = sample(name);
      const { findings, earlier } = judge(plan, state);
      // A serial or a date is no figure: what is counted here has a point.
      return [...findings, ...earlier].flatMap((f) =>
        (told(f).match(/\d+\.\d+/g) ?? []).filter((n) => n.replace('.', '').replace(/^0+/, '').length > MOST_DIGITS),
      );
    });
    expect(long).toEqual([]);
  });
});
