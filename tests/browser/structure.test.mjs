import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();

const entry = (page, title) => page.getByRole('list', { name: 'Structure' }).getByRole('button', { name: title });
const titles = (page) =>
  page
    .getByRole('list', { name: 'Structure' })
    .getByRole('button')
    .evaluateAll((all) => all.map((b) => [...b.children].slice(0, 3).map((s) => s.textContent).join(' ').trim()));
const comes = (page, ...wanted) =>
  eventually(
    async () => inOrder(await titles(page), wanted),
    async () => `${wanted.join(', ')} in ${(await titles(page)).join(', ')}`,
  );
const inOrder = (all, wanted) => {
  let at = -1;
  return wanted.every((w) => (at = all.findIndex((t, i) => i > at && t.startsWith(w))) >= 0);
};

test('a section is moved by key: its number is shown before, and what a co-writer types in it meanwhile goes along', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/valley.tex');
  await comes(page, '2.1 Quarries', '2.2 Ledgers and maps', '2.3 Weather');
  await entry(page, /Ledgers and maps/).focus();
  await page.keyboard.press('Alt+ArrowUp');
  // Shown before it is done, for all that change.
  await comes(page, '2.2 Quarries', '2.1 Ledgers and maps', '2.1.1 Doubtful entries', '2.3 Weather');
  await page.getByText('So it would be numbered.').waitFor();
  await page.keyboard.press('Escape');
  await comes(page, '2.1 Quarries', '2.2 Ledgers and maps');
  await page.keyboard.press('Alt+ArrowUp');
  await page.getByText('So it would be numbered.').waitFor();
  await cursorIn(other, 'Two quarries gave', 'End');
  const typing = other.keyboard.type(' And so on.', { delay: 40 });
  await page.keyboard.press('Enter');
  await typing;
  await comes(page, '2.1 Ledgers and maps', '2.1.1 Doubtful entries', '2.2 Quarries', '2.3 Weather');
  await comes(other, '2.1 Ledgers and maps', '2.2 Quarries');
  await has(other, ' And so on.');
  assert.equal((await text(other)).split('And so on.').length, 2);
  await page.getByText('Moved “Ledgers and maps”.').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await comes(page, '2.1 Quarries', '2.2 Ledgers and maps', '2.3 Weather');
  await has(other, ' And so on.');
  await other.context().close();
  await page.context().close();
});

test('a section is dragged over the border of its file, and to another level', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await comes(page, '2.3 Weather', '3 The growth curve', '3.1 Early', '3.2 The delay');
  const from = await entry(page, /Weather/).boundingBox();
  const to = await entry(page, /The delay at the start/).boundingBox();
  await page.mouse.move(from.x + 60, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x + 60, from.y + 20, { steps: 3 });
  await page.mouse.move(from.x + 60, to.y + 3, { steps: 6 });
  await comes(page, '3.2 Weather', '3.1 Early', '3.3 The delay');
  await page.mouse.move(from.x + 60, to.y + 4);
  await page.mouse.up();
  await comes(page, '3 The growth curve', '3.1 Early', '3.2 Weather', '3.3 The delay');
  await entry(page, /Weather/).click();
  await page.getByRole('textbox', { name: 'Source of chapters/growth.tex' }).waitFor();
  await has(page, '\\section{Weather}');
  await entry(page, /Weather/).focus();
  await page.keyboard.press('Alt+ArrowRight');
  await comes(page, '3.1.1 Weather', '3.2 The delay');
  await page.keyboard.press('Enter');
  await comes(page, '3.1 Early', '3.1.1 Weather', '3.2 The delay');
  await has(page, '\\subsection{Weather}');
  // What can’t be is said.
  await entry(page, /The growth curve/).focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await page.getByText('There is no higher level in this manuscript.').waitFor();
  await page.keyboard.press('Escape');
  await page.getByLabel('Filter the headings').fill('wea');
  assert.deepEqual((await titles(page)).map((t) => t.replace(/^\S+ /, '')), ['Weather']);
  await page.context().close();
});

test('words are found in the proof, pages face each other, and are read alone', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await page.locator('[data-sheet] canvas').first().waitFor();
  const proof = page.getByRole('region', { name: 'Proof leaf' });
  await page.getByRole('region', { name: 'Pages' }).focus();
  await page.keyboard.press('Control+f');
  await page.getByRole('textbox', { name: 'Find in the proof' }).fill('ledgers remain the better witness');
  await proof.getByText('1 of 1').waitFor();
  // Over the end of a line, and in view.
  await eventually(async () => (await page.getByTestId('found').count()) >= 2, 'both lines marked');
  const box = await page.getByTestId('found').first().boundingBox();
  assert.ok(box.y > 100 && box.y < 800, `in view: ${box.y}`);
  await page.getByRole('textbox', { name: 'Find in the proof' }).fill('lichen');
  await eventually(async () => /of \d\d/.test(await proof.getByRole('status').first().innerText()), 'many places');
  const at = await proof.getByRole('status').first().innerText();
  await page.keyboard.press('Enter');
  await eventually(async () => (await proof.getByRole('status').first().innerText()) !== at, 'the next place');
  await page.keyboard.press('Escape');
  await eventually(async () => (await page.getByTestId('found').count()) === 0, 'no marks');
  // All pages, small, and one of them turned to.
  await page.getByRole('button', { name: 'Small', exact: true }).click();
  const small = page.getByRole('list', { name: 'All pages' });
  await small.getByRole('button', { name: 'Page 3', exact: true }).click();
  await eventually(async () => (await page.getByRole('textbox', { name: 'Page', exact: true }).inputValue()) === '3', 'page 3');
  await eventually(async () => (await small.locator('canvas').count()) >= 3, 'drawn pages');
  await page.getByRole('button', { name: 'Small', exact: true }).click();
  await page.getByRole('button', { name: 'Facing' }).click();
  await page.getByRole('textbox', { name: 'Page', exact: true }).fill('6');
  await page.keyboard.press('Enter');
  await eventually(async () => {
    const [left, right] = [await page.locator('[data-sheet="6"]').boundingBox(), await page.locator('[data-sheet="7"]').boundingBox()];
    return left && right && Math.abs(left.y - right.y) < 2 && right.x > left.x + left.width - 2;
  }, 'two pages beside each other');
  await page.getByRole('button', { name: 'Reading', exact: true }).click();
  await eventually(async () => (await proof.boundingBox()).width === 1280, 'the pages alone');
  await page.keyboard.press('Escape');
  await eventually(async () => (await proof.boundingBox()).width < 700, 'the leaves again');
  await editor(page).focus();
  await page.context().close();
});

