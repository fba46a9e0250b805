import { describe, expect, it } from 'vitest';
import { BenchKeys, keys } from './keys';

const event = (key: string, more: KeyboardEventInit & { readonly on?: HTMLElement } = {}): KeyboardEvent => {
  const { on = document.body, ...init } = more;
  const made = new KeyboardEvent('keydown', { key, bubbles: true, ...init });
  if (on !== document.body) document.body.append(on);
  on.dispatchEvent(made);
  return made;
};
const button = (kind = ''): HTMLElement => Object.assign(document.createElement('button'), { className: kind });

describe('the keys of the bench', () => {
  it('do what the sheet says, in either case, and nothing with a modifier or in a field', () => {
    const pressed = new BenchKeys();
    for (const { key, act } of keys) expect(pressed.pressed(event({ Space: ' ', Esc: 'Escape' }[key] ?? key))).toBe(act);
    expect(pressed.pressed(event('n'))).toBe('no');
    expect(pressed.pressed(event('n', { ctrlKey: true }))).toBeNull();
    expect(pressed.pressed(event(' ', { on: document.createElement('input') }))).toBeNull();
    expect(pressed.pressed(event('F5'))).toBeNull();
  });

  it('answer once for a key that is held, whatever key it is', () => {
    const pressed = new BenchKeys();
    expect(pressed.pressed(event(' '))).toBe('press');
    for (const { key } of keys) expect(pressed.pressed(event({ Space: ' ', Esc: 'Escape' }[key] ?? key, { repeat: true }))).toBeNull();
    expect(pressed.pressed(event(' '))).toBe('press');
  });

  it('keep a held Enter or Space from pressing the button in focus over and over', () => {
    const pressed = new BenchKeys();
    expect(pressed.holdsDown(event('Enter', { repeat: true, on: button('primary') }))).toBe(true);
    expect(pressed.holdsDown(event(' ', { repeat: true, on: button() }))).toBe(true);
    expect(pressed.holdsDown(event(' ', { repeat: true }))).toBe(true);
    expect(pressed.holdsDown(event('Enter', { on: button('primary') }))).toBe(false);
    expect(pressed.holdsDown(event('Enter', { repeat: true }))).toBe(false);
    expect(pressed.holdsDown(event(' ', { repeat: true, on: document.createElement('input') }))).toBe(false);
    expect(pressed.holdsDown(event('ArrowDown', { repeat: true, on: button() }))).toBe(false);
    expect(pressed.holdsDown(event('Enter', { repeat: true, on: document.createElement('input') }))).toBe(false);
  });

  it('leave Space to the button that was walked to, until something is pointed at', () => {
    const pressed = new BenchKeys();
    pressed.pressed(event('Tab'));
    expect(pressed.pressed(event(' ', { on: button() }))).toBeNull();
    expect(pressed.pressed(event(' ', { on: button('primary') }))).toBe('press');
    pressed.pointed();
    expect(pressed.pressed(event(' ', { on: button() }))).toBe('press');
  });
});
