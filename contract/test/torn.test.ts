import { readdirSync, readFileSync } from 'node:fs';
import { mendOf, channelsRead, expectedEnd, grades, instrumentsOf, judgeStage, limitedChannels, ReadingList, recordOf, taskOf, type Finding, type Instruments, type Plan, type Stage, type StageRecord } from '@grellin/core'; // prettier-ignore
import { describe, expect, it } from 'vitest';
import { loadRun } from '../src';

/**
 * Runs that pass, with a piece torn out of one stage's record: what is left must never pass, and nothing may throw. A verdict that survives the loss of
 * what it rests on rests on nothing.
 */
interface Judged {
  readonly plan: Plan;
  readonly stage: Stage;
  readonly record: StageRecord;
  readonly instruments: Instruments;
}

const passes = readdirSync(new URL('../../docs/samples', import.meta.url)).filter((name) => name.endsWith('-pass.json'));

function stagesOf(name: string): Judged[] {
  const { plan, state } = loadRun(JSON.parse(readFileSync(new URL(`../../docs/samples/${name}`, import.meta.url), 'utf8')));
  const instruments = instrumentsOf(state);
  return plan.stages.flatMap((stage) => {
    const attempt = state.attempts[stage.id]?.at(-1);
    return attempt ? [{ plan, stage, record: recordOf(state, attempt), instruments }] : [];
  });
}

function found(at: Judged, changed: Partial<Omit<Judged, 'record'>> & { record?: Partial<StageRecord> }): readonly Finding[] {
  const record = { ...at.record, ...changed.record };
  const instruments = changed.instruments ?? at.instruments;
  // Whatever is missing, the bench must be able to say what comes next and what to expect.
  taskOf({ plan: at.plan, stage: at.stage, method: at.stage.method, record, instruments });
  if (at.stage.method.kind === 'decay') {
    for (const channel of at.stage.method.channels) {
      const instrument = instruments[channel];
      if (instrument) expectedEnd(at.plan, at.stage, at.stage.method, record, channel, instrument);
    }
  }
  return judgeStage(at.plan, at.stage, record, instruments);
}
const passed = (findings: readonly Finding[]): boolean => findings.length > 0 && findings.every((f) => f.verdict === 'pass');
const without = <T>(of: Readonly<Record<string, T>>, key: string): Record<string, T> => Object.fromEntries(Object.entries(of).filter(([k]) => k !== key));

/** Channels whose readings or instrument the verdict of a stage rests on. */
function judgedOn({ plan, stage }: Judged): readonly string[] {
  const limits = plan.limits.filter((l) => l.stage === stage.id);
  return limitedChannels(stage.method).filter((c) => limits.some((l) => (l.channel ?? c) === c));
}

describe.each(passes)('%s with a piece torn out', (name) => {
  const stages = stagesOf(name);
  it('passes as it is', () => {
    for (const at of stages) expect(passed(found(at, {})), at.stage.id).toBe(true);
  });
  it('without a mark', () => {
    for (const at of stages)
      for (const mark of at.record.marks) {
        // What the watch has timed rests on the crossings alone; the mark only says that they were seen.
        if (at.stage.method.kind === 'elapsed' && !at.stage.steps.some((s) => s.id === mark.mark)) continue;
        // How the set-up stood is judged over the whole run (core/test/run/stands.test.ts).
        if (mendOf(mark.mark)) continue;
        const marks = at.record.marks.filter((m) => m !== mark);
        expect(passed(found(at, { record: { marks } })), `${at.stage.id} without ${mark.mark}`).toBe(false);
        found(at, { record: { marks, endedAt: null } });
      }
  });
  it('without an answer or a place', () => {
    for (const at of stages) {
      for (const item of Object.keys(at.record.answers))
        expect(passed(found(at, { record: { answers: without(at.record.answers, item) } })), `${at.stage.id} without ${item}`).toBe(false);
      for (const spot of Object.keys(at.record.spots)) {
        expect(passed(found(at, { record: { spots: without(at.record.spots, spot) } })), `${at.stage.id} without ${spot}`).toBe(false);
        for (const grade of grades) found(at, { record: { spots: { ...at.record.spots, [spot]: { grade, worst: grade, firstAt: 0, event: 'e' } } } });
      }
    }
  });
  it('without the readings or the instrument of a channel that it is judged on', () => {
    for (const at of stages)
      for (const channel of channelsRead(at.stage.method)) {
        const judged = judgedOn(at).includes(channel);
        const instrument = at.instruments[channel];
        const unread = found(at, { record: { readings: without(at.record.readings, channel) } });
        const unfitted = found(at, { instruments: { ...at.instruments, [channel]: undefined } });
        const old = found(at, instrument ? { instruments: { ...at.instruments, [channel]: { ...instrument, inCalibration: false } } } : {});
        if (!judged) continue;
        expect(passed(unread), `${at.stage.id} without readings of ${channel}`).toBe(false);
        expect(passed(unfitted), `${at.stage.id} without an instrument for ${channel}`).toBe(false);
        if (instrument && !instrument.fitted) expect(passed(old), `${at.stage.id} with ${channel} out of calibration`).toBe(false);
      }
  });
  it('broken off at any mark, open or ended', () => {
    for (const at of stages)
      at.record.marks.forEach(({ at: when }, i) => {
        const cut: Partial<StageRecord> = {
          marks: at.record.marks.slice(0, i),
          readings: Object.fromEntries(Object.entries(at.record.readings).map(([c, list]) => [c, ReadingList.of(list.filter((r) => r.at < when))])),
          answers: Object.fromEntries(Object.entries(at.record.answers).filter(([, a]) => a.at < when)),
          spots: Object.fromEntries(Object.entries(at.record.spots).filter(([, s]) => s.firstAt < when)),
        };
        expect(passed(found(at, { record: { ...cut, endedAt: when } })), `${at.stage.id} ended at mark ${String(i)}`).toBe(false);
        expect(passed(found(at, { record: { ...cut, endedAt: null } })), `${at.stage.id} open at mark ${String(i)}`).toBe(false);
      });
  });
  it('with a clock that was lost under typed readings', () => {
    for (const at of stages) {
      const readings = Object.fromEntries(Object.entries(at.record.readings).map(([c, list]) => [c, ReadingList.of(list.map((r) => ({ ...r, typed: true })))]));
      const start = at.record.marks.find((m) => m.mark === 'start')?.at;
      const gaps = [{ at: (start ?? at.record.beganAt) + 1, lostMs: 5000 }];
      const result = found(at, { record: { readings, gaps } });
      if (start !== undefined && ['decay', 'halfLife'].includes(at.stage.method.kind)) expect(passed(result), at.stage.id).toBe(false);
    }
  });
});
