import { inject, Injectable } from '@angular/core';
import type { SignedIn } from '@grellin/contract';
import { ReplaySubject, type Observable } from 'rxjs';
import { Api } from '../api/api';

/** Pages that anybody may open: nobody is asked for there. */
const OPEN = /^\/(sign-in|first|verify|away)(\/|$)/;

/** Who is signed in, asked while the page is still being fetched: on a slow network the question is a wait of its own, and the router would ask it last. */
@Injectable({ providedIn: 'root' })
export class WhoAmI {
  private readonly api = inject(Api);
  private asked: Observable<SignedIn> | null = null;

  /** @param path of the page that is being opened */
  askAhead(path: string): void {
    if (OPEN.test(path)) return;
    const answer = new ReplaySubject<SignedIn>(1);
    this.api.me().subscribe(answer);
    this.asked = answer;
  }

  /** The answer to what was asked ahead, once; whoever asks later asks anew. */
  ask(): Observable<SignedIn> {
    const { asked } = this;
    this.asked = null;
    return asked ?? this.api.me();
  }
}
