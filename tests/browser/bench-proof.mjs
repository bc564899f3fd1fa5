// Measures the proof at the speed of typing as writers meet it, in Chromium beside the server: `./folio bench --only proof`.
import { readFileSync } from 'node:fs';
import { openBrowser, signIn, startDemo } from './browser.mjs';

const median = (all) => percentile(all, 0.5);
const percentile = (all, share) => [...all].sort((a, b) => a - b)[Math.min(all.length - 1, Math.floor(all.length * share))] ?? NaN;
const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));
const load = () => readFileSync('/proc/loadavg', 'utf8').split(' ')[0];

/** A report with prose, a formula and a table now and then: some fifteen pages a chapter. */
function chapter(number) {
  const words = 'wall lichen stone north field thallus growth slow shade quarry ledger mason year ring frost moss south slate lime count'.split(' ');
  let seed = number * 7919 + 1;
  const next = (below) => (seed = (seed * 1103515245 + 12345) % 2147483648) % below;
  const sentence = () => Array.from({ length: 9 + next(9) }, () => words[next(words.length)]).join(' ');
  const paragraph = () => Array.from({ length: 7 }, () => `${sentence()}.`.replace(/^./, (c) => c.toUpperCase())).join('\n');
  const sections = Array.from({ length: 15 }, (_, i) =>
    [
      `\\section{The ${words[next(words.length)]} of the ${words[next(words.length)]}}`,
      ...Array.from({ length: 4 }, paragraph),
      `\\begin{equation} a_{${i}} = \\frac{x^2 + ${number}}{\\sqrt{y_{${i}}}} \\end{equation}`,
      paragraph(),
    ].join('\n\n'),
  );
  return `\\chapter{Chapter ${number}}\n\n${sections.join('\n\n')}\n`;
}

/** Puts a report of about 15 pages a chapter on the shelf of whoever is signed in on a page; its number. */
async function makeReport(page, chapters) {
  return page.evaluate(
    async ({ main, texts }) => {
      const { guard } = await (await fetch('/api/session')).json();
      const headers = { 'folio-guard': guard };
      const json = { ...headers, 'content-type': 'application/json' };
      const id = await (await fetch('/api/manuscripts', { method: 'POST', headers: json, body: JSON.stringify({ title: 'A long report', kind: 'report' }) })).json();
      const put = (path, text) => fetch(`/api/manuscripts/${id}/files?path=${path}&replace=true`, { method: 'PUT', headers, body: text });
      for (const [i, text] of texts.entries()) await put(`chapters/c${i + 1}.tex`, text);
      await put('main.tex', main);
      return id;
    },
    {
      main: `\\documentclass[11pt,a4paper]{report}\n\\begin{document}\n\\tableofcontents\n${Array.from({ length: chapters }, (_, i) => `\\input{chapters/c${i + 1}}\n`).join('')}\\end{document}\n`,
      texts: Array.from({ length: chapters }, (_, i) => chapter(i + 1)),
    },
  );
}

const state = (page) => page.getByTestId('proof-state');

async function openAt(page, address, manuscript, file, line) {
  await page.goto(`${address}/m/${manuscript}/write?file=${file}&line=${line}`);
  await page.getByRole('textbox', { name: `Source of ${file}` }).waitFor();
  await state(page).filter({ hasText: 'current' }).waitFor({ timeout: 120000 });
}

/** From a key to other ink on the screen, in milliseconds, for some letters that follow one another slowly. */
async function keyToInk(page, keys, pace) {
  await page.evaluate(() => {
    window.inked = [];
    let pressed = 0;
    document.addEventListener('keydown', (event) => (pressed = event.timeStamp), true);
    window.watching?.disconnect();
    window.watching = new MutationObserver((changes) => {
      if (!pressed || !changes.some((c) => [...c.addedNodes].some((n) => n.nodeName === 'CANVAS'))) return;
      const since = pressed;
      pressed = 0;
      // The frame with the new ink is on the screen when the one after it begins.
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => window.inked.push(performance.now() - since);
        channel.port2.postMessage(0);
      });
    });
    window.watching.observe(document.querySelector('[data-leaf="proof"]'), { childList: true, subtree: true });
  });
  for (let i = 0; i < keys; i++) {
    await page.keyboard.type('n');
    await pause(pace + (i % 7) * 13);
  }
  return page.evaluate(() => window.inked);
}

/**
 * From a key to one's own words on the page, whatever else changes there, in milliseconds: a digit that is typed is looked for in the words over
 * the ink, which come 40 ms after it.
 */
