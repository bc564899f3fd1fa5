export type MakeKind = 'figure' | 'table' | 'formula' | 'reference' | 'citation';

/** Something that can be made with help at the cursor. */
interface Make {
  kind: MakeKind;
  name: string;
  /** Its name among all that can be done. */
  action: string;
  key?: string;
}

export const makes: readonly Make[] = [
  { kind: 'figure', name: 'A figure …', action: 'Put in a figure' },
  { kind: 'table', name: 'A table …', action: 'Put in a table, or change the one at the cursor', key: 'F7' },
  { kind: 'formula', name: 'A formula …', action: 'Put in a formula, or change the one at the cursor', key: 'Mod-m' },
  { kind: 'reference', name: 'A reference to a label …', action: 'Refer to a label', key: 'F9' },
  { kind: 'citation', name: 'A citation …', action: 'Cite a source', key: 'Shift-F9' },
];
