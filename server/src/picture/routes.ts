import { digest, MOST_PICTURE_BYTES } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { Coded, type Moment } from '../base';
import type { Database } from '../db';
import { signedIn } from '../account';
import { keepPicture, pictureBytes } from './store';

/** What these routes work with. */
export interface PictureNeeds {
  readonly db: Database;
  readonly now: () => Moment;
}

/** Nothing in a picture is ever carried out, whatever it turns out to be. */
const SANDBOX = "sandbox; default-src 'none'";

/** Pictures of what was seen in a run: sent before the run tells of them. */
export const pictureRoutes: FastifyPluginCallback<PictureNeeds> = (app, { db, now }, done) => {
  const params = object({ sha256: digest() }).noUnknown();
  interface One {
    Params: { sha256: string };
  }

  app.addContentTypeParser('image/jpeg', { parseAs: 'buffer', bodyLimit: MOST_PICTURE_BYTES }, (_request, body, parsed) => {
    parsed(null, body);
  });

  app.put<One & { Body: unknown }>(
    '/api/pictures/:sha256',
    { bodyLimit: MOST_PICTURE_BYTES, config: { role: 'tester' }, schema: { summary: 'Keep a picture (image/jpeg) under the SHA-256 of its bytes', params } },
    async (request, reply) => {
      if (!Buffer.isBuffer(request.body)) throw new Coded('picture.refused', 'A picture is sent as image/jpeg.', { flaw: 'notJpeg' });
      await keepPicture(db, request.params.sha256, request.body, { by: signedIn(request).id, at: now() });
      return reply.code(204).send();
    },
  );

  app.get<One>('/api/pictures/:sha256', { config: { role: 'reader' }, schema: { summary: 'A picture, byte for byte', params } }, async (request, reply) => {
    const bytes = await pictureBytes(db, request.params.sha256);
    return reply
      .type('image/jpeg')
      .header('content-security-policy', SANDBOX)
      .header('cross-origin-resource-policy', 'same-origin')
      .header('content-disposition', 'inline; filename="picture.jpg"')
      .header('cache-control', 'private, no-store')
      .send(bytes);
  });
  done();
};
