import type { Quantity, Unit } from '../quantity';

/** A name inside a document: lower case, digits, dots and dashes. */
export type Id = string;
/** A sentence for people. */
export type Words = string;
/** SHA-256, in hex. */
export type Digest = string;
export type Channel = Id;
export type Role = Id;
export type Verdict = 'pass' | 'fail' | 'undecided' | 'void';

/** Where a figure comes from. The title `common practice` is a fact of the trade and has no clause. */
export interface Source {
  readonly title: Words;
  readonly clause?: Words;
}

/** An attribute of an asset in the run, written `role.attribute`, for example `vehicle.units`. */
export type AttributeRef = `${Role}.${Id}`;

export type Condition =
  | { readonly attribute: AttributeRef; readonly is: readonly (string | boolean)[] }
  /** From (included), up to (included) or below (left out). */
  | { readonly attribute: AttributeRef; readonly from?: Quantity; readonly upTo?: Quantity; readonly below?: Quantity }
  | { readonly all: readonly Condition[] };

/**
 * A figure: written down, taken from the asset, from the first row of a table whose condition holds, or a named function of other figures
 * (`formula.ts` has every one, with its source). No expression language.
 */
export type Value =
  | Quantity
  | { readonly attribute: AttributeRef }
  | { readonly rows: readonly { readonly when: Condition; readonly value: Value }[] }
  | { readonly formula: Id; readonly of: Readonly<Record<Id, Value>> };

/** A pressure, time or count that a rule set lays down, with its source. */
export interface Parameter {
  readonly value: Value;
  readonly source: Source;
}

/** What a limit can be put on. `methodFacts.ts` says which of these each method can measure, and in what. */
export const measures = [
  'loss',
  'lossPerMinute',
  'end',
  'ratio',
  'change',
  'firstDrop',
  'graduations',
  'time',
  'flow',
  'pressure',
  'count',
  'percent',
  'elastic',
  'total',
  'deviation',
  'permanent',
  'blowdown',
  'spread',
  'grade',
  'stroke',
  'difference',
] as const;
export type Measure = (typeof measures)[number];

export type Comparison = '<' | '<=' | '>' | '>=';

/** One limit: a row of data. A band is two limits. */
export interface Limit {
  readonly id: Id;
  readonly stage: Id;
  readonly of: Measure;
  /** Judged on this channel alone; left out, on every channel of the stage. */
  readonly channel?: Channel;
  readonly op: Comparison;
  readonly value: Value;
  readonly when?: Condition;
  /** Put on the loss that is left once the measured drift of gas temperature and barometer is taken off. Left out: on the readings as they are. */
  readonly corrected?: true;
  /** ISO dates: the first and the last day on which the limit is in force. */
  readonly from?: Words;
  readonly until?: Words;
  /** Beyond it the item is condemned: it never returns. */
  readonly condemns?: true;
  /** Where the rule rounds before it compares: half up, after any subtraction. */
  readonly round?: { readonly unit: Unit; readonly decimals: number };
  readonly source: Source;
}

/** Ids name parameters of the rule set. A step is done when the person (or the clock) marks it. */
export type Step = { readonly id: Id; readonly text: Words } & (
  | { readonly kind: 'act' }
  | { readonly kind: 'wait'; readonly s: Id }
  /** With `orFails`, a window that is never reached is a leak and not a test left out. */
  | { readonly kind: 'reach'; readonly channel: Channel; readonly low: Id; readonly high: Id; readonly orFails?: true }
);

export interface DecayMethod {
  readonly kind: 'decay';
  readonly channels: readonly Channel[];
  /** Parameter: how long the hold lasts. */
  readonly hold: Id;
  /** Parameters: the window that each channel must stand in when the start is read. */
  readonly start: { readonly low: Id; readonly high: Id };
  /** Parameter: a reading above this is over the top, and is warned about. */
  readonly top?: Id;
  /** A step after which a first drop is taken (start reading against the last one before it) and kept apart from the loss. */
  readonly firstDropAfter?: Id;
  /** A vessel whose gas can warm or cool during the hold. */
  readonly gas?: GasFacts;
}

