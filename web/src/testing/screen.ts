import { HttpClient, provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting, type TestRequest } from '@angular/common/http/testing';
import type { EnvironmentProviders, Provider, Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { AccountRole } from '@grellin/contract';
import { provideState, provideStore, Store } from '@ngrx/store';
import { AccountActions, accountFeature } from '../app/account/accountStore';

// The browser of these tests knows no media: it is wide, and bright. What watches its own size never hears of a change. And nothing of it scrolls.
const lacking = {
  matchMedia: (media: string) =>
    Object.assign(new EventTarget(), { media, matches: false, onchange: null, addListener: () => undefined, removeListener: () => undefined }),
};
for (const [name, value] of Object.entries(lacking))
  if (typeof Reflect.get(window, name) !== 'function') Object.defineProperty(window, name, { value, configurable: true });
if (!('scrollIntoView' in Element.prototype)) Object.defineProperty(Element.prototype, 'scrollIntoView', { value: () => undefined });

/** A screen before somebody of a role, with a server that a test answers for. */
export class Screen<T> {
  readonly fixture: ComponentFixture<T>;
  readonly http: HttpTestingController;

  constructor(
    component: Type<T>,
    role: AccountRole = 'officer',
    inputs: Readonly<Record<string, unknown>> = {},
    more: readonly (Provider | EnvironmentProviders)[] = [],
  ) {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({
      providers: [provideRouter([]), provideHttpClient(), provideHttpClientTesting(), provideStore(), provideState(accountFeature), ...more],
    });
    TestBed.inject(HttpClient);
    this.http = TestBed.inject(HttpTestingController);
    TestBed.inject(Store).dispatch(AccountActions.known({ me: { id: 'me', name: role, fullName: `The ${role}`, role, mustChange: false, zone: 'UTC' } }));
    this.fixture = TestBed.createComponent(component);
    for (const [name, value] of Object.entries(inputs)) this.fixture.componentRef.setInput(name, value);
    this.fixture.detectChanges();
  }

  get page(): HTMLElement {
    return this.fixture.nativeElement as HTMLElement;
  }

  get text(): string {
    return this.page.textContent.replace(/\s+/g, ' ');
  }

  /** Lets what was asked and typed settle. */
  async settle(): Promise<void> {
    await this.fixture.whenStable();
    this.fixture.detectChanges();
  }

  /** The one request of a kind that waits for an answer. */
  asked(method: string, url: string): TestRequest {
    return this.http.expectOne((r) => r.method === method && r.url === url);
  }

  async answer(method: string, url: string, body: unknown): Promise<TestRequest> {
    const request = this.asked(method, url);
    request.flush(body as object);
    await this.settle();
    return request;
  }

  async refuse(method: string, url: string, status: number, body: object): Promise<void> {
    this.asked(method, url).flush(body, { status, statusText: 'refused' });
    await this.settle();
  }

  button(name: string): HTMLButtonElement {
    const found = [...this.page.querySelectorAll('button')].find((b) => (b.getAttribute('aria-label') ?? b.textContent).replace(/\s+/g, ' ').trim() === name);
    if (!found) throw new Error(`no button “${name}” in: ${this.text.slice(0, 400)}`);
    return found;
  }

  async press(name: string): Promise<void> {
    this.button(name).click();
    await this.settle();
  }

  /** The control under a label. */
  control(label: string): HTMLInputElement | HTMLSelectElement {
    const named = this.page.querySelector<HTMLInputElement>(`[aria-label="${label}"]`);
    if (named) return named;
    const found = [...this.page.querySelectorAll('label')].find((l) => l.textContent.replace(/\s+/g, ' ').trim() === label);
    const control =
      found &&
      (found.htmlFor
        ? [...this.page.querySelectorAll<HTMLInputElement>('input, select, textarea')].find((c) => c.id === found.htmlFor)
        : found.querySelector('input'));
    if (!control) throw new Error(`no control under “${label}”`);
    return control;
  }

  async type(label: string, text: string): Promise<void> {
    // A form writes its first values a moment after it is drawn: what is typed before that would be written over.
    await this.settle();
    const control = this.control(label);
    control.value = text;
    control.dispatchEvent(new Event('input'));
    control.dispatchEvent(new Event('change'));
    await this.settle();
  }

  /** Chooses from one of PrimeNG's selects, by its label and what stands in its list. */
  async pick(label: string, option: string): Promise<void> {
    await this.settle();
    const box = this.page.querySelector<HTMLElement>(`[role="combobox"][aria-label="${label}"]`);
    if (!box) throw new Error(`no select “${label}” in: ${this.text.slice(0, 400)}`);
    box.closest<HTMLElement>('.p-select, .p-multiselect')?.click();
    await this.settle();
    const found = [...document.querySelectorAll<HTMLElement>('[role="option"]')].find((o) => o.textContent.trim() === option);
    if (!found) throw new Error(`“${label}” offers no “${option}”`);
    found.click();
    await this.settle();
  }

  /** Chooses a file. The browser of these tests has files without a way to read them. */
  async choose(label: string, name: string, type: string, text: string): Promise<void> {
    const input = this.control(label);
    const read = { text: () => Promise.resolve(text), arrayBuffer: () => Promise.resolve(new TextEncoder().encode(text).buffer) };
    Object.defineProperty(input, 'files', { value: [Object.assign(new File([text], name, { type }), read)] });
    input.dispatchEvent(new Event('change'));
    await this.settle();
  }

  async tick(label: string): Promise<void> {
    this.control(label).click();
    await this.settle();
  }
}
