import { infiniteQueryOptions, keepPreviousData, QueryClient, queryOptions, skipToken } from '@tanstack/react-query';
import { forgetOthers, getKept, getKeptList, keptManuscripts, keptSession, lateAnswers } from '../offline/kept';
import {
  call,
  get,
  post,
  Refusal,
  type Beginning,
  type ChronicleState,
  type Comparison,
  type CrossReferences,
  type DeletedFile,
  type FileAuthors,
  type FirstPage,
  type Found,
  type HandInState,
  type Manuscript,
  type MarkupHelp,
  type News,
  type Note,
  type Offer,
  type Outbox,
  type People,
  type PrintComparison,
  type ProofState,
  type RulesEntry,
  type SavedSetUp,
  type SearchQuery,
  type Session,
  type SetUpLook,
  type SetUpState,
  type StyleSample,
  type TalkState,
  type ShelfEntry,
  type SourceDetail,
  type SourceOffer,
  type CheckPlace,
  type NameLeft,
  type SourcesPackage,
  type SourcesState,
  type SourcesWish,
  type Template,
  type Token,
  type TypedNote,
  type WordTrace,
  type WritingState,
} from './client';

const SlowestRetry = 4000;

/** What was fetched ahead, while the page that shows it was still loading, isn't fetched again, in milliseconds. */
const JustNow = 5000;

/** Whether asking again may help: the server can't be reached, or it stumbled. */
const mayPass = (error: Error) => !(error instanceof Refusal) || error.status === 0 || error.status >= 500;

/** What is known of the server's state. What can't be fetched just now is asked for again until it comes, so no page needs a reload. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      // The server may be on this machine: whether there is a network says nothing.
      networkMode: 'always',
      retry: (_, error) => mayPass(error),
      retryDelay: (attempt) => Math.min(SlowestRetry, 250 * 2 ** attempt),
      refetchOnWindowFocus: false,
      refetchOnReconnect: 'always',
    },
    mutations: { networkMode: 'always' },
  },
});

// What was slow is asked for anew where it was replaced by something older.
lateAnswers.addEventListener('answer', () => {
  void queryClient.invalidateQueries({
    predicate: (q) => (q.state.data as { asOf?: string } | undefined)?.asOf != null,
  });
});

const of = (id: number) => ['manuscript', id] as const;
const at = (id: number) => `/api/manuscripts/${id}`;

/** Where what is kept for when there is no connection is asked for. */
export const shelfPath = '/api/manuscripts';
export const manuscriptPath = at;
export const firstPagePath = (id: number) => `${at(id)}/proof/first-page`;
export const proofPath = (id: number) => `${at(id)}/proof`;
export const sourcesPath = (id: number) => `${at(id)}/sources`;

/** The keys of what belongs to a manuscript; a word from the live connection makes one of them stale. */
export const keys = {
  all: of,
  manuscript: (id: number) => [...of(id), 'itself'] as const,
  proof: (id: number) => [...of(id), 'proof'] as const,
  news: (id: number) => [...of(id), 'news'] as const,
  people: (id: number) => [...of(id), 'people'] as const,
  writing: (id: number) => [...of(id), 'writing'] as const,
  tokens: (id: number) => [...of(id), 'tokens'] as const,
  deleted: (id: number) => [...of(id), 'deleted'] as const,
  sources: (id: number) => [...of(id), 'sources'] as const,
  setUp: (id: number) => [...of(id), 'set-up'] as const,
  references: (id: number) => [...of(id), 'references'] as const,
  notes: (id: number) => [...of(id), 'notes'] as const,
  talk: (id: number) => [...of(id), 'talk'] as const,
  chronicle: (id: number) => [...of(id), 'chronicle'] as const,
  handIn: (id: number) => [...of(id), 'hand-in'] as const,
  found: (id: number) => [...of(id), 'found'] as const,
};

/** How often the server is asked whether it is back, while what is shown is out of this browser, in milliseconds. */
const AskAgain = 3000;

/** Who is signed in. Nothing that was fetched for one is shown to another. */
export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: async () => {
    const before = queryClient.getQueryData<Session>(['session']);
    const found = await keptSession();
    if (before && before.person?.id !== found.person?.id)
      queryClient.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
    return found;
  },
  staleTime: Infinity,
  refetchInterval: (query) => (query.state.data?.asOf ? AskAgain : false),
});

/** A person's manuscripts. Without a connection: of when that was, and which of them can be opened. */
export interface ShelfState {
  entries: ShelfEntry[];
  asOf?: string;
  openable: number[] | null;
}