/** What is known of the gas in a vessel under test, so that a loss can be said in other terms and drift be told from a leak. */
export interface GasFacts {
  /** The inside volume: without it no flow is named. */
  readonly volume?: AttributeRef;
  /** Its walls give way, so that a flow from the pressure alone is only a lower bound. */
  readonly flexible?: true;
  /** Somebody breathes from it: the leak is also said in minutes of air. */
  readonly breathed?: true;
  /** Channels that read the gas temperature and the barometer, where they are fitted. */
  readonly temperature?: Channel;
  readonly barometer?: Channel;
}

/** A pressure is left to itself until half of it is gone. */
export interface HalfLifeMethod {
  readonly kind: 'halfLife';
  readonly channel: Channel;
  /** Parameters: the window that the start is read in. */
  readonly start: { readonly low: Id; readonly high: Id };
  readonly gas?: GasFacts;
}

/** A flow is set so that the pressure stands still; the flow is the leak. */
export interface MakeUpFlowMethod {
  readonly kind: 'makeUpFlow';
  readonly pressure: Channel;
  readonly flow: Channel;
  /** Parameters: the band that the pressure must keep all the while. */
  readonly band: { readonly low: Id; readonly high: Id };
  /** Parameter: how long it must keep it. */
  readonly hold: Id;
}

/** What the gauges stood at when something happened. */
export interface EventPressureMethod {
  readonly kind: 'eventPressure';
  readonly channels: readonly Channel[];
  readonly mark: Id;
  /** What to watch for. */
  readonly text: Words;
  /** The extreme of the readings up to the mark counts, and not the one at it: what it rose to before it suddenly dropped. */
  readonly take?: 'highest' | 'lowest';
}

/** How long a pressure takes from one figure to another. */
export interface ElapsedMethod {
  readonly kind: 'elapsed';
  readonly channel: Channel;
  readonly from: Id;
  readonly to: Id;
  /** Engine speed, noted beside the time. */
  readonly speed?: Channel;
}

/** A cylinder is stretched by water and let back: what stays is the permanent expansion. */
export interface ExpansionMethod {
  readonly kind: 'expansion';
  readonly rig: 'jacket' | 'direct';
  readonly pressure: Channel;
  /** Water out of the jacket, or into the cylinder. */
  readonly water: Channel;
  /** Parameters: the test pressure, and the raised one of a repeat after the equipment failed. */
  readonly test: { readonly low: Id; readonly high: Id; readonly repeatLow?: Id; readonly repeatHigh?: Id };
  readonly hold: Id;
  /** Direct: the mass of water at no pressure, and the channel of its temperature. */
  readonly mass?: Id;
  readonly temperature?: Channel;
  /** A calibrated cylinder: the expansion that its certificate names. */
  readonly certificate?: Id;
}

/** A valve is lifted again and again; where it opens and where it shuts is found in the trace. */
export interface ReliefMethod {
  readonly kind: 'relief';
  readonly channel: Channel;
  readonly repeats: number;
  /** Parameter: the marked set pressure. */
  readonly set: Id;
}

export interface Spot {
  readonly id: Id;
  readonly text: Words;
}

/** How hard a place bubbles, from nothing to a stream that grows with the pressure. */
export type Grade = 'none' | 'fewAtFirst' | 'stream' | 'grows';

/** Places are soaped in the order of the route, each with its grade. */
export interface SurveyMethod {
  readonly kind: 'survey';
  readonly outline: Id;
  readonly route: readonly Spot[];
}

export interface Axle {
  readonly id: Id;
  readonly title: Words;
  readonly left: Channel;
  readonly right: Channel;
  readonly when?: Condition;
}

/** Push-rod strokes, side by side. */
export interface StrokeMethod {
  readonly kind: 'stroke';
  readonly axles: readonly Axle[];
}

export interface CheckItem {
  readonly id: Id;
  readonly text: Words;
  /** A 'no' here ends the test at once. */
  readonly automatic?: true;
  /** The item need not apply to every asset; the answer then needs a reason. */
  readonly optional?: true;
  /** A 'no' here condemns the item: it never returns. */
  readonly condemns?: true;
}

