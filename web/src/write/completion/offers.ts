import type { Completion } from '@codemirror/autocomplete';
import type { Manuscript, Report } from '../../api/client';
import type { Guide, Help } from './guide';
import type { OptionPlace } from './optionAt';

/** What is known of the manuscript that one writes in. */
export interface Known {
  guide: Guide;
  report: Report | null;
  manuscript: Manuscript | null;
}

/** A thing that may be put in, with what its choice is carried out by. */
export interface Offer extends Completion {
  /** What is said of it. */
  help?: Help;
  /** A package that would have to be loaded. */
  needs?: string;
  /** A loaded package that the needed one clashes with. */
  clash?: string;
  /** The picture's address. */
  picture?: string;
  /** Whether an option takes a value. */
  takesValue?: boolean;
}

/** What is used in this manuscript comes first, and what would have to be loaded last; a list's filter adds how well it fits. */
const boostOf = (uses: number, isAtHand: boolean) =>
  isAtHand ? Math.min(60, 8 * Math.log2(1 + uses)) : -60 + Math.min(20, uses);

const numbered = (kind: string, number: string | null) => `${kind}${number ? ` ${number}` : ''}`;

const endingOf = (path: string) => path.slice(path.lastIndexOf('.') + 1).toLowerCase();
const pictures = new Set(['png', 'jpg', 'jpeg', 'pdf', 'svg', 'eps']);
const shown = new Set(['png', 'jpg', 'jpeg', 'svg']);

/** Which of the packages that give something is nearest: one that is loaded; else the first that clashes with none. */
function provider(help: Help, guide: Guide, loaded: ReadonlySet<string>): Pick<Offer, 'needs' | 'clash'> {
  if (help.packages.length === 0 || help.packages.some((p) => loaded.has(p))) return {};
  const free = help.packages.find((p) => guide.clash(p, loaded) === null);
  if (free) return { needs: free };
  const needs = help.packages[0]!;
  return { needs, clash: guide.clash(needs, loaded) ?? undefined };
}

/** What the manuscript's own files define of a kind, as the report calls it. */
const ownOf = ({ report }: Known, kind: string) => (report?.definitions ?? []).filter((d) => d.kind === kind);

const ownHelp = (of: Report['definitions'][number], isEnvironment: boolean): Help => ({
  name: of.name,
  form: of.form.replace(/[[{](\d)[\]}]/g, (all, n: string) => `${all[0]!}${n}${all.at(-1)!}`),
  says: of.text ? `Stands for ${of.text}` : 'Defined in this manuscript.',
  example: `${of.file}, line ${of.line}`,
  packages: [],
  isEnvironment,
});

/** What the guide has of a kind, with the manuscript's own in its place. */
function offersOf(known: Known, all: ReadonlyMap<string, Help>, kind: 'command' | 'environment'): Map<string, Offer> {
  const { guide, report } = known;
  const loaded = guide.loaded((report?.packages ?? []).map((p) => p.name));
  const isEnvironment = kind === 'environment';
  const slash = isEnvironment ? '' : '\\';
  const uses = report?.uses ?? {};
  const offers = new Map<string, Offer>();
  for (const h of all.values()) {
    const by = provider(h, guide, loaded);
    offers.set(h.name, {
      label: slash + h.name,
      detail: [h.sign, by.needs && (by.clash ? `${by.needs}, clashes with ${by.clash}` : `loads ${by.needs}`)]
        .filter(Boolean)
        .join(' · '),
      boost: boostOf(uses[slash + h.name] ?? 0, !by.needs),
      help: h,
      ...by,
    });
  }
  for (const d of ownOf(known, kind))
    offers.set(d.name, {
      label: slash + d.name,
      detail: 'yours',
      boost: boostOf(5 + (uses[slash + d.name] ?? 0), true),
      help: ownHelp(d, isEnvironment),
    });
  return offers;
}

/** Commands to write; signs of formulas come first within one, and last outside. */
export function commands(known: Known, isInFormula: boolean): Offer[] {
  const offers = offersOf(known, known.guide.commands, 'command');
  for (const length of ownOf(known, 'length'))
    offers.set(length.name, { label: `\\${length.name}`, detail: 'your length', boost: 5 });
  return [...offers.values()].map((o) => {
    if (o.help?.sign === undefined) return o;
    return { ...o, boost: (o.boost ?? 0) + (isInFormula ? 20 : -25) };
  });
}

