import { test as base, type APIRequestContext } from '@playwright/test';
import { people } from './bench';

type Stored = Awaited<ReturnType<APIRequestContext['storageState']>>;

interface Session {
  readonly stored: Stored;
  /** The API with the officer's session. */
  readonly api: APIRequestContext;
}

/** Tests that begin signed in: each worker signs in once, and every page of it starts from that session. */
export const test = base.extend<{ readonly api: APIRequestContext }, { readonly session: Session }>({
  session: [
    async ({ playwright }, use, info) => {
      const baseURL = info.project.use.baseURL ?? '';
      const api = await playwright.request.newContext({ baseURL, extraHTTPHeaders: { origin: new URL(baseURL).origin } });
      const reply = await api.post('/api/session', { data: { name: 'officer', password: people.officer } });
      if (!reply.ok()) throw new Error(`sign-in: ${String(reply.status())}`);
      await use({ stored: await api.storageState(), api });
      await api.dispose();
    },
    { scope: 'worker' },
  ],
  storageState: async ({ session }, use) => use(session.stored),
  api: async ({ session }, use) => use(session.api),
});
