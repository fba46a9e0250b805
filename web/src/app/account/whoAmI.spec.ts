import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { WhoAmI } from './whoAmI';

describe('who is signed in', () => {
  let server: HttpTestingController;
  let who: WhoAmI;
  const heard: string[] = [];
  const ask = () => who.ask().subscribe({ next: (me) => heard.push(me.name), error: (e: { status: number }) => heard.push(String(e.status)) });
  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
    server = TestBed.inject(HttpTestingController);
    who = TestBed.inject(WhoAmI);
    heard.length = 0;
  });

  it('is asked ahead once, and its answer serves the first who asks; whoever asks later asks anew', () => {
    who.askAhead('/today');
    server.expectOne('/api/session').flush({ name: 'ida' });
    ask();
    expect(heard).toEqual(['ida']);
    ask();
    server.expectOne('/api/session').flush({ name: 'per' });
    expect(heard).toEqual(['ida', 'per']);
  });

  it('is not asked ahead on a page that anybody may open, and a refusal is heard by who asks', () => {
    for (const path of ['/sign-in', '/verify', '/away', '/first']) who.askAhead(path);
    server.expectNone('/api/session');
    who.askAhead('/verification');
    server.expectOne('/api/session').flush({}, { status: 401, statusText: 'x' });
    ask();
    expect(heard).toEqual(['401']);
  });
});