/** A file's text as the server has it. */
const stored = (page, path) =>
  page.evaluate(async (wanted) => {
    const { files } = await (await fetch('/api/manuscripts/1')).json();
    const file = files.find((f) => f.path === wanted);
    return file ? (await (await fetch(`/api/manuscripts/1/files/${file.id}`)).json()).text : '';
  }, path);
const inFiles = (page, path) =>
  page.getByRole('list', { name: 'Files', exact: true }).getByRole('button', { name: path, exact: true });

test('a section gets a file of its own and goes back, with what a co-writer typed in it since', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/valley.tex');
  const before = await text(page);
  await comes(page, '2.1 Quarries', '2.2 Ledgers and maps');
  await cursorIn(other, 'Two quarries gave', 'End');
  await other.keyboard.type(' Stone by stone.');
  await entry(page, /^2\.1 Quarries/).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Into a file of its own' }).click();
  await page.getByText('“Quarries” is in chapters/quarries.tex now.').waitFor();
  await has(page, '\\input{chapters/quarries}');
  await comes(page, '2.1 Quarries', '2.2 Ledgers and maps');
  // By key: the menu of the heading, then the last of its lines. What was typed in the new file comes along.
  await other.getByRole('tab', { name: 'Files' }).click();
  await inFiles(other, 'chapters/quarries.tex').click();
  await other.getByRole('textbox', { name: 'Source of chapters/quarries.tex' }).waitFor();
  await cursorIn(other, 'Two quarries gave', 'End');
  await other.keyboard.type(' In its own file.');
  await eventually(async () => (await stored(page, 'chapters/quarries.tex')).includes('In its own file.'), 'stored');
  await page.getByRole('button', { name: 'Undo' }).click();
  await has(page, ' In its own file.');
  assert.equal((await text(page)).includes('\\input{chapters/quarries}'), false);
  await eventually(async () => (await inFiles(other, 'chapters/quarries.tex').count()) === 0, 'the file gone');
  // Wherever on a line that wraps the other stood.
  const words = (await text(page)).replace(' In its own file.', '').replace(' Stone by stone.', '');
  assert.equal(words, before);
  // The headings are those of the proof.
  await eventually(async () => (await page.getByTestId('proof-state').innerText()).includes('current'), 'the proof');
  await entry(page, /^2\.1 Quarries/).focus();
  await page.keyboard.press('Shift+F10');
  await page.getByRole('menuitem', { name: 'Back out of its own file' }).click();
  await page.getByText('This section has no file of its own.').waitFor();
  for (const one of [page, other]) await one.context().close();
});

test('files stand in folders that open, are dragged from one to another, and dropped into one', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.getByRole('tab', { name: 'Files' }).click();
  const folder = (path) => page.getByRole('button', { name: `Folder ${path}`, exact: true });
  await folder('chapters').click();
  assert.equal(await folder('chapters').getAttribute('aria-expanded'), 'false');
  assert.equal(await inFiles(page, 'chapters/why.tex').count(), 0);
  await page.reload();
  await folder('chapters').waitFor();
  assert.equal(await inFiles(page, 'chapters/why.tex').count(), 0);
  await folder('chapters').click();
  await inFiles(page, 'chapters/why.tex').waitFor();
  // The markup follows the file.
  await inFiles(page, 'chapters/close.tex').dragTo(folder('figures'));
  await inFiles(page, 'figures/close.tex').waitFor();
  const takesIn = (path) =>
    eventually(async () => (await stored(page, 'main.tex')).includes(`\\include{${path}}`), `${path} taken in`);
  await takesIn('figures/close');
  await inFiles(page, 'figures/close.tex').dragTo(page.getByRole('button', { name: 'Upload' }));
  await inFiles(page, 'close.tex').waitFor();
  await inFiles(page, 'close.tex').dragTo(folder('chapters'));
  await inFiles(page, 'chapters/close.tex').waitFor();
  await takesIn('chapters/close');
  // From outside, several at once.
  const data = await page.evaluateHandle(() => {
    const files = new DataTransfer();
    for (const n of [1, 2, 3, 4]) files.items.add(new File([`a,b\n${n},2\n`], `run-${n}.csv`));
    return files;
  });
  await folder('chapters').dispatchEvent('drop', { dataTransfer: data });
  for (const n of [1, 2, 3, 4]) await inFiles(page, `chapters/run-${n}.csv`).waitFor();
  await page.context().close();
});
