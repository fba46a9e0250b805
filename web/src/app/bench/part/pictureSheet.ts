import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule, NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import type { Problem } from '@grellin/contract';
import { picturedInWords, type EventBody, type Pictured } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { DialogModule } from 'primeng/dialog';
import { FileUpload, type FileUploadHandlerEvent } from 'primeng/fileupload';
import { InputTextModule } from 'primeng/inputtext';
import { SelectButtonModule } from 'primeng/selectbutton';
import { firstValueFrom } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { KeptPicture } from '../../picture/keptPicture';
import { pictureAddress, PictureMaker } from '../../picture/pictureMaker';
import type { MadePicture } from '../../picture/pictureWorker';
import { BenchHand } from '../shown/benchHand';
import { BenchRun } from '../shown/benchRun';

/** What is asked now, which a picture would most likely show. */
interface Here {
  readonly shows: Pictured;
  readonly item: string | undefined;
}

/** A picture of what is seen now: taken or chosen, looked at, and only then kept. The run tells of it when its bytes are kept. */
@Component({
  selector: 'gr-picture-sheet',
  imports: [ButtonModule, DialogModule, FileUpload, FormsModule, InputTextModule, KeptPicture, ReactiveFormsModule, SelectButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './pictureSheet.html',
  styleUrl: './pictureSheet.css',
})
export class PictureSheet {
  private readonly api = inject(Api);
  private readonly maker = inject(PictureMaker);
  private readonly run = inject(BenchRun);
  private readonly hand = inject(BenchHand);
  private readonly build = inject(NonNullableFormBuilder);
  protected readonly able = this.maker.able;
  protected readonly kinds: readonly { readonly kind: Pictured; readonly words: string }[] = [
    { kind: 'look', words: $localize`A look` },
    { kind: 'leak', words: $localize`A leak` },
    { kind: 'gauge', words: $localize`A gauge` },
    { kind: 'plate', words: $localize`A plate` },
    { kind: 'other', words: $localize`Something else` },
  ];
  /** What was asked when it was opened: a clock that goes on meanwhile does not turn it into a picture of something else. */
  private readonly here = this.hereNow();
  protected readonly form = this.build.group({ shows: this.build.control<Pictured>(this.here.shows), note: '' });
  protected readonly made = signal<MadePicture | null>(null);
  protected readonly preview = signal<string | null>(null);
  protected readonly making = signal(false);
  protected readonly keeping = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly kept = computed(() => {
    const { plan, run } = this.run.bench();
    return plan ? run.pictures.map((p) => ({ sha256: p.picture, words: [picturedInWords(plan, p), p.note].filter(Boolean).join('. ') })) : [];
  });

  private hereNow(): Here {
    const next = this.run.view()?.next;
    if (next?.kind === 'answer') return { shows: 'look', item: next.item.id };
    if (next?.kind === 'spot') return { shows: 'leak', item: next.spot.id };
    return { shows: next?.kind === 'begin' || next?.kind === 'seal' ? 'plate' : 'gauge', item: undefined };
  }

  protected async chosen({ files }: FileUploadHandlerEvent, field: FileUpload): Promise<void> {
    const [file] = files;
    field.clear();
    if (!file) return;
    this.problem.set(null);
    this.making.set(true);
    const made = await this.maker.make(file).catch(() => null);
    this.making.set(false);
    this.made.set(made);
    this.preview.set(made && pictureAddress(made.bytes));
    if (!made) this.problem.set({ code: 'client', message: $localize`This file is no picture that can be read here.` });
  }

  private body(picture: string): EventBody {
    const { shows, note } = this.form.getRawValue();
    const own = this.run.refusal({ kind: 'pictured', picture, shows, ...(this.here.item === undefined ? {} : { item: this.here.item }) }) === null;
    const of = own && this.here.item !== undefined && shows === this.here.shows ? { item: this.here.item } : {};
    return { kind: 'pictured', picture, shows, ...of, ...(note.trim() === '' ? {} : { note: note.trim() }) };
  }

  /** Its bytes first, then the word of it: what a record tells of is there to be seen. */
  protected async keep(): Promise<void> {
    const made = this.made();
    if (!made || this.keeping()) return;
    const body = this.body(made.sha256);
    const refusal = this.run.refusal(body);
    if (refusal !== null) {
      this.problem.set({ code: 'refused', message: refusal });
      return;
    }
    this.keeping.set(true);
    this.problem.set(null);
    try {
      await firstValueFrom(this.api.keepPicture(made.sha256, made.bytes));
      this.run.say(this.body(made.sha256));
      this.close();
    } catch (error) {
      this.problem.set(problemOf(error));
    } finally {
      this.keeping.set(false);
    }
  }

  protected again(): void {
    this.made.set(null);
    this.preview.set(null);
  }

  protected close(): void {
    this.hand.picturing.set(false);
  }
}
