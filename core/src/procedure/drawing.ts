import type { Id, Words } from './term';

/** How a stroke of a drawing is meant: what stays, what the hand moves, where it moves, and what only helps to see. */
export type StrokeRole = 'still' | 'moving' | 'arrow' | 'faint';

export interface Stroke {
  /** SVG path data, in a field of 240 by 160. */
  readonly d: string;
  readonly as: StrokeRole;
}

export interface DrawingLabel {
  readonly x: number;
  readonly y: number;
  readonly text: Words;
  /** Where its text stands from that point; `middle` where nothing is said. */
  readonly anchor?: 'start' | 'end';
}

/** What a hand does, drawn once in one language: what moves is in the accent colour, with an arrow. */
export interface Drawing {
  readonly id: Id;
  readonly title: Words;
  /** What is seen, for who cannot see it. */
  readonly words: Words;
  readonly strokes: readonly Stroke[];
  readonly labels: readonly DrawingLabel[];
}

const DRAWING_WIDTH = 240;
const DRAWING_HEIGHT = 160;

const still = (d: string): Stroke => ({ d, as: 'still' });
const moving = (d: string): Stroke => ({ d, as: 'moving' });
const arrow = (d: string): Stroke => ({ d, as: 'arrow' });
const faint = (d: string): Stroke => ({ d, as: 'faint' });
const label = (x: number, y: number, text: Words, anchor?: DrawingLabel['anchor']): DrawingLabel => ({ x, y, text, ...(anchor ? { anchor } : {}) });

/** A circle as a path. */
const ring = (x: number, y: number, r: number): string =>
  `M${String(x - r)} ${String(y)}a${String(r)} ${String(r)} 0 1 0 ${String(2 * r)} 0a${String(r)} ${String(r)} 0 1 0 ${String(-2 * r)} 0`;
/** The point of an arrow that comes from the left, right, above or below. */
const point = (x: number, y: number, to: 'right' | 'left' | 'up' | 'down'): string => {
  const [a, b] = { right: [-10, -7], left: [10, -7], up: [-7, 10], down: [-7, -10] }[to] as [number, number];
  const [c, e] = to === 'right' || to === 'left' ? [a, -b] : [-a, b];
  return `M${String(x + a)} ${String(y + b)}L${String(x)} ${String(y)}L${String(x + c)} ${String(y + e)}`;
};

