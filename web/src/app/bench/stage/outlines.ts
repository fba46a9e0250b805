/** Our own line drawings of the equipment, and where its places lie on them. Drawing area 640 × 440. */
export interface Outline {
  readonly title: string;
  /** SVG paths, stroked. */
  readonly paths: readonly string[];
  /** Thin paths: seams, straps, hoses seen behind. */
  readonly thin: readonly string[];
  readonly captions: readonly { readonly x: number; readonly y: number; readonly text: string }[];
  /** Places by the id that a route gives them. */
  readonly places: Readonly<Record<string, readonly [number, number]>>;
}

/** A person seen from the front or from behind, arms a little away, centred on x. */
const person = (x: number): readonly string[] => [
  // Head, then one unbroken outline from the neck round to it again.
  `M${String(x)} 28c22 0 32 16 32 34s-12 34-32 34s-32-16-32-34s10-34 32-34z`,
  `M${String(x - 24)} 92q-8 16-36 22q-26 6-34 38l-24 98q-2 14 10 16t16-10l30-84v72l-10 148q0 12 -14 18h46q6-4 6-14l8-130h4l8 130q0 10 6 14h46q-14-6-14-18l-10-148v-72l30 84q4 12 16 10t10-16l-24-98q-8-32-34-38q-28-6-36-22`,
];

