import { HttpErrorResponse, type HttpInterceptorFn } from '@angular/common/http';
import { DOCUMENT, inject, Injectable, signal } from '@angular/core';
import { SwUpdate } from '@angular/service-worker';
import { API_EDITION, EDITION_HEADER } from '@grellin/contract/edition';
import { catchError, throwError } from 'rxjs';
import { problemOf } from '../api/api';

/** Whether the server still understands this page. */
@Injectable({ providedIn: 'root' })
export class PageEdition {
  private readonly updates = inject(SwUpdate, { optional: true });
  private readonly document = inject(DOCUMENT);
  readonly old = signal(false);

  /** Loads the page anew, and the newest of it; what is unsent lies on this device and is sent by the new one. */
  async renew(): Promise<void> {
    if (this.updates?.isEnabled) await this.updates.checkForUpdate().catch(() => false);
    this.document.location.reload();
  }
}

/** Says the page's edition with everything that it asks of the server. */
export const editionInterceptor: HttpInterceptorFn = (request, next) => {
  if (!request.url.startsWith('/api/')) return next(request);
  const page = inject(PageEdition);
  return next(request.clone({ setHeaders: { [EDITION_HEADER]: String(API_EDITION) } })).pipe(
    catchError((error: unknown) => {
      if (error instanceof HttpErrorResponse && problemOf(error).code === 'page.old') page.old.set(true);
      return throwError(() => error);
    }),
  );
};