export const shelfQuery = queryOptions({
  queryKey: ['shelf'],
  queryFn: async ({ signal }): Promise<ShelfState> => {
    const { list, asOf } = await getKeptList<ShelfEntry>(shelfPath, signal);
    if (!asOf) void forgetOthers(list.map((e) => e.id)).catch(() => undefined);
    return { entries: list, asOf, openable: asOf ? await keptManuscripts() : null };
  },
  refetchInterval: (query) => (query.state.data?.asOf ? AskAgain : 10_000),
});

/** The first page of a manuscript's proof; another one when its digest changes. Without a digest the first proof is waited for. */
export const firstPageQuery = (id: number, digest: string | null) =>
  queryOptions({
    queryKey: ['first page', id, digest],
    queryFn: ({ signal }) => getKept<FirstPage>(firstPagePath(id), signal),
    staleTime: Infinity,
  });

export const outboxQuery = queryOptions({
  queryKey: ['outbox'],
  queryFn: ({ signal }) => get<Outbox>('/api/outbox', signal),
});

export const offerQuery = (secret: string) =>
  queryOptions({
    queryKey: ['offer', secret],
    queryFn: ({ signal }) => get<Offer>(`/api/invitations/${encodeURIComponent(secret)}`, signal),
  });

export const manuscriptQuery = (id: number) =>
  queryOptions({
    queryKey: keys.manuscript(id),
    queryFn: ({ signal }) => getKept<Manuscript>(manuscriptPath(id), signal),
    staleTime: JustNow,
  });

/** A proof of an earlier time: newer pages are wanted. Without a time it is today's. */
export const ofThen = (proof: Omit<ProofState, 'asOf'>, asOf: string | null): ProofState => ({
  ...proof,
  asOf,
  isBehind: proof.isBehind || asOf !== null,
});

/** The proof that is there: its report, its list of sheets, and whether a newer one is on its way. */
export const proofQuery = (id: number) =>
  queryOptions({
    queryKey: keys.proof(id),
    queryFn: async ({ signal }) => {
      const before = queryClient.getQueryData<ProofState>(keys.proof(id));
      const answer = await getKept<Omit<ProofState, 'asOf'>>(proofPath(id), signal);
      const fetched = ofThen(answer, answer.asOf ?? null);
      // A newer one may have been told of while this was on its way, also of the same revision: the first after a start is one.
      const known = queryClient.getQueryData<ProofState>(keys.proof(id));
      const oldest = known === before ? fetched.revision + 1 : fetched.revision;
      return known && !known.asOf && known.revision >= oldest ? known : fetched;
    },
    staleTime: JustNow,
    // Large, and replaced at every pause in typing: looking for what stayed the same would cost more than it saves.
    structuralSharing: false,
  });

export const newsQuery = (id: number) =>
  queryOptions({
    queryKey: keys.news(id),
    queryFn: ({ signal }) => get<News>(`${at(id)}/news`, signal),
    // It is what changed before one came in.
    staleTime: Infinity,
  });

export const peopleQuery = (id: number) =>
  queryOptions({ queryKey: keys.people(id), queryFn: ({ signal }) => get<People>(`${at(id)}/people`, signal) });

export const tokensQuery = (id: number) =>
  queryOptions({ queryKey: keys.tokens(id), queryFn: ({ signal }) => get<Token[]>(`${at(id)}/tokens`, signal) });

export const deletedQuery = (id: number) =>
  queryOptions({
    queryKey: keys.deleted(id),
    queryFn: ({ signal }) => get<DeletedFile[]>(`${at(id)}/files/deleted`, signal),
  });

export const sourcesQuery = (id: number) =>
  queryOptions({
    queryKey: [...keys.sources(id), 'pool'],
    queryFn: ({ signal }) => getKept<SourcesState>(sourcesPath(id), signal),
    // The live connection says when it changed.
    staleTime: Infinity,
  });

/** What each style makes of a manuscript's own sources. */
export const stylesQuery = (id: number) =>
  queryOptions({
    queryKey: [...keys.sources(id), 'styles'],
    queryFn: ({ signal }) => get<StyleSample[]>(`${at(id)}/sources/styles`, signal),
    staleTime: Infinity,
  });

/** What there is to write with. It changes with the application alone. */
export const guideQuery = queryOptions({
  queryKey: ['markup'],
  queryFn: () => getKept<MarkupHelp>('/api/markup'),
  staleTime: Infinity,
  gcTime: Infinity,
  structuralSharing: false,
});

/** What is kept for those who write: goals, days of writing, remarks that are left as they are. */
export const writingQuery = (id: number) =>
  queryOptions({ queryKey: keys.writing(id), queryFn: () => getKept<WritingState>(`${at(id)}/writing`) });

/** What the preamble sets. The live connection says when a text changed. */
export const setUpQuery = (id: number) =>
  queryOptions({
    queryKey: keys.setUp(id),
    queryFn: ({ signal }) => getKept<SetUpState>(`${at(id)}/set-up`, signal),
    staleTime: Infinity,
  });