/** Environments to begin, or to end: then the one that is open comes first. */
export function environments(known: Known, open: string | null): Offer[] {
  const offers = [...offersOf(known, known.guide.environments, 'environment').values()];
  return open === null ? offers : offers.map((o) => (o.label === open ? { ...o, boost: 99 } : o));
}

const headings = new Set(['part', 'chapter', 'section', 'subsection', 'subsubsection', 'paragraph', 'subparagraph']);

/** Labels: what they name, its number and its title. */
export function labels(report: Pick<Report, 'labels' | 'outline' | 'floats'> | null): Offer[] {
  if (!report) return [];
  const { outline, floats } = report;
  return report.labels.map((l) => {
    // A formula may have a heading's number.
    const heading = headings.has(l.kind)
      ? outline.find((o) => o.number !== null && o.number === l.number && o.file === l.file)
      : undefined;
    const caption = floats.find((f) => f.kind === l.kind && f.number === l.number)?.caption;
    return {
      label: l.key,
      detail: [numbered(l.kind, l.number), heading?.title ?? caption].filter(Boolean).join(' · '),
      boost: boostOf(l.uses === 0 ? 4 : 0, true),
    };
  });
}

/** Files to take in, as the markup names them. */
export function files({ manuscript }: Known, of: 'text' | 'picture' | 'sources' | 'data'): Offer[] {
  return (manuscript?.files ?? [])
    .filter(({ path }) => {
      const ending = endingOf(path);
      if (of === 'text') return ending === 'tex' && path !== manuscript!.mainFile;
      if (of === 'sources') return ending === 'bib';
      return of === 'picture' ? pictures.has(ending) : !pictures.has(ending);
    })
    .map((file) => ({
      label: of === 'text' ? file.path.replace(/\.tex$/, '') : file.path,
      picture: shown.has(endingOf(file.path))
        ? `/api/manuscripts/${manuscript!.id}/files/${file.id}/content`
        : undefined,
    }));
}

/** Packages to load. */
export function packages({ guide, report }: Known): Offer[] {
  const loaded = guide.loaded((report?.packages ?? []).map((p) => p.name));
  return [...guide.packages.values()].map((p) => {
    const clash = guide.clash(p.name, loaded) ?? undefined;
    return {
      label: p.name,
      detail: clash ? `clashes with ${clash}` : p.purpose,
      boost: clash ? -50 : loaded.has(p.name) ? -20 : 0,
    };
  });
}

export const classes = ({ guide }: Known): Offer[] => guide.classes.map((c) => ({ label: c.name, detail: c.purpose }));

export const classOptions = ({ guide, report }: Known): Offer[] =>
  (guide.classes.find((c) => c.name === report?.class) ?? guide.classes[0])?.options.map((label) => ({ label })) ?? [];

/** The options of what takes some, or the values of one of them; null where it takes none that are known. */
export function options(known: Known, { of, option }: Pick<OptionPlace, 'of' | 'option'>): Offer[] | null {
  const { guide } = known;
  const all = guide.options.get(of);
  if (!all) return option === null ? (guide.packages.get(of)?.options.map((label) => ({ label })) ?? null) : null;
  if (option === null)
    return all.map(({ name, values, takes }, at) => ({
      label: name,
      detail: takes || values.join(' '),
      // The order of the list is that of use.
      boost: -at,
      takesValue: values.length > 0 || takes !== '',
    }));
  const one = all.find((o) => o.name === option);
  if (one?.takes === 'colour') return colours(known);
  return one?.values.map((label, at) => ({ label, boost: -at })) ?? null;
}

const counterNames =
  'page part chapter section subsection subsubsection figure table equation footnote enumi enumii secnumdepth tocdepth';
const colourNames =
  'black white gray lightgray darkgray red green blue cyan magenta yellow brown lime olive orange pink purple teal violet';

/** The names of a kind that are always there, with the manuscript's own before them. */
const named = (known: Known, kind: string, always: string): Offer[] => [
  ...ownOf(known, kind).map((d) => ({ label: d.name, detail: d.text || 'yours', boost: 10 })),
  ...always
    .split(' ')
    .filter(Boolean)
    .map((label) => ({ label })),
];

export const counters = (known: Known) => named(known, 'counter', counterNames);
export const colours = (known: Known) => named(known, 'colour', colourNames);
export const entries = (known: Known) => named(known, 'entry', '');
