import type { Help } from './guide';

/** What an environment is begun with, where more than a line between its ends helps; `needs`: packages for it. */
const bodies: Readonly<Record<string, { body: string; needs?: readonly string[] }>> = {
  itemize: { body: '  \\item ${}' },
  enumerate: { body: '  \\item ${}' },
  description: { body: '  \\item[${word}] ${}' },
  figure: {
    body: '  \\centering\n  \\includegraphics[width=0.8\\linewidth]{${file}}\n  \\caption{${caption}}\n  \\label{fig:${key}}',
    needs: ['graphicx'],
  },
  table: {
    body: '  \\caption{${caption}}\n  \\label{tab:${key}}\n  \\centering\n  \\begin{tabular}{${ll}}\n    ${} & \\\\\n  \\end{tabular}',
  },
  align: { body: '  ${} &= ${} \\\\\n  &= ${}' },
  'align*': { body: '  ${} &= ${} \\\\\n  &= ${}' },
  cases: { body: '  ${} & \\text{if } ${} \\\\\n  ${} & \\text{otherwise}' },
};

/** The arguments that must be there, each a field to fill in. */
const fields = (form: string) =>
  form
    .replace(/\[[^\]]*\]/g, '')
    .replace(/\{([^}]*)\}/g, (_, name: string) => `{\${${name}}}`)
    .replace(/\|[^|]*\|/g, '|${}|');

/** Where the last Tab leads. */
const BehindIt = '${}';

/** A command as it is put in: its arguments are fields that Tab leads through. */
export function commandTemplate(help: Pick<Help, 'name' | 'form'>): string {
  const written = fields(help.form);
  return `\\${help.name}${written}${written && BehindIt}`;
}

/** An environment from its name on, up to its end. */
export function environmentTemplate(help: Pick<Help, 'name' | 'form'>): string {
  const body = bodies[help.name]?.body ?? '  ${}';
  return `${help.name}}${fields(help.form)}\n${body}\n\\end{${help.name}}${BehindIt}`;
}

/** The packages that what is put in needs, apart from the one that gives it. */
export const needsOf = (help: Pick<Help, 'name' | 'isEnvironment'>): readonly string[] =>
  (help.isEnvironment ? bodies[help.name]?.needs : undefined) ?? [];

/** Markup that is put in as it is, as part of a template: none of its braces are a field's. */
export const asTemplate = (markup: string) =>
  markup.replace(/\\([{}])|([$#])\{/g, (_, brace: string | undefined, sign: string) =>
    brace ? `\\\\${brace}` : `${sign}\\{`,
  );