async function keyToWords(page, digit, keys, pace) {
  await page.evaluate((wanted) => {
    window.seen = [];
    const pressed = [];
    const count = () => [...document.querySelectorAll('.proof-text')].reduce((n, layer) => n + layer.textContent.split(wanted).length - 1, 0);
    const before = count();
    document.addEventListener('keydown', (event) => event.key === wanted && pressed.push(event.timeStamp), true);
    const look = () => {
      for (const there = count() - before; window.seen.length < there; ) window.seen.push(performance.now() - pressed[window.seen.length]);
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  }, digit);
  for (let i = 0; i < keys; i++) {
    await page.keyboard.type(i % 5 === 4 ? `${digit} ` : digit);
    await pause(pace + (i % 7) * 13);
  }
  await pause(2000);
  return page.evaluate(() => window.seen);
}

/** Scrolls through all pages at an even pace; for how long a page that is in view has no ink, in milliseconds, one value a page. */
async function scrollThrough(page, seconds) {
  return page.evaluate(async (duration) => {
    const box = document.querySelector('[aria-label="Pages"]');
    const since = new Map();
    const blank = new Map();
    const begun = performance.now();
    const height = box.scrollHeight - box.clientHeight;
    let frames = 0;
    await new Promise((resolve) => {
      const step = () => {
        frames++;
        const now = performance.now();
        const share = Math.min(1, (now - begun) / (duration * 1000));
        box.scrollTop = height * share;
        const view = box.getBoundingClientRect();
        for (const sheet of box.querySelectorAll('[data-sheet]')) {
          const at = sheet.getBoundingClientRect();
          if (at.bottom < view.top || at.top > view.bottom) continue;
          const number = sheet.dataset.sheet;
          if (!since.has(number)) since.set(number, now);
          if (!blank.has(number) && sheet.querySelector('canvas')) blank.set(number, now - since.get(number));
        }
        if (share < 1) requestAnimationFrame(step);
        else resolve();
      };
      requestAnimationFrame(step);
    });
    return { blank: [...since.keys()].map((n) => blank.get(n) ?? Infinity), frames };
  }, seconds);
}

const say = (what, all, goal) =>
  console.log(`${what}: median ${Math.round(median(all))} ms, 95 of 100 within ${Math.round(percentile(all, 0.95))} ms, ${all.length} measured (goal ${goal}); load ${load()}`);

const demo = await startDemo();
const browser = await openBrowser();
try {
  const page = await signIn(browser, demo.address, 'Ilse Marrable');
  await openAt(page, demo.address, 1, 'chapters/valley.tex', 5);
  await page.keyboard.press('End');
  await keyToInk(page, 5, 900);
  say('Key to ink, demo thesis', await keyToInk(page, 40, 900), 'median 100, 95 of 100 within 180');

  for (const [chapters, goal] of [[15, 'median 160'], [30, 'none']]) {
    const report = await makeReport(page, chapters);
    await openAt(page, demo.address, report, 'chapters/c2.tex', 5);
    await page.keyboard.press('End');
    const pages = Number(/of (\d+)/.exec(await page.locator('[data-leaf="proof"] header').innerText())[1]);
    await keyToInk(page, 5, 900);
    say(`Key to ink, ${pages} pages`, await keyToInk(page, 30, 900), goal);
    await pause(8000);
    for (const perSecond of [10, 30]) {
      const { blank, frames } = await scrollThrough(page, pages / perSecond);
      const worst = Math.max(...blank);
      console.log(`Scrolling, ${perSecond} of ${pages} pages a second: blank in view for ${Math.round(worst)} ms at most, ${blank.filter((b) => b > 100).length} pages longer than 100 ms; ${Math.round((frames * perSecond) / pages)} frames a second; load ${load()}`);
    }
  }

  // Eight people at once, each in a paragraph of their own: the four of the demo in two windows each.
  const eight = [];
  for (const [i, name] of ['Ilse Marrable', 'Bao Tremlett', 'Anton Quill', 'Perpetua Vane', 'Ilse Marrable', 'Bao Tremlett', 'Anton Quill', 'Perpetua Vane'].entries()) {
    const one = await signIn(browser, demo.address, name);
    await openAt(one, demo.address, 1, ['chapters/valley.tex', 'chapters/clock.tex', 'chapters/walls.tex', 'chapters/growth.tex'][i % 4], i < 4 ? 2 : 5);
    await one.keyboard.press('End');
    eight.push(one);
  }
  await pause(3000);
  const all = (await Promise.all(eight.map((one, i) => keyToWords(one, String(i + 1), 25, 700)))).flat();
  say('Key to one’s own words on the page, eight people in one thesis', all, 'median 400');
} finally {
  await browser.close();
  await demo.stop();
}
