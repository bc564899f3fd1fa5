// Takes the pictures of the main views for docs/screenshots, from the demo data.
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openBrowser, signIn, startDemo } from './browser.mjs';

const folder = process.argv[2] ?? join(dirname(fileURLToPath(import.meta.url)), '../../docs/screenshots');
mkdirSync(folder, { recursive: true });
const demo = process.env.FOLIO_ADDRESS ? { address: process.env.FOLIO_ADDRESS, stop: async () => {} } : await startDemo();
const browser = await openBrowser();
try {
  const page = await signIn(browser, demo.address, 'Ilse Marrable');
  await page.waitForTimeout(3500);
  await page.reload();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(folder, 'shelf.png') });
  await page.getByRole('link', { name: /Reading Walls/ }).click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('button', { name: /Early and late growth/ }).first().click();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(folder, 'write.png') });
  await page.getByRole('tab', { name: 'Parts' }).click();
  await page.waitForTimeout(300);
  await page.screenshot({ path: join(folder, 'parts.png') });
  await page.goto(`${demo.address}/m/1/sources?key=rook1991`);
  await page.getByTestId('printed').waitFor();
  await page.waitForTimeout(800);
  await page.screenshot({ path: join(folder, 'sources.png') });
  await page.goto(demo.address);
  await page.getByRole('link', { name: /Shade and Slow Growth/ }).click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(folder, 'write-two-columns.png') });
} finally {
  await browser.close();
  await demo.stop();
}
