import { DestroyRef, DOCUMENT, inject, signal, type Signal } from '@angular/core';

/** Whether the window is a phone's: a screen then shows one thing at a time. It follows a phone that is turned. Called where a component is made. */
export function narrowWindow(): Signal<boolean> {
  const media = inject(DOCUMENT).defaultView?.matchMedia('(width < 48rem)');
  const narrow = signal(media?.matches ?? false);
  const turned = (event: MediaQueryListEvent): void => narrow.set(event.matches);
  media?.addEventListener('change', turned);
  inject(DestroyRef).onDestroy(() => media?.removeEventListener('change', turned));
  return narrow.asReadonly();
}
