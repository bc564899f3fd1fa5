import assert from 'node:assert/strict';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, afterEach, beforeEach, test } from 'node:test';
import { cursorIn, enter, eventually, has, openOwnBrowser, printed, startDemo, text } from './browser.mjs';

let demo;
const folders = [];
const open = [];

beforeEach(async () => {
  demo = await startDemo();
});

afterEach(async () => {
  for (const browser of open.splice(0)) await browser.close().catch(() => undefined);
  await demo.stop();
});

after(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

/** A folder for a browser that is closed and opened again. */
function ownFolder() {
  folders.push(mkdtempSync(join(tmpdir(), 'folio-browser-')));
  return folders.at(-1);
}

async function browse(folder) {
  const browser = await openOwnBrowser(folder);
  open.push(browser);
  return { browser, page: browser.pages()[0] ?? (await browser.newPage()) };
}

/** The paths of what a browser keeps of the server's answers, by person. */
const keptIn = (page) =>
  page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        const asked = indexedDB.open('young-folio-copies');
        asked.onerror = () => reject(asked.error);
        asked.onsuccess = () => {
          const all = asked.result.transaction('answers').objectStore('answers').getAllKeys();
          all.onsuccess = () => resolve(all.result);
        };
      }),
  );

/** Waits until words that wait for the connection are written down in the browser. */
const writtenDown = (page, words) =>
  eventually(
    () =>
      page.evaluate(
        (wanted) =>
          new Promise((resolve, reject) => {
            const asked = indexedDB.open('young-folio');
            asked.onerror = () => reject(asked.error);
            asked.onsuccess = () => {
              const all = asked.result.transaction('unsent').objectStore('unsent').getAll();
              // Each key may be an update of its own.
              all.onsuccess = () => resolve(all.result.some((r) => r.updates.flat(2).filter((part) => typeof part === 'string').join('').includes(wanted)));
            };
          }),
        words,
      ),
    `“${words}” written down`,
  );

/** Waits until the application and the thesis are in the browser. */
async function kept(page) {
  await eventually(() => page.evaluate(() => navigator.serviceWorker.controller !== null), 'the service worker');
  await eventually(async () => {
    const paths = (await keptIn(page)).map(([, path]) => path);
    return paths.includes('/api/manuscripts/1/proof') && paths.filter((p) => /files\/\d+$/.test(p)).length >= 5 && paths.some((p) => /sheets/.test(p));
  }, 'the manuscript in the browser');
}

const file = 'chapters/valley.tex';
const write = async (page) => {
  await page.goto(`${demo.address}/m/1/write?file=${file}`);
  await page.getByRole('textbox', { name: `Source of ${file}` }).waitFor();
};

