import { rigCommandSchema, uuid, type RigCommand } from '@grellin/contract';
import { rigById } from '@grellin/core/rig';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import type { Context } from '../context';
import { Coded } from '../errors';
import { parseAddress } from './devices';
import { busyDevices, instrumentById, instrumentRow, listInstruments } from './store';

function commandLine(command: RigCommand): string {
  const words =
    command.act === 'reset'
      ? ['RESET', command.fault ?? 'none']
      : command.act === 'hand'
        ? ['HAND', command.move ?? '', command.to ?? 0]
        : command.act === 'free'
          ? ['FREE', command.speed ?? 1]
          : ['STEP', command.seconds ?? 1];
  return words.map((w) => encodeURIComponent(w)).join(' ');
}

export function instrumentRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const params = object({ id: uuid() }).noUnknown();

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

  app.post<{ Body: RigCommand }>(
    '/api/instruments/:id/rig',
    { config: { role: 'tester' }, schema: { summary: 'Work a simulated rig', params, body: rigCommandSchema } },
    async (request) => {
      const found = await instrumentById(db, (request.params as { id: string }).id);
      const address = parseAddress(found.address ?? '');
      if (!found.simulated || !address) throw new Coded('instrument.notSimulated', `${found.tag} has no simulated rig.`);
      return { answer: await context.devices.command(address, commandLine(request.body)) };
    },
  );
}
