import { DOCUMENT } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Awake } from './awake';
import { Voice } from './voice';

const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 0));

/** A document whose window has a wake lock and a voice, as far as they are asked. */
function standIn(more: object = {}) {
  const listeners = new Set<() => void>();
  const fake = {
    visibilityState: 'visible',
    addEventListener: (_: string, heard: () => void) => listeners.add(heard),
    documentElement: { lang: 'en' },
    defaultView: more,
  };
  TestBed.configureTestingModule({ providers: [{ provide: DOCUMENT, useValue: fake }] });
  return { fake, turned: () => listeners.forEach((heard) => heard()) };
}

beforeEach(() => localStorage.clear());
afterEach(() => TestBed.resetTestingModule());

describe('the screen', () => {
  it('stays lit while it is wanted, is asked for again when the page comes back, and is let go', async () => {
    const sentinels: { released: boolean; release: () => Promise<void> }[] = [];
    const request = vi.fn(() => {
      const one = { released: false, release: () => Promise.resolve(void (one.released = true)) };
      sentinels.push(one);
      return Promise.resolve(one);
    });
    const { fake, turned } = standIn({ navigator: { wakeLock: { request } } });
    const awake = TestBed.inject(Awake);
    awake.keep(true);
    awake.keep(true);
    await settled();
    expect(request).toHaveBeenCalledTimes(1);
    // The device takes it back when the page is out of sight, and gives none there.
    fake.visibilityState = 'hidden';
    if (sentinels[0]) sentinels[0].released = true;
    turned();
    await settled();
    expect(request).toHaveBeenCalledTimes(1);
    fake.visibilityState = 'visible';
    turned();
    await settled();
    expect(request).toHaveBeenCalledTimes(2);
    awake.keep(false);
    await settled();
    expect(sentinels.every((s) => s.released)).toBe(true);
  });
  it('is let go where it was wanted no more before it was given, and nothing breaks where it is refused or there is none', async () => {
    let give: (s: { released: boolean; release: () => Promise<void> }) => void = () => undefined;
    const one = { released: false, release: () => Promise.resolve(void (one.released = true)) };
    standIn({ navigator: { wakeLock: { request: () => new Promise((done) => (give = done)) } } });
    const awake = TestBed.inject(Awake);
    awake.keep(true);
    awake.keep(false);
    give(one);
    await settled();
    expect(one.released).toBe(true);
    TestBed.resetTestingModule();
    standIn({ navigator: { wakeLock: { request: () => Promise.reject(new Error('battery low')) } } });
    TestBed.inject(Awake).keep(true);
    await settled();
    TestBed.resetTestingModule();
    standIn({ navigator: {} });
    TestBed.inject(Awake).keep(true);
    await settled();
  });
});

describe('the voice', () => {
  class Utterance {
    lang = '';
    constructor(readonly text: string) {}
  }
  it('is off until somebody wants it, leaves off what is over, and remembers the choice', () => {
    const said: string[] = [];
    const cancel = vi.fn();
    standIn({ SpeechSynthesisUtterance: Utterance, speechSynthesis: { cancel, speak: (u: Utterance) => said.push(`${u.lang}: ${u.text}`) } });
    const voice = TestBed.inject(Voice);
    voice.say('not heard');
    expect(said).toEqual([]);
    voice.toggle();
    expect(said).toEqual(['en: This is how it sounds.']);
    voice.say('Hands off');
    voice.say('');
    expect(said).toHaveLength(2);
    expect(cancel).toHaveBeenCalledTimes(2);
    voice.toggle();
    voice.say('not heard');
    expect(said).toHaveLength(2);
    expect(localStorage.getItem('grellin.voice')).toBe('off');
  });
  it('is no voice where the browser has none, whatever was chosen elsewhere', () => {
    localStorage.setItem('grellin.voice', 'on');
    standIn({});
    const voice = TestBed.inject(Voice);
    expect([voice.can, voice.on()]).toEqual([false, false]);
    expect(() => voice.say('x')).not.toThrow();
  });
});
