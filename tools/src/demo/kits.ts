/** A kit, how many of a class it must have ready, and what it holds. */
export const kits: readonly { readonly name: string; readonly needs: readonly { readonly class: string; readonly minimum: number }[]; readonly tags: readonly string[] }[] = [
  { name: 'Entry team', needs: [{ class: 'breathing-set', minimum: 4 }, { class: 'face-piece', minimum: 4 }], tags: ['BA-01', 'BA-02', 'BA-03', 'BA-04', 'FP-03', 'FP-04', 'FP-05', 'FP-06'] },
  { name: 'Spill response', needs: [{ class: 'gas-tight-suit', minimum: 3 }], tags: ['GS-12', 'GS-10', 'GS-15', 'GS-16'] },
  { name: 'Under-ice dive', needs: [{ class: 'dry-suit', minimum: 2 }], tags: ['DS-03', 'DS-04', 'DS-05'] },
]; // prettier-ignore
