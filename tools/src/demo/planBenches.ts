/** Where tests are planned: a bench with what it can be rigged for, or a place that somebody goes to. */
export const planBenches: readonly { readonly name: string; readonly setups: readonly string[]; readonly hoursAWeek: number }[] = [
  { name: 'Suit and mask bench', setups: ['suit.inflation', 'ba.facepiece', 'drysuit.survey'], hoursAWeek: 12 },
  { name: 'Breathing-set stand', setups: ['ba.user-check', 'ba.soap-survey', 'ba.high-pressure'], hoursAWeek: 16 },
  { name: 'Clinic', setups: ['anaes.machine', 'anaes.circle', 'anaes.t-piece', 'anaes.mapleson-a', 'anaes.coaxial-d'], hoursAWeek: 6 },
  { name: 'Vehicle hall', setups: ['brakes.applied-loss', 'brakes.strokes', 'brakes.in-cab'], hoursAWeek: 10 },
  { name: 'Gas store', setups: ['cyl.visual', 'cyl.water-jacket', 'cyl.direct-expansion', 'valve.relief'], hoursAWeek: 10 },
  {
    name: 'Round: fuel farm and stores',
    setups: ['tank.ibc', 'tank.ibc-look', 'tank.vapour-10', 'tank.vapour-2', 'tank.cargo', 'valve.vent', 'store.half-life'],
    hoursAWeek: 8,
  },
];
