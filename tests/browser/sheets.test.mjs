// The proof leaf: what can be done with its pages, what an edit changes, and what stays when something is missing.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { application, cursorIn, eventually, printed, signIn, writeAs } from './browser.mjs';
import { current, drawing, odd, openNew, pages, sheet } from './sheets.mjs';

const running = application();

/** Clicks on the middle of a word on a page. */
async function clickWord(page, number, word) {
  const span = sheet(page, number).locator('.proof-text span', { hasText: word }).first();
  await span.waitFor();
  await span.scrollIntoViewIfNeeded();
  const box = await span.boundingBox();
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
}

const article = (words) => `\\documentclass{article}\n\\begin{document}\n${words}\n\\end{document}\n`;
const cursorLine = (page) => page.locator('.cm-activeLine').textContent();

test('a click leads home from a page across and from a turned box, and nothing is asked of the server for it', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await openNew(page, running.demo.address, 'Ways home', odd, { 'drawing.svg': drawing });
  await page.getByText('Follow').click();
  const asked = [];
  page.on('request', (r) => asked.push(r.url()));
  await clickWord(page, 1, 'words');
  await eventually(async () => (await cursorLine(page)).includes('turned words'), 'the line of the turned words');
  await pages(page).evaluate((box) => box.scrollTo({ top: box.scrollHeight / 2 }));
  await clickWord(page, 2, 'Across');
  await eventually(async () => (await cursorLine(page)).includes('Across'), 'the line of the page across');
  assert.deepEqual(asked.filter((u) => u.includes('/proof')), []);
  await page.context().close();
});

/** A digest of what is drawn on a page. */
const inkOf = (page, number) =>
  sheet(page, number)
    .locator('canvas')
    .evaluate(async (canvas) => {
      const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
      return [...new Uint8Array(await crypto.subtle.digest('SHA-1', data))].join(' ');
    });

test('typed words appear in the ink and in the text of their page alone, by a few kilobytes and without a PDF', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  await current(page);
  await cursorIn(page, 'North faces', 'End');
  await page.keyboard.type('\n\nA first new line.');
  await eventually(async () => (await page.locator('.proof-text').allTextContents()).join(' ').includes('first new line'), 'the words in the text');
  await current(page);
  const shown = await page.locator('[data-sheet]').evaluateAll((all) => all.map((e) => e.dataset.sheet));
  const where = await page.locator('[data-sheet]', { hasText: 'first new line' }).first().getAttribute('data-sheet');
  const before = Object.fromEntries(await Promise.all(shown.map(async (n) => [n, await inkOf(page, n)])));
  const fetched = [];
  page.on('request', (r) => fetched.push(r.url()));
  await page.keyboard.type(' Lichenometry!');
  await eventually(async () => (await page.locator('.proof-text').allTextContents()).join(' ').includes('Lichenometry!'), 'the next word in the text');
  await current(page);
  const changed = [];
  for (const n of shown) if ((await inkOf(page, n)) !== before[n]) changed.push(n);
  assert.deepEqual(changed, [where]);
  assert.deepEqual(fetched.filter((u) => /pdf|\/proof$/.test(u)), []);
  await page.context().close();
});

test('what is to fix is marked over the page and not in the PDF', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  const id = await openNew(page, running.demo.address, 'Marks', '\\documentclass{article}\\begin{document}Look at \\ref{nothing} here.\\end{document}');
  await sheet(page, 1).getByTestId('mark').waitFor({ state: 'attached' });
  const mark = await sheet(page, 1).getByTestId('mark').locator('div').first().boundingBox();
  const word = await sheet(page, 1).locator('.proof-text span', { hasText: '??' }).boundingBox();
  assert.ok(Math.abs(mark.x - word.x) < 3 && mark.y > word.y, JSON.stringify({ mark, word }));
  const pdf = await (await page.request.get(`${running.demo.address}/api/manuscripts/${id}/proof/pdf`)).body();
  const folder = mkdtempSync(join(tmpdir(), 'folio-'));
  writeFileSync(join(folder, 'p.pdf'), pdf);
  const ppm = execFileSync('pdftoppm', ['-r', '72', join(folder, 'p.pdf')], { maxBuffer: 1e8 });
  rmSync(folder, { recursive: true });
  // The head of a PPM is three lines; then come red, green and blue of each pixel.
  let at = 0;
  for (let lines = 0; lines < 3; at++) if (ppm[at] === 10) lines++;
  for (; at < ppm.length; at += 3) assert.ok(Math.abs(ppm[at] - ppm[at + 1]) < 40, 'something red is in the PDF');
  await page.context().close();
});

test('text selected on a page copies in the order of reading', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await openNew(page, running.demo.address, 'Copying', '\\documentclass{article}\\begin{document}\\noindent The office of affairs: fine $a+b$ sums.\\par\\noindent Second line.\\end{document}');
  await sheet(page, 1).locator('.proof-text span').first().waitFor();
  const copied = await sheet(page, 1)
    .locator('.proof-text')
    .evaluate((layer) => {
      getSelection().selectAllChildren(layer);
      return getSelection().toString();
    });
  assert.equal(copied.replace(/\n1\s*$/, '').trim(), 'The office of affairs: fine a + b sums.\nSecond line.');
  await page.context().close();
});

