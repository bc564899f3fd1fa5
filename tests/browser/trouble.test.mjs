// Trouble that mends itself, files that are dropped, links and words from before, and what opening a room fetches.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { brotliCompressSync, constants } from 'node:zlib';
import { application, editor, eventually, signIn, text, writeAs } from './browser.mjs';

const running = application();

/** Lets go of files over the window, as from a folder beside it. */
const drop = (page, ...files) =>
  page.evaluate((all) => {
    const dataTransfer = new DataTransfer();
    for (const { name, words } of all) dataTransfer.items.add(new File([words], name));
    for (const kind of ['dragenter', 'dragover', 'drop']) document.querySelector('#root').dispatchEvent(new DragEvent(kind, { dataTransfer, bubbles: true, cancelable: true }));
  }, files);

test('a room that can’t load comes by itself when the server answers again', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.route('**/api/manuscripts/1', (route) => route.abort());
  await page.getByRole('link', { name: /Reading Walls/ }).first().click();
  await page.getByText('The manuscript: the server can’t be reached').waitFor();
  await page.unroute('**/api/manuscripts/1');
  await editor(page).waitFor();
  await page.route('**/api/manuscripts/1/sources', (route) => route.fulfill({ status: 503, body: '' }));
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('The sources: the server can’t be reached').waitFor();
  await page.unroute('**/api/manuscripts/1/sources');
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  await page.context().close();
});

test('who is signed out is told, and is back at the same place after signing in', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/clock.tex');
  const address = page.url();
  // Pages that nobody sees yet are fetched too, and would tell it before anything is clicked.
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.waitForLoadState('networkidle');
  await page.waitForTimeout(500);
  await page.waitForLoadState('networkidle');
  await page.context().clearCookies();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('You are signed out').waitFor();
  await page.goBack();
  await page.getByRole('button', { name: 'Ilse Marrable' }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/clock.tex' }).waitFor();
  assert.equal(page.url(), address);
  await page.context().close();
});

test('a room whose code is gone says so, and loads again at the same place', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  let refused = 0;
  await page.route('**/assets/SourcesRoom-*.js', (route) => {
    refused++;
    return route.fulfill({ status: 404, body: '' });
  });
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('the server was probably updated').waitFor();
  await page.unroute('**/assets/SourcesRoom-*.js');
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  assert.ok(refused > 0 && page.url().includes('/m/1/sources'), page.url());
  await page.context().close();
});

test('files that are dropped anywhere are uploaded, and each that is there already is asked about', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.getByRole('tab', { name: 'Files' }).click();
  const list = page.getByRole('list', { name: 'Files', exact: true });
  await drop(page, { name: 'first.tex', words: 'einundzwanzig' }, { name: 'second.tex', words: 'zweiundzwanzig' });
  await list.getByText('second.tex').waitFor();
  assert.equal(await list.getByText('first.tex').count(), 1);
  assert.equal((await text(page)).includes('einundzwanzig'), false);
  // From another room too. The first is replaced, the second stays as it is.
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  await drop(page, { name: 'first.tex', words: 'ONE' }, { name: 'second.tex', words: 'TWO' }, { name: 'third.tex', words: 'three' });
  const asked = page.getByRole('alertdialog');
  await asked.getByText('Replace first.tex?').waitFor();
  await asked.getByRole('button', { name: 'Replace it' }).click();
  await asked.getByText('Replace second.tex?').waitFor();
  await asked.getByRole('button', { name: 'Cancel' }).click();
  const words = (path) =>
    page.evaluate(async (wanted) => {
      const { files } = await (await fetch('/api/manuscripts/1')).json();
      const file = files.find((f) => f.path === wanted);
      return file && (await (await fetch(`/api/manuscripts/1/files/${file.id}`)).json()).text;
    }, path);
  await eventually(async () => (await words('third.tex')) === 'three', 'the third');
  assert.deepEqual([await words('first.tex'), await words('second.tex')], ['ONE', 'zweiundzwanzig']);
  assert.ok(page.url().includes('/m/1/sources'));
  await page.context().close();
});

test('links from when files were called parts lead to their place, and words that waited since then go out', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.goto(`${running.demo.address}/m/1/write?part=chapters/close.tex&line=1`);
  await page.getByRole('textbox', { name: 'Source of chapters/close.tex' }).waitFor();
  await eventually(async () => (await page.getByTestId('saved').innerText()) === 'saved', 'saved');
  await page.context().setOffline(true);
  await page.locator('.cm-content').focus();
  await page.keyboard.type('% from before ');
  await eventually(async () => /wait for the connection/.test(await page.getByTestId('saved').innerText()), 'what waits');
  await page.waitForTimeout(600);
  await page.route('**/hub**', (route) => route.abort());
  await page.context().setOffline(false);
  await page.goto(`${running.demo.address}/folio.svg`);
  // The record that waits, as the first version of the page kept it.
  const count = await page.evaluate(async () => {
    const answer = (request) => new Promise((done, failed) => ((request.onsuccess = () => done(request.result)), (request.onerror = failed)));
    const now = await answer(indexedDB.open('young-folio'));
    const records = await answer(now.transaction('unsent').objectStore('unsent').getAll());
    now.close();
    await answer(indexedDB.deleteDatabase('young-folio'));
    const opening = indexedDB.open('young-folio', 1);
    opening.onupgradeneeded = () => opening.result.createObjectStore('unsent', { keyPath: 'clientId' }).createIndex('manuscript', 'manuscript');
    const before = await answer(opening);
    for (const { file: part, ...rest } of records) await answer(before.transaction('unsent', 'readwrite').objectStore('unsent').put({ ...rest, part }));
    before.close();
    return records.length;
  });
  assert.equal(count, 1);
  await page.unroute('**/hub**');
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/close.tex`);
  await eventually(async () => (await text(page)).split('% from before ').length === 2, 'the words from before, once');
  await eventually(async () => (await page.getByTestId('saved').innerText()) === 'saved', 'saved');
  await page.context().close();
});

test('two rooms fetch nothing twice at opening, and the code of the first page is small', async () => {
  const context = await running.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  const scripts = new Map();
  const asked = [];
  page.on('response', async (r) => {
    const path = new URL(r.url()).pathname;
    if (path.endsWith('.js') || path.endsWith('.mjs')) scripts.set(path, r.body().then((b) => brotliCompressSync(b, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } }).length, () => 0));
    if (path.startsWith('/api/')) asked.push(path);
  });
  const total = async () => (await Promise.all(scripts.values())).reduce((sum, n) => sum + n, 0);
  await page.goto(running.demo.address);
  await page.getByRole('heading', { name: 'Sign in' }).waitFor();
  const first = await total();
  await page.getByRole('button', { name: 'Ilse Marrable' }).click();
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  asked.length = 0;
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/why.tex`);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  for (const path of ['/api/session', '/api/manuscripts/1', '/api/manuscripts/1/proof', '/api/manuscripts/1/sources', '/api/manuscripts/1/news']) {
    assert.equal(asked.filter((a) => a === path).length, 1, `${path} in ${asked.join(' ')}`);
  }
  const all = await total();
  console.log(`  scripts of the first page: ${Math.round(first / 1000)} kB compressed; with the rooms ${Math.round(all / 1000)} kB`);
  assert.ok(first <= 150_000, `${first}`);
  await context.close();
});
