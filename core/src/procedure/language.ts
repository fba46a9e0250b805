import type { Quantity, Unit } from '../quantity';
import type { CheckItem, Method, Shown } from './method';
import type { AttributeRef, Channel, Condition, Id, Measure, OnSetUp, Role, Source, Stands, Value, Words } from './term';

export type * from './method';
export type * from './term';

/** A pressure, time or count that a rule set lays down, with its source. */
export interface Parameter {
  readonly value: Value;
  readonly source: Source;
}

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
  /** Beyond it nothing is decided: what it sends to is looked at, and the stage is done again. A drop that no bubble at the seat accounts for is not the seat's. */
  readonly sends?: Words;
  /** Where the rule rounds before it compares: half up, after any subtraction. */
  readonly round?: { readonly unit: Unit; readonly decimals: number };
  readonly source: Source;
}

/** Ids name parameters of the rule set. A step is done when the person (or the clock) marks it. */
export type Step = {
  readonly id: Id;
  readonly text: Words;
  /** One line for whoever does it for the first time: why it is done. */
  readonly why?: Words;
  /** The drawing of what a hand does there. */
  readonly drawing?: Id;
} & OnSetUp &
  /** Where the channel is fitted its gauge must show it before it counts as done; with `stays`, until the stage has measured. */
  (
    | { readonly kind: 'act'; readonly shown?: Shown; readonly stays?: true }
    /**
     * With `keep`, its clock runs only while the channel stands in that window; so often it may be topped up. With `shown`, it is not over before the gauges of that
     * show it, where they are fitted: the air inside and outside as warm as one another.
     */
    | {
        readonly kind: 'wait';
        readonly s: Id;
        readonly keep?: { readonly channel: Channel; readonly low: Id; readonly high: Id; readonly topUps: number };
        readonly shown?: Shown;
      }
    /** With `orFails`, a window that is never reached is a leak and not a test left out. */
    | {
        readonly kind: 'reach';
        readonly channel: Channel;
        readonly low: Id;
        readonly high: Id;
        readonly orFails?: true;
        /** What is filled, and the most that the supply brings: what stands there sooner than that could bring it there fills something else. */
        readonly fills?: { readonly volume: AttributeRef; readonly most: Id };
      }
  );

/** Something of the set-up that stands one way or another, as it is shown and as it is brought there. The order of names in a document means nothing: a store may keep another. */
export interface StateRow {
  readonly title: Words;
  /** How it stands before anybody has touched it. */
  readonly first: Id;
  readonly ways: Readonly<Record<Id, { readonly said: Words; readonly put: Words }>>;
}

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
  /** Done only where the stage that is named was measured and did not keep its limit; it then decides in its place. A circuit that does not stand still is held by a flow. */
  readonly decides?: Id;
  /** Done only where one of the stages that are named has failed: it looks for where, and says nothing of whether. */
  readonly seeks?: readonly Id[];
  /** It proves the rig and says nothing of the item: within a round it is done once, by items that ask the same of it on the same gauges. */
  readonly proves?: true;
  /** Done for each thing of a list of the day; `once` names the steps that are done before the first of them alone. */
  readonly each?: { readonly list: Id; readonly once?: readonly Id[] };
  /** Done by night, where the item stands: between sunset and half an hour after sunrise, by the clock of the run. */
  readonly byNight?: { readonly latitude: AttributeRef; readonly longitude: AttributeRef };
}

/** A list of the day: things of one kind that belong to the item, with figures of their own, told anew whenever a run is opened. */
export interface ListRow {
  /** The kind of part, which has the attributes that each thing is told by. */
  readonly part: Id;
  readonly title: Words;
  /** What one of them is called. */
  readonly one: Words;
  readonly most: number;
  /** How many the register says there are, added up over the items of the run: none of them is left out. */
  readonly count: readonly AttributeRef[];
  /** Each of so many stands in the list at least once, told apart by `by`: every unit of a combination with an axle of its own. */
  readonly covers?: { readonly by: Id; readonly count: AttributeRef };
  /** Things with the same value of `by` are tested as one: the figures in `sums` are added up, the others have to be the same. */
  readonly together?: { readonly by: Id; readonly sums: readonly Id[] };
}

