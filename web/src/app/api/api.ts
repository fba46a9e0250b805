import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  AccountChange,
  AlongRow,
  Anchor,
  AssetChange,
  AssetRow,
  AssetView,
  Authorisation,
  BeyondUse,
  BulkChange,
  CertificateAnswer,
  CertificateCode,
  ChangeRow,
  Deferral,
  FirstOfficer,
  ImportReport,
  InstrumentRow,
  InstrumentView,
  KeptPlan,
  KitRow,
  Lift,
  NewAsset,
  NewCalibration,
  NewKit,
  NewLeak,
  NewInstrument,
  NewObligation,
  NewPerson,
  NewOccasion,
  NewPlanBench,
  NewRound,
  NewRun,
  OpenedRun,
  OutsideCertificate,
  PasswordChange,
  PersonRow,
  PlanView,
  Problem,
  PublishTable,
  ReadTable,
  LogPage,
  LogQuery,
  RecordView,
  RegisterPage,
  RegisterQuery,
  RigCommand,
  ClockView,
  OpenRunRow,
  DayWork,
  RoundGroup,
  RoundItem,
  RoundTake,
  RoundRow,
  RoundView,
  RunView,
  SavedView,
  SavedViewRow,
  Scene,
  SessionRow,
  SignedIn,
  StationFacts,
  TableRow,
  TodayView,
} from '@grellin/contract';
import type { Procedure, Quantity, RunEvent } from '@grellin/core';
import type { Observable } from 'rxjs';

/** What was done can be taken back under this id. */
export interface Changed {
  readonly change: string;
}

export interface PublishedView {
  readonly digest: string;
  readonly document: Procedure;
}

export interface RigView {
  readonly id: string;
  readonly title: string;
  readonly actions: readonly { readonly act: string; readonly label: string; readonly aims?: true }[];
  readonly faults: readonly string[];
}

/** The server's API, one method a route. */
/** What of a question was said, as the end of an address. */
const asParams = (query: object): Record<string, string> =>
  Object.fromEntries(Object.entries(query).filter((e): e is [string, string] => typeof e[1] === 'string' && e[1] !== ''));

