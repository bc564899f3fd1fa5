import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();

const list = (page) => page.locator('.cm-tooltip-autocomplete');
const offer = (page, label) => list(page).getByRole('option').filter({ has: page.locator('.cm-completionLabel', { hasText: new RegExp(`^${label.replaceAll(/[\\.]/g, '\\$&')}$`) }) });
const panel = (page) => page.locator('.cm-completionInfo .cm-help');
/** A list that has just come takes no key for a moment. */
const read = (page) => page.waitForTimeout(250);

/** A line of one's own to write in, at the end of a file. */
async function lineIn(page) {
  await cursorIn(page, 'we should learn what else', 'Control+End');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
}

/** A file's text as it is stored. */
const stored = (page, path) =>
  page.evaluate(async (wanted) => {
    const { files } = await (await fetch('/api/manuscripts/1')).json();
    return (await (await fetch(`/api/manuscripts/1/files/${files.find((f) => f.path === wanted).id}`)).json()).text;
  }, path);

test('commands are offered with what they do; what a package gives loads it, and both are undone together', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await lineIn(page);
  await page.keyboard.type('\\subs');
  await offer(page, '\\subsection').waitFor();
  assert.match(await panel(page).innerText(), /\\subsection\[short\]\{title\}[\s\S]*Begins a section within the one before/);
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, '\\subsection{title}');
  // What is typed takes the place of the argument's name, and Tab leads behind it.
  await page.keyboard.type('Spades');
  await page.keyboard.press('Tab');
  await page.keyboard.type(' \\todo');
  await has(page, '\\subsection{Spades} \\todo');
  await offer(page, '\\todo').waitFor();
  assert.match(await offer(page, '\\todo').innerText(), /loads todonotes/);
  assert.match(await panel(page).innerText(), /The package todonotes gives it/);
  assert.doesNotMatch(await stored(page, 'main.tex'), /todonotes/);
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, '\\todo{text}');
  await eventually(async () => /\\usepackage\{todonotes\}\n/.test(await stored(page, 'main.tex')), 'the package loaded');
  await page.keyboard.press('Control+z');
  await eventually(async () => !/\\todo\{/.test(await text(page)), 'the command gone');
  await eventually(async () => !/todonotes/.test(await stored(page, 'main.tex')), 'the package gone with it');
  await page.keyboard.press('Control+y');
  await has(page, '\\todo{text}');
  await eventually(async () => /\\usepackage\{todonotes\}\n/.test(await stored(page, 'main.tex')), 'both there again');
  await page.context().close();
});

test('an environment brings its end, labels say what they name, and a second writer’s words stay', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  // What the manuscript uses comes first; its proof says what that is.
  await eventually(async () => (await page.getByTestId('proof-state').innerText()).includes('current'), 'the proof');
  await lineIn(page);
  await page.keyboard.type('\\begin{quo');
  await offer(page, 'quote').waitFor();
  // Someone else writes above while the list is open.
  await cursorIn(other, 'we should learn what else', 'End');
  await other.keyboard.type(' By Bao.');
  await has(page, 'By Bao.');
  await offer(page, 'quote').waitFor();
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, '\\begin{quote}\n  \n\\end{quote}');
  await page.keyboard.type('As in \\ref{delay');
  await offer(page, 'sec:delay').waitFor();
  assert.match(await offer(page, 'sec:delay').innerText(), /section 3\.2 · The delay at the start/);
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, '  As in \\ref{sec:delay}\n\\end{quote}');
  assert.match(await text(page), /By Bao\./);
  await has(other, 'As in \\ref{sec:delay}');
  // By hand too: Enter behind a beginning.
  await page.keyboard.press('Control+End');
  await page.keyboard.type('\n\\begin{itemize}');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Enter');
  await has(page, '\\begin{itemize}\n  \n\\end{itemize}');
  // Pictures show.
  await page.keyboard.type('\\includegraphics[width=1cm]{asp');
  await offer(page, 'figures/aspects.png').waitFor();
  await page.locator('.cm-completionInfo img').waitFor();
  await eventually(() => page.locator('.cm-completionInfo img').evaluate((i) => i.naturalWidth > 0), 'the picture');
  await page.context().close();
  await other.context().close();
});

