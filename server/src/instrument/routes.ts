import {
  calibrationSchema,
  newInstrumentSchema,
  parseScene,
  rigCommandSchema,
  uuid,
  zeroCheckSchema,
  type NewCalibration,
  type NewInstrument,
  type RigCommand,
} from '@grellin/contract';
import type { Quantity } from '@grellin/core';
import { rigById } from '@grellin/core/rig';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { Coded } from '../errors';
import { calibrate, checkZero, instrumentView } from './calibrate';
import { deviceKey, parseAddress, type InputAddress } from './devices';
import { addInstrument, busyDevices, instrumentById, instrumentRow, listInstruments, requireOwnRig } from './store';

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

export function instrumentRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
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

  app.get<{ Params: { id: string } }>(
    '/api/instruments/:id',
    { config: { role: 'reader' }, schema: { summary: 'One instrument: its calibrations, and what was recalled for it', params } },
    (request) => instrumentView(db, request.params.id, context.now()),
  );

  app.post<{ Params: { id: string }; Body: NewCalibration }>(
    '/api/instruments/:id/calibrations',
    { config: { role: 'officer' }, schema: { summary: 'Keep a calibration; found out of tolerance, runs are judged again', params, body: calibrationSchema } },
    async (request, reply) => reply.code(201).send(await calibrate(db, request.params.id, request.body, signedIn(request).id, context.now())),
  );

  app.post<{ Params: { id: string }; Body: { shows: Quantity; note?: string } }>(
    '/api/instruments/:id/zero',
    { config: { role: 'tester' }, schema: { summary: 'Keep what an instrument shows at nothing', params, body: zeroCheckSchema } },
    async (request, reply) =>
      reply.code(201).send(await checkZero(db, request.params.id, request.body.shows, request.body.note ?? '', signedIn(request).id, context.now())),
  );

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
      const made = await addInstrument(db, request.body, signedIn(request).id, context.now());
      return reply.code(201).send({ ...instrumentRow(made), change: made.change });
    },
  );

  app.get(
    '/api/instruments/:id/scene',
    { config: { role: 'reader' }, schema: { summary: 'What is seen and heard beside a simulated rig', params } },
    async (request) => {
      const address = await simulated((request.params as { id: string }).id);
      const scene = parseScene(await context.devices.command(address, 'LOOK'));
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
      return { answer: await context.devices.command(address, commandLine(request.body)) };
    },
  );
}
