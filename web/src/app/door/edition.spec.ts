import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { API_EDITION } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { editionInterceptor, PageEdition } from './edition';
import { OldPage } from './oldPage';

describe('the edition of a page', () => {
  it('is said with what is asked of the server, and nowhere else; what is too old says so, and is loaded by nobody but a hand', async () => {
    TestBed.configureTestingModule({ providers: [provideHttpClient(withInterceptors([editionInterceptor])), provideHttpClientTesting()] });
    const http = TestBed.inject(HttpClient);
    const server = TestBed.inject(HttpTestingController);
    const notice = TestBed.createComponent(OldPage);
    const problems: number[] = [];
    const ask = (url: string) => http.get(url).subscribe({ error: (e: { status: number }) => problems.push(e.status) });
    ask('/api/today');
    ask('/ngsw.json');
    const today = server.expectOne('/api/today');
    expect(today.request.headers.get('x-grellin-edition')).toBe(String(API_EDITION));
    expect(server.expectOne('/ngsw.json').request.headers.has('x-grellin-edition')).toBe(false);
    today.flush({ code: 'database.away', message: 'away' }, { status: 503, statusText: 'x' });
    await notice.whenStable();
    expect((notice.nativeElement as HTMLElement).textContent.trim()).toBe('');
    ask('/api/today');
    server.expectOne('/api/today').flush({ code: 'page.old', message: 'old' }, { status: 503, statusText: 'x' });
    expect(problems).toEqual([503, 503]);
    expect(TestBed.inject(PageEdition).old()).toBe(true);
    await notice.whenStable();
    expect((notice.nativeElement as HTMLElement).querySelector('[role=alert] button')?.textContent).toBe('Load the newer one');
  });
});
