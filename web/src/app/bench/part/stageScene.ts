import { ChangeDetectionStrategy, Component, computed, inject, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { decimalIn, stageUnit, verdictSentence, verdictWord } from '@grellin/core';
import { FindingCard } from '../../mark/findingCard';
import { Seal } from '../../mark/seal';
import { releasesInWords } from '../ask/releases';
import { BenchHand } from '../shown/benchHand';
import { HandDrawing } from './handDrawing';
import { windowOf } from '../rig/rigAsk';
import { BenchRun } from '../shown/benchRun';
import { DecayStrip } from '../strip/decayStrip';
import { forecastOf } from '../strip/forecast';
import { stripView } from '../strip/stripView';
import { Columns } from '../stage/columns';
import { Expansion } from '../stage/expansion';
import { Relief } from '../stage/relief';
import { stageView } from '../stage/stageView';
import { Stroke } from '../stage/stroke';
import { Survey } from '../stage/survey';

/** How often the end of a hold is foretold anew, ms of the run's clock. */
const FORETELL_MS = 2000;

/** What is watched: the question, the drawing of the stage, what was found, and the verdict. */
@Component({
  selector: 'gr-stage-scene',
  imports: [RouterLink, Columns, DecayStrip, Expansion, FindingCard, HandDrawing, Relief, Seal, Stroke, Survey],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './stageScene.html',
  styleUrl: './stageScene.css',
})
export class StageScene {
  private readonly run = inject(BenchRun);
  protected readonly hand = inject(BenchHand);
  protected readonly bench = this.run.bench;
  protected readonly view = this.run.view;
  protected readonly sent = this.run.sent;

  protected readonly strip = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    if (!plan || !view) return null;
    const stage = view.next.kind === 'begin' || view.next.kind === 'seal' ? view.judged?.stage : view.stage;
    if (!stage) return null;
    const unit = stageUnit(plan, stage.id);
    const w = windowOf(view.next);
    return stripView(plan, run, stage, this.run.now(), w && { low: decimalIn(w.low, unit).toNumber(), high: decimalIn(w.high, unit).toNumber() });
  });
  protected readonly picture = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    return plan && view?.stage ? stageView(plan, run, view.stage, view.next, this.run.now()) : null;
  });
  /** The end of the hold as it can be foretold, at most every other second: it may end a hopeless hold, never a passing one. */
  private readonly foretoldAt = computed(() => (this.view()?.next.kind === 'hold' ? Math.floor(this.run.now() / FORETELL_MS) : null));
  protected readonly foretold = computed(() => {
    if (this.foretoldAt() === null) return null;
    return untracked(() => {
      const { plan, run } = this.bench();
      const stage = this.view()?.stage;
      return plan && stage ? forecastOf(plan, run, stage) : null;
    });
  });
  /** The forecast on the strip. */
  protected readonly drawnStrip = computed(() => {
    const strip = this.strip();
    const f = this.foretold();
    return strip && f?.bar && strip.wedge ? { ...strip, forecast: { at: strip.wedge.until, ...f.bar } } : strip;
  });
  /** Nothing is drawn of this stage: then what is to be done stands there. */
  protected readonly undrawn = computed(() => {
    const picture = this.picture();
    return !picture || (picture.kind === 'strip' && !this.drawnStrip());
  });
  /** What the seal will say of the item, before it is pressed. */
  protected readonly releases = computed(() => {
    const result = this.view()?.result;
    const run = this.bench().view;
    return result && run ? releasesInWords(result, run.tag, run.document.title) : '';
  });
  protected readonly verdict = computed(() => {
    const { plan } = this.bench();
    const result = this.view()?.result;
    const tag = this.bench().view?.tag ?? '';
    return plan && result ? verdictSentence(tag, result.verdict, verdictWord(plan, result.verdict)) : '';
  });
}
