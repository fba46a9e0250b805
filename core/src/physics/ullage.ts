/** One tank of a manifold, US gal. */
export interface TankFill {
  readonly capacityGal: number;
  readonly liquidGal: number;
}

export interface UllageSum {
  readonly totalGal: number;
  /** Tanks, by their place, that have too little room for the test. */
  readonly tooLittle: readonly number[];
  readonly tooMuch: boolean;
}

/**
 * The ullage of manifolded tanks, added, with what the ten-inch test asks: 15 % in each tank, and 300 US gal in one below 1000 US gal; no more
 * than 30 000 US gal in all. Common practice.
 * @throws RangeError when a tank holds more than it can
 * @example ullageSum([{ capacityGal: 10000, liquidGal: 6000 }]).totalGal // 4000
 */
export function ullageSum(tanks: readonly TankFill[]): UllageSum {
  const rooms = tanks.map((t) => {
    if (!(t.capacityGal > 0 && t.liquidGal >= 0 && t.liquidGal <= t.capacityGal)) throw new RangeError('a tank holds between nothing and its capacity');
    return t.capacityGal - t.liquidGal;
  });
  const short = (t: TankFill, room: number): boolean => room < 0.15 * t.capacityGal || (t.capacityGal < 1000 && room < 300);
  const totalGal = rooms.reduce((a, b) => a + b, 0);
  return { totalGal, tooLittle: tanks.flatMap((t, i) => (short(t, rooms[i] ?? 0) ? [i] : [])), tooMuch: totalGal > 30_000 };
}

/**
 * Least ullage for the two-inch test: 1000 US gal or a quarter of the capacity, whichever is less. Source: CARB TP-201.3, from memory.
 * @example leastUllageTwoInch(10000) // 1000
 * @example leastUllageTwoInch(2000) // 500
 */
export function leastUllageTwoInch(capacityGal: number): number {
  return Math.min(1000, 0.25 * capacityGal);
}

/**
 * Least time to bring an ullage from 0 to 2 inH2O, min. Source: CARB TP-201.3, from memory.
 * @example leastFillMinutes(4000, 5) // 0.5256242
 */
export function leastFillMinutes(ullageGal: number, cubicFeetPerMinute: number): number {
  return ullageGal / (1522 * cubicFeetPerMinute);
}
