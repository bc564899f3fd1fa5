// What tests of the proof leaf share: its pages, and manuscripts made for them.
import { eventually } from './browser.mjs';

export const pages = (page) => page.getByRole('region', { name: 'Pages' });
export const sheet = (page, number) => page.locator(`[data-sheet="${number}"]`);
export const current = (page) => eventually(async () => (await page.getByTestId('proof-state').textContent()).trim() === 'current', 'a current proof');

/** A new article with files of its own in it, opened in the Write room. */
export async function openNew(page, address, title, main, files = {}) {
  const id = await page.evaluate(
    async ([name, contents]) => {
      const { guard } = await (await fetch('/api/session')).json();
      const send = (method, path, body, type) => fetch(path, { method, body, headers: { 'folio-guard': guard, 'content-type': type } });
      const made = await (await send('POST', '/api/manuscripts', JSON.stringify({ title: name, kind: 'article' }), 'application/json')).json();
      for (const [path, text] of Object.entries(contents)) {
        const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
        const stored = await send('PUT', `/api/manuscripts/${made}/files?replace=true&path=${encodeURIComponent(path)}`, bytes, 'application/octet-stream');
        if (!stored.ok) throw new Error(await stored.text());
      }
      return made;
    },
    [title, Object.fromEntries(Object.entries({ 'main.tex': main, ...files }).map(([path, text]) => [path, Buffer.from(text).toString('base64')]))],
  );
  await page.goto(`${address}/m/${id}/write`);
  await sheet(page, 1).locator('canvas').waitFor();
  await current(page);
  return id;
}

export const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="220" height="120" viewBox="0 0 220 120">
<defs><linearGradient id="l"><stop offset="0.1" stop-color="#34567a"/><stop offset="0.9" stop-color="#f3d98b"/></linearGradient>
<radialGradient id="r"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#4f7350"/></radialGradient>
<pattern id="p" width="12" height="12" patternUnits="userSpaceOnUse"><circle cx="6" cy="6" r="4" fill="#b8382b"/></pattern>
<clipPath id="c"><circle cx="180" cy="60" r="35"/></clipPath></defs>
<rect x="5" y="5" width="70" height="50" fill="url(#l)" stroke="#000" stroke-width="2" stroke-dasharray="6 3"/>
<circle cx="110" cy="35" r="30" fill="url(#r)" fill-opacity="0.8"/>
<rect x="5" y="65" width="70" height="50" rx="8" fill="url(#p)" stroke="#6d4a7e" stroke-width="3" stroke-linejoin="round"/>
<g clip-path="url(#c)"><rect x="140" y="20" width="80" height="80" fill="#8f6008"/><path d="M140 20 L220 100 M140 100 L220 20" stroke="#fff" stroke-width="6"/></g>
<path d="M85 80 C95 60 125 130 135 90 Z" fill="#55606e" fill-rule="evenodd" opacity="0.5"/><text x="90" y="116" font-size="11">drawn</text></svg>`;

export const odd = String.raw`\documentclass[a4paper]{article}
\usepackage{graphicx,xcolor,amsmath,pdflscape,booktabs,mathpazo}
\begin{document}
\includegraphics[width=9cm]{drawing.svg}

\includegraphics[width=5cm,angle=20]{drawing.svg} \includegraphics[trim=20 20 60 40,clip,width=4cm]{drawing.svg}

\rotatebox{30}{turned words}\quad\scalebox{2}[1]{wide}\quad\reflectbox{mirrored}\quad\rotatebox{90}{\fbox{$\sqrt{x^2+y^2}$}}

\colorbox{yellow}{on yellow}\quad\fcolorbox{red}{white}{framed}\quad{\color{blue}blue \textbf{bold} \textsf{sans} \texttt{mono} \textsc{Small Caps}}

Office, affine, fjord, Wände, Łódź: \emph{kerned AVAT Toy}. $\displaystyle\int_0^\infty \frac{\sum_{i=1}^n \widehat{abc}}{\overbrace{a+b}^{n}}\,\mathrm{d}x \;\big\{\; \mathcal{A}\otimes\mathbb{R}$

\begin{tabular}{lr}\toprule one & 1 \\ \midrule two & 22 \\ \bottomrule\end{tabular}
\begin{landscape}
Across: a page that is wide. \begin{tabular}{|l|l|}\hline far & right \\ \hline\end{tabular}
\end{landscape}
After it.
\end{document}
`.replaceAll('\\\\', '\\');
