/** A destination of the application. */
export interface Place {
  readonly path: string;
  readonly name: string;
  /** It stands in the bar at the thumb where the window is a phone's; everything else is behind *More*. */
  readonly atThumb?: true;
  /** Only an officer is led there. */
  readonly officer?: true;
}

/** In the order of the work. */
export const workPlaces: readonly Place[] = [
  { path: '/today', name: $localize`Today`, atThumb: true },
  { path: '/bench', name: $localize`Bench`, atThumb: true },
  { path: '/register', name: $localize`Register`, atThumb: true },
  { path: '/plan', name: $localize`Plan` },
  { path: '/instruments', name: $localize`Instruments` },
  { path: '/people', name: $localize`People` },
  { path: '/log', name: $localize`Log` },
  { path: '/along', name: $localize`Along` },
  { path: '/calculator', name: $localize`Calculator` },
];

/** What is set up and looked after, apart from the work. */
export const ownPlaces: readonly Place[] = [
  { path: '/settings', name: $localize`Settings` },
  { path: '/tables', name: $localize`Tables` },
  { path: '/verification', name: $localize`Verification`, officer: true },
];
