import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, editor, eventually, has, signIn, text, writeAs } from './browser.mjs';

const running = application();

/** Starts an article of one's own and opens it. */
async function article(page, body) {
  const id = await page.evaluate(async (words) => {
    const { guard } = await (await fetch('/api/session')).json();
    const headers = { 'content-type': 'application/json', 'folio-guard': guard };
    const made = await (await fetch('/api/manuscripts', { method: 'POST', headers, body: JSON.stringify({ title: 'Own', kind: 'article' }) })).json();
    await fetch(`/api/manuscripts/${made}/files?path=main.tex&replace=true`, { method: 'PUT', headers: { 'folio-guard': guard }, body: `\\documentclass{article}\n\\begin{document}\n${words}\n\\end{document}\n` });
    return made;
  }, body);
  await page.goto(`${running.demo.address}/m/${id}/write`);
  await editor(page).waitFor();
  return id;
}

test('a mend goes to the words that it was found for, wherever they are by now, and is refused when they changed', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  // Word of a newer proof comes over the live connection: it is held back when that is wanted.
  let isHeld = false;
  await page.routeWebSocket(/\/hub/, (browser) => {
    const server = browser.connectToServer();
    server.onMessage((message) => {
      const records = String(message).split('\x1e').filter((r) => r !== '' && !(isHeld && /"target":"proof"/.test(r)));
      if (records.length > 0) browser.send(records.map((r) => r + '\x1e').join(''));
    });
  });
  const id = await article(page, 'Walls & hedges.\nStones & moss.');
  const mends = page.getByRole('button', { name: 'Write \\&', exact: true });
  await eventually(async () => (await mends.count()) === 2, 'two mends');
  // No newer proof comes in: the findings stay those of the text before.
  isHeld = true;
  await page.route(`**/api/manuscripts/${id}/proof`, (route) => route.abort());
  await page.locator('.cm-line', { hasText: 'Walls & hedges' }).click();
  await page.keyboard.press('Home');
  await page.keyboard.type('A line above, typed later.');
  await page.keyboard.press('Enter');
  // Another writer, in another tab, puts words before the first place too.
  const other = await page.context().newPage();
  await other.goto(`${running.demo.address}/m/${id}/write`);
  await other.locator('.cm-line', { hasText: 'Walls & hedges' }).click();
  await other.keyboard.press('Home');
  await other.keyboard.type('Old ');
  await has(page, 'Old Walls & hedges');
  await mends.first().click();
  await has(page, 'A line above, typed later.\nOld Walls \\& hedges.\nStones & moss.');
  // The words of the second one change: nothing is written over them.
  await page.locator('.cm-line', { hasText: 'Stones & moss' }).click();
  await page.keyboard.press('Home');
  for (let i = 0; i < 8; i++) await page.keyboard.press('Delete');
  await page.keyboard.type('Stones and');
  await mends.last().click();
  await page.getByRole('alert').getByText('Other words stand there by now').waitFor();
  assert.match(await text(page), /Old Walls \\& hedges\.\nStones and moss\./);
  // One undo takes the mend back.
  await page.context().close();
});

test('a file that is deleted is brought back from the list of the deleted', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.getByRole('tab', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'More for chapters/close.tex' }).click();
  await page.getByRole('menuitem', { name: /Delete/ }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  const file = page
    .getByRole('list', { name: 'Files', exact: true })
    .getByRole('button', { name: 'chapters/close.tex', exact: true });
  await eventually(async () => (await file.count()) === 0, 'the file gone');
  await page.getByRole('button', { name: 'Deleted' }).click();
  await page.getByRole('list', { name: 'Deleted files' }).getByText(/Ilse Marrable/).waitFor();
  await page.getByRole('button', { name: 'Bring back chapters/close.tex' }).click();
  await file.click();
  await page.getByRole('textbox', { name: 'Source of chapters/close.tex' }).waitFor();
  await has(page, '\\chapter');
  await page.context().close();
});

test('a duplicated tab on plain HTTP, where tabs know nothing of one another, loses no word and doubles none', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.context().addInitScript(() => Object.defineProperty(navigator, 'locks', { value: undefined }));
  const id = await article(page, 'Here.');
  await page.context().setOffline(true);
  await page.locator('.cm-line', { hasText: 'Here.' }).click();
  await page.keyboard.press('End');
  await page.keyboard.type(' offline');
  await page.waitForTimeout(500);
  // The copy has the first tab's name and what it hasn't sent.
  const name = await page.evaluate(() => sessionStorage.getItem('folio.tab'));
  const copy = await page.context().newPage();
  await copy.addInitScript((tab) => sessionStorage.setItem('folio.tab', tab), name);
  await page.context().setOffline(false);
  await copy.goto(`${running.demo.address}/m/${id}/write`);
  await has(copy, 'Here. offline');
  await page.keyboard.type(' one', { delay: 15 });
  await copy.locator('.cm-line', { hasText: 'Here.' }).click();
  await copy.keyboard.press('Home');
  await copy.keyboard.type('two ', { delay: 15 });
  const wanted = 'two Here. offline one';
  await has(page, wanted);
  await has(copy, wanted);
  const stored = await page.evaluate(async (m) => {
    const { files } = await (await fetch(`/api/manuscripts/${m}`)).json();
    return (await (await fetch(`/api/manuscripts/${m}/files/${files.find((p) => p.path === 'main.tex').id}`)).json()).text;
  }, id);
  assert.ok(stored.includes(`${wanted}\n`), stored);
  await page.context().close();
});

test('a password changed elsewhere leads to signing in, and what was typed waits for it', async () => {
  const context = await running.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(running.demo.address);
  await page.getByRole('button', { name: 'I have no account yet' }).click();
  await page.getByRole('textbox', { name: 'Your name' }).fill('Wyn Garth');
  await page.getByRole('textbox', { name: 'E-mail address' }).fill('wyn@moor.example');
  await page.getByLabel(/A password/).fill('words and more words');
  await page.getByRole('button', { name: 'Make the account' }).click();
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  await article(page, 'Mine.');
  // In another browser.
  const elsewhere = await (await running.browser.newContext()).newPage();
  await elsewhere.goto(running.demo.address);
  await elsewhere.evaluate(async () => {
    const ask = async (path, body) => {
      const { guard } = await (await fetch('/api/session')).json();
      return fetch(path, { method: 'POST', headers: { 'content-type': 'application/json', 'folio-guard': guard }, body: JSON.stringify(body) });
    };
    await ask('/api/session', { email: 'wyn@moor.example', password: 'words and more words' });
    await ask('/api/account/password', { old: 'words and more words', new: 'a different gate' });
  });
  await page.getByRole('heading', { name: 'Sign in' }).waitFor();
  await context.close();
});
