export function freePort(): Promise<number>;
export function startPostgres(options: {
  readonly folder: string;
  readonly durable: boolean;
}): Promise<{ readonly url: string; readonly port: number; readonly password: string; readonly stop: () => void }>;