test('a manuscript opens, is read and written without a connection, also after the browser was closed; what two wrote meanwhile comes together', { timeout: 200000 }, async () => {
  const people = [];
  for (const name of ['Ilse Marrable', 'Bao Tremlett']) {
    const folder = ownFolder();
    const { browser, page } = await browse(folder);
    await enter(page, demo.address, name);
    await write(page);
    people.push({ name, folder, browser, page });
  }
  const [ilse, bao] = people;
  await cursorIn(ilse.page, '\\chapter');
  await ilse.page.keyboard.type('% stored a moment before\n');
  await eventually(async () => /saved/.test(await ilse.page.getByTestId('saved').innerText()), 'stored');
  await has(bao.page, '% stored a moment before');
  for (const { page } of people) await kept(page);
  // What was typed and stored last is kept too, though the browser is closed at once.
  await ilse.page.keyboard.type('% and this\n');
  await has(bao.page, '% and this');
  await eventually(async () => /current/.test(await bao.page.getByTestId('proof-state').innerText()), 'pages');
  await new Promise((r) => setTimeout(r, 700));

  await demo.kill();
  for (const one of people) {
    await one.browser.close();
    Object.assign(one, await browse(one.folder));
    const { page } = one;
    await page.goto(demo.address);
    await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
    await page.getByText(/The server can’t be reached; this is as of/).waitFor();
    // What was never open here can't be opened now.
    await page.getByText('Opens when the connection is back').first().waitFor();
    await page.getByRole('link', { name: /Dry-stone|walls|Walls/i }).first().waitFor();
    await write(page);
    await page.getByText('The server can’t be reached. This is the manuscript as of').waitFor();
    await has(page, '% and this');
    await eventually(async () => /as of/.test(await page.getByTestId('proof-state').innerText()), 'of when the pages are');
    await eventually(async () => (await printed(page)).length > 300, 'pages');
    const ink = await page.locator('[data-sheet] canvas').first().evaluate((c) => {
      const { data } = c.getContext('2d').getImageData(0, 0, c.width, c.height);
      let dark = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i] < 128 && data[i + 3] > 128) dark++;
      return dark;
    });
    assert.ok(ink > 500, `${ink} dark points on the page`);
  }

  // Another file opens too, and what needs the server says so.
  await ilse.page.getByRole('tab', { name: 'Files' }).click();
  await ilse.page.getByText('main.tex', { exact: true }).first().click();
  await ilse.page.getByRole('textbox', { name: 'Source of main.tex' }).waitFor();
  await has(ilse.page, '\\documentclass');
  await ilse.page.getByRole('link', { name: 'Sources' }).click();
  await ilse.page.getByText('tansel1999').first().waitFor();

  // Keys as fast as they can come: nothing that is drawn meanwhile may fail.
  const problems = [];
  for (const { page, name } of people) {
    page.on('pageerror', (e) => problems.push(e.message));
    await write(page);
    await cursorIn(page, '\\chapter', 'End');
    await page.keyboard.type(`\n% more than a hundred keys of it, so that they are kept as one\n% change, which is what becomes of words that follow one another\n% by ${name}\n`);
    await eventually(async () => /wait/.test(await page.getByTestId('saved').innerText()), 'what waits');
    await writtenDown(page, name);
  }
  assert.deepEqual(problems, []);
  // Closed and opened once more, it is all there.
  await ilse.browser.close();
  Object.assign(ilse, await browse(ilse.folder));
  await write(ilse.page);
  await has(ilse.page, '% by Ilse Marrable');
  await cursorIn(ilse.page, '% by Ilse', 'End');
  await ilse.page.keyboard.type(' and on');

  await demo.again();
  for (const { page } of people) {
    await eventually(async () => /^saved$/.test(await page.getByTestId('saved').innerText()), 'all is saved');
    await has(page, '% by Ilse Marrable');
    await has(page, '% by Ilse Marrable and on');
    await has(page, '% by Bao Tremlett');
    await eventually(async () => /current/.test(await page.getByTestId('proof-state').innerText()), 'current pages');
    await eventually(async () => (await page.getByText('This is the manuscript as of').count()) === 0, 'nothing is called old any more', 8000);
  }
  assert.equal((await text(ilse.page)).split('% by Ilse').length, 2, 'written once');
});

test('nothing of one account is left for another in the same browser', { timeout: 100000 }, async () => {
  const { browser, page } = await browse(ownFolder());
  await enter(page, demo.address, 'Ilse Marrable');
  await write(page);
  await kept(page);
  // Someone else signs in in another tab: what was Ilse's goes, here too.
  const other = await browser.newPage();
  await other.goto(demo.address);
  await other.getByRole('button', { name: 'Sign out' }).click();
  await other.getByRole('button', { name: 'Anton Quill' }).click();
  await other.getByRole('heading', { name: 'Your shelf' }).waitFor();
  const [session] = await other.evaluate(async () => [await (await fetch('/api/session')).json()]);
  await eventually(async () => (await keptIn(other)).every(([person]) => person === session.person.id), async () => JSON.stringify(await keptIn(other)));
  // Her tab shows his things, not the page to sign in.
  const hers = page.getByRole('link', { name: 'Young Folio' });
  await hers.click();
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  await page.getByRole('button', { name: 'Anton Quill' }).waitFor();

  await demo.kill();
  await other.goto(demo.address);
  await other.getByText(/The server can’t be reached; this is as of/).waitFor();
  await other.getByRole('button', { name: 'Anton Quill' }).waitFor();
  await demo.again();
  await other.getByRole('button', { name: 'Sign out' }).click();
  await other.getByRole('button', { name: 'Perpetua Vane' }).waitFor();
  assert.deepEqual(await keptIn(other), []);
});

test('a page comes out of the browser when the server begins to send it and then says no more', { timeout: 100000 }, async () => {
  const { page } = await browse(ownFolder());
  await enter(page, demo.address, 'Ilse Marrable');
  await write(page);
  await kept(page);
  await page.goto('about:blank');
  await demo.kill();
  const stalled = createServer((request, answer) => {
    if (request.headers.accept?.includes('text/html') || request.url === '/m/1/write') answer.writeHead(200, { 'content-type': 'text/html', 'content-length': 5000 }).write('<!doctype html><title>Half</title>');
    else answer.destroy();
  });
  await new Promise((resolve) => stalled.listen(new URL(demo.address).port, '127.0.0.1', resolve));
  try {
    await page.goto(`${demo.address}/m/1/write`, { timeout: 20000 });
    await page.getByTestId('proof-state').filter({ hasText: 'as of' }).waitFor();
  } finally {
    stalled.closeAllConnections();
    stalled.close();
  }
});
