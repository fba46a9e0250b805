import { digestText, GENESIS, type Sha256 } from './seal';
import type { Fault } from './verify';

/** The head of all heads at one moment: whoever keeps it elsewhere finds a database that was rewritten as a whole. */
export interface Anchor {
  readonly version: 1;
  readonly at: string;
  /** How many records there were, in the order in which they were sealed. */
  readonly records: number;
  /** Merkle root over their numbers, runs and heads. */
  readonly root: string;
  /** SHA-256 of the anchor before it, as it stands in its line; zeros for the first. */
  readonly previous: string;
}

/** What of a record is anchored. */
export interface AnchoredRecord {
  readonly number: string;
  readonly run: string;
  readonly head: string;
}

/** Leaves and nodes are told apart by their first letter, so that none can be taken for the other (RFC 6962, section 2.1, in text). */
const leafText = (r: AnchoredRecord): string => `L${digestText([r.number, r.run, r.head])}`;
const nodeText = (left: string, right: string): string => `N${left}${right}`;

/**
 * A Merkle root that takes one record after another: it keeps one hash for each level, so that ten million records need no list.
 * @example root of nothing: 64 zeros
 */
export class MerkleRoot {
  /** The left node of each level that waits for its right one. */
  private readonly waiting: (string | undefined)[] = [];
  private size = 0;

  constructor(private readonly sha256: Sha256) {}

  async add(record: AnchoredRecord): Promise<void> {
    let node = await this.sha256(leafText(record));
    let level = 0;
    for (; this.waiting[level] !== undefined; level++) {
      node = await this.sha256(nodeText(this.waiting[level] ?? '', node));
      this.waiting[level] = undefined;
    }
    this.waiting[level] = node;
    this.size++;
  }

  get records(): number {
    return this.size;
  }

  async root(): Promise<string> {
    let node: string | undefined;
    for (const left of this.waiting) if (left !== undefined) node = node === undefined ? left : await this.sha256(nodeText(left, node));
    return node ?? GENESIS;
  }
}

/** Reads a file of anchors, one a line. What is no anchor is named by its line. */
export function readAnchors(text: string): {
  readonly anchors: readonly { readonly line: string; readonly anchor: Anchor }[];
  readonly faults: readonly Fault[];
} {
  const anchors: { line: string; anchor: Anchor }[] = [];
  const faults: Fault[] = [];
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    try {
      const { version, at, records, root, previous } = JSON.parse(line) as { readonly [K in keyof Anchor]: Anchor[K] extends number ? number : string };
      if (version !== 1 || !Number.isInteger(records) || !/^[0-9a-f]{64}$/.test(root) || !/^[0-9a-f]{64}$/.test(previous)) throw new Error('no anchor');
      anchors.push({ line, anchor: { version: 1, at, records, root, previous } });
    } catch {
      faults.push({ code: 'anchor.broken', run: null, seq: null, message: `line ${String(i + 1)} of the anchors is none` });
    }
  }
  return { anchors, faults };
}

/**
 * Holds anchors against the records that are kept, in the order in which they were sealed.
 * @param records told one after another
 */
export async function verifyAnchors(
  text: string,
  records: AsyncIterable<AnchoredRecord> | Iterable<AnchoredRecord>,
  sha256: Sha256,
): Promise<readonly Fault[]> {
  const { anchors, faults: unread } = readAnchors(text);
  const faults = [...unread];
  let previous = GENESIS;
  for (const { line, anchor } of anchors) {
    if (anchor.previous !== previous)
      faults.push({ code: 'anchor.broken', run: null, seq: null, message: `the anchor of ${anchor.at} does not follow the one before it` });
    previous = await sha256(line);
  }
  const tree = new MerkleRoot(sha256);
  const open = [...anchors].sort((a, b) => a.anchor.records - b.anchor.records);
  const due = async (): Promise<void> => {
    for (let next = open[0]; next && next.anchor.records === tree.records; next = open[0]) {
      open.shift();
      if ((await tree.root()) !== next.anchor.root)
        faults.push({
          code: 'anchor.root',
          run: null,
          seq: null,
          message: `the ${String(next.anchor.records)} records of ${next.anchor.at} are not those that were anchored`,
        });
    }
  };
  await due();
  for await (const record of records) {
    await tree.add(record);
    await due();
  }
  for (const { anchor } of open)
    faults.push({
      code: 'anchor.fewer',
      run: null,
      seq: null,
      message: `${String(anchor.records)} records were anchored ${anchor.at}; ${String(tree.records)} are kept`,
    });
  return faults;
}
