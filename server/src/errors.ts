/** Every coded error of the server, with its HTTP status. A code is never reused; docs/errors.md explains each. */
export const errorCodes = {
  malformed: 400,
  json: 400,
  'body.tooLarge': 413,
  'body.type': 415,
  'signIn.wrong': 401,
  'signIn.tooMany': 429,
  'session.none': 401,
  'role.tooLow': 403,
  'origin.foreign': 403,
  'host.foreign': 403,
  'route.unknown': 404,
  'asset.unknown': 404,
  'asset.exists': 409,
  'asset.attributeWrong': 409,
  'asset.changed': 409,
  'change.unknown': 404,
  'change.undone': 409,
  'change.overtaken': 409,
  'page.cursor': 400,
  'occasion.ahead': 409,
  'kit.unknown': 404,
  'kit.exists': 409,
  'instrument.unknown': 404,
  'instrument.exists': 409,
  'instrument.unfit': 409,
  'instrument.busy': 409,
  'instrument.unreachable': 502,
  'instrument.notSimulated': 409,
  'instrument.refused': 409,
  'procedure.unknown': 404,
  'run.unknown': 404,
  'run.refused': 409,
  'run.classWrong': 409,
  'run.planRefused': 409,
  'run.figureUnknown': 409,
  'run.closed': 409,
  'event.ahead': 409,
  'event.otherContent': 409,
  'source.reserved': 409,
  'lease.newer': 409,
  'record.unknown': 404,
  'record.notBlocking': 409,
  'obligation.exists': 409,
  'obligation.unknown': 404,
  'obligation.never': 409,
  'obligation.noDate': 409,
  'obligation.hard': 409,
  'obligation.notLater': 409,
  'obligation.notSooner': 409,
  'outside.scan': 409,
  'outside.older': 409,
  'outside.unknown': 404,
  'calibration.due': 409,
  'authorisation.none': 403,
  'authorisation.ranOut': 403,
  'authorisation.reader': 409,
  'authorisation.unknown': 404,
  'account.unknown': 404,
  'account.exists': 409,
  'server.fault': 500,
} as const;

export type ErrorCode = keyof typeof errorCodes;

/** An error that a client is meant to read. */
export class Coded extends Error {
  readonly status: number;
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly values: Readonly<Record<string, string>> = {},
  ) {
    super(message);
    this.name = 'Coded';
    this.status = errorCodes[code];
  }
}
