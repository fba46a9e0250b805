import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject, signal } from '@angular/core';
import {
  isBundleHead,
  readCode,
  verifyCode,
  verifyProcedures,
  verifyRun,
  type BundleLine,
  type CertificateAnswer,
  type KeptProcedure,
  type KeptRun,
  type Problem,
} from '@grellin/contract';
import type { Procedure } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { Api, problemOf } from '../api/api';
import { Seal } from '../mark/seal';

async function sha256(text: string): Promise<string> {
  const bytes = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text));
  return Array.from(new Uint8Array(bytes), (b) => b.toString(16).padStart(2, '0')).join('');
}

/** What was found without a server, in a bundle. */
interface Offline {
  readonly file: string;
  readonly sound: boolean;
  readonly faults: readonly string[];
}

const words: Readonly<Record<string, string>> = { pass: 'passed', fail: 'failed', undecided: 'could not be decided', void: 'was no valid test' };

/**
 * What the code on a certificate opens, without a sign-in: what the certificate says, beside what is kept, and how the item stands now. All that it says
 * stands behind the `#`, so that no log on the way has it. It works on an exported bundle as well, with no server at all.
 */
@Component({
  selector: 'gr-verify-screen',
  imports: [ButtonModule, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './verifyScreen.html',
  styleUrl: './verifyScreen.css',
})
export class VerifyScreen {
  private readonly api = inject(Api);
  private readonly window = inject(DOCUMENT).defaultView;
  protected readonly code = signal(readCode(this.window?.location.hash ?? ''));
  protected readonly answer = signal<CertificateAnswer | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly asking = signal(false);
  protected readonly offline = signal<Offline | null>(null);
  protected readonly reading = signal<string | null>(null);
  protected readonly sentence = computed(() => {
    const c = this.code();
    return c ? `${c.tag} ${words[c.verdict] ?? c.verdict}` : '';
  });
  protected readonly known = computed(() => {
    const a = this.answer();
    return a?.known ? a : null;
  });

  constructor() {
    this.ask();
  }

  protected ask(): void {
    const code = this.code();
    if (!code) return;
    this.asking.set(true);
    this.problem.set(null);
    this.api.verifyCertificate(code).subscribe({
      next: (answer) => {
        this.answer.set(answer);
        this.asking.set(false);
      },
      error: (e: unknown) => {
        this.problem.set(problemOf(e));
        this.asking.set(false);
      },
    });
  }

  /** Verifies the certificate in a bundle, in this browser. */
  protected async takeBundle(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    const code = this.code();
    if (!file || !code) return;
    this.offline.set(null);
    this.reading.set(`Reading ${file.name}…`);
    const faults: string[] = [];
    try {
      const procedures: KeptProcedure[] = [];
      let run: KeptRun | null = null;
      for (const [i, line] of (await file.text()).split('\n').entries()) {
        if (line === '') continue;
        const of = JSON.parse(line) as BundleLine;
        if (i === 0 && !isBundleHead(of)) throw new Error('no bundle');
        if ('procedure' in of) procedures.push(of.procedure);
        else if ('run' in of && of.run.record?.number === code.number) run = of.run;
      }
      faults.push(...verifyCode(code, run?.record ?? null).map((f) => f.message));
      faults.push(...(await verifyProcedures(procedures, sha256)).map((f) => f.message));
      const documents = new Map<string, Procedure>(procedures.map((p) => [p.digest, p.document]));
      if (run) faults.push(...(await verifyRun(run, documents, sha256)).faults.map((f) => f.message));
    } catch {
      faults.push('this file is no bundle of Grellin’s');
    }
    this.offline.set({ file: file.name, sound: faults.length === 0, faults });
    this.reading.set(null);
  }
}
