// Measures how long rooms and help let writers wait, in Chromium beside the server: `./folio bench --only rooms`.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { enter, openBrowser, openOwnBrowser, signIn, startDemo } from './browser.mjs';

const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));
const percentile = (all, share) => [...all].sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(all.length * share))] ?? NaN;
const load = () => readFileSync('/proc/loadavg', 'utf8').split(' ')[0];
// Of an even number of them, the mean of the two in the middle.
function median(all) {
  const sorted = [...all].sort((a, b) => a - b);
  const middle = (sorted.length - 1) / 2;
  return Math.round((sorted[Math.floor(middle)] + sorted[Math.ceil(middle)]) / 2);
}
const say = (what, all, goal) =>
  console.log(`${what}: median ${median(all)} ms, p95 ${Math.round(percentile(all, 0.95))} ms (goal: ${goal}; ${all.length} times, load ${load()})`);

/** From a deed to the frame in which a thing is there, in milliseconds as the page's own clock has them; the deed's own way to the page counts. */
async function until(page, isThere, argument, deed) {
  await page.evaluate(
    ([body, value]) => {
      const look = new Function('value', `return (${body})(value)`);
      window.waited = new Promise((resolve) => {
        const begun = performance.now();
        // The frame with the thing is on the screen when what follows it begins.
        const painted = () =>
          requestAnimationFrame(() => {
            const channel = new MessageChannel();
            channel.port1.onmessage = () => resolve(performance.now() - begun);
            channel.port2.postMessage(0);
          });
        const watching = new MutationObserver(() => {
          if (!look(value)) return;
          watching.disconnect();
          painted();
        });
        watching.observe(document.body, { childList: true, subtree: true, characterData: true, attributes: true });
      });
    },
    [isThere.toString(), argument],
  );
  await deed();
  return page.evaluate(() => window.waited);
}

const current = (page) => page.getByTestId('proof-state').filter({ hasText: 'current' }).waitFor({ timeout: 120000 });

async function numberOf(page, title) {
  return page.evaluate(async (wanted) => (await (await fetch('/api/manuscripts')).json()).find((m) => m.title === wanted).id, title);
}

/** Hovers over words in turn; how long the help takes, without the time for which the pointer has to rest. */
async function hover(page, words) {
  const Rests = 350;
  const all = [];
  for (let i = 0; i < 12; i++) {
    for (const word of words) {
      const box = await page.evaluate((wanted) => {
        const walker = document.createTreeWalker(document.querySelector('.cm-content'), NodeFilter.SHOW_TEXT);
        for (let node = walker.nextNode(); node; node = walker.nextNode()) {
          const at = node.textContent.indexOf(wanted);
          if (at < 0) continue;
          const range = document.createRange();
          range.setStart(node, at + 1);
          range.setEnd(node, at + 2);
          const { x, y } = range.getBoundingClientRect();
          return y > 100 && y < 700 ? { x, y } : null;
        }
        return null;
      }, word);
      if (!box) continue;
      await page.mouse.move(5, 400);
      await page.waitForFunction(() => !document.querySelector('.cm-tooltip-hover'));
      all.push((await until(page, () => document.querySelector('.cm-tooltip-hover .cm-help'), null, () => page.mouse.move(box.x + 2, box.y + 5))) - Rests);
    }
  }
  return all;
}