/** A table of figures that somebody else lays down: of which kind, what its lines are found by, and where the item says whose it is. */
export interface TableUse {
  readonly kind: Id;
  readonly by: AttributeRef;
  readonly named: AttributeRef;
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
  /** What it asks for is a reading: the record has the table, and says which was missed. */
  readonly reads?: true;
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
  /** Stages, or steps and items of a stage, that this school leaves out. */
  readonly skip: readonly Id[];
  /** The step that starts the hold clock of a stage; left out, the clock starts when the start is read. */
  readonly holdFrom?: Readonly<Record<Id, Id>>;
  /** What the hold of a stage asks for at every so much time. */
  readonly prompts?: readonly Prompt[];
  readonly parameters: Readonly<Record<Id, Parameter>>;
  readonly limits: readonly Limit[];
  readonly decision: DecisionRule;
  /** No instrument is read: what a hand can find this way and what it cannot, said with every finding of it. */
  readonly byFeel?: { readonly finds: Words; readonly misses: Words };
}

export interface RoleRow {
  readonly classes: readonly Id[];
  readonly optional?: true;
  /** What it is called, where its id is no word. */
  readonly title?: Words;
}

/** One thing that is read: a gauge, a flow meter, a rule. */
export interface ChannelRow {
  readonly role: Role;
  readonly unit: Unit;
  readonly title: Words;
  /** Read where it is fitted; a run may be opened without it. */
  readonly optional?: true;
  /** Read where it is fitted, and needed only where that one is not. */
  readonly unless?: Channel;
  /** Needed where that one is fitted, and only there. */
  readonly with?: Channel;
  /** Parameters: what the rule asks of whatever reads it. */
  readonly asks?: {
    /** Its scale goes no further: a gauge of a longer one shows less of what is looked for. */
    readonly upTo?: Id;
    /** It was calibrated no longer ago. */
    readonly calibratedWithin?: Id;
  };
}

export interface Procedure {
  readonly id: Id;
  readonly edition: Words;
  /** The rules that it was written for. Documents without it are from before the second and are read as they were then. */
  readonly language?: 2;
  readonly title: Words;
  /** What a passing and a failing item is called. */
  readonly verdictWords: { readonly pass: Words; readonly fail: Words };
  /** What a pass says of the item. Who claims that it is tight must have looked for the leak, whatever the item is like. */
  readonly claims?: 'tight' | 'in order' | 'within figures';
  /** What must be at hand before it begins. */
  readonly bring?: readonly Words[];
  /** Where the work can hurt somebody whatever the step. */
  readonly warning?: Words;
  readonly sources: readonly Source[];
  readonly roles: Readonly<Record<Role, RoleRow>>;
  /** Two gauges are two channels. */
  readonly channels: Readonly<Record<Channel, ChannelRow>>;
  /** What is told anew of each day, thing by thing. */
  readonly lists?: Readonly<Record<Id, ListRow>>;
  /** Tables that an officer keeps and rule sets take figures from. */
  readonly tables?: Readonly<Record<Id, TableUse>>;
  readonly stages: readonly Stage[];
  readonly ruleSets: readonly RuleSet[];
  /** What is asked of the set-up when something never comes, besides whether there is supply: each names a way in which the rig, and not the item, is to blame. */
  readonly setUp?: readonly CheckItem[];
  /** What of the set-up can stand one way or another, where that can hurt somebody or spoil the test. */
  readonly states?: Readonly<Record<Id, StateRow>>;
  /** How the set-up must never stand, and why. */
  readonly never?: readonly { readonly stands: Stands; readonly why: Words }[];
  /** Shown before the stage or step it names. */
  readonly cautions: readonly { readonly before: Id; readonly text: Words }[];
  readonly faults: readonly { readonly stage: Id; readonly sign: Words; readonly cause: Words; readonly next: Words }[];
}