test('what is under the pointer is explained: commands, references', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const word = async (words) => {
    await page.mouse.move(5, 5);
    await page.locator('.cm-line span', { hasText: words }).first().hover();
  };
  await word('sec:delay');
  await page.locator('.cm-tooltip-hover', { hasText: 'section 3.2 · The delay at the start' }).waitFor();
  assert.match(await page.locator('.cm-tooltip-hover').innerText(), /page 6 · chapters\/growth\.tex, line \d+/);
  await word('\\citep');
  await page.locator('.cm-tooltip-hover', { hasText: 'Names and year in brackets' }).waitFor();
  // A formula is drawn, and a figure's picture shown.
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/growth.tex`);
  await editor(page).waitFor();
  await page.mouse.move(5, 5);
  await page.locator('.cm-line', { hasText: 'is the early spread' }).getByText('$D$', { exact: true }).hover();
  const drawn = page.locator('.cm-tooltip-hover').getByRole('img', { name: 'The formula as it prints: D' });
  await drawn.waitFor();
  assert.ok(await drawn.evaluate((i) => i.naturalWidth > 4), 'a drawing');
  await page.mouse.move(5, 5);
  const figure = page.locator('.cm-line', { hasText: 'includegraphics' }).first();
  await figure.click();
  const at = await figure.evaluate((line) => {
    const walk = document.createTreeWalker(line, NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
      const from = walk.currentNode.textContent.indexOf('growth.svg');
      if (from < 0) continue;
      const range = document.createRange();
      range.setStart(walk.currentNode, from);
      range.setEnd(walk.currentNode, from + 6);
      const box = range.getBoundingClientRect();
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    }
  });
  await page.mouse.move(at.x, at.y);
  const shown = page.locator('.cm-tooltip-hover img');
  await shown.waitFor();
  await page.context().close();
});

test('a name leads to where it is defined and to its uses, and is changed everywhere at once, with a look before', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/growth.tex');
  const onLabel = () => page.locator('.cm-line span', { hasText: /^sec:delay$/ }).first().click();
  await onLabel();
  await page.keyboard.press('F2');
  const dialog = page.getByRole('dialog', { name: 'Rename the label sec:delay' });
  await dialog.getByText(/It stands in \d+ places? of \d+ files?/).waitFor();
  assert.match(await dialog.getByRole('list', { name: 'Places' }).innerText(), /chapters\/growth\.tex, \d+[\s\S]*sec:delay/);
  // A name that is there already is refused, saying where.
  await dialog.getByRole('textbox', { name: 'New name' }).fill('ch:why');
  await dialog.getByRole('button', { name: 'Rename' }).click();
  await dialog.getByRole('alert').getByText(/“ch:why” is a label already, in chapters\/why\.tex, line \d+/).waitFor();
  // Someone writes meanwhile in the file where it is given.
  await cursorIn(other, 'chapter{', 'End');
  await other.keyboard.type('% by Bao');
  await dialog.getByRole('textbox', { name: 'New name' }).fill('sec:lag');
  await dialog.getByRole('button', { name: 'Rename' }).click();
  await dialog.getByText(/It is sec:lag in \d+ places now/).waitFor();
  await eventually(async () => /\\label\{sec:lag\}/.test(await stored(page, 'chapters/growth.tex')), 'renamed');
  assert.match(await stored(page, 'chapters/growth.tex'), /% by Bao/);
  await dialog.getByRole('button', { name: 'Undo' }).click();
  await eventually(async () => /\\label\{sec:delay\}/.test(await stored(page, 'chapters/growth.tex')), 'taken back');
  await dialog.waitFor({ state: 'detached' });
  // Where a label is, the proof says: it has to know it by its old name again.
  const labels = () => page.evaluate(async () => (await (await fetch('/api/manuscripts/1/proof')).json()).report.labels.map((l) => l.key));
  await eventually(async () => (await labels()).includes('sec:delay'), 'the label in the proof');
  await eventually(async () => (await page.getByTestId('proof-state').innerText()).includes('current'), 'the proof');
  // Where it is, by key; and all its uses.
  await onLabel();
  await page.keyboard.press('Shift+F2');
  await page.getByRole('search', { name: 'Find' }).getByText(/\d+ places in \d+ files/).waitFor();
  await onLabel();
  await page.keyboard.press('Alt+.');
  await page.getByRole('textbox', { name: 'Source of chapters/growth.tex' }).waitFor();
  await eventually(async () => /sec:delay/.test(await page.locator('.cm-activeLine').innerText()), 'at the label');
  // By mouse, to a source.
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/close.tex`);
  await page.locator('.cm-line span', { hasText: /^field2024$/ }).first().click({ modifiers: ['Control'] });
  await page.getByRole('heading', { name: 'field2024' }).waitFor();
  await page.context().close();
  await other.context().close();
});

test('options of a package are offered with what they take, and then their values, also over several lines', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'main.tex');
  await cursorIn(page, '\\documentclass', 'End');
  await page.keyboard.press('Enter');
  await page.keyboard.type('\\hypersetup{');
  await page.keyboard.press('Enter');
  await page.keyboard.type('color');
  await offer(page, 'colorlinks').waitFor();
  assert.match(await offer(page, 'colorlinks').innerText(), /true false/);
  await read(page);
  await page.keyboard.press('Enter');
  // The values come by themselves.
  await offer(page, 'true').waitFor();
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, 'colorlinks=true');
  await page.keyboard.type(',link');
  await offer(page, 'linkcolor').waitFor();
  await read(page);
  await page.keyboard.press('Enter');
  // The manuscript's own colours come first.
  await list(page).getByRole('option').first().waitFor();
  await page.keyboard.type('re');
  await offer(page, 'red').waitFor();
  await read(page);
  await page.keyboard.press('Enter');
  await has(page, 'linkcolor=red');
  await page.context().close();
});
