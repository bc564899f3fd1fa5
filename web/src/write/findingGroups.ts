import type { Finding } from '../api/client';

/** Findings of one cause. */
export interface FindingGroup {
  code: string;
  kind: string;
  findings: Finding[];
}

/** From so many on, findings of one cause are drawn together. */
export const Many = 3;

/** Findings by their cause, in the order in which the first of each comes. */
export function groupsOf(findings: readonly Finding[]): FindingGroup[] {
  const groups = new Map<string, FindingGroup>();
  for (const f of findings) {
    const group = groups.get(f.code);
    if (group) group.findings.push(f);
    else groups.set(f.code, { code: f.code, kind: f.kind, findings: [f] });
  }
  return [...groups.values()].flatMap((g) =>
    g.findings.length >= Many ? [g] : g.findings.map((f) => ({ ...g, findings: [f] })),
  );
}

/** What all of a group say, without what differs. */
export function causeOf({ findings }: FindingGroup): string {
  const messages = findings.map((f) => f.message);
  const [first] = messages;
  if (messages.every((m) => m === first)) return first!;
  const general = first!
    .replace(/“[^”]*”/g, '…')
    .replace(/\\[A-Za-z@]+\*?/g, '…')
    .replace(/\d+(?:[.,]\d+)?/g, '…');
  return general;
}

/** What carrying out the mends of all of a group does, as its button says it; null when one of them has none. */
export function mendOfAll({ findings }: FindingGroup, nameOf: (finding: Finding) => string): string | null {
  if (!findings.every((f) => f.repair && !f.repair.newFile)) return null;
  const [first, ...others] = findings.map(nameOf);
  return others.every((o) => o === first) ? `${first} in all ${findings.length}` : `Mend all ${findings.length}`;
}