export const outlines: Readonly<Record<string, Outline>> = {
  'breathing-set': {
    title: 'Breathing set, seen from behind',
    paths: [
      // back plate
      'M250 60q70-30 140 0l16 240q-86 40-172 0z',
      // cylinder, valve down
      'M282 76q38-26 76 0v212q-10 20-24 24h-28q-14-4-24-24z',
      // valve and hand-wheel
      'M308 312h24v22h-24zM340 316h34v14h-34zM374 308h14v30h-14z',
      // reducer
      'M266 322h42v26h-42z',
      // manifold
      'M214 326h52v16h-52z',
      // regulator
      'M500 96q30-14 52 6q14 26-8 44q-28 14-48-8q-14-24 4-42z',
      // gauge and alarm cover
      'M112 150a30 30 0 1 0 60 0a30 30 0 1 0-60 0M122 196h40v30h-40z',
    ],
    thin: [
      // low-pressure hose to the regulator, over the right shoulder
      'M266 336q-40 60 40 74q150 10 176-120q6-90 22-150',
      // gauge line over the left shoulder
      'M214 334q-60-10-64-60q-6-30-8-48',
      'M250 60q-40 60-30 120M390 60q40 60 30 120',
      'M118 150h18M142 150l10-14',
    ],
    captions: [],
    places: {
      regulator: [524, 118],
      'low-pressure-hose': [452, 348],
      'hand-wheel': [380, 322],
      reducer: [287, 335],
      manifold: [238, 334],
      'hose-back': [330, 411],
      'gauge-line': [158, 290],
      'alarm-cover': [142, 211],
    },
  },
  'dry-suit': {
    title: 'Dry suit, front and back',
    paths: [...person(180), ...person(460)],
    thin: [
      'M150 96q30 14 60 0',
      'M128 130q50 26 104 0',
      'M180 214v60',
      'M120 258h-30M240 258h30',
      'M416 140q44 20 88 0',
      'M460 150v150',
      'M140 404h20M200 404h20',
    ],
    captions: [
      { x: 180, y: 434, text: 'front' },
      { x: 460, y: 434, text: 'back' },
    ],
    places: {
      neck: [180, 98],
      shoulders: [128, 122],
      zip: [212, 152],
      valves: [158, 178],
      sleeves: [96, 238],
      'body-front': [180, 232],
      crotch: [180, 282],
      legs: [158, 340],
      feet: [146, 412],
      back: [460, 220],
    },
  },
  'gas-tight-suit': {
    title: 'Gas-tight suit, front and back',
    paths: [
      ...[180, 460].map(
        (x) =>
          `M${String(x)} 22c34 0 50 26 50 58q0 20 14 34q30 10 38 40l22 92q2 16-12 18t-18-12l-26-74v80l8 140q2 20 -8 20h-46q-6 0-8-14l-10-118h-8l-10 118q-2 14-8 14h-46q-10 0-8-20l8-140v-80l-26 74q-4 14-18 12t-12-18l22-92q8-30 38-40q14-14 14-34c0-32 16-58 50-58z`,
      ),
      'M150 62q30-18 60 0q10 22 0 40q-30 16-60 0q-10-20 0-40z',
    ],
    thin: ['M214 100q30 120-6 214', 'M460 90v120', 'M412 150h96v110h-96z', 'M96 250h30M234 250h30', 'M128 400h34M198 400h34'],
    captions: [
      { x: 180, y: 434, text: 'front' },
      { x: 460, y: 434, text: 'back, with room for the set' },
    ],
    places: {
      visor: [180, 80],
      zip: [222, 190],
      'zip-end': [212, 308],
      gloves: [98, 252],
      boots: [146, 408],
      seams: [180, 236],
      'exhaust-valves': [430, 112],
      'air-inlet': [498, 236],
      back: [460, 290],
    },
  },
  ibc: {
    title: 'Transport tank in its frame',
    paths: [
      'M110 80h420v300h-420z',
      'M134 124q0-24 24-24h324q24 0 24 24v208q0 24-24 24h-324q-24 0-24-24z',
      'M270 100v-28h100v28M262 72h116',
      'M176 100v-18h40v18',
      'M420 100v-18h28v18',
      'M466 100v-14h24v14',
      'M296 356v24h48v-24M344 368h40v12h-40z',
    ],
    thin: ['M134 170h372M134 286h372M230 100v256M410 100v256', 'M110 380v22h40v-22M490 380v22h40v-22'],
    captions: [],
    places: { manhole: [320, 74], filling: [196, 84], 'relief-place': [434, 84], vent: [478, 88], seams: [230, 228], outlet: [364, 374] },
  },
  circuit: {
    title: 'Breathing circuit',
    paths: [
      'M70 130h120v170h-120z',
      'M84 150h92v60h-92zM84 222h92v60h-92z',
      'M190 150q180-40 280 60M190 270q180 60 280-50',
      'M470 200h40v24h-40zM510 204h50v16h-50z',
      'M110 300q-30 60 10 90q50 20 60-40q0-30-24-50',
      'M200 100h40v40h-40z',
    ],
    thin: ['M120 130v-40h-60', 'M220 100v-30'],
    captions: [],
    places: {
      absorber: [130, 216],
      hoses: [340, 168],
      'patient-piece': [490, 212],
      bag: [132, 350],
      'relief-valve': [220, 120],
      inlet: [74, 90],
      'hose-back': [340, 286],
    },
  },
  'air-lines': {
    title: 'Air of a vehicle, from above',
    paths: [
      // compressor with its governor
      'M50 76h70v54h-70zM66 76v-18h38v18',
      // two reservoirs
      'M190 70q-14 18 0 36h118q14-18 0-36zM190 150q-14 18 0 36h118q14-18 0-36z',
      // foot valve
      'M398 60h34v28h-34zM415 60l-14-26M386 30l34 8',
      // chambers, left and right
      'M120 320q-18 20 0 40h30q16-20 0-40zM300 320q-18 20 0 40h30q16-20 0-40zM120 246q-18 18 0 36h30q16-18 0-36zM300 246q-18 18 0 36h30q16-18 0-36z',
      // coupling heads
      'M540 210h44v26h-44zM540 268h44v26h-44z',
    ],
    thin: [
      'M120 103h64M150 103v65h34',
      'M314 88h84M314 168h92v-80',
      'M415 88v130h-265M406 218h-250M350 218v122h-20M170 218v122h-20M330 264h20M150 264h20',
      'M415 218h125M415 218v62h125',
      'M230 106v14M270 186v14',
      // wheels
      'M60 236h40v50h-40zM60 316h40v50h-40zM350 236h30v50h-30zM350 316h30v50h-30z',
    ],
    captions: [
      { x: 85, y: 152, text: 'compressor' },
      { x: 562, y: 320, text: 'to the trailer' },
    ],
    places: {
      compressor: [84, 100],
      drains: [250, 124],
      'foot-valve': [415, 74],
      lines: [250, 218],
      couplings: [562, 252],
      chambers: [316, 340],
    },
  },
  tank: {
    title: 'Tank with its openings',
    paths: [
      'M90 170q0-50 50-50h360q50 0 50 50v120q0 50-50 50h-360q-50 0-50-50z',
      'M180 120v-40h40v40M174 80h52',
      'M290 120v-30h60v30M284 90h72',
      'M430 120v-52M416 68h28',
      'M320 340v34h60',
    ],
    thin: ['M90 230h460', 'M40 120h50M550 120h50'],
    captions: [],
    places: { 'fill-cap': [200, 80], hatch: [320, 90], vent: [430, 68], adapters: [250, 120], seams: [320, 230], outlet: [366, 374] },
  },
  store: {
    title: 'Sealed store',
    paths: ['M120 380v-200l200-120l200 120v200z', 'M290 78v-20h60v20', 'M260 380v-46h120v46', 'M470 380v-36h36v36'],
    thin: ['M120 180h400', 'M220 380v-200M420 380v-200', 'M90 380h460'],
    captions: [],
    places: {
      'top-hatch': [320, 60],
      eaves: [150, 180],
      'sheet-seams': [220, 280],
      'outlet-lid': [320, 336],
      'fan-inlet': [488, 346],
      base: [170, 380],
      'relief-valve': [420, 200],
    },
  },
  valve: {
    title: 'Valve, cut open',
    paths: ['M260 400v-120h120v120M230 280h180v-36h-180z', 'M276 244v-140q44-40 88 0v140', 'M316 104v-56h8v56', 'M284 236h72v-14h-72z', 'M380 210h90v-50h-90'],
    thin: ['M296 220l48-12l-48-14l48-14l-48-14l48-14l-48-14'],
    captions: [],
    places: { seat: [320, 240], body: [276, 180], bonnet: [320, 100], inlet: [320, 340], outlet: [440, 186] },
  },
};

/** Which outline shows an asset of a class, for marking a leak outside a route. */
export const outlineOfClass: Readonly<Record<string, string>> = {
  'gas-tight-suit': 'gas-tight-suit',
  'dry-suit': 'dry-suit',
  'breathing-set': 'breathing-set',
  'anaesthetic-machine': 'circuit',
  'breathing-circuit': 'circuit',
  truck: 'air-lines',
  bus: 'air-lines',
  'fire-apparatus': 'air-lines',
  trailer: 'air-lines',
  ibc: 'ibc',
  'storage-tank': 'tank',
  'cargo-tank': 'tank',
  'sealed-store': 'store',
  'vent-valve': 'valve',
  'relief-valve': 'valve',
};
