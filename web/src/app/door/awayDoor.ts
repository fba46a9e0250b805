import { HttpContextToken, HttpErrorResponse, HttpResponse, type HttpInterceptorFn } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import { from, switchMap, throwError, of, type Observable } from 'rxjs';
import type { StreamSignal } from '../run/runStream';

/** An answer of the API, wherever it comes from. */
export interface Answer {
  readonly status: number;
  readonly body: unknown;
}

/** What answers the API in the server's place while this device is away. */
export interface Station {
  answer(method: string, path: string, query: URLSearchParams, body: unknown): Promise<Answer>;
  follow(wanted: () => Readonly<Record<string, number>>): Observable<StreamSignal>;
}

/** What is said in plain of what lies on this device: no more than whose it is, so that a cold start knows whom to ask for a PIN. */
export interface OnDevice {
  readonly id: string;
  readonly account: string;
  readonly by: string;
  readonly until: string;
  /** Runs that were begun here and are not handed in. */
  readonly unsent: number;
  /** Asks the server how it stands with this; it opens nothing. Empty where a file was laid down. */
  readonly secret: string;
}

const KEY = 'grellin.along';

/**
 * The door between the application and whoever answers it. It is shut until somebody has opened what was taken along, and stays open until that is put away:
 * nothing is asked of the server and of the device by turns.
 */
@Injectable({ providedIn: 'root' })
export class AwayDoor {
  private readonly inside = signal<Station | null>(null);
  private closing: () => void = () => undefined;
  readonly station = this.inside.asReadonly();
  private readonly told = signal<OnDevice | null>(read());
  readonly onDevice = this.told.asReadonly();

  /** @param closing what is done when it is shut, by whomever: the key of what lies inside is forgotten */
  open(station: Station, closing: () => void): void {
    this.closing = closing;
    this.inside.set(station);
  }

  shut(): void {
    this.inside.set(null);
    const done = this.closing;
    this.closing = () => undefined;
    done();
  }

  note(what: OnDevice | null): void {
    if (what) localStorage.setItem(KEY, JSON.stringify(what));
    else localStorage.removeItem(KEY);
    this.told.set(what);
  }
}

function read(): OnDevice | null {
  try {
    const value: unknown = JSON.parse(localStorage.getItem(KEY) ?? 'null');
    if (typeof value === 'object' && value !== null && 'id' in value && 'account' in value && 'unsent' in value) return value as OnDevice;
  } catch {
    // Not ours: as good as none.
  }
  return null;
}

/** A request that is meant for the server itself, whoever else could answer it. */
export const TO_SERVER = new HttpContextToken<boolean>(() => false);

/** Who signs in, or asks whether the server is there, means the server. */
const SERVERS_OWN = /^(GET \/api\/health|(POST|DELETE) \/api\/session)$/;

/** While the door is open the device answers, and nothing leaves it but what is meant for the server. */
export const awayInterceptor: HttpInterceptorFn = (request, next) => {
  const station = inject(AwayDoor).station();
  if (!station || request.context.get(TO_SERVER) || SERVERS_OWN.test(`${request.method} ${request.url}`) || !request.url.startsWith('/api/'))
    return next(request);
  const query = new URLSearchParams(request.params.toString());
  return from(station.answer(request.method, request.url, query, request.body)).pipe(
    switchMap(({ status, body }) =>
      status < 300
        ? of(new HttpResponse({ status, body, url: request.url }))
        : throwError(() => new HttpErrorResponse({ status, error: body, url: request.url })),
    ),
  );
};
