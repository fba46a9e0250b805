/** The demo's people; their passwords are printed by the start command, and so work on loopback only. */
export const people = [
  { name: 'officer', fullName: 'Runa Tveitholm', role: 'officer', password: 'skarvoy-officer' },
  { name: 'tester', fullName: 'Oddleif Skarnes', role: 'tester', password: 'skarvoy-tester' },
  { name: 'reader', fullName: 'Maiken Fjordal', role: 'reader', password: 'skarvoy-reader' },
] as const;
