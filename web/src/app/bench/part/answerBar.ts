import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { BenchRun } from '../shown/benchRun';
import { BenchHand } from '../shown/benchHand';
import { RouterLink } from '@angular/router';
import { NextItem } from '../../round/nextItem';
import { ReasonBar } from '../ask/reasonBar';

/** The one thing that comes next on its one big key, and beside it what else can be said now. */
@Component({
  selector: 'gr-answer-bar',
  imports: [RouterLink, ReasonBar, NextItem],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './answerBar.html',
  styleUrl: './answerBar.css',
})
export class AnswerBar {
  private readonly run = inject(BenchRun);
  protected readonly hand = inject(BenchHand);
  protected readonly bench = this.run.bench;
  protected readonly view = this.run.view;
  protected readonly mine = this.run.mine;
  protected readonly works = this.run.works;
  protected readonly notYet = this.run.notYet;
  protected readonly enabled = this.run.enabled;
  protected readonly redo = this.run.redo;
  protected readonly position = this.run.position;
  protected readonly rigAsk = this.run.rigAsk;
}
