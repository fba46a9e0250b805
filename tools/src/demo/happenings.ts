/** A run of the past that is not as every other: what the item had, or which gauge it was read with. */
export interface PastStory {
  readonly tag: string;
  readonly daysAgo: number;
  readonly fault: string;
  /** How far its leak had grown. */
  readonly grown?: number;
  readonly no?: { readonly item: string; readonly reason: string };
  /** The device it was read with, where it was not the first of its kind. */
  readonly device?: string;
}

/** Runs of the past with a story, each carried out on a rig with the fault that the item had then. */
export const past: readonly PastStory[] = [
  // A zip that wears: a little more is lost every time.
  ...[0, 0.04, 0.08, 0.12, 0.16, 0.2].map((grown, i) => ({ tag: 'GS-10', daysAgo: 890 - i * 172, fault: 'zip end', grown })),
  // Chambers that age.
  ...[0, 0.08, 0.16, 0.23, 0.31].map((grown, i) => ({ tag: 'TR-04', daysAgo: 720 - i * 172, fault: 'chamber diaphragm', grown })),
  // A store whose hatch seal hardens.
  ...[0, 0.05, 0.1, 0.15].map((grown, i) => ({ tag: 'SS-01', daysAgo: 1000 - i * 215, fault: 'hatch seal', grown })),
  // A leak that was found, mended and proved.
  { tag: 'GS-05', daysAgo: 20, fault: 'valve seat' },
  { tag: 'GS-05', daysAgo: 12, fault: 'none' },
  // Read with the logger that was then found out of tolerance.
  { tag: 'GS-13', daysAgo: 60, fault: 'zip end', grown: 0.2, device: 'PL-04' },
  { tag: 'GS-14', daysAgo: 52, fault: 'none', device: 'PL-04' },
  // In quarantine, or not yet told.
  { tag: 'GS-06', daysAgo: 5, fault: 'kit joint' },
  { tag: 'GS-04', daysAgo: 3, fault: 'zip end' },
  { tag: 'GS-11', daysAgo: 2, fault: 'none', no: { item: 'sound', reason: 'crack at the visor’s lower edge' } },
  { tag: 'TR-03', daysAgo: 1, fault: 'chamber diaphragm' },
];

/** The runs that every item has behind it are as many as this, and no older than three years. */
export const HISTORY = { runs: 3, days: 1095 } as const;

/** Used since its check: it owes one before it goes out again. */
export const usedYesterday: readonly string[] = ['BA-04'];

/** Filled before its test fell due: it may be emptied, and not filled again. */
export const filledBefore: readonly string[] = ['CY-31'];
