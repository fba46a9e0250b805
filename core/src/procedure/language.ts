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
  | { readonly attribute: AttributeRef; readonly from?: Quantity; readonly below?: Quantity }
  | { readonly all: readonly Condition[] };

/** A figure: written down, taken from the asset, or from the first row of a table whose condition holds. No expression language. */
export type Value = Quantity | { readonly attribute: AttributeRef } | { readonly rows: readonly { readonly when: Condition; readonly value: Quantity }[] };

/** A pressure, time or count that a rule set lays down, with its source. */
export interface Parameter {
  readonly value: Value;
  readonly source: Source;
}

/** What a limit is put on. Each method says which of these it can measure. */
export type Measure = 'loss' | 'lossPerMinute' | 'end' | 'ratio' | 'firstDrop';

/** One limit: a row of data. A band is two limits. */
export interface Limit {
  readonly id: Id;
  readonly stage: Id;
  readonly of: Measure;
  /** Judged on this channel alone; left out, on every channel of the stage. */
  readonly channel?: Channel;
  readonly op: '<' | '<=' | '>' | '>=';
  readonly value: Value;
  readonly when?: Condition;
  /** Where the rule rounds before it compares: half up, after any subtraction. */
  readonly round?: { readonly unit: Unit; readonly decimals: number };
  readonly source: Source;
}

/** Ids name parameters of the rule set. A step is done when the person (or the clock) marks it. */
export type Step = { readonly id: Id; readonly text: Words } & (
  | { readonly kind: 'act' }
  | { readonly kind: 'wait'; readonly s: Id }
  | { readonly kind: 'reach'; readonly channel: Channel; readonly low: Id; readonly high: Id }
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
  /** A vessel whose gas can warm or cool during the hold: the drift that alone would equal the limit is shown. */
  readonly gas?: true;
}

export interface CheckItem {
  readonly id: Id;
  readonly text: Words;
  /** A 'no' here ends the test at once. */
  readonly automatic?: true;
  /** The item need not apply to every asset; the answer then needs a reason. */
  readonly optional?: true;
}

export interface CheckMethod {
  readonly kind: 'check';
  readonly items: readonly CheckItem[];
}

/** The methods this edition of the core can judge. `method/` has one file for each. */
export type Method = DecayMethod | CheckMethod;
export type MethodKind = Method['kind'];

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
  /** Stages, or steps of a stage, that this school leaves out. */
  readonly skip: readonly Id[];
  /** The step that starts the hold clock of a stage; left out, the clock starts when the start is read. */
  readonly holdFrom?: Readonly<Record<Id, Id>>;
  readonly parameters: Readonly<Record<Id, Parameter>>;
  readonly limits: readonly Limit[];
  readonly decision: DecisionRule;
}

export interface RoleRow {
  readonly classes: readonly Id[];
  readonly optional?: true;
}

export interface Procedure {
  readonly id: Id;
  readonly edition: Words;
  readonly title: Words;
  /** What a passing and a failing item is called. */
  readonly verdictWords: { readonly pass: Words; readonly fail: Words };
  readonly sources: readonly Source[];
  readonly roles: Readonly<Record<Role, RoleRow>>;
  /** Two gauges are two channels. */
  readonly channels: Readonly<Record<Channel, { readonly role: Role; readonly unit: Unit; readonly title: Words }>>;
  readonly stages: readonly Stage[];
  readonly ruleSets: readonly RuleSet[];
  /** Shown before the stage or step it names. */
  readonly cautions: readonly { readonly before: Id; readonly text: Words }[];
  readonly faults: readonly { readonly stage: Id; readonly sign: Words; readonly cause: Words; readonly next: Words }[];
}
