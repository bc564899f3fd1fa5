import type { components } from './schema';

/** The server's types, generated from its OpenAPI document. */
export type Schema = components['schemas'];
export type Person = Schema['PersonView'];
export type Session = Schema['SessionView'];
export type ShelfEntry = Schema['ShelfEntry'];
export type Manuscript = Schema['ManuscriptView'];
export type ManuscriptFile = Schema['FileView'];
export type DeletedFile = Schema['DeletedFileView'];
export type FileText = Schema['TextView'];
export type ProofState = Schema['ProofView'];
export type Report = Schema['CompileReport'];
export type Finding = Schema['FindingLine'];
export type Repair = Schema['RepairLine'];
export type OutlineLine = Schema['OutlineLine'];
export type FirstPage = Schema['FirstPageView'];
export type ProofSheets = Schema['ProofSheets'];
export type SheetEntry = Schema['SheetEntry'];
export type SourcesState = Schema['SourcesView'];
export type SourceRow = Schema['SourceRow'];
export type SourceDetail = Schema['SourceDetail'];
export type SourceField = Schema['SourceField'];
export type SourceOffer = Schema['SourceOffer'];
export type OfferedSource = Schema['OfferedSource'];
export type SourceChange = Schema['SourceChange'];
export type ChangedSources = Schema['ChangedSources'];
export type UndoStep = Schema['UndoStep'];
export type Role = Schema['Role'];
export type News = Schema['NewsList'];
export type TypedNote = Schema['TypedNoteView'];
export type Settled = Schema['SettledView'];
export type NewsItem = Schema['NewsView'];
export type People = Schema['PeopleView'];
export type Member = Schema['MemberView'];
export type Outbox = Schema['OutboxView'];
export type Token = Schema['TokenView'];
export type IssuedToken = Schema['IssuedToken'];
export type Offer = Schema['OfferView'];
export type TakenInvitation = Schema['TakenInvitation'];
export type Found = Schema['FoundView'];
export type FoundFile = Schema['FoundFile'];
export type FoundPlace = Schema['FoundPlace'];
export type SearchQuery = Required<Schema['SearchQuery']>;
export type ReplacedPlaces = Schema['ReplacedPlaces'];
export type SectionFile = Schema['SectionFile'];
export type SetUpState = Schema['SetUpView'];
export type Setting = Schema['SettingView'];
export type PageLook = Schema['PageLook'];
export type PackageLoaded = Schema['PackageLoading'];
export type ChangedSetUp = Schema['ChangedSetUp'];
export type CrossReferences = Schema['CrossReferencesView'];
export type HandInState = Omit<Schema['HandInView'], 'groups'> & { groups: CheckGroup[] };
export type HandInCheck = Required<Schema['HandInCheck']>;
export type CheckGroup = Omit<Schema['CheckGroup'], 'checks'> & { checks: HandInCheck[] };
export type CheckPlace = Schema['CheckPlace'];
export type HouseRules = Schema['HouseRules'];
export type RulesEntry = Schema['RulesView'];
export type SourcesWish = Required<Schema['SourcesWish']>;
export type NameLeft = Schema['NameLeft'];
export type SourcesPackage = Schema['PackageView'];
export type HandInAnswer = Schema['HandInAnswer'];
export type LabelEntry = Schema['LabelEntry'];
export type StyleSample = Schema['StyleSample'];
export type Template = Schema['TemplateView'];
export type Beginning = Schema['BeginningView'];
export type MarkupHelp = Schema['MarkupHelp'];
export type BroughtIn = Schema['BroughtIn'];
export type Note = Schema['NoteView'];
export type TalkState = Schema['TalkView'];
export type TalkMessage = Schema['TalkMessageView'];
export type TalkLink = Schema['TalkLinkView'];
export type DecisionView = Schema['DecisionView'];
export type ChronicleState = Schema['ChronicleView'];
export type WordTrace = Schema['TraceView'];
export type HistoryEvent = Schema['EventView'];
export type Pin = Schema['PinView'];
export type Comparison = Schema['ComparisonView'];
export type ComparedFile = Schema['ComparedFile'];
export type PassageChange = Schema['PassageChange'];
export type ComparedPiece = Schema['ComparedPiece'];
export type PrintComparison = Schema['PrintComparison'];
export type Restored = Schema['Restored'];
export type FileAuthors = Schema['AuthorsView'];
export type SavedSetUp = Schema['SavedSetUpView'];
export type SetUpLook = Schema['SetUpLook'];
export type SetUpStep = Schema['SetUpStep'];
export type TypedTable = Schema['TypedTable'];
export type TypedRow = Schema['TypedRow'];
export type TypedColumn = Schema['TypedColumn'];
export type TypedCell = Schema['TypedCell'];
export type UnknownWord = Schema['UnknownWord'];
export type WritingState = Schema['WritingView'];
export type FormulaDrawing = Schema['FormulaDrawing'];

