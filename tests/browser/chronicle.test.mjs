// The Chronicle: events, pins, two moments compared in source and print, and going back.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, eventually, has, signIn, text, writeAs } from './browser.mjs';

const running = application();

async function chronicleAs(who, search = '') {
  const page = await signIn(running.browser, running.demo.address, who);
  await page.goto(`${running.demo.address}/m/1/chronicle${search}`);
  await history(page).waitFor();
  return page;
}
const history = (page) => page.getByRole('list', { name: 'History', exact: true });
const changed = (page) => page.getByRole('region', { name: 'What changed' });

test('the history is read as sittings with their sections, filtered, and an event shows what it changed', async () => {
  const page = await chronicleAs('Ilse Marrable');
  await history(page).getByText('4.3 Walls without a date').waitFor();
  await history(page).getByText('Second draft, to Anton').waitFor();
  await history(page).getByText('new since you were last here, up to here').waitFor();
  // To begin with: what is new since one was here.
  await changed(page).getByText('chapters/walls.tex').waitFor();
  await page.getByRole('combobox', { name: 'Whose' }).selectOption({ label: 'Anton Quill' });
  await eventually(async () => (await history(page).getByText(/Bao Tremlett:/).count()) === 0, 'only Anton’s');
  assert.ok((await history(page).getByText(/Anton Quill:/).count()) > 0);
  await page.getByRole('combobox', { name: 'Whose' }).selectOption('');
  await page.getByRole('textbox', { name: 'Find in the history' }).fill('quadrat misses');
  await eventually(async () => (await history(page).getByRole('button', { name: /rev \d/ }).count()) === 1, 'one sitting');
  await history(page).getByRole('button', { name: /What a quadrat misses/ }).click();
  await changed(page).getByText('A quadrat of half a metre takes in').waitFor();
  assert.match(page.url(), /from=\d+&to=\d+/);
  // What was before isn’t changed by a click: only what is compared with now can be brought back.
  assert.equal(await changed(page).getByRole('button', { name: 'Bring this back' }).count(), 0);
  await page.context().close();
});

test('a sentence is followed through the history: when it came, when it went, and whether it is there', async () => {
  const page = await chronicleAs('Ilse Marrable');
  const list = history(page);
  await page.getByRole('combobox', { name: 'Find by' }).selectOption('words of the text');
  await page.getByRole('textbox', { name: 'Find in the history' }).fill('the through-stones and');
  await page.getByText('There now, in one place.').waitFor();
  await list.getByRole('button', { name: /What a quadrat misses.*they came/ }).waitFor();
  // It goes while the chronicle is open, and is found gone by whoever looks again.
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/growth.tex');
  await bao.getByRole('textbox', { name: 'Source of chapters/growth.tex' }).click();
  await bao.keyboard.press('Control+End');
  // Home goes to the start of a row, and from there to that of the line: rows may move below the pointer.
  await bao.locator('.cm-line', { hasText: 'A quadrat of half a metre takes' }).click({ position: { x: 40, y: 8 } });
  await bao.keyboard.press('Home');
  await bao.keyboard.press('Home');
  for (let i = 'A quadrat of half a metre takes in the '.length; i > 0; i--) await bao.keyboard.press('ArrowRight');
  await bao.keyboard.type('great ');
  await has(bao, 'takes in the great through-stones');
  await page.getByRole('textbox', { name: 'Find in the history' }).fill('in the through-stones and');
  await eventually(async () => (await page.getByText('Not there any more.').count()) === 1, 'gone');
  await list.getByRole('button', { name: /they went/ }).first().click();
  await changed(page).getByText('great', { exact: true }).first().waitFor();
  await page.getByRole('textbox', { name: 'Find in the history' }).fill('nobody ever wrote this');
  await page.getByText('These words never stood in a text.').waitFor();
  await page.context().close();
  // From the text itself: the line of the cursor.
  await bao.keyboard.press('F4');
  await bao.getByRole('combobox', { name: 'Name' }).fill('History of these words');
  await bao.getByRole('option', { selected: true }).filter({ hasText: 'History of these words' }).waitFor();
  await bao.keyboard.press('Enter');
  await history(bao).getByRole('button', { name: /they came/ }).first().waitFor();
  await bao.getByText('There now, in one place.').waitFor();
  await bao.context().close();
});

test('the passages of a section come back together, with one undo', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  const before = await page.evaluate(async () => {
    const { guard } = await (await fetch('/api/session')).json();
    const { files, revision } = await (await fetch('/api/manuscripts/1')).json();
    const file = files.find((f) => f.path === 'chapters/close.tex').id;
    const { text: source } = await (await fetch(`/api/manuscripts/1/files/${file}`)).json();
    const other = source.replace('Lichen dates', 'Lichen may well date').replace('All diameters', 'All the diameters');
    await fetch('/api/manuscripts/1/files?path=chapters/close.tex&replace=true', { method: 'PUT', headers: { 'folio-guard': guard }, body: other });
    return revision;
  });
  await page.goto(`${running.demo.address}/m/1/chronicle?from=${before}`);
  await changed(page).getByRole('button', { name: 'The whole section as it was' }).click();
  await page.getByText('The section is as it was.').waitFor();
  await page.getByText('Nothing differs between these two moments').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await changed(page).getByText('may well date').waitFor();
  await page.context().close();
});

