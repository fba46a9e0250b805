import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { SelectModule } from 'primeng/select';
import type { AssetRow, KitRow, NewKit } from '@grellin/contract';
import { assetClass, assetClasses } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Undo } from '../undo/undo';

interface Draft {
  readonly id: string | null;
  readonly name: string;
  readonly needs: readonly { readonly class: string; readonly minimum: number }[];
  readonly assets: readonly string[];
}

/** Items that go out together, and how many of each kind must be ready. */
@Component({
  selector: 'gr-kits',
  imports: [FormsModule, RouterLink, SelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Kits</h1>
        @if (officer()) {
          <button i18n type="button" class="control main" (click)="begin(null)">New kit</button>
        }
      </header>
      @if (kits.problem(); as p) {
        <p class="problem" role="alert">{{ p.message }}</p>
      }
      @if (draft(); as d) {
        <form (ngSubmit)="keep()">
          <label i18n for="name">Name</label>
          <input id="name" class="control" name="name" [ngModel]="d.name" (ngModelChange)="set({ name: $event })" />
          @for (n of d.needs; track $index; let k = $index) {
            <span i18n>Needs</span>
            <span class="line">
              <input
                class="control short"
                type="number"
                min="1"
                max="999"
                [name]="'m' + k"
                [attr.aria-label]="'How many, need ' + (k + 1)"
                [ngModel]="n.minimum"
                (ngModelChange)="need(k, { minimum: $event })"
              />
              <p-select
                [name]="'c' + k"
                [options]="$any(classes)"
                optionLabel="title"
                optionValue="id"
                [filter]="true"
                [ariaLabel]="'Class, need ' + (k + 1)"
                [ngModel]="n.class"
                (ngModelChange)="need(k, { class: $event })"
                appendTo="body"
              />
            </span>
          }
          <span></span>
          <span><button i18n type="button" class="control" (click)="moreNeeds()">One more need</button></span>
          <label i18n for="find">Items</label>
          <span class="line">
            <input #find id="find" class="control" placeholder="Tag, serial or place" i18n-placeholder autocomplete="off" (change)="search(find.value)" />
            @for (a of found(); track a.id) {
              <button type="button" class="control" (click)="add(a)">+ {{ a.tag }}</button>
            }
          </span>
          <span></span>
          <span class="line">
            @for (a of d.assets; track a) {
              <button type="button" class="control" [attr.aria-label]="'Take ' + tag(a) + ' out'" (click)="out(a)">{{ tag(a) }} ×</button>
            } @empty {
              <span i18n class="faint">None yet.</span>
            }
          </span>
          <span></span>
          <span class="line">
            <button i18n class="control main" type="submit" [disabled]="d.name.trim() === '' || d.needs.length === 0">Keep it</button>
            <button i18n class="control" type="button" (click)="draft.set(null)">Leave it</button>
          </span>
        </form>
      }
      @for (k of kits.value() ?? []; track k.id) {
        <section [class.short]="!k.ready" [attr.aria-labelledby]="'k-' + k.id">
          <h2 [id]="'k-' + k.id">
            {{ k.name }} <span>{{ k.ready ? 'ready' : 'short of readiness' }}</span>
          </h2>
          @if (k.short) {
            <p class="problem">{{ k.short }}</p>
          }
          @for (n of k.needs; track n.class) {
            <p i18n>{{ n.ready }} ready of {{ n.held }} held, {{ n.minimum }} needed: {{ title(n.class) }}</p>
          }
          <p class="line">
            <a i18n class="control" routerLink="/register" [queryParams]="{ kit: k.id }">Its items</a>
            @if (officer()) {
              <button i18n type="button" class="control" (click)="begin(k)">Change</button>
              <button i18n type="button" class="control" (click)="away(k)">Put away</button>
            }
          </p>
        </section>
      } @empty {
        <p class="faint">{{ kits.loading() ? 'Reading…' : 'No kit is put together yet.' }}</p>
      }
    </div>
  `,
  styles: `
    section {
      max-width: 47.5rem;
      padding: var(--space-3) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    section.short {
      border-left: var(--space-1) solid var(--leaks);
      padding-left: var(--space-3);
    }
    h2 {
      font-size: var(--type-lead);
    }
    h2 span {
      font-weight: 400;
    }
    form {
      display: grid;
      grid-template-columns: 6.875rem minmax(0, 40rem);
      gap: var(--space-2) var(--space-4);
      align-items: center;
      padding-bottom: var(--space-4);
      border-bottom: var(--edge) solid var(--ink);
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      margin-top: var(--space-2);
    }
    .short.control {
      width: 9ch;
    }
  `,
})
export class Kits {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly kits = new Loader<readonly KitRow[]>();
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly classes = assetClasses.map(({ id, title }) => ({ id, title }));
  protected readonly draft = signal<Draft | null>(null);
  protected readonly found = signal<readonly AssetRow[]>([]);
  private readonly tags = signal<ReadonlyMap<string, string>>(new Map());

  constructor() {
    this.again();
  }

  private again(): void {
    this.kits.load(this.api.kits());
  }

  protected title(kind: string): string {
    return assetClass(kind)?.title ?? kind;
  }

  protected tag(id: string): string {
    return this.tags().get(id) ?? '…';
  }

  protected begin(k: KitRow | null): void {
    this.found.set([]);
    this.draft.set(
      k
        ? { id: k.id, name: k.name, needs: k.needs.map((n) => ({ class: n.class, minimum: n.minimum })), assets: k.assets }
        : { id: null, name: '', needs: [{ class: 'breathing-set', minimum: 1 }], assets: [] },
    );
    if (k) this.api.assets({ kit: k.id, limit: '200' }).subscribe({ next: (p) => this.know(p.rows), error: (e: unknown) => this.undo.refused(e) });
  }

  private know(rows: readonly AssetRow[]): void {
    this.tags.update((t) => new Map([...t, ...rows.map((r) => [r.id, r.tag] as const)]));
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((d) => d && { ...d, ...change });
  }

  protected need(k: number, change: Partial<Draft['needs'][number]>): void {
    this.draft.update((d) => d && { ...d, needs: d.needs.map((n, i) => (i === k ? { ...n, ...change } : n)) });
  }

  protected moreNeeds(): void {
    this.draft.update((d) => d && { ...d, needs: [...d.needs, { class: 'face-piece', minimum: 1 }] });
  }

  protected search(q: string): void {
    if (q.trim() === '') this.found.set([]);
    else this.api.assets({ q: q.trim(), limit: '12' }).subscribe({ next: (p) => this.found.set(p.rows), error: (e: unknown) => this.undo.refused(e) });
  }

  protected add(a: AssetRow): void {
    this.know([a]);
    this.draft.update((d) => d && { ...d, assets: [...new Set([...d.assets, a.id])] });
  }

  protected out(id: string): void {
    this.draft.update((d) => d && { ...d, assets: d.assets.filter((x) => x !== id) });
  }

  protected keep(): void {
    const d = this.draft();
    if (!d) return;
    const kit: NewKit = { name: d.name.trim(), needs: [...d.needs], assets: [...d.assets] };
    const done = d.id === null ? this.api.addKit(kit) : this.api.changeKit(d.id, kit);
    const words = `Kit ${kit.name} ${d.id === null ? 'put together' : 'changed'}`;
    this.undo.do(
      done,
      () => {
        this.draft.set(null);
        return words;
      },
      () => this.again(),
    );
  }

  protected away(k: KitRow): void {
    this.undo.do(
      this.api.dropKit(k.id),
      () => `Kit ${k.name} put away`,
      () => this.again(),
    );
  }
}
