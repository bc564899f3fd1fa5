import { describe, expect, it } from 'vitest';
import type { Finding } from '../src/api/client';
import { causeOf, groupsOf, mendOfAll } from '../src/write/findingGroups';

const finding = (code: string, message: string, text?: string) =>
  ({ code, kind: 'fix', message, repair: text === undefined ? null : { text } }) as Finding;
const nameOf = (f: Finding) => `Write ${f.repair!.text}`;

describe('findings of one cause', () => {
  const all = [
    finding('sign', '& parts columns.', '\\&'),
    finding('source', 'There is no source “a”.'),
    finding('sign', '& parts columns.', '\\&'),
    finding('source', 'There is no source “b”.'),
    finding('sign', '& parts columns.', '\\&'),
  ];
  it('come together from three on, where the first of them stood', () => {
    expect(groupsOf(all).map((g) => [g.code, g.findings.length])).toEqual([
      ['sign', 3],
      ['source', 1],
      ['source', 1],
    ]);
    expect(groupsOf([])).toEqual([]);
  });
  it('are said without what differs', () => {
    expect(causeOf(groupsOf(all)[0]!)).toBe('& parts columns.');
    const group = { code: 'source', kind: 'fix', findings: [all[1]!, all[3]!] };
    expect(causeOf(group)).toBe('There is no source ….');
    const commands = [finding('c', 'There is no command \\emhp.'), finding('c', 'There is no command \\x*.')];
    expect(causeOf({ code: 'c', kind: 'fix', findings: commands })).toBe('There is no command ….');
  });
  it('are mended together when each has a mend', () => {
    expect(mendOfAll(groupsOf(all)[0]!, nameOf)).toBe('Write \\& in all 3');
    const mixed = [finding('x', 'a', '\\%'), finding('x', 'a', '\\#')];
    expect(mendOfAll({ code: 'x', kind: 'fix', findings: mixed }, nameOf)).toBe('Mend all 2');
    expect(mendOfAll({ code: 'x', kind: 'fix', findings: [all[0]!, all[1]!] }, nameOf)).toBeNull();
  });
});
