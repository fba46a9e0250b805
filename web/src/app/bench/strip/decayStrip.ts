import { afterNextRender, ChangeDetectionStrategy, Component, computed, DestroyRef, effect, ElementRef, inject, input, signal, viewChild } from '@angular/core';
import { CustomChart, LineChart } from 'echarts/charts';
import { GridComponent, MarkAreaComponent, MarkLineComponent } from 'echarts/components';
import { init, use, type EChartsType } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { ThemeChoice } from '../../preference/themeChoice';
import { stripOption, type StripColours } from './stripOption';
import type { StripView } from './stripView';

use([LineChart, CustomChart, GridComponent, MarkAreaComponent, MarkLineComponent, CanvasRenderer]);

/** The decay strip. It draws one view; all that is shown was computed before. */
@Component({
  selector: 'gr-decay-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '<div #box class="box" role="img" [attr.aria-label]="words()"></div>',
  styles: `
    :host,
    .box {
      display: block;
      width: 100%;
      height: 100%;
      min-height: 13.75rem;
    }
  `,
})
export class DecayStrip {
  readonly view = input.required<StripView>();
  private readonly theme = inject(ThemeChoice);
  private readonly box = viewChild.required<ElementRef<HTMLElement>>('box');
  private readonly chart = signal<EChartsType | null>(null);
  protected readonly words = computed(() => {
    const newest = this.view().lines[0]?.points.at(-1)?.[1];
    const wedge = this.view().wedge;
    return `Pressure over time in ${this.view().unit}${newest === undefined ? '' : `, now ${Number(newest.toPrecision(4))}`}${wedge ? `, at least ${Number(wedge.limit.toPrecision(4))} must be left` : ''}`;
  });

  constructor() {
    const destroy = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.box().nativeElement;
      const chart = init(element);
      const resize = new ResizeObserver(() => chart.resize());
      resize.observe(element);
      destroy.onDestroy(() => {
        resize.disconnect();
        chart.dispose();
      });
      this.chart.set(chart);
    });
    effect(() => {
      this.theme.dark(); // the tokens below change with it
      this.chart()?.setOption(stripOption(this.view(), this.colours()), { notMerge: true });
    });
  }

  private colours(): StripColours {
    const style = getComputedStyle(this.box().nativeElement);
    const token = (name: string): string => style.getPropertyValue(`--${name}`).trim();
    return {
      ink: token('ink'),
      faint: token('faint'),
      rule: token('rule'),
      accent: token('accent'),
      wedge: token('wedge'),
      beyond: token('beyond'),
      soft: token('soft'),
      panel: token('panel'),
    };
  }
}
