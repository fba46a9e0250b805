import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { judgeRunFile, Malformed } from '../src';
it('smoke', () => { expect(() => judgeRunFile({})).toThrow(Malformed); try { judgeRunFile({format:'x', zz:1, events:[{kind:'nope'}]}); } catch (e) { console.log((e as Malformed).flaws); } void readFileSync; void describe; });