const demo = await startDemo();
const browser = await openBrowser();
try {
  const page = await signIn(browser, demo.address, 'Ilse Marrable');
  const book = await numberOf(page, 'A Field Book of Walls');

  await page.goto(`${demo.address}/m/1/write?file=chapters/growth.tex&line=1`);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await current(page);
  await pause(1500);
  say('Hover over commands, references and formulas', await hover(page, ['\\section', '\\label', '\\ref', '\\emph', '\\begin{equation}', '\\frac']), '80');

  // The whole of the book.
  await page.goto(`${demo.address}/m/${book}/write`);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await current(page);
  await pause(2000);
  const find = await page.evaluate(async (id) => {
    const { guard } = await (await fetch('/api/session')).json();
    const took = [];
    for (const words of ['wall', 'lichen', 'stone', 'the', 'north', 'field', 'moss', 'quarry', 'a', 'ring', 'slate']) {
      const begun = performance.now();
      const found = await fetch(`/api/manuscripts/${id}/texts/find`, {
        method: 'POST',
        headers: { 'folio-guard': guard, 'content-type': 'application/json' },
        body: JSON.stringify({ query: { words, matchesCase: false, wholeWords: false, isPattern: false, proseOnly: false } }),
      });
      if (!found.ok) throw new Error(await found.text());
      await found.json();
      took.push(performance.now() - begun);
    }
    return took;
  }, book);
  say('Find in the whole book, from asking to all places', find, '100');

  const room = async (name, isThere) => {
    const first = [];
    const again = [];
    for (let i = 0; i < 10; i++) {
      if (i % 2 === 0) {
        await page.goto(`${demo.address}/m/${book}/write`);
        await page.locator('[data-sheet] canvas').first().waitFor();
        await current(page);
        await pause(1500);
      }
      (i % 2 === 0 ? first : again).push(await until(page, isThere, null, () => page.getByRole('link', { name, exact: true }).click()));
      await page.getByRole('link', { name: 'Write', exact: true }).click();
      await page.locator('[data-sheet] canvas').first().waitFor();
      await pause(700);
    }
    say(`${name} opens for the book, the first time`, first, '300');
    say(`${name} opens for the book, later`, again, '300');
  };
  await room('Set-up', () => document.querySelector('[aria-label="A spread, as set"] svg'));
  await room('Cross-refs', () => document.querySelector('[data-leaf="labels"] [role="row"], [data-leaf="labels"] tbody tr, [data-leaf="labels"] li'));

  // A setting: on the drawn spread, and in print.
  await page.goto(`${demo.address}/m/1/set-up`);
  await page.getByRole('group', { name: 'Type size', exact: true }).waitFor();
  await page.locator('canvas').first().waitFor();
  await pause(3000);
  const drawn = [];
  const printed = [];
  for (let i = 0; i < 10; i++) {
    await page.evaluate(() => {
      window.inked = new Promise((resolve) => {
        const begun = performance.now();
        const watching = new MutationObserver((changes) => {
          if (!changes.some((c) => [...c.addedNodes].some((n) => n.nodeName === 'CANVAS'))) return;
          watching.disconnect();
          requestAnimationFrame(() => resolve(performance.now() - begun));
        });
        watching.observe(document.body, { childList: true, subtree: true });
      });
    });
    const before = await page.locator('[aria-label="A spread, as set"]').innerText();
    drawn.push(
      await until(page, (was) => document.querySelector('[aria-label="A spread, as set"]').innerText !== was, before, () =>
        page.getByRole('group', { name: 'Type size', exact: true }).getByRole('radio', { name: i % 2 ? '11 pt' : '12 pt' }).click(),
      ),
    );
    printed.push(await page.evaluate(() => window.inked));
    await pause(1500);
  }
  say('A changed setting is on the drawn spread', drawn, 'at once');
  say('A changed setting is in the proof', printed, '400');

  // Two thousand labels.
  const many = await page.evaluate(async () => {
    const { guard } = await (await fetch('/api/session')).json();
    const headers = { 'folio-guard': guard };
    const id = await (await fetch('/api/manuscripts', { method: 'POST', headers: { ...headers, 'content-type': 'application/json' }, body: JSON.stringify({ title: 'Many labels', kind: 'report' }) })).json();
    const body = Array.from({ length: 2000 }, (_, i) => `${i % 40 ? '' : `\\section{Part ${i / 40}}\n`}\\begin{equation}\\label{eq:n${i}} x_{${i}} = ${i} \\end{equation} See \\ref{eq:n${(i * 7) % 2000}}.\n`).join('\n');
    await fetch(`/api/manuscripts/${id}/files?path=main.tex&replace=true`, { method: 'PUT', headers, body: `\\documentclass{article}\n\\begin{document}\n${body}\\end{document}\n` });
    return id;
  });
  await page.goto(`${demo.address}/m/${many}/write`);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await current(page);
  await pause(1500);
  say('Cross-refs with 2,000 labels opens', [await until(page, () => document.querySelector('[data-leaf="labels"]')?.innerText.includes('eq:n'), null, () => page.getByRole('link', { name: 'Cross-refs', exact: true }).click())], '300');
  await pause(500);
  const filtered = [];
  for (const words of ['n1', 'n19', 'n199', 'n1999', 'n5', 'n55', 'n7', 'n77', 'n42', 'n123']) {
    await page.getByPlaceholder('Label, title, number').fill('');
    await pause(300);
    const was = await page.locator('[data-leaf="labels"]').innerText();
    filtered.push(await until(page, (all) => document.querySelector('[data-leaf="labels"]').innerText !== all, was, () => page.getByPlaceholder('Label, title, number').fill(words)));
  }
  say('2,000 labels are filtered', filtered, 'no wait');

  // A new manuscript.
  const started = [];
  for (let i = 0; i < 5; i++) {
    await page.goto(demo.address);
    await page.getByRole('button', { name: 'Start a manuscript' }).click();
    const dialog = page.getByRole('dialog', { name: 'Start a manuscript' });
    await dialog.getByRole('radio', { name: 'Thesis' }).click();
    await dialog.getByRole('textbox', { name: 'Title' }).fill(`Moss ${i}`);
    await dialog.getByRole('img', { name: /First page of what will come/ }).waitFor();
    await pause(1500);
    started.push(await until(page, () => document.querySelector('[data-sheet] canvas'), null, () => dialog.getByRole('button', { name: 'Start', exact: true }).click()));
  }
  say('First proof after Start', started, '1,000');

  // The server is started anew; the browser has what it keeps.
  const kept = mkdtempSync(join(tmpdir(), 'kept-'));
  const own = await openOwnBrowser(kept);
  try {
    const mine = await enter(await own.newPage(), demo.address, 'Ilse Marrable');
    const restarted = [];
    for (let i = 0; i < 5; i++) {
      await mine.goto(`${demo.address}/m/1/write`);
      await mine.locator('[data-sheet] canvas').first().waitFor();
      await current(mine);
      await pause(4000);
      await demo.kill();
      await demo.again();
      await mine.goto('about:blank');
      await pause(2000);
      const begun = Date.now();
      await mine.goto(`${demo.address}/m/1/write`, { waitUntil: 'commit' });
      await mine.waitForFunction(() => document.querySelector('[data-sheet] canvas'), null, { polling: 'raf' });
      restarted.push(Date.now() - begun);
    }
    say('First page after a restart, from the opening', restarted, '400');
  } finally {
    await own.close();
    rmSync(kept, { recursive: true, force: true });
  }
} finally {
  await browser.close();
  await demo.stop();
}
