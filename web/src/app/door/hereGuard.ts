import { inject } from '@angular/core';
import { Router, type CanActivateFn } from '@angular/router';
import { AwayDoor } from './awayDoor';

/** What the morning is about is known at the server alone: whoever is away begins with what was taken along. */
export const hereGuard: CanActivateFn = () => (inject(AwayDoor).station() === null ? true : inject(Router).createUrlTree(['/along']));
