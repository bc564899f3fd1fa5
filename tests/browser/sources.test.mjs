import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, eventually, signIn, printed } from './browser.mjs';

const running = application();

/** Opens the Sources room of the demo thesis. */
async function openSources(name = 'Ilse Marrable') {
  const page = await signIn(running.browser, running.demo.address, name);
  await page.getByRole('link', { name: /Reading Walls/ }).click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  return page;
}

const table = (page) => page.getByRole('table', { name: 'Sources' });
const row = (page, key) => table(page).getByRole('row').filter({ has: page.getByText(key, { exact: true }) });
const entry = (page) => page.getByRole('complementary', { name: 'The source' });

/** The text of a file, as the server has it. */
async function fileText(page, path) {
  return page.evaluate(async (wanted) => {
    const id = location.pathname.split('/')[2];
    const manuscript = await (await fetch(`/api/manuscripts/${id}`)).json();
    const file = manuscript.files.find((p) => p.path === wanted);
    return (await (await fetch(`/api/manuscripts/${id}/files/${file.id}`)).json()).text;
  }, path);
}

test('a broken record is pasted, mended, cited and seen in print', async () => {
  const page = await openSources();
  await page.getByRole('button', { name: 'Paste or import' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Records' }).fill('@article{quill2026,\n  author = {Quill, Anton & Vane, Perpetua},\n  title = {A wall that was never closed,\n  year = 2026,\n  pages = {1-9}\n}');
  await dialog.getByRole('alert').filter({ hasText: 'isn’t closed' }).or(dialog.getByRole('alert').filter({ hasText: "isn't closed" })).waitFor();
  assert.match(await dialog.getByRole('list', { name: 'Found' }).innerText(), /A wall that was never closed[\s\S]*quill2026[\s\S]*no journal/);
  await dialog.getByRole('button', { name: 'Add this source' }).click();
  await entry(page).getByRole('heading', { name: 'quill2026' }).waitFor();

  // Its names and pages are put right with a click, the journal by hand.
  for (const what of ['not by &', 'two hyphens']) {
    await entry(page).locator('li', { hasText: what }).getByRole('button', { name: 'Write ' }).click();
    await eventually(async () => (await entry(page).locator('li', { hasText: what }).count()) === 0, `${what} mended`);
  }
  await entry(page).getByRole('textbox', { name: 'journal' }).fill('Stone and Season');
  await entry(page).getByRole('textbox', { name: 'journal' }).press('Enter');
  await eventually(async () => /Quill, A\. and Vane, P\. \(2026\)\. A wall that was never closed\. Stone and Season, pages 1–9\./.test(await entry(page).getByTestId('printed').innerText()), async () => `the reference: ${await entry(page).getByTestId('printed').innerText()}`);
  assert.match(await fileText(page, 'sources.bib'), /@article\{quill2026,\n {2}author = \{Quill, Anton and Vane, Perpetua\},/);

  // Cited while writing, found by a word of its title.
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/close.tex&line=2`);
  await page.locator('.cm-content').waitFor();
  await page.locator('.cm-line', { hasText: 'Lichen dates a wall' }).first().click();
  await page.keyboard.press('Home');
  await page.keyboard.type('As was said before \\citet{never clo');
  await page.locator('.cm-tooltip-autocomplete li', { hasText: 'quill2026' }).waitFor();
  await page.locator('.cm-completionInfo', { hasText: 'Stone and Season' }).waitFor();
  // A list that has just come takes no Enter for a moment, so that nobody accepts what they haven't read.
  await page.waitForTimeout(250);
  await page.keyboard.press('Enter');
  await eventually(async () => (await page.locator('.cm-content').innerText()).includes('\\citet{quill2026'), 'the key in the text', 5000);
  await page.keyboard.type('}. ');
  await eventually(async () => (await printed(page)).includes('said before Quill and Vane (2026)'), async () => `the citation in print:\n${await page.locator('.cm-content').innerText()}\n${await printed(page)}`);
  await page.context().close();
});

test('two entries of one work are merged, and the citation follows; undo brings both back', async () => {
  const page = await openSources();
  await page.getByRole('group', { name: 'Show' }).getByRole('button', { name: /doubled/ }).click();
  await row(page, 'rook1991b').click();
  await entry(page).getByRole('button', { name: 'Merge with its twin' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('group', { name: 'author' }).getByText('Rook, Harriet').click();
  await dialog.getByRole('button', { name: 'Merge them' }).click();
  await page.getByRole('status').filter({ hasText: 'rook1991 was merged into rook1991b' }).waitFor();
  assert.match(await fileText(page, 'chapters/why.tex'), /\\citep\{rook1987,rook1991b\}/);
  const bib = await fileText(page, 'sources.bib');
  assert.doesNotMatch(bib, /\{rook1991,/);
  assert.match(bib, /\{rook1991b,\n {2}author  *= \{Rook, Harriet\}/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await eventually(async () => (await fileText(page, 'sources.bib')).includes('{rook1991,'), 'both entries again');
  assert.match(await fileText(page, 'chapters/why.tex'), /\\citep\{rook1987,rook1991\}/);
  await page.context().close();
});

test('a key that four files use is renamed everywhere, and another name than a free one is refused', async () => {
  const page = await openSources();
  await page.getByLabel('Find a source').fill('circles growth shade');
  await row(page, 'tansel1999').click();
  await eventually(async () => (await entry(page).locator('section').last().locator('li').count()) === 4, 'four sections that cite it');
  await entry(page).getByRole('button', { name: 'Rename key everywhere' }).click();
  await page.getByLabel('New key').fill('rook1987');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await page.getByRole('alert').filter({ hasText: 'There is a source “rook1987” already' }).waitFor();
  await page.getByLabel('New key').fill('circles99');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await entry(page).getByRole('heading', { name: 'circles99' }).waitFor();
  for (const file of ['why', 'growth', 'walls', 'clock']) {
    const text = await fileText(page, `chapters/${file}.tex`);
    assert.ok(text.includes('circles99') && !text.includes('tansel1999'), file);
  }
  await page.context().close();
});

test('the catalogue answers, has nothing, fails, and is stopped when it is slow', async () => {
  const page = await openSources();
  await page.getByRole('button', { name: 'Look up', exact: true }).click();
  const dialog = page.getByRole('dialog');
  const ask = async (words) => {
    await dialog.getByRole('textbox').fill(words);
    await dialog.getByRole('button', { name: 'Look up' }).click();
  };
  await ask('zzz nothing');
  await dialog.getByText('has nothing that fits').waitFor();
  await ask('fail: lichens');
  await dialog.getByRole('alert').filter({ hasText: 'can’t answer just now' }).or(dialog.getByRole('alert').filter({ hasText: "can't answer just now" })).waitFor();
  await ask('slow: lichens');
  await dialog.getByText('Asking the catalogue').waitFor();
  await dialog.getByRole('button', { name: 'Stop' }).click();
  await ask('10.5555/marrow.1031');
  await dialog.getByRole('list', { name: 'Found' }).getByText('Measuring crustose lichens with a hand lens').click();
  await dialog.getByRole('button', { name: 'Add this source' }).click();
  await entry(page).getByRole('heading', { name: 'rook2007' }).waitFor();
  await page.context().close();
});

test('a record pasted into the text is filed and cited', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/valley.tex`);
  await page.locator('.cm-line', { hasText: 'Two quarries gave' }).first().click();
  await page.keyboard.press('Home');
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', 'TY  - BOOK\nAU  - Pastor, Ann\nTI  - On pasted things\nPB  - Edgeway\nPY  - 2025\nER  - \n');
    document.querySelector('.cm-content').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await page.getByRole('dialog').getByText('On pasted things').waitFor();
  await page.getByRole('button', { name: 'File it and cite it' }).click();
  await eventually(async () => (await page.locator('.cm-content').innerText()).includes('\\citep{pastor2025}'), 'the citation in the text');
  assert.match(await fileText(page, 'sources.bib'), /@book\{pastor2025,/);
  const cited = page.locator('.cm-line', { hasText: '\\citep{pastor2025}' }).locator('span', { hasText: 'pastor2025' }).first();
  await cited.hover();
  await page.locator('.cm-tooltip-hover .cm-reference', { hasText: 'Pastor, A. (2025).' }).waitFor();
  await page.context().close();
});

test('five thousand sources scroll and search without a wait', async (t) => {
  const page = await openSources();
  const many = Array.from({ length: 5000 }, (_, i) => `@book{many${i}, author={Author${i % 700}, Ann}, title={Volume ${i}}, publisher={Press}, year=${1900 + (i % 120)}}`).join('\n');
  await page.evaluate(async (text) => {
    const { guard } = await (await fetch('/api/session')).json();
    await fetch('/api/manuscripts/1/files?path=many.bib', { method: 'PUT', headers: { 'folio-guard': guard }, body: new Blob([text]) });
  }, many);
  await page.reload();
  await page.getByRole('button', { name: /5\d{3} sources/ }).waitFor();
  const drawn = await table(page).getByRole('row').count();
  assert.ok(drawn < 80, `${drawn} rows are drawn`);
  const start = Date.now();
  await page.getByLabel('Find a source').fill('many4321');
  await row(page, 'many4321').waitFor();
  t.diagnostic(`search among 5000: ${Date.now() - start} ms`);
  await page.context().close();
});

test('a reader sees the sources and changes none', async () => {
  const page = await openSources('Perpetua Vane');
  await page.getByLabel('Find a source').fill('ashby2011');
  await row(page, 'ashby2011').click();
  await entry(page).getByRole('heading', { name: 'ashby2011' }).waitFor();
  assert.equal(await entry(page).getByRole('textbox', { name: 'title' }).getAttribute('readonly'), '');
  for (const name of ['Paste or import', 'Look up', 'Delete', 'Rename key everywhere']) {
    assert.equal(await page.getByRole('button', { name, exact: true }).count(), 0, name);
  }
  const status = await page.evaluate(async () => (await fetch('/api/manuscripts/1/sources/change', { method: 'POST', headers: { 'content-type': 'application/json', 'folio-guard': (await (await fetch('/api/session')).json()).guard }, body: JSON.stringify({ kind: 'delete', key: 'ashby2011', other: null, text: null, file: null, fields: null }) })).status);
  assert.equal(status, 403);
  await page.context().close();
});