test('a moment is pinned, what comes after it is compared in source and print, and a passage and a file go back', async () => {
  const page = await chronicleAs('Ilse Marrable');
  await page.getByRole('button', { name: 'Pin now' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What to call it').fill('Third draft');
  await dialog.getByLabel(/A note/).fill('For the office.');
  await dialog.getByRole('button', { name: 'Pin it' }).click();
  await history(page).getByText('Third draft').waitFor();
  await history(page).getByText(/pinned by Ilse · \d+ pages/).waitFor();

  const other = await writeAs(running, 'Bao Tremlett', 'chapters/valley.tex');
  const before = await text(other);
  await cursorIn(other, 'Two quarries gave', 'End');
  await other.keyboard.type(' And one more gave none.');
  await history(page).getByRole('button', { name: /Third draft/ }).first().click();
  await page.getByRole('combobox', { name: 'From', exact: true }).selectOption({ label: '◆ Third draft' });
  const passage = changed(page).locator('ins', { hasText: 'And one more gave none.' });
  await passage.waitFor();
  // By key to the change, in print, and from its list to its page.
  await page.getByRole('tab', { name: 'In print' }).click();
  const list = page.getByRole('list', { name: 'Changes' });
  await list.getByText('And one more gave none.').waitFor();
  await list.focus().catch(() => undefined);
  await page.getByRole('button', { name: 'Next change' }).click();
  await page.getByRole('region', { name: 'Pages with changes' }).getByRole('img', { name: 'Page 1', exact: true }).waitFor();
  assert.ok(await page.getByRole('link', { name: 'PDF' }).getAttribute('href'));

  await page.getByRole('tab', { name: 'In the source' }).click();
  await changed(page).getByRole('button', { name: 'Bring this back' }).first().click();
  await page.getByText('The passage is as it was.').waitFor();
  await eventually(async () => (await text(other)) === before, async () => text(other));
  await changed(page).getByRole('button', { name: 'Undo' }).click();
  await has(other, 'And one more gave none.');
  await passage.waitFor();
  await changed(page).getByRole('button', { name: 'The whole file as it was' }).first().click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Restore it' }).click();
  await eventually(async () => (await text(other)) === before, async () => text(other));
  await history(page).getByText(/went back to revision \d+ in one file/).waitFor();
  await other.context().close();
  await page.context().close();
});

test('the margin says who wrote each line and when, and what is typed goes to whoever typed it', async () => {
  const page = await writeAs(running, 'Bao Tremlett', 'chapters/growth.tex');
  await page.getByRole('button', { name: 'Who wrote this' }).click();
  await page.locator('.cm-author', { hasText: 'IM' }).first().waitFor();
  assert.match(await page.locator('.cm-author').first().getAttribute('title'), /^Ilse Marrable, /);
  await cursorIn(page, 'Early and late growth', 'End');
  await page.keyboard.type('\n\nBao wrote this line.');
  // With the next proof the margin knows.
  await page.locator('.cm-author', { hasText: 'BT' }).first().waitFor();
  await page.getByRole('button', { name: 'Who wrote this' }).click();
  await eventually(async () => (await page.locator('.cm-author').count()) === 0, 'no margin');
  await page.context().close();
});

test('all goes back to a pin, is pinned before, and a reader sees but changes nothing', async () => {
  const page = await chronicleAs('Ilse Marrable');
  await page.getByRole('combobox', { name: 'From', exact: true }).selectOption({ label: '◆ First three chapters' });
  await changed(page).getByText('chapters/growth.tex').waitFor();
  await page.getByRole('button', { name: 'Restore …' }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Go back' }).click();
  await page.getByText(/All of it is as it was at revision/).waitFor();
  await changed(page).getByText('Nothing differs between these two moments.').waitFor();
  await history(page).getByText(/Before going back to revision/).waitFor();
  // And forward again, by what was pinned.
  await page.getByRole('combobox', { name: 'From', exact: true }).selectOption({ index: 1 });
  await page.getByRole('button', { name: 'Restore …' }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Go back' }).click();
  await eventually(
    () => page.evaluate(async () => (await (await fetch('/api/manuscripts/1')).json()).files.some((f) => f.path === 'chapters/growth.tex')),
    'the files of before',
  );
  await page.context().close();

  const reader = await chronicleAs('Perpetua Vane');
  await history(reader).getByText('Second draft, to Anton').waitFor();
  for (const name of ['Pin now', 'Restore …']) assert.equal(await reader.getByRole('button', { name }).count(), 0);
  await reader.context().close();
});

test('a history that went out comes in again as another manuscript, with who wrote what', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  const bundle = await page.request.get(`${running.demo.address}/api/manuscripts/1/history`);
  await page.getByTestId('zip').setInputFiles({ name: 'walls again.fast-export', mimeType: 'application/octet-stream', buffer: await bundle.body() });
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Import' }).click();
  await dialog.getByText(/states of its history came along/).waitFor({ timeout: 120000 });
  await dialog.getByRole('link', { name: 'Open it' }).click();
  await page.getByRole('link', { name: 'Chronicle' }).click();
  await history(page).getByText(/, by Ilse Marrable/).first().waitFor();
  await history(page).getByText(/, by Bao Tremlett/).first().waitFor();
  await page.context().close();
});
