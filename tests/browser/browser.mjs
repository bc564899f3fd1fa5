import assert from 'node:assert/strict';
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { after, before } from 'node:test';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';

const root = join(dirname(fileURLToPath(import.meta.url)), '../..');

const dll = process.env.FOLIO_SERVER ?? join(root, 'src/YoungFolio.Server/bin/Release/net10.0/YoungFolio.Server.dll');

/** Starts the application with its demo data in a folder of its own, on a free port. */
export async function startDemo() {
  const data = mkdtempSync(join(tmpdir(), 'folio-'));
  let server;
  const start = async (port) => {
    const started = spawn('dotnet', [dll, '--demo', '--port', String(port), '--data', data], { cwd: root, stdio: ['ignore', 'pipe', 'inherit'] });
    server = started;
    return new Promise((resolve, reject) => {
      let text = '';
      started.stdout.on('data', (chunk) => {
        text += chunk;
        const found = /Young Folio is at (\S+)/.exec(text);
        if (found) resolve(found[1]);
      });
      started.on('exit', (code) => reject(new Error(`The server stopped with ${code}: ${text}`)));
    });
  };
  const end = async (signal) => {
    if (server.exitCode !== null || server.signalCode !== null) return;
    const gone = new Promise((resolve) => server.on('exit', resolve));
    server.kill(signal);
    await gone;
  };
  const address = await start(0);
  return {
    address,
    /** Ends the server without warning. */
    kill: () => end('SIGKILL'),
    /** Starts it again, on the same address. */
    again: () => start(new URL(address).port),
    /** Copies the data, or puts a copy in place, as `./folio backup` and `restore` do. */
    run: (command, file) => execFileSync('dotnet', [dll, command, '--data', data, join(data, file)]).toString(),
    async stop() {
      await end('SIGTERM');
      rmSync(data, { recursive: true, force: true });
    },
  };
}

const launch = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
};
const viewport = { width: 1280, height: 800 };

/** Opens Debian's Chromium without any traffic of its own. */
export const openBrowser = () => chromium.launch(launch);

/** Opens a browser of one's own: what it keeps in a folder is there again when it is closed and opened. */
export const openOwnBrowser = (folder) => chromium.launchPersistentContext(folder, { ...launch, viewport });

/** A page signed in as one of the demo people. What a service worker fetches no test could hold up: only tests of it have one. */
export async function signIn(browser, address, name) {
  const context = await browser.newContext({ viewport, serviceWorkers: 'block' });
  return enter(await context.newPage(), address, name);
}

/** Signs in on a page as one of the demo people. */
export async function enter(page, address, name) {
  await page.goto(address);
  await page.getByRole('button', { name }).click();
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  return page;
}

/** Waits until something holds. The time is for a busy machine: a check that holds ends at once. */
export async function eventually(check, what, timeout = 60000) {
  const end = Date.now() + timeout;
  for (;;) {
    if (await check()) return;
    if (Date.now() > end) assert.fail(`never came: ${typeof what === 'string' ? what : await what()}`);
    await new Promise((r) => setTimeout(r, 40));
  }
}

/** The application and a browser for the tests of one file: started before the first, ended after the last. */
export function application() {
  const running = {};
  before(async () => {
    running.demo = await startDemo();
    running.browser = await openBrowser();
  });
  after(async () => {
    await running.browser?.close();
    await running.demo?.stop();
  });
  return running;
}

/** A page signed in and in the thesis, at a file. */
export async function writeAs(running, name, file) {
  const page = await signIn(running.browser, running.demo.address, name);
  page.problems = [];
  page.on('pageerror', (e) => page.problems.push(e.message));
  await page.goto(`${running.demo.address}/m/1/write?file=${file}`);
  await page.getByRole('textbox', { name: `Source of ${file}` }).waitFor();
  return page;
}

/** The source leaf's text on screen. */
export const editor = (page) => page.locator('.cm-content');
/** The whole text in the source leaf. The editor draws only the lines in view, so it is read from what the editor holds. */
export const text = (page) => editor(page).evaluateAll((leaves) => leaves.map((leaf) => leaf.cmTile.root.view.state.doc.toString()).join('\n'));
/** The lines that the source leaf draws. */
export const drawn = (page) => page.locator('.cm-line').allTextContents().then((lines) => lines.join('\n'));
/** The words on the pages in view, in the order of reading: a word that is divided at a line's end is whole again. */
export const printed = (page) =>
  page
    .locator('.proof-text')
    .evaluateAll((layers) => layers.map((layer) => [...layer.childNodes].map((n) => (n.nodeName === 'BR' ? '\n' : n.textContent)).join('')).join('\n'))
    .then((words) => words.replace(/-\n/g, '').replace(/\s+/g, ' '));
/** Waits until two leaves hold the same text. */
export const alike = (a, b) => eventually(async () => (await text(a)) === (await text(b)), 'the same text in both');
/** Waits until words are in the text. */
export const has = (page, words) => eventually(async () => (await text(page)).includes(words), async () => `“${words}” in\n${await text(page)}`);
/** Waits until something stands still: pages move while they follow the cursor. */
export const atRest = (found) =>
  eventually(async () => {
    const before = JSON.stringify(await found.boundingBox());
    await new Promise((r) => setTimeout(r, 150));
    return before === JSON.stringify(await found.boundingBox());
  }, 'it at rest');
/** Puts the cursor at an end of the line that holds some words. A line that isn't drawn is scrolled to first. */
export async function cursorIn(page, words, end = 'Home') {
  const line = page.locator('.cm-line', { hasText: words }).first();
  if ((await line.count()) === 0)
    await editor(page)
      .first()
      .evaluate((leaf, sought) => {
        const { view } = leaf.cmTile.root;
        const at = view.state.doc.toString().indexOf(sought);
        if (at >= 0) view.scrollDOM.scrollTop = view.lineBlockAt(at).top - 100;
      }, words);
  await line.click();
  await page.keyboard.press(end);
}