/** Every drawing of hand-work. Common practice, drawn for this program. */
export const drawings: readonly Drawing[] = [
  {
    id: 'cover-and-blade',
    title: 'Valve cover off',
    words:
      'A round cover seen from the front. It is turned on until its lug stands 6 to 8 mm past the stop; a thin blade between lug and stop holds the catch while it is turned back and off.',
    strokes: [
      still(ring(96, 84, 52)),
      still(ring(96, 84, 30)),
      still('M146 62h18v14h-18'),
      moving('M140 108l24 10l6-13l-24-10z'),
      moving('M160 74l46 26l3-6l-46-26z'),
      arrow('M52 40A62 62 0 0 1 122 28'),
      arrow(point(124, 29, 'right')),
      faint('M164 76L176 108'),
    ],
    labels: [label(172, 62, 'stop', 'start'), label(236, 140, 'lug, 6–8 mm past', 'end'), label(218, 116, 'blade'), label(84, 18, 'on, then back')],
  },
  {
    id: 'face-plate',
    title: 'Plate into the face opening',
    words: 'A cut through plate, seal and screws: the edge of the face seal lies outside the screws, and the wing nuts are hard against the plate.',
    strokes: [
      still('M24 60h192'),
      still('M24 74h192'),
      moving('M52 82h136v14H52z'),
      moving('M64 96v22M176 96v22'),
      moving('M54 118h20M166 118h20'),
      still('M64 46v14M176 46v14'),
      faint('M38 52c-8 10-8 34 0 44M202 52c8 10 8 34 0 44'),
      arrow('M120 140V108'),
      arrow(point(120, 106, 'up')),
    ],
    labels: [label(120, 92, 'plate'), label(120, 54, 'suit'), label(64, 136, 'wing nut'), label(120, 26, 'edge of the seal outside the screws')],
  },
  {
    id: 'inner-tube',
    title: 'Inner tube occluded alone',
    words: 'A tube within a tube. A finger, or the plunger of a syringe, closes the inner one at the patient’s end; the outer one stays open.',
    strokes: [
      still('M20 50h150M20 114h150'),
      still('M170 50v64'),
      faint('M20 70h140M20 94h140'),
      still('M20 70h132v24H20'),
      moving('M152 70h12v24h-12z'),
      moving('M164 78h52a8 8 0 0 1 0 8h-52'),
      arrow('M226 118H184'),
      arrow(point(182, 118, 'left')),
    ],
    labels: [label(84, 42, 'outer tube, open'), label(84, 87, 'inner tube'), label(196, 66, 'finger'), label(204, 138, 'alone')],
  },
  {
    id: 'coupling-heads',
    title: 'Coupling heads, listened at',
    words:
      'Two coupling heads side by side, the supply line’s and the service line’s, joined each to its own and not crossed; a hand holds the supply head off and an ear is beside it.',
    strokes: [
      still('M20 44h70a14 14 0 0 1 0 28H20'),
      still('M20 100h70a14 14 0 0 1 0 28H20'),
      moving('M220 44h-62a14 14 0 0 0 0 28h62'),
      still('M220 100h-78a14 14 0 0 0-14 14a14 14 0 0 0 14 14h78'),
      still(ring(92, 58, 5)),
      still(ring(114, 114, 5)),
      arrow('M136 58H112'),
      arrow('M176 24h34'),
      arrow(point(212, 24, 'right')),
      faint('M118 46c-6 8-6 16 0 24M126 40c-10 12-10 24 0 36'),
    ],
    labels: [label(52, 34, 'supply'), label(52, 92, 'service'), label(190, 14, 'off, and listen'), label(122, 148, 'each to its own, never crossed')],
  },
  {
    id: 'chamber-mark',
    title: 'Mark at the chamber’s mouth',
    words:
      'A brake chamber with its push-rod. The rod is marked where it leaves the chamber with the brakes off; with the pedal down the mark stands out by the stroke, which is measured.',
    strokes: [
      still('M24 44h64a10 10 0 0 1 10 10v52a10 10 0 0 1-10 10H24a10 10 0 0 1-10-10V54a10 10 0 0 1 10-10z'),
      still('M98 72h112v16H98'),
      still('M210 62h18v36h-18z'),
      moving('M150 62v36'),
      faint('M98 98v38M150 98v38'),
      arrow('M104 130h42'),
      arrow(point(148, 130, 'right')),
      faint('M14 60h84M14 100h84'),
    ],
    labels: [label(56, 84, 'chamber'), label(150, 54, 'mark'), label(124, 150, 'stroke'), label(196, 114, 'push-rod')],
  },
  {
    id: 'needle-scale',
    title: 'Which scale the needle stands on',
    words: 'A dial with two scales: psi inside, bar outside. The needle stands at 2 on the inner one; 2 on the outer one would be fourteen times as much.',
    strokes: [
      still(ring(120, 96, 58)),
      faint(ring(120, 96, 38)),
      still('M62 96h10M168 96h10M120 38v10M79 55l7 7M161 55l-7 7'),
      faint('M86 96h6M148 96h6M120 62v6M96 72l4 4M144 72l-4 4'),
      moving('M120 96L92 70'),
      moving(ring(120, 96, 5)),
      arrow('M206 34L152 76'),
      arrow('M166 74L150 78L157 63'),
    ],
    labels: [
      label(104, 66, '2'),
      label(120, 126, 'psi'),
      label(66, 50, '2', 'end'),
      label(184, 122, 'bar', 'start'),
      label(236, 26, 'read the inner one', 'end'),
    ],
  },
];

/**
 * A drawing.
 * @example drawingById('needle-scale')?.title // 'Which scale the needle stands on'
 */
export const drawingById = (id: Id): Drawing | undefined => drawings.find((d) => d.id === id);

/** Colours of a drawing on paper; on a screen they are those of its light. */
const onPaper: Readonly<Record<StrokeRole, string>> = {
  still: 'stroke="#15211E" stroke-width="3"',
  moving: 'stroke="#0F5F66" stroke-width="5" fill="#0F5F66" fill-opacity="0.25"',
  arrow: 'stroke="#0F5F66" stroke-width="4"',
  faint: 'stroke="#4B5A55" stroke-width="1.5" stroke-dasharray="4 4"',
};

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');

/**
 * A drawing as a file of its own (SVG 1.1), for paper and pages.
 * @example drawingSvg(drawings[0]).startsWith('<svg') // true
 */
export function drawingSvg({ title, words, strokes, labels }: Drawing): string {
  const lines = strokes.map(({ d, as }) =>
    `  <path fill="none" stroke-linecap="round" stroke-linejoin="round" ${onPaper[as]} d="${d}"/>`.replace(
      'fill="none" ',
      as === 'moving' ? '' : 'fill="none" ',
    ),
  );
  const texts = labels.map(({ x, y, text, anchor = 'middle' }) => `  <text x="${String(x)}" y="${String(y)}" text-anchor="${anchor}">${escaped(text)}</text>`);
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${String(DRAWING_WIDTH)} ${String(DRAWING_HEIGHT)}" width="480" height="320" font-family="sans-serif" font-size="12" fill="#15211E">`,
    `  <title>${escaped(title)}</title>`,
    `  <desc>${escaped(words)}</desc>`,
    ...lines,
    ...texts,
    '</svg>',
    '',
  ].join('\n');
}
