import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { after, before } from 'node:test';
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright-core';

const root = join(dirname(fileURLToPath(import.meta.url)), '../..');

/** Starts the application with its demo data in a folder of its own, on a free port. */
export async function startDemo() {
  const data = mkdtempSync(join(tmpdir(), 'folio-'));
  const server = spawn(
    'dotnet',
    [process.env.FOLIO_SERVER ?? join(root, 'src/YoungFolio.Server/bin/Release/net10.0/YoungFolio.Server.dll'), '--demo', '--port', '0', '--data', data],
    { cwd: root, stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const address = await new Promise((resolve, reject) => {
    let text = '';
    server.stdout.on('data', (chunk) => {
      text += chunk;
      const found = /Young Folio is at (\S+)/.exec(text);
      if (found) resolve(found[1]);
    });
    server.on('exit', (code) => reject(new Error(`The server stopped with ${code}: ${text}`)));
  });
  return {
    address,
    async stop() {
      const gone = new Promise((resolve) => server.on('exit', resolve));
      server.kill('SIGTERM');
      await gone;
      rmSync(data, { recursive: true, force: true });
    },
  };
}

/** Opens Debian's Chromium without any traffic of its own. */
export const openBrowser = () =>
  chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
  });

/** A page signed in as one of the demo people. */
export async function signIn(browser, address, name) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
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
