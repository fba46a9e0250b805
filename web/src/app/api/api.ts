import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  AssetRow,
  InstrumentRow,
  LeakRow,
  Me,
  NewLeak,
  NewRun,
  ObligationRow,
  Problem,
  RecordRow,
  RecordView,
  RigCommand,
  RunRow,
  RunView,
  Scene,
  TodayView,
} from '@grellin/contract';
import type { Procedure, RunEvent } from '@grellin/core';
import type { Observable } from 'rxjs';

export interface AssetPageView extends AssetRow {
  readonly obligations: readonly ObligationRow[];
  readonly instruments: readonly InstrumentRow[];
  readonly records: readonly RecordRow[];
  readonly leaks: readonly LeakRow[];
}

export interface PublishedView {
  readonly digest: string;
  readonly document: Procedure;
}

export interface RigView {
  readonly id: string;
  readonly title: string;
  readonly actions: readonly { readonly act: string; readonly label: string; readonly aims?: true }[];
  readonly faults: readonly string[];
}

/** The server's API, one method a route. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  signIn(name: string, password: string): Observable<Me> {
    return this.http.post<Me>('/api/session', { name, password });
  }
  me(): Observable<Me> {
    return this.http.get<Me>('/api/session');
  }
  signOut(): Observable<unknown> {
    return this.http.delete('/api/session');
  }
  health(): Observable<{ readonly ok: boolean; readonly demo: boolean }> {
    return this.http.get<{ ok: boolean; demo: boolean }>('/api/health');
  }
  today(): Observable<TodayView> {
    return this.http.get<TodayView>('/api/today');
  }
  assets(): Observable<readonly AssetRow[]> {
    return this.http.get<AssetRow[]>('/api/assets');
  }
  asset(id: string): Observable<AssetPageView> {
    return this.http.get<AssetPageView>(`/api/assets/${id}`);
  }
  instruments(): Observable<readonly InstrumentRow[]> {
    return this.http.get<InstrumentRow[]>('/api/instruments');
  }
  procedures(): Observable<readonly PublishedView[]> {
    return this.http.get<PublishedView[]>('/api/procedures');
  }
  records(): Observable<readonly RecordRow[]> {
    return this.http.get<RecordRow[]>('/api/records');
  }
  record(number: string): Observable<RecordView> {
    return this.http.get<RecordView>(`/api/records/${number}`);
  }
  runs(): Observable<readonly RunRow[]> {
    return this.http.get<RunRow[]>('/api/runs');
  }
  markLeak(leak: NewLeak): Observable<{ readonly id: string }> {
    return this.http.post<{ id: string }>('/api/leaks', leak);
  }
  openRun(run: NewRun): Observable<RunView> {
    return this.http.post<RunView>('/api/runs', run);
  }
  run(id: string): Observable<RunView> {
    return this.http.get<RunView>(`/api/runs/${id}`);
  }
  takeOver(id: string): Observable<{ readonly lease: number }> {
    return this.http.post<{ lease: number }>(`/api/runs/${id}/lease`, undefined);
  }
  append(id: string, lease: number, events: readonly RunEvent[]): Observable<readonly { readonly id: string; readonly seq: number }[]> {
    return this.http.post<{ id: string; seq: number }[]>(`/api/runs/${id}/events`, { lease, events });
  }
  clock(): Observable<{ readonly now: number }> {
    return this.http.get<{ now: number }>('/api/clock');
  }
  rig(instrument: string): Observable<RigView> {
    return this.http.get<RigView>(`/api/instruments/${instrument}/rig`);
  }
  scene(instrument: string): Observable<Scene> {
    return this.http.get<Scene>(`/api/instruments/${instrument}/scene`);
  }
  workRig(instrument: string, command: RigCommand): Observable<{ readonly answer: string }> {
    return this.http.post<{ answer: string }>(`/api/instruments/${instrument}/rig`, command);
  }
}

/** What went wrong, in the server's words; a network that is gone has words of its own. */
export function problemOf(error: unknown): Problem {
  if (error instanceof HttpErrorResponse) {
    const body: unknown = error.error;
    if (typeof body === 'object' && body !== null && 'code' in body && 'message' in body) return body as Problem;
    return { code: error.status === 0 ? 'network' : 'server', message: error.status === 0 ? 'The server cannot be reached.' : 'The server could not do this.' };
  }
  return { code: 'client', message: 'Something went wrong here.' };
}