@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  signIn(name: string, password: string): Observable<SignedIn> {
    return this.http.post<SignedIn>('/api/session', { name, password });
  }
  me(): Observable<SignedIn> {
    return this.http.get<SignedIn>('/api/session');
  }
  signOut(): Observable<unknown> {
    return this.http.delete('/api/session');
  }
  health(): Observable<{ readonly ok: boolean; readonly demo: boolean; readonly empty: boolean }> {
    return this.http.get<{ ok: boolean; demo: boolean; empty: boolean }>('/api/health');
  }
  today(): Observable<TodayView> {
    return this.http.get<TodayView>('/api/today');
  }
  assets(query: RegisterQuery = {}): Observable<RegisterPage> {
    return this.http.get<RegisterPage>('/api/assets', { params: asParams(query) });
  }
  places(): Observable<readonly string[]> {
    return this.http.get<string[]>('/api/places');
  }
  asset(id: string): Observable<AssetView> {
    return this.http.get<AssetView>(`/api/assets/${id}`);
  }
  addAsset(asset: NewAsset): Observable<AssetRow & Changed> {
    return this.http.post<AssetRow & Changed>('/api/assets', asset);
  }
  changeAsset(id: string, change: AssetChange): Observable<AssetRow & Changed> {
    return this.http.patch<AssetRow & Changed>(`/api/assets/${id}`, change);
  }
  changeMany(change: BulkChange): Observable<Changed> {
    return this.http.post<Changed>('/api/assets/bulk', change);
  }
  undo(change: string): Observable<{ readonly what: string }> {
    return this.http.post<{ what: string }>(`/api/changes/${change}/undo`, {});
  }
  changes(): Observable<readonly ChangeRow[]> {
    return this.http.get<ChangeRow[]>('/api/changes');
  }
  noteOccasion(occasion: NewOccasion): Observable<Changed & { readonly noted: number }> {
    return this.http.post<Changed & { noted: number }>('/api/occasions', occasion);
  }
  views(): Observable<readonly SavedViewRow[]> {
    return this.http.get<SavedViewRow[]>('/api/views');
  }
  keepView(view: SavedView): Observable<SavedViewRow> {
    return this.http.post<SavedViewRow>('/api/views', view);
  }
  dropView(id: string): Observable<unknown> {
    return this.http.delete(`/api/views/${id}`);
  }
  oweUsual(asset: string): Observable<{ readonly change: string | null; readonly added: number }> {
    return this.http.post<{ change: string | null; added: number }>(`/api/assets/${asset}/usual`, {});
  }
  owe(obligation: NewObligation): Observable<Changed> {
    return this.http.post<Changed>('/api/obligations', obligation);
  }
  dropObligation(id: string): Observable<Changed> {
    return this.http.delete<Changed>(`/api/obligations/${id}`);
  }
  defer(id: string, deferral: Deferral): Observable<Changed> {
    return this.http.post<Changed>(`/api/obligations/${id}/deferral`, deferral);
  }
  bringForward(id: string, to: string): Observable<Changed> {
    return this.http.post<Changed>(`/api/obligations/${id}/proposal`, { to });
  }
  settleOutside(id: string, certificate: OutsideCertificate): Observable<Changed & { readonly due: string | null }> {
    return this.http.post<Changed & { due: string | null }>(`/api/obligations/${id}/outside`, certificate);
  }
  liftHold(record: string, lift: Lift): Observable<void> {
    return this.http.post<undefined>(`/api/records/${record}/lift`, lift);
  }
  beyondUse(asset: string, given: BeyondUse): Observable<void> {
    return this.http.post<undefined>(`/api/assets/${asset}/beyond-use`, given);
  }
  kits(): Observable<readonly KitRow[]> {
    return this.http.get<KitRow[]>('/api/kits');
  }
  addKit(kit: NewKit): Observable<Changed> {
    return this.http.post<Changed>('/api/kits', kit);
  }
  changeKit(id: string, kit: NewKit): Observable<Changed> {
    return this.http.put<Changed>(`/api/kits/${id}`, kit);
  }
  dropKit(id: string): Observable<Changed> {
    return this.http.delete<Changed>(`/api/kits/${id}`);
  }
  importRegister(given: {
    readonly csv: string;
    readonly columns: Readonly<Record<string, string>>;
    readonly write: boolean;
    readonly sure?: boolean;
  }): Observable<ImportReport> {
    return this.http.post<ImportReport>('/api/assets/import', given);
  }
  newCalendar(): Observable<{ readonly path: string }> {
    return this.http.post<{ path: string }>('/api/calendar', {});
  }
  plan(weeks: number): Observable<PlanView> {
    return this.http.get<PlanView>('/api/plan', { params: { weeks } });
  }
  keepPlan(plan: KeptPlan): Observable<Changed & { readonly kept: number }> {
    return this.http.put<Changed & { kept: number }>('/api/plan', plan);
  }
  addBench(bench: NewPlanBench): Observable<Changed> {
    return this.http.post<Changed>('/api/plan/benches', bench);
  }
  dropBench(id: string): Observable<Changed> {
    return this.http.delete<Changed>(`/api/plan/benches/${id}`);
  }
  people(): Observable<readonly PersonRow[]> {
    return this.http.get<PersonRow[]>('/api/people');
  }
  authorise(given: Authorisation): Observable<Changed> {
    return this.http.post<Changed>('/api/authorisations', given);
  }
  addPerson(given: NewPerson): Observable<Changed & { readonly id: string; readonly password: string }> {
    return this.http.post<Changed & { id: string; password: string }>('/api/people', given);
  }
  changePerson(id: string, given: AccountChange): Observable<Changed> {
    return this.http.patch<Changed>(`/api/people/${id}`, given);
  }
  resetPassword(id: string): Observable<{ readonly id: string; readonly password: string }> {
    return this.http.post<{ id: string; password: string }>(`/api/people/${id}/password`, {});
  }
  changePassword(given: PasswordChange): Observable<unknown> {
    return this.http.post('/api/me/password', given);
  }
  sessions(): Observable<readonly SessionRow[]> {
    return this.http.get<SessionRow[]>('/api/me/sessions');
  }
  endSession(id: string): Observable<unknown> {
    return this.http.delete(`/api/me/sessions/${id}`);
  }
  firstOfficer(given: FirstOfficer): Observable<unknown> {
    return this.http.post('/api/first-officer', given);
  }
  station(): Observable<StationFacts> {
    return this.http.get<StationFacts>('/api/station');
  }
  changeStation(facts: StationFacts): Observable<StationFacts> {
    return this.http.put<StationFacts>('/api/station', facts);
  }
  verifyCertificate(code: CertificateCode): Observable<CertificateAnswer> {
    return this.http.post<CertificateAnswer>('/api/verify', code);
  }
  anchors(): Observable<readonly Anchor[]> {
    return this.http.get<Anchor[]>('/api/anchors');
  }
  anchor(): Observable<Anchor> {
    return this.http.post<Anchor>('/api/anchors', {});
  }
  withdraw(id: string): Observable<Changed> {
    return this.http.delete<Changed>(`/api/authorisations/${id}`);
  }
  instrument(id: string): Observable<InstrumentView> {
    return this.http.get<InstrumentView>(`/api/instruments/${id}`);
  }
  calibrate(id: string, given: NewCalibration): Observable<{ readonly outOfTolerance: boolean; readonly recalled: number; readonly changed: number }> {
    return this.http.post<{ outOfTolerance: boolean; recalled: number; changed: number }>(`/api/instruments/${id}/calibrations`, given);
  }
  checkZero(id: string, shows: Quantity): Observable<{ readonly within: boolean }> {
    return this.http.post<{ within: boolean }>(`/api/instruments/${id}/zero`, { shows });
  }
  addInstrument(given: NewInstrument): Observable<InstrumentRow & Changed> {
    return this.http.post<InstrumentRow & Changed>('/api/instruments', given);
  }
  instruments(): Observable<readonly InstrumentRow[]> {
    return this.http.get<InstrumentRow[]>('/api/instruments');
  }
  tables(): Observable<readonly TableRow[]> {
    return this.http.get<TableRow[]>('/api/tables');
  }
  readTable(kind: string, csv: string): Observable<ReadTable> {
    return this.http.post<ReadTable>('/api/tables/read', { kind, csv });
  }
  publishTable(given: PublishTable): Observable<{ readonly digest: string }> {
    return this.http.post<{ digest: string }>('/api/tables', given);
  }
  withdrawTable(digest: string, reason: string): Observable<{ readonly digest: string }> {
    return this.http.post<{ digest: string }>(`/api/tables/${digest}/withdraw`, { reason });
  }
  rounds(): Observable<readonly RoundRow[]> {
    return this.http.get<RoundRow[]>('/api/rounds');
  }
  round(id: string): Observable<RoundView> {
    return this.http.get<RoundView>(`/api/rounds/${id}`);
  }
  openRound(round: NewRound): Observable<{ readonly id: string }> {
    return this.http.post<{ id: string }>('/api/rounds', round);
  }
  nextInRound(id: string, item: RoundItem): Observable<OpenedRun> {
    return this.http.post<OpenedRun>(`/api/rounds/${id}/runs`, item);
  }
  startDay(): Observable<DayWork> {
    return this.http.post<DayWork>('/api/rounds/day', {});
  }
  roundGroups(assets: readonly string[]): Observable<readonly RoundGroup[]> {
    return this.http.post<RoundGroup[]>('/api/rounds/groups', { assets });
  }
  addToRound(id: string, assets: readonly string[]): Observable<{ readonly added: number }> {
    return this.http.post<{ added: number }>(`/api/rounds/${id}/items`, { assets });
  }
  leaveOutOfRound(id: string, asset: string): Observable<unknown> {
    return this.http.delete(`/api/rounds/${id}/items/${asset}`);
  }
  takeInRound(id: string, take: RoundTake): Observable<RoundView> {
    return this.http.post<RoundView>(`/api/rounds/${id}/take`, take);
  }
  endRound(id: string): Observable<{ readonly id: string }> {
    return this.http.post<{ id: string }>(`/api/rounds/${id}/end`, {});
  }
  along(): Observable<readonly AlongRow[]> {
    return this.http.get<AlongRow[]>('/api/along');
  }
  endAlong(id: string): Observable<{ readonly id: string }> {
    return this.http.post<{ id: string }>(`/api/along/${id}/end`, {});
  }
  procedures(): Observable<readonly PublishedView[]> {
    return this.http.get<PublishedView[]>('/api/procedures');
  }
  records(query: LogQuery): Observable<LogPage> {
    return this.http.get<LogPage>('/api/records', { params: asParams(query) });
  }
  record(number: string): Observable<RecordView> {
    return this.http.get<RecordView>(`/api/records/${number}`);
  }
  runs(): Observable<readonly OpenRunRow[]> {
    return this.http.get<OpenRunRow[]>('/api/runs');
  }
  markLeak(leak: NewLeak): Observable<{ readonly id: string }> {
    return this.http.post<{ id: string }>('/api/leaks', leak);
  }
  openRun(run: NewRun): Observable<OpenedRun> {
    return this.http.post<OpenedRun>('/api/runs', run);
  }
  run(id: string): Observable<RunView> {
    return this.http.get<RunView>(`/api/runs/${id}`);
  }
  takeOver(id: string): Observable<{ readonly lease: number; readonly secret: string }> {
    return this.http.post<{ lease: number; secret: string }>(`/api/runs/${id}/lease`, undefined);
  }
  append(
    id: string,
    held: { readonly lease: number; readonly secret?: string | undefined },
    events: readonly RunEvent[],
  ): Observable<readonly { readonly id: string; readonly seq: number }[]> {
    return this.http.post<{ id: string; seq: number }[]>(`/api/runs/${id}/events`, { ...held, events });
  }
  /** Sends a picture's bytes, under their SHA-256. */
  keepPicture(sha256: string, bytes: ArrayBuffer): Observable<unknown> {
    return this.http.put(`/api/pictures/${sha256}`, bytes, { headers: { 'content-type': 'image/jpeg' } });
  }
  picture(sha256: string): Observable<ArrayBuffer> {
    return this.http.get(`/api/pictures/${sha256}`, { responseType: 'arraybuffer' });
  }
  runClock(run: string): Observable<ClockView> {
    return this.http.get<ClockView>(`/api/runs/${run}/clock`);
  }
  rig(instrument: string): Observable<RigView> {
    return this.http.get<RigView>(`/api/instruments/${instrument}/rig`);
  }
  scene(instrument: string): Observable<Scene> {
    return this.http.get<Scene>(`/api/instruments/${instrument}/scene`);
  }
  workRig(instrument: string, command: RigCommand): Observable<{ readonly answer: string }> {
    return this.http.post<{ answer: string }>(`/api/instruments/${instrument}/rig`, command);
  }
}

/** What went wrong, in the server's words; a network that is gone has words of its own. */
export function problemOf(error: unknown): Problem {
  if (error instanceof HttpErrorResponse) {
    const body: unknown = error.error;
    if (typeof body === 'object' && body !== null && 'code' in body && 'message' in body) return body as Problem;
    return { code: error.status === 0 ? 'network' : 'server', message: error.status === 0 ? 'The server cannot be reached.' : 'The server could not do this.' };
  }
  return { code: 'client', message: 'Something went wrong here.' };
}
