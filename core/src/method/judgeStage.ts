import { findingOf, type Finding } from './verdict/finding';
import { strict, type Channel, type Phase, type Plan, type Reason, type Stage } from '../procedure';
import { decimalIn, type Quantity } from '../quantity';
import { CAN_ERR } from '../uncertainty';
import type { Attempted, Instruments } from './evidence/attempted';
import { confirmed } from './verdict/condemning';
import { neverCame, neverMeans } from './evidence/never';
import { readingsBetween, uReading } from './evidence/readings';
import { isDoubtful, isShown } from './evidence/shown';
import { markAt, START, stayUnmet } from './evidence/steps';
import { findingsBy, holdOf, methodTask } from './methods';
import type { StageRecord } from './evidence/record';

/** Phases that test the test and not the item: a failure there makes the run void, it says nothing about the item. */
const aboutTheTest: ReadonlySet<Phase> = new Set(['gather', 'precondition', 'rig', 'aftercare']);

/** The edition of a method under the second rules: the same figures, and more that is held against them. */
const secondEdition = (engine: string): string => engine.replace(/\/(\d+)$/, (_, n: string) => `/${String(Number(n) + 1)}`);

function neverFinding(at: Attempted): Finding {
  const { channel, verdict, reasons } = neverMeans(at, methodTask(at));
  return findingOf(at, 'never/1', channel, verdict, reasons);
}

/** Noise about the end of a scale goes beyond it by no more than this many times what the instrument can err by. */
const BEYOND = CAN_ERR;

/** A value of a channel off the end of its instrument's scale, from the start that was read on: what happens while it is brought there is not judged. */
function offScale({ record, instruments }: Attempted, channel: Channel): Reason | null {
  const instrument = instruments[channel];
  if (!instrument) return null;
  const off: Quantity[] = [];
  const from = markAt(record, START) ?? record.beganAt;
  readingsBetween(record, channel, from, record.endedAt ?? Number.POSITIVE_INFINITY).eachPeak((low, high) => {
    if (off.length > 0) return;
    const unit = high.chunk.unit;
    const slack = BEYOND * uReading(instrument, unit);
    if (high.value > decimalIn(instrument.high, unit).toNumber() + slack) off.push({ value: high.value, unit });
    else if (low.value < decimalIn(instrument.low, unit).toNumber() - slack) off.push({ value: low.value, unit });
  });
  const [value] = off;
  return value ? { code: 'offScale', values: { value } } : null;
}

/** What is off the scale is no value: nothing passes on it. What fails without it goes on failing. */
function onScale(at: Attempted, finding: Finding): Finding {
  if (finding.verdict !== 'pass' || finding.channel === null) return finding;
  const reason = offScale(at, finding.channel);
  return reason ? { ...finding, verdict: 'undecided', reasons: [...finding.reasons, reason] } : finding;
}

/** What had to stay as a step brought it, and did not while it was held, spoils the hold: an engine that runs again makes up for what is lost. What fails all the same goes on failing. */
function stayed(at: Attempted, finding: Finding): Finding {
  if (finding.verdict === 'fail' || finding.verdict === 'void' || markAt(at.record, START) === undefined) return finding;
  const left = stayUnmet(at, holdOf(at)?.until ?? at.record.endedAt ?? Number.POSITIVE_INFINITY);
  return left ? { ...finding, verdict: 'void', reasons: [...finding.reasons, left] } : finding;
}

/** What was done without a gauge that would have shown it is said with the first thing that passes. */
function withWord(at: Attempted, findings: readonly Finding[]): readonly Finding[] {
  const acts = at.stage.steps.filter((s) => s.kind === 'act' && s.shown !== undefined);
  const inWords = (of: readonly { readonly text: string }[]): string => of.map((s) => s.text).join('; ');
  const said = acts.filter((s) => s.kind === 'act' && !isShown(s, at.instruments));
  const doubtful = acts.filter((s) => s.kind === 'act' && isDoubtful(s, at.instruments));
  const reasons: readonly Reason[] = [
    ...(doubtful.length > 0 ? [{ code: 'shownUncalibrated' as const, values: { items: inWords(doubtful) } }] : []),
    ...(said.length > 0 ? [{ code: 'notMeasured' as const, values: { items: inWords(said) } }] : []),
  ];
  const first = reasons.length === 0 ? undefined : findings.find((f) => f.verdict === 'pass');
  return findings.map((f) => (f === first ? { ...f, reasons: [...f.reasons, ...reasons] } : f));
}

/** A search that was left, or hurried, has found nothing: it spoils no test. */
const leftOut = (finding: Finding): Finding => (finding.verdict === 'void' ? { ...finding, verdict: 'undecided' } : finding);

/** Beyond a limit that decides nothing by itself, it says where to look. */
function sentOn(finding: Finding): Finding {
  const to = finding.verdict === 'fail' ? finding.limit?.sends : undefined;
  return to === undefined ? finding : { ...finding, verdict: 'undecided', reasons: [...finding.reasons, { code: 'sendsOn', values: { to } }] };
}

/**
 * Judges one attempt at a stage by its method.
 * @returns its findings; in the phases that test the test itself a failure is turned into `void` with the reason kept
 * @example ((r) => judgeStage(r.plan, r.stage, r.record, r.instruments)[0]?.verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function judgeStage(plan: Plan, stage: Stage, record: StageRecord, instruments: Instruments): readonly Finding[] {
  const at = { plan, stage, method: stage.method, record, instruments };
  const by = neverCame(at) ? [neverFinding(at)] : findingsBy(at);
  const findings = strict(plan)
    ? withWord(
        at,
        by.map((f) => confirmed(at, stayed(at, onScale(at, { ...f, engine: secondEdition(f.engine) })))),
      )
    : by;
  if (stage.seeks) return findings.map(leftOut);
  if (!aboutTheTest.has(stage.phase)) return findings.map(sentOn);
  return findings.map((f) =>
    f.verdict === 'fail' ? { ...f, verdict: 'void', reasons: [...f.reasons, { code: stage.phase === 'rig' ? 'rigLeaks' : 'notValid', values: {} }] } : f,
  );
}
