import { newInstrumentSchema, parseScene, rigCommandSchema, uuid, type NewInstrument, type RigCommand } from '@grellin/contract';
import { rigById } from '@grellin/core/rig';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { Coded, type Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { deviceKey, parseAddress, type InputAddress } from './devices';
import { addInstrument, busyDevices, instrumentById, instrumentRow, listInstruments, requireOwnRig } from './store';
import type { Devices } from './devices';

function commandLine(command: RigCommand): string {
  const words =
    command.act === 'reset'
      ? ['RESET', command.fault ?? 'none', ...(command.seed === undefined ? [] : [command.seed])]
      : command.act === 'hand'
        ? ['HAND', command.move ?? '', command.to ?? 0]
        : command.act === 'free'
          ? ['FREE', command.speed ?? 1]
          : command.act === 'until'
            ? ['UNTIL', command.event ?? '', command.seconds ?? 900]
            : ['STEP', command.seconds ?? 1];
  return words.map((w) => encodeURIComponent(w)).join(' ');
}

/** What these routes work with. */
export interface InstrumentNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  readonly devices: Devices;
}

export const instrumentRoutes: FastifyPluginCallback<InstrumentNeeds> = (app, { db, now, devices }, done) => {
  const params = object({ id: uuid() }).noUnknown();

  /** Where a simulated instrument is; any other has no rig to work. */
  async function simulated(id: string): Promise<InputAddress> {
    const found = await instrumentById(db, id);
    const address = parseAddress(found.address ?? '');
    if (!found.simulated || !address) throw new Coded('instrument.notSimulated', `${found.tag} has no simulated rig.`);
    return address;
  }

  app.get('/api/instruments', { config: { role: 'reader' }, schema: { summary: 'The instruments' } }, async () => {
    const busy = await busyDevices(db);
    return (await listInstruments(db)).map((i) => instrumentRow(i, busy));
  });

  app.get('/api/instruments/:id/rig', { config: { role: 'reader' }, schema: { summary: 'What can be done on a simulated rig', params } }, async (request) => {
    const found = await instrumentById(db, (request.params as { id: string }).id);
    const rig = rigById(found.rig ?? '');
    if (!rig) throw new Coded('instrument.notSimulated', `${found.tag} has no simulated rig.`);
    return { id: rig.id, title: rig.title, actions: rig.actions, faults: rig.faults };
  });

  app.post<{ Body: NewInstrument }>(
    '/api/instruments',
    { config: { role: 'officer' }, schema: { summary: 'Add an instrument', body: newInstrumentSchema } },
    async (request, reply) => {
      const made = await addInstrument(db, request.body, signedIn(request).id, now());
      return reply.code(201).send({ ...instrumentRow(made), change: made.change });
    },
  );

  app.get(
    '/api/instruments/:id/scene',
    { config: { role: 'reader' }, schema: { summary: 'What is seen and heard beside a simulated rig', params } },
    async (request) => {
      const address = await simulated((request.params as { id: string }).id);
      const scene = parseScene(await devices.command(address, 'LOOK'));
      if (!scene) throw new Coded('instrument.refused', `${address.device} gave an answer that cannot be read.`);
      return scene;
    },
  );

  app.post<{ Body: RigCommand }>(
    '/api/instruments/:id/rig',
    { config: { role: 'tester' }, schema: { summary: 'Work a simulated rig', params, body: rigCommandSchema } },
    async (request) => {
      const address = await simulated((request.params as { id: string }).id);
      await requireOwnRig(db, deviceKey(address), signedIn(request).id);
      return { answer: await devices.command(address, commandLine(request.body)) };
    },
  );
  done();
};