/** What the server refused, in its own words for people. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

// Goes with everything that changes something, so that no other site can act in a person's name.
let guard = '';

// Whose session the page is of; null until it is known.
let signedIn: number | null = null;

/** In this header every answer says whose session it was asked with. */
const PersonHeader = 'folio-person';

const signedOut = new EventTarget();

/** The session ended: here, in another tab, or elsewhere by another password. */
export const tellSignedOut = () => void signedOut.dispatchEvent(new Event('out'));

/** Hears when the session ends; gives what ends the hearing. */
export function onSignedOut(listener: () => void): () => void {
  signedOut.addEventListener('out', listener);
  return () => signedOut.removeEventListener('out', listener);
}

const SessionPath = '/api/session';

// All tabs of a browser share one session: who finds a new one tells the others.
const otherTabs = new BroadcastChannel('young-folio-session');
otherTabs.onmessage = ({ data }: MessageEvent<number>) => {
  if (signedIn !== null && signedIn !== data) tellSignedOut();
};

/** The session; with it comes what has to go along with every change. */
export async function session(): Promise<Session> {
  const found = await call<Session>('GET', SessionPath);
  guard = found.guard;
  signedIn = found.person?.id ?? 0;
  otherTabs.postMessage(signedIn);
  return found;
}

/** Goes on as the person who was here last, while the server can't be asked. */
export const goOnAs = (person: number) => void (signedIn = person);

/** Whether an error means that no server answered. */
export const isUnreachable = (error: unknown) => error instanceof Refusal && [0, 502, 504].includes(error.status);

/** Calls the server. Throws a Refusal with a message that can be shown. */
export async function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  const response = await answer(method, path, body, signal);
  return (response.status === 204 ? null : await response.json()) as T;
}

/** In another tab of this browser someone else signed in. */
function refuseOthers(): never {
  tellSignedOut();
  throw new Refusal(401, 'Someone else signed in in this browser.');
}

async function answer(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<Response> {
  let response = await ask(method, path, body, signal);
  if (
    response.status === 400 &&
    (
      (await response
        .clone()
        .json()
        .catch(() => null)) as Problem
    )?.code === 'guard'
  ) {
    // Someone signed out and in again in another tab: with a new value it goes through, unless it is someone else.
    const before = signedIn;
    await session();
    if (before !== null && signedIn !== before) refuseOthers();
    response = await ask(method, path, body, signal);
  }
  // What comes for someone else isn't shown to whoever was here before.
  const whose = response.headers.get(PersonHeader);
  if (path !== SessionPath && whose !== null && signedIn !== null && Number(whose) !== signedIn) refuseOthers();
  if (response.status === 401) tellSignedOut();
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as Problem;
    throw new Refusal(response.status, problem?.message ?? 'That didn’t work. Try again.');
  }
  return response;
}

type Problem = { message?: string; code?: string } | null;

async function ask(method: string, path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const raw = body instanceof Blob;
  const headers: Record<string, string> = method === 'GET' ? {} : { 'folio-guard': guard };
  if (body !== undefined && !raw) headers['content-type'] = 'application/json';
  try {
    return await fetch(path, {
      method,
      signal,
      headers,
      body: body === undefined ? undefined : raw ? body : JSON.stringify(body),
    });
  } catch (e) {
    if (signal?.aborted) throw e;
    const what = method === 'GET' ? '.' : ', so this isn’t done. Do it again when the connection is back.';
    throw new Refusal(0, `The server can’t be reached just now${what}`);
  }
}

export const get = <T>(path: string, signal?: AbortSignal) => call<T>('GET', path, undefined, signal);
export const getBlob = async (path: string) => (await answer('GET', path)).blob();
export const post = <T>(path: string, body: unknown) => call<T>('POST', path, body);
