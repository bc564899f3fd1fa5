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
  const door = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await door.goto(demo.address);
  await door.getByRole('heading', { name: 'Sign in' }).waitFor();
  await door.screenshot({ path: join(folder, 'sign-in.png') });
  const page = await signIn(browser, demo.address, 'Ilse Marrable');
  await page.waitForTimeout(3500);
  await page.reload();
  // A first page that isn't drawn yet has the size that a canvas begins with.
  await page.waitForFunction(() => [...document.querySelectorAll('canvas')].every((c) => c.width === 150), null, { timeout: 60000 });
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(folder, 'shelf.png') });
  await page.getByRole('link', { name: /Reading Walls/ }).first().click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('region', { name: 'News' }).getByRole('button', { name: 'Seen' }).click();
  await page.getByRole('button', { name: /Early and late growth/ }).first().click();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: join(folder, 'write.png') });
  await page.getByRole('tab', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'More for figures/stone.jpg' }).click();
  await page.getByRole('menuitem', { name: /Delete/ }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await page.getByRole('button', { name: 'Deleted' }).click();
  await page.getByRole('list', { name: 'Deleted files' }).getByText('stone.jpg').waitFor();
  await page.waitForTimeout(800);
  await page.screenshot({ path: join(folder, 'files.png') });
  await page.getByRole('button', { name: 'Bring back figures/stone.jpg' }).click();
  await page.getByText('Nothing was deleted.').waitFor();
  await page.getByRole('tab', { name: 'Find' }).click();
  await page.getByRole('textbox', { name: 'Find', exact: true }).fill('head dyke');
  await page.getByRole('textbox', { name: 'Replace with' }).fill('head wall');
  await page.getByRole('checkbox', { name: /Replace in line/ }).first().waitFor();
  await page.getByRole('textbox', { name: 'Find', exact: true }).press('Enter');
  await page.waitForTimeout(2000);
  await page.screenshot({ path: join(folder, 'find.png') });
  await page.getByRole('tab', { name: 'Structure' }).click();
  // Bao writes and Anton reads in the same chapter.
  const place = `${demo.address}/m/1/write?file=chapters/growth.tex&line=5`;
  const [bao, anton] = [await signIn(browser, demo.address, 'Bao Tremlett'), await signIn(browser, demo.address, 'Anton Quill')];
  for (const other of [bao, anton]) {
    await other.goto(place);
    await other.locator('.cm-content').waitFor();
    await other.waitForTimeout(1000);
  }
  await anton.locator('.cm-line', { hasText: 'Thallus diameter' }).click();
  await anton.keyboard.press('Shift+ArrowDown');
  await page.goto(place);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.waitForTimeout(3000);
  await bao.locator('.cm-line', { hasText: 'Growth is quick' }).click();
  await bao.keyboard.press('Home');
  await bao.keyboard.type('Growth was measured twice. ', { delay: 30 });
  await anton.keyboard.press('Shift+ArrowRight');
  await page.waitForTimeout(1000);
  await page.getByText(/^current/).waitFor();
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(folder, 'two-people.png') });
  await page.getByRole('button', { name: 'People', exact: true }).click();
  await page.getByRole('textbox', { name: /Invite/ }).fill('una.fell@moor.example');
  await page.getByRole('button', { name: 'Invite' }).click();
  await page.getByRole('list', { name: 'Invitations' }).waitFor();
  await page.waitForTimeout(500);
  // Someone with the link asks to come in.
  const link = new URL(/https?:\S+\/join\/\S+/.exec(await page.getByRole('dialog').innerText())[0]);
  const una = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await una.goto(demo.address + link.pathname);
  await una.getByRole('button', { name: 'I have no account yet' }).click();
  await una.getByRole('textbox', { name: 'Your name' }).fill('Una Fell');
  await una.getByRole('textbox', { name: 'E-mail address' }).fill('una.fell@moor.example');
  await una.getByLabel(/A password/).fill('words and more words');
  await una.getByRole('button', { name: 'Make the account' }).click();
  await una.getByRole('button', { name: /Ask to come in/ }).click();
  await una.getByRole('status').waitFor();
  await una.screenshot({ path: join(folder, 'join.png') });
  await page.getByRole('button', { name: 'Let in' }).waitFor();
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(folder, 'people.png') });
  await page.keyboard.press('Escape');
  await page.context().setOffline(true);
  // The empty line before the figure.
  await page.locator('.cm-line').nth(9).click();
  await page.keyboard.type('The');
  await page.waitForTimeout(800);
  await page.screenshot({ path: join(folder, 'waiting.png') });
  await page.context().setOffline(false);
  await page.waitForTimeout(1500);
  // What Una's asking brought to whoever invited her.
  await page.goto(`${demo.address}/outbox`);
  await page.getByRole('article').waitFor();
  await page.waitForTimeout(500);
  await page.screenshot({ path: join(folder, 'outbox.png') });
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
