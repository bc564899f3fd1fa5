import assert from 'node:assert/strict';
import { execFile } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { application, cursorIn, editor, eventually, has, signIn, writeAs } from './browser.mjs';

const running = application();

test('an invitation leads a new person, named to the owner first, to writing with the others', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await ilse.getByRole('button', { name: 'People', exact: true }).click();
  const dialog = ilse.getByRole('dialog');
  await dialog.getByRole('textbox', { name: /Invite/ }).fill('una@moor.example');
  await dialog.getByRole('button', { name: 'Invite' }).click();
  await dialog.getByRole('list', { name: 'Invitations' }).getByText('una@moor.example').waitFor();
  const link = /\/join\/[\w-]+/.exec(await dialog.innerText())[0];

  const context = await running.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const una = await context.newPage();
  await una.goto(running.demo.address + link);
  await una.getByRole('button', { name: 'I have no account yet' }).click();
  await una.getByRole('textbox', { name: 'Your name' }).fill('Una Fell');
  await una.getByRole('textbox', { name: 'E-mail address' }).fill('una@moor.example');
  await una.getByLabel(/A password/).fill('words and more words');
  await una.getByRole('button', { name: 'Make the account' }).click();
  await una.getByRole('button', { name: 'Ask to come in as Una Fell' }).click();
  await una.getByText('sees that you ask to come in').waitFor();
  await dialog.getByText('(una@moor.example) has the link and asks to come in').waitFor();
  await dialog.getByRole('button', { name: 'Let in' }).click();
  await dialog.getByRole('combobox', { name: 'Role of Una Fell' }).waitFor();
  await una.goto(`${running.demo.address}/m/1/write?file=chapters/why.tex`);
  await editor(una).waitFor();
  await cursorIn(una, 'Why date a wall', 'End');
  await una.keyboard.type(' % Una was here');
  await ilse.goto(`${running.demo.address}/m/1/write?file=chapters/why.tex`);
  await has(ilse, '% Una was here');

  // Made a reader, she can write no more, without a reload.
  await ilse.getByRole('button', { name: 'People', exact: true }).click();
  await dialog.getByRole('combobox', { name: 'Role of Una Fell' }).click();
  await ilse.getByRole('option', { name: /Reader/ }).click();
  await una.getByText('you may read this').waitFor();
  await dialog.getByRole('button', { name: 'More for Una Fell' }).click();
  await ilse.getByRole('menuitem', { name: /Take off/ }).click();
  await ilse.getByRole('button', { name: 'Take off', exact: true }).click();
  await una.getByText('no longer on your shelf').waitFor();
  await context.close();
  await ilse.context().close();
});

test('news are shown, lead to their place, and are gone once seen', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Anton Quill');
  assert.match(await page.getByRole('region', { name: 'Lately' }).innerText(), /wrote in chapters\/walls\.tex/);
  await page.getByRole('link', { name: /Reading Walls/ }).first().click();
  const strip = page.getByRole('region', { name: 'News' });
  await strip.getByRole('button', { name: /chapters\// }).first().click();
  await page.getByRole('textbox', { name: /Source of chapters/ }).waitFor();
  await strip.getByRole('button', { name: 'Seen' }).click();
  await page.goto(running.demo.address);
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  await eventually(async () => (await page.getByRole('region', { name: 'Lately' }).count()) === 0, 'no news left');
  await page.context().close();
});

test('a manuscript goes out as a .zip, comes in again, is deleted and brought back', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.getByRole('button', { name: 'More for To the Marrow Walls Trust' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: /\.zip/ }).click()]);
  const zip = readFileSync(await download.path());
  assert.equal(download.suggestedFilename(), 'To-the-Marrow-Walls-Trust.zip');
  await page.getByTestId('zip').setInputFiles({ name: 'second-letter.zip', mimeType: 'application/zip', buffer: zip });
  await page.getByRole('button', { name: 'Import' }).click();
  await page.getByRole('heading', { name: 'Imported' }).waitFor();
  await page.getByRole('button', { name: 'Stay on the shelf' }).click();
  await page.getByRole('button', { name: 'More for second letter' }).click();
  await page.getByRole('menuitem', { name: /Delete/ }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await page.getByRole('button', { name: 'Bring back' }).click();
  await page.getByRole('button', { name: 'More for second letter' }).waitFor();
  await page.getByTestId('zip').setInputFiles({ name: 'broken.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip') });
  await page.getByRole('button', { name: 'Import' }).click();
  await page.getByText('isn\'t a whole .zip').waitFor();
  await page.context().close();
});

test('name and colour are changed, and a token is shown once and revoked', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await page.getByTitle('Your account').click();
  await page.getByRole('radio', { name: 'Colour 6' }).check({ force: true });
  await page.getByRole('textbox', { name: /Name as others/ }).fill('Bao T.');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByText('Saved.').waitFor();
  await page.keyboard.press('Escape');
  await page.getByText('Bao T.').first().waitFor();
  await page.goto(`${running.demo.address}/m/2/write`);
  await page.getByRole('button', { name: 'People', exact: true }).click();
  await page.getByRole('tab', { name: 'Scripts' }).click();
  await page.getByRole('textbox', { name: 'What it is for' }).fill('weather table');
  await page.getByRole('button', { name: 'Make a token' }).click();
  assert.match(await page.getByRole('status').locator('code').innerText(), /^folio_[\w-]{43}$/);
  await page.getByRole('button', { name: 'Revoke' }).click();
  await eventually(async () => (await page.getByRole('button', { name: 'Revoke' }).count()) === 0, 'the token gone');
  await page.context().close();
});

test('the analysis run sends data and a plot with a token, the open page follows, and the log says which script it was', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/growth.tex');
  const script = fileURLToPath(new URL('../../demo/analysis.mjs', import.meta.url));
  const run = (...more) => promisify(execFile)('node', [script, '--address', running.demo.address, ...more]);
  const { stdout } = await run();
  assert.match(stdout, /data\/farms\.csv: 8 farms/);
  assert.match(stdout, /The proof of revision \d+ shows them: 28 pages/);
  const walls = /(\d+) walls\n/.exec(stdout)[1];
  const log = await ilse.evaluate(async () => (await fetch('/api/manuscripts/1/revisions?count=2')).json());
  assert.deepEqual(log.map((r) => [r.script, r.kind]), [['analysis run', 'upload'], ['analysis run', 'text']]);
  const csv = await ilse.evaluate(async () => {
    const { files } = await (await fetch('/api/manuscripts/1')).json();
    return (await fetch(`/api/manuscripts/1/files/${files.find((p) => p.path === 'data/farms.csv').id}/content`)).text();
  });
  assert.equal(csv.trim().split('\n').slice(1).reduce((sum, row) => sum + Number(row.split(',')[1]), 0), Number(walls));
  await assert.rejects(run('--token', 'folio_nothing'), /This access token doesn't hold/);
  await ilse.context().close();
});
