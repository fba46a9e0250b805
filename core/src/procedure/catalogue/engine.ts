import type { ChannelRow, Parameter, Procedure } from '../language';
import { fromMemory } from '../source';
import { figure, of } from './parts';

/** The engine of a vehicle, as its own gauge shows it where it is read: a stopped one gives no air, and one that turns faster gives more. */

const nsc = fromMemory('Provincial air-brake manuals');
const perMinute = (value: number) => of(value, '/min');

export const engineChannel: ChannelRow = { role: 'vehicle', unit: '/min', title: 'Engine speed', optional: true };

/** For as long as the stage measures: an engine that is started again makes up for what is lost. */
const off = { makes: { engine: 'off' } } as const;
const on = { makes: { engine: 'on' } } as const;

export const stopped = { shown: { channel: 'engine', high: 'stopped' }, stays: true, ...off } as const;
export const running = { shown: { channel: 'engine', low: 'idleLow' }, ...on } as const;
export const idling = { shown: { channel: 'engine', low: 'idleLow', high: 'idleHigh' }, ...on } as const;
export const fastIdling = { shown: { channel: 'engine', low: 'fastLow', high: 'fastHigh' }, ...on } as const;

/** No engine turns so slowly by itself: what a gauge shows below this is none. Common practice. */
export const standingStill: Readonly<Record<'stopped', Parameter>> = { stopped: figure(perMinute(50)) };

export const engineSpeeds: Procedure['ruleSets'][number]['parameters'] = {
  ...standingStill,
  idleLow: figure(perMinute(600), nsc),
  idleHigh: figure(perMinute(900), nsc),
  fastLow: figure(perMinute(1000)),
  fastHigh: figure(perMinute(1500)),
};
