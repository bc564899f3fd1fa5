import type { MarkupHelp } from '../api/client';

/** An example for each package: of the first thing it gives that has one and needs no file. */
export function examplesOf(guide: MarkupHelp): Map<string, string> {
  const byName = new Map<string, string>();
  for (const line of guide.lines)
    if (line.example && !/includegraphics|\.(?:csv|png|tex|bib|pdf)\b|figures\//.test(line.example))
      for (const { name, isEnvironment } of line.names) byName.set(isEnvironment ? name : `\\${name}`, line.example);
  const found = new Map<string, string>();
  for (const p of guide.packages) {
    const example = [...p.environments, ...p.commands.map((c) => `\\${c}`)].map((n) => byName.get(n)).find(Boolean);
    if (example) found.set(p.name, example);
  }
  return found;
}

const inPreamble =
  /^\\(?:new|renew|provide|define|Declare|set(?!lcounter)|hypersetup|captionsetup|geometry|crefname|title(?:format|spacing)|pagestyle|fancy|lhead|rhead|theoremstyle|sisetup|lstset|usetikz|makeindex|graphicspath|addbibresource)/;

/** A small page with an example on it. */
export const pageOf = (name: string, markup: string) =>
  [
    '\\documentclass{article}',
    '\\usepackage[paperwidth=100mm,paperheight=42mm,margin=5mm]{geometry}',
    ...(name === 'geometry' ? [] : [`\\usepackage{${name}}`]),
    '\\pagestyle{empty}',
    ...(inPreamble.test(markup)
      ? [markup, '\\begin{document}', 'Some words of a text.']
      : ['\\begin{document}', markup]),
    '\\end{document}',
    '',
  ].join('\n');