export interface CheckMethod {
  readonly kind: 'check';
  readonly items: readonly CheckItem[];
}

/** The methods this edition of the core can judge. `method/` has one file for each. */
export type Method =
  | DecayMethod
  | HalfLifeMethod
  | MakeUpFlowMethod
  | EventPressureMethod
  | ElapsedMethod
  | ExpansionMethod
  | ReliefMethod
  | SurveyMethod
  | StrokeMethod
  | CheckMethod;
export type MethodKind = Method['kind'];
export type MethodOf<K extends MethodKind> = Extract<Method, { kind: K }>;

export type Phase = 'gather' | 'precondition' | 'look' | 'rig' | 'test' | 'aftercare';

export interface Stage {
  readonly id: Id;
  readonly role: Role;
  readonly title: Words;
  readonly when?: Condition;
  /** How often it may be tried in one run. */
  readonly attempts: number;
  readonly onFail: 'continue' | 'endRun';
  readonly phase: Phase;
  readonly steps: readonly Step[];
  readonly method: Method;
}

export type DecisionRule = { readonly kind: 'simple' } | { readonly kind: 'guarded'; readonly confidence: number };

/** A figure of the assets that must keep a bound before the test counts, for example enough ullage. */
export interface Requirement {
  readonly id: Id;
  readonly text: Words;
  readonly of: Value;
  readonly op: Comparison;
  readonly value: Value;
  readonly source: Source;
}

/** Something that a hold asks of the person again and again. */
export interface Prompt {
  readonly stage: Id;
  readonly every: Quantity;
  readonly text: Words;
  /** Only where a gauge is read by eye. */
  readonly byEye?: true;
  readonly source: Source;
}

export interface RuleSet {
  readonly id: Id;
  readonly title: Words;
  readonly edition: Words;
  /** One line on whom it is for and how it works, shown when it is chosen. */
  readonly note: Words;
  /** Chosen by itself when this holds. */
  readonly suits?: Condition;
  /** Stages in this order; stages not named keep their place in the procedure. */
  readonly order: readonly Id[] | 'free';
  /** The ordered stages are a series: one done out of its turn makes the run void. */
  readonly strict?: true;
  /** What must hold of the assets before a run may be opened. */
  readonly requires?: readonly Requirement[];
  /** Stages, or steps of a stage, that this school leaves out. */
  readonly skip: readonly Id[];
  /** The step that starts the hold clock of a stage; left out, the clock starts when the start is read. */
  readonly holdFrom?: Readonly<Record<Id, Id>>;
  /** What the hold of a stage asks for at every so much time. */
  readonly prompts?: readonly Prompt[];
  readonly parameters: Readonly<Record<Id, Parameter>>;
  readonly limits: readonly Limit[];
  readonly decision: DecisionRule;
}

export interface RoleRow {
  readonly classes: readonly Id[];
  readonly optional?: true;
}

/** One thing that is read: a gauge, a flow meter, a rule. */
export interface ChannelRow {
  readonly role: Role;
  readonly unit: Unit;
  readonly title: Words;
  /** Read where it is fitted; a run may be opened without it. */
  readonly optional?: true;
}

export interface Procedure {
  readonly id: Id;
  readonly edition: Words;
  readonly title: Words;
  /** What a passing and a failing item is called. */
  readonly verdictWords: { readonly pass: Words; readonly fail: Words };
  /** What must be at hand before it begins. */
  readonly bring?: readonly Words[];
  /** Where the work can hurt somebody whatever the step. */
  readonly warning?: Words;
  readonly sources: readonly Source[];
  readonly roles: Readonly<Record<Role, RoleRow>>;
  /** Two gauges are two channels. */
  readonly channels: Readonly<Record<Channel, ChannelRow>>;
  readonly stages: readonly Stage[];
  readonly ruleSets: readonly RuleSet[];
  /** Shown before the stage or step it names. */
  readonly cautions: readonly { readonly before: Id; readonly text: Words }[];
  readonly faults: readonly { readonly stage: Id; readonly sign: Words; readonly cause: Words; readonly next: Words }[];
}