test('a page that comes in before the view does not move it', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  const text = Array.from({ length: 12 }, (_, i) => `Words of page ${i + 1}.\\newpage`).join('\n');
  await openNew(page, running.demo.address, 'Pages', `\\documentclass{article}\n\\begin{document}\nBegin.\n${text}\n\\end{document}`);
  await page.getByText('Follow').click();
  await pages(page).evaluate((box) => box.scrollTo({ top: box.scrollHeight * 0.55 }));
  const view = () =>
    page.locator('[data-sheet]').evaluateAll((all) => all.map((e) => [/Words of page \d+/.exec(e.textContent)?.[0], Math.round(e.getBoundingClientRect().top)]).find(([words, top]) => words && top > -400));
  await eventually(
    async () => (await view()) !== undefined,
    async () => `a page in view of ${await page.locator('[aria-label="Proof leaf"] header').innerText()}: ${JSON.stringify(await page.locator('[data-sheet]').evaluateAll((all) => all.map((e) => [e.textContent, e.getBoundingClientRect().top])))}`,
  );
  await current(page);
  const before = await view();
  await cursorIn(page, 'Begin.', 'End');
  await page.keyboard.type('\\newpage Another.\\newpage And one more.');
  await page.locator('[aria-label="Proof leaf"] header', { hasText: 'of 14' }).waitFor();
  await current(page);
  await eventually(async () => JSON.stringify(await view()) === JSON.stringify(before), async () => `${JSON.stringify(before)}, now ${JSON.stringify(await view())}`);
  await page.context().close();
});

test('the last pages stay while the server is away or a sheet cannot be had, and nothing is called current meanwhile', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  await current(page);
  const state = () => page.getByTestId('proof-state').textContent();
  await page.getByText('Follow').click();
  await pages(page).evaluate((box) => box.scrollTo({ top: box.scrollHeight }));
  await current(page);
  await page.route('**/proof/sheets/*', (route) => route.abort());
  // More pages before: the numbers at the foot of what one looks at change, and those sheets can't be had.
  await cursorIn(page, 'North faces', 'End');
  // At one moment: a page that is drawn anew has another canvas.
  const hasInk = () => page.evaluate(() => [...document.querySelectorAll('[data-sheet] canvas')].some((c) => c.getBoundingClientRect().height > 100));
  await page.keyboard.insertText(`\n\n${'Words that need more room than there is on this page, and so go on to others. '.repeat(40)}`);
  await eventually(async () => (await state()).includes('can’t be fetched'), state);
  assert.ok(await hasInk());
  await page.unroute('**/proof/sheets/*');
  await current(page);
  await running.demo.kill();
  await eventually(async () => (await state()).trim() !== 'current', 'the state of a lost connection');
  assert.ok(await hasInk());
  await running.demo.again();
  await current(page);
  await page.context().close();
});

test('after the server was started anew the pages of before are there at once, and say of when they are', async (t) => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  await current(page);
  // Last proofs are written down some seconds later at most.
  await page.waitForTimeout(4000);
  await running.demo.kill();
  await running.demo.again();
  const begun = Date.now();
  await page.reload();
  await page.locator('[data-sheet] canvas').first().waitFor();
  t.diagnostic(`first page ${Date.now() - begun} ms after loading began`);
  const state = (await page.getByTestId('proof-state').textContent()).trim();
  await current(page);
  // A quick machine may have the new ones by then.
  assert.match(state, /^as of |^current$/);
  await page.context().close();
});

test('a proof that was fetched before one was connected, and is not the newest by then, is fetched anew', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  const id = await openNew(page, running.demo.address, 'Overtaken', article('The words of before.'));
  const path = `/api/manuscripts/${id}/proof`;
  const before = await page.evaluate(async (of) => (await fetch(of)).text(), path);
  await page.evaluate(
    async ([of, text]) => {
      const { guard } = await (await fetch('/api/session')).json();
      await fetch(`/api/manuscripts/${of}/files?replace=true&path=main.tex`, { method: 'PUT', body: text, headers: { 'folio-guard': guard } });
    },
    [id, article('The words of now.')],
  );
  await eventually(async () => (await printed(page)).includes('The words of now.'), 'the newest');
  // The first answer was made before, as far as the page can tell; nobody tells of the newer proof any more.
  let isFirst = true;
  await page.route(`**${path}`, (route) => {
    if (!isFirst) return route.continue();
    isFirst = false;
    return route.fulfill({ body: before, contentType: 'application/json' });
  });
  await page.reload();
  await eventually(async () => !isFirst && (await printed(page)).includes('The words of now.'), 'the newest, after the reload');
  await current(page);
  await page.context().close();
});
