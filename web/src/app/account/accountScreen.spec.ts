import type { SessionRow } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../testing/screen';
import { AccountScreen } from './accountScreen';

const session = (id: string, current: boolean): SessionRow => ({ id, createdAt: '2026-11-27T08:00:00Z', seenAt: '2026-11-27T09:30:00Z', address: '10.0.0.7', agent: 'A browser', current }); // prettier-ignore

describe('one’s own account', () => {
  const shown = async (): Promise<Screen<AccountScreen>> => {
    const s = new Screen(AccountScreen, 'tester');
    await s.answer('GET', '/api/me/sessions', [session('here', true), session('there', false)]);
    return s;
  };
  const type = (s: Screen<AccountScreen>, id: string, value: string): void => {
    const field = s.page.querySelector<HTMLInputElement>(`#${id}`) as HTMLInputElement;
    field.value = value;
    field.dispatchEvent(new Event('input'));
    field.dispatchEvent(new Event('blur'));
  };

  it('shows where somebody is signed in, and ends another session but not this one', async () => {
    const s = await shown();
    expect(s.text).toContain('2026-11-27 09:30');
    expect(s.text).toContain('this one');
    await s.press('End the session from 10.0.0.7 since 2026-11-27 08:00');
    await s.answer('DELETE', '/api/me/sessions/there', {});
    await s.answer('GET', '/api/me/sessions', [session('here', true)]);
    expect(s.text).not.toContain('End the session');
  });

  it('sends no password that the server would refuse for its form, and says why beside the field', async () => {
    const s = await shown();
    type(s, 'old', 'the old one');
    type(s, 'new', 'short');
    type(s, 'again', 'other');
    await s.settle();
    await s.press('Change the password');
    s.http.expectNone('/api/me/password');
    expect(s.text).toContain('New password is too small');
    expect(s.text).toContain('New password again is not the same');
    type(s, 'new', 'red kite over the sound');
    type(s, 'again', 'red kite over the sound');
    await s.settle();
    await s.press('Change the password');
    const sent = s.asked('POST', '/api/me/password');
    expect(sent.request.body).toEqual({ old: 'the old one', password: 'red kite over the sound' });
    sent.flush({ code: 'password.common', message: 'This password is among the first that are guessed' }, { status: 400, statusText: 'refused' });
    await s.settle();
    expect(s.text).toContain('among the first that are guessed');
  });
});
