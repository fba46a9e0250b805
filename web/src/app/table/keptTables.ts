import { computed, inject, Injectable } from '@angular/core';
import type { TableRow } from '@grellin/contract';
import { tableNamed, tableOn, tablesUsed, type AttributesByRole, type FigureTable, type Procedure, type RuleSet, type Tables } from '@grellin/core';
import { Api } from '../api/api';
import { Loader } from '../api/loader';

/** The kept tables of figures, as they are fetched once and again when one was published. */
@Injectable({ providedIn: 'root' })
export class KeptTables {
  private readonly api = inject(Api);
  private readonly held = new Loader<readonly TableRow[]>();
  readonly rows = computed(() => this.held.value() ?? []);
  readonly problem = computed(() => this.held.problem());
  readonly loading = computed(() => this.held.loading());
  private readonly standing = computed(() => this.rows().filter((r) => r.withdrawn === null));

  fetch(): void {
    this.held.load(this.api.tables());
  }

  /** What tables of a kind are called, to choose from. */
  names(kind: string): readonly string[] {
    return [...new Set(this.standing().filter((r) => r.table.kind === kind).map((r) => r.table.id))]; // prettier-ignore
  }

  /** The tables that a run would go by today, as the server will find them: what is not there is left out. */
  tablesFor(procedure: Procedure, ruleSet: RuleSet, items: AttributesByRole, today: string): Tables {
    const found: Record<string, FigureTable> = {};
    for (const name of tablesUsed(procedure, ruleSet)) {
      const id = tableNamed(procedure, name, items);
      const editions = this.standing().filter((r) => r.table.id === id).map((r) => r.table).reverse(); // prettier-ignore
      const holds = tableOn(editions, today);
      if (holds) found[name] = holds;
    }
    return found;
  }
}
