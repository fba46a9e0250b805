import { HttpErrorResponse, type HttpInterceptorFn } from '@angular/common/http';
import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { catchError, throwError } from 'rxjs';
import { problemOf } from '../api/api';

/** A session that has run out leads to the sign-in and back again; what is queued on this machine waits for the same account. */
export const signedOutInterceptor: HttpInterceptorFn = (request, next) => {
  const router = inject(Router);
  return next(request).pipe(
    catchError((error: unknown) => {
      const ranOut = error instanceof HttpErrorResponse && error.status === 401 && problemOf(error).code === 'session.none';
      if (ranOut && !request.url.endsWith('/api/session')) void router.navigate(['/sign-in'], { queryParams: { next: router.url } });
      return throwError(() => error);
    }),
  );
};