/** The set-ups that were saved by those one writes with. */
export const savedSetUpsQuery = queryOptions({
  queryKey: ['set-ups'],
  queryFn: ({ signal }) => get<SavedSetUp[]>('/api/set-ups', signal),
});

/** What one of them would change here; nothing without one. */
export const setUpLookQuery = (id: number, saved: number | null) =>
  queryOptions({
    queryKey: [...keys.setUp(id), 'saved', saved],
    queryFn: saved ? ({ signal }) => get<SetUpLook>(`${at(id)}/set-up/saved/${saved}`, signal) : skipToken,
    gcTime: 0,
  });

/** The labels and where they are referred to, as the last proof has them. */
export const referencesQuery = (id: number) =>
  queryOptions({
    queryKey: keys.references(id),
    queryFn: ({ signal }) => getKept<CrossReferences>(`${at(id)}/cross-references`, signal),
    staleTime: Infinity,
  });

/** The checks before handing in, and what was handed in before. */
export const handInQuery = (id: number) =>
  queryOptions({
    queryKey: keys.handIn(id),
    queryFn: ({ signal }) => get<HandInState>(`${at(id)}/hand-in`, signal),
    placeholderData: keepPreviousData,
    staleTime: JustNow,
  });

/** The sources as they would go out, compiled once more; nothing when they don't. */
export const packageQuery = (id: number, revision: number, wish: SourcesWish | null) =>
  queryOptions({
    queryKey: [...keys.handIn(id), 'sources', revision, wish],
    queryFn: wish
      ? ({ signal }) =>
          get<SourcesPackage>(
            `${at(id)}/hand-in/sources?${new URLSearchParams(Object.entries(wish).map(([k, v]) => [k, String(v)]))}`,
            signal,
          )
      : skipToken,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

/** Names of the authors that stand in an anonymous copy all the same. */
export const namesLeftQuery = (id: number, revision: number, isWanted: boolean) =>
  queryOptions({
    queryKey: [...keys.handIn(id), 'names left', revision],
    queryFn: isWanted ? ({ signal }) => get<NameLeft[]>(`${at(id)}/hand-in/names-left`, signal) : skipToken,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

/** What keeps the PDF from saying that it keeps to the standard of its flavour. */
export const obstaclesQuery = (id: number, revision: number, flavour: string) =>
  queryOptions({
    queryKey: [...keys.handIn(id), 'obstacles', revision, flavour],
    queryFn: flavour
      ? ({ signal }) => get<CheckPlace[]>(`${at(id)}/hand-in/obstacles?flavour=${flavour}`, signal)
      : skipToken,
    staleTime: Infinity,
  });

/** Rules of houses: those that ship, and those that the group saved. */
export const rulesQuery = queryOptions({
  queryKey: ['rules'],
  queryFn: ({ signal }) => get<RulesEntry[]>('/api/rules', signal),
});

/** Which events of the history are wanted. */
/** So many signs at least are followed through the history. */
export const FewestSigns = 3;

export interface EventFilter {
  person?: number;
  kind?: string;
  words?: string;
}

const asked = (filter: EventFilter, before?: number) =>
  new URLSearchParams(
    Object.entries({ ...filter, before })
      .filter(([, value]) => value !== undefined && value !== '')
      .map(([name, value]) => [name, String(value)]),
  ).toString();

/** The history as events, the newest first; older ones come page by page. */
export const chronicleQuery = (id: number, filter: EventFilter) =>
  infiniteQueryOptions({
    queryKey: [...keys.chronicle(id), filter],
    queryFn: ({ signal, pageParam }) =>
      get<ChronicleState>(`${at(id)}/chronicle?${asked(filter, pageParam || undefined)}`, signal),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.hasMore ? last.events.at(-1)?.number : undefined),
    placeholderData: keepPreviousData,
  });

/** When words came and went; nothing for fewer than three signs. */
export const traceQuery = (id: number, words: string) =>
  queryOptions({
    queryKey: [...keys.chronicle(id), 'words', words],
    queryFn:
      words.length < FewestSigns
        ? skipToken
        : ({ signal }) => get<WordTrace>(`${at(id)}/chronicle/words?words=${encodeURIComponent(words)}`, signal),
    placeholderData: keepPreviousData,
  });

/** Two moments compared in the source. What was doesn't change. */
export const comparisonQuery = (id: number, from: number, to: number) =>
  queryOptions({
    queryKey: [...of(id), 'compared', from, to],
    queryFn: ({ signal }) => get<Comparison>(`${at(id)}/compare?from=${from}&to=${to}`, signal),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    structuralSharing: false,
  });

/** Two moments compared in print: its pages are a PDF of its own. */
export const printComparisonQuery = (id: number, from: number, to: number) =>
  queryOptions({
    queryKey: [...of(id), 'compared in print', from, to],
    queryFn: ({ signal }) => get<PrintComparison>(`${at(id)}/compare/print?from=${from}&to=${to}`, signal),
    staleTime: Infinity,
  });

/** Where that PDF is. */
export const printedChanges = (id: number, from: number, to: number) =>
  `${at(id)}/compare/print/pdf?from=${from}&to=${to}`;

/** The notes in the margin, with their passages where they are by now. */
export const notesQuery = (id: number) =>
  queryOptions({
    queryKey: keys.notes(id),
    queryFn: async ({ signal }) => (await getKeptList<Note>(`${at(id)}/notes`, signal)).list,
  });

/** The notes that are typed in the texts. */
export const typedNotesQuery = (id: number) =>
  queryOptions({
    queryKey: [...keys.notes(id), 'typed'],
    queryFn: ({ signal }) => get<TypedNote[]>(`${at(id)}/notes/typed`, signal),
  });

/** The talk, the newest messages first; earlier ones come page by page. */
export const talkQuery = (id: number) =>
  infiniteQueryOptions({
    queryKey: keys.talk(id),
    queryFn: ({ signal, pageParam }) =>
      get<TalkState>(`${at(id)}/talk${pageParam ? `?before=${pageParam}` : ''}`, signal),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.hasEarlier ? last.messages[0]?.id : undefined),
  });

/** Who wrote which stretch of a file. */
export const authorsQuery = (id: number, file: number) =>
  queryOptions({
    queryKey: [...keys.chronicle(id), 'authors', file],
    queryFn: ({ signal }) => get<FileAuthors>(`${at(id)}/files/${file}/authors`, signal),
  });

/** One source with its fields and how it prints; nothing without a key. */
export const sourceQuery = (id: number, key: string) =>
  queryOptions({
    queryKey: [...keys.sources(id), 'source', key],
    queryFn: key
      ? ({ signal }) => get<SourceDetail>(`${at(id)}/sources/entry?key=${encodeURIComponent(key)}`, signal)
      : skipToken,
    staleTime: Infinity,
  });

/** What pasted text holds, before any of it goes in; nothing without text. */
export const lookQuery = (id: number, text: string) =>
  queryOptions({
    queryKey: [...of(id), 'look', text],
    queryFn: text.trim() ? () => post<SourceOffer>(`${at(id)}/sources/look`, { text }) : skipToken,
    staleTime: 0,
    gcTime: 0,
  });

/** What the catalogue has for some words; nothing without words. It is given up when nobody waits for it any more. */
export const catalogueQuery = (id: number, words: string) =>
  queryOptions({
    queryKey: [...of(id), 'catalogue', words],
    queryFn: words.trim()
      ? ({ signal }) => get<SourceOffer>(`${at(id)}/sources/lookup?q=${encodeURIComponent(words)}`, signal)
      : skipToken,
    gcTime: 0,
  });

/** Where words are in the texts, or in one file; nothing without words. */
export const foundQuery = (id: number, wish: { query: SearchQuery; with: string }, file: number | null) =>
  queryOptions({
    queryKey: [...keys.found(id), wish.query, wish.with, file],
    queryFn: wish.query.words.trim()
      ? ({ signal }) =>
          call<Found>('POST', `${at(id)}/texts/find`, { query: wish.query, with: wish.with || null, file }, signal)
      : skipToken,
    gcTime: 0,
  });

/** Where a name stands in the texts. */
export const usesQuery = (id: number, kind: string, name: string) =>
  queryOptions({
    queryKey: [...keys.found(id), 'uses', kind, name],
    queryFn: ({ signal }) => call<Found>('POST', `${at(id)}/texts/uses`, { kind, name, to: null }, signal),
    gcTime: 0,
  });

/** What a manuscript may begin as. It changes with the application alone. */
export const templatesQuery = queryOptions({
  queryKey: ['templates'],
  queryFn: ({ signal }) => get<Template[]>('/api/templates', signal),
  staleTime: Infinity,
});

export const templatePageQuery = (name: string) =>
  queryOptions({
    queryKey: ['templates', name],
    queryFn: ({ signal }) => get<Beginning>(`/api/templates/${name}/page`, signal),
    staleTime: Infinity,
    structuralSharing: false,
  });

/** The first page of what is asked for, before it is a manuscript; nothing while nothing is. */
export const beginningQuery = (asked: string) =>
  queryOptions({
    queryKey: ['beginning', asked],
    queryFn: asked ? () => post<Beginning>('/api/templates/look', JSON.parse(asked)) : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
    structuralSharing: false,
  });
