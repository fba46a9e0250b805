import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { BenchHand } from '../shown/benchHand';
import { Chime } from '../../preference/chime';
import { Icon } from '../../mark/icon';
import { Seal } from '../../mark/seal';
import { BenchRun } from '../shown/benchRun';

/** What is tested, by which rules, and how far the run has come. */
@Component({
  selector: 'gr-bench-head',
  imports: [Icon, RouterLink, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './benchHead.html',
  styleUrl: './benchHead.css',
})
export class BenchHead {
  private readonly run = inject(BenchRun);
  protected readonly hand = inject(BenchHand);
  protected readonly chime = inject(Chime);
  protected readonly bench = this.run.bench;
  protected readonly view = this.run.view;
  /** A picture may be taken: somebody here holds the run, and it is not closed. */
  protected readonly works = computed(() => this.run.works() && this.view()?.next.kind !== 'closed');
  private readonly assets = computed(() => Object.values(this.bench().view?.assets ?? {}));
  protected readonly mainAsset = computed(() => this.assets().find((a) => a.tag === this.bench().view?.tag));
  protected readonly coupled = computed(() => this.assets().filter((a) => a.tag !== this.bench().view?.tag));
  protected readonly ruleSet = computed(() => this.bench().plan?.ruleSet);
  protected readonly simulated = computed(() => this.bench().view?.clock === 'simulated');
}
