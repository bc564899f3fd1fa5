import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, has, signIn, text, writeAs } from './browser.mjs';

const running = application();
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

const unknown = (page) => page.locator('.cm-unknown').allInnerTexts();
const says = (page, word) => page.getByRole('dialog', { name: `Spelling of “${word}”` });

test('unknown words are underlined when they are done, mended by key and by pointer, and added to a list', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  await cursorIn(page, 'Lichen dates a wall', 'Control+Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('We recieved Tephromela and teh ');
  // The word that is being typed isn’t underlined.
  await page.keyboard.type('wrng');
  await eventually(async () => (await unknown(page)).includes('teh'), 'an underlined word');
  assert.deepEqual((await unknown(page)).filter((w) => w === 'wrng'), []);
  await page.keyboard.type(' ');
  await eventually(async () => (await unknown(page)).includes('wrng'), 'the word underlined when it is done');
  assert.ok(!(await unknown(page)).some((w) => /citep|ref|close/.test(w)), 'markup underlined');
  // By key, from the cursor round to the first.
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Shift+F7');
  await says(page, 'recieved').getByRole('button', { name: 'received', exact: true }).waitFor();
  await eventually(() => says(page, 'recieved').getByRole('button', { name: 'received', exact: true }).evaluate((b) => b === document.activeElement), 'the focus on the first word');
  await page.keyboard.press('Enter');
  await has(page, 'We received Tephromela');
  await page.keyboard.press('Control+z');
  await has(page, 'We recieved Tephromela');
  await page.keyboard.press('Control+y');
  // By pointer.
  await page.locator('.cm-unknown', { hasText: 'teh' }).hover();
  await says(page, 'teh').getByRole('button', { name: 'the', exact: true }).click();
  await has(page, 'Tephromela and the wrng');
  // Its panel goes with the word: it would push the next one down, and let go of it when the pointer comes.
  await eventually(async () => (await says(page, 'teh').count()) === 0, 'the panel of the mended word gone', 10000);
  // A word of the manuscript is right for everyone.
  await eventually(async () => (await unknown(other)).includes('Tephromela'), 'the word underlined for the other');
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Shift+F7');
  await says(page, 'Tephromela').getByRole('button', { name: 'Right in this manuscript' }).click();
  await eventually(async () => !(await unknown(other)).includes('Tephromela'), 'the word right for the other');
  await eventually(async () => !(await unknown(page)).includes('Tephromela'), 'the word right');
  assert.match(await text(page), /received Tephromela and the wrng/);
  // Whoever had no connection meanwhile hears of it on coming back.
  await other.context().setOffline(true);
  await eventually(async () => /connection/.test(await other.getByTestId('saved').innerText()), 'no connection');
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Shift+F7');
  await says(page, 'wrng').getByRole('button', { name: 'Right in this manuscript' }).click();
  await eventually(async () => !(await unknown(page)).includes('wrng'), 'the next word right');
  assert.ok((await unknown(other)).includes('wrng'));
  await other.context().setOffline(false);
  await eventually(async () => !(await unknown(other)).includes('wrng'), 'the word right for who came back');
  await other.context().close();
  await page.context().close();
});

test('looks are chosen and kept: light, size of type, long lines, spelling', async () => {
  const page = await writeAs(running, 'Perpetua Vane', 'chapters/close.tex');
  await editor(page).waitFor();
  await page.getByRole('button', { name: 'How it looks to you' }).click();
  const looks = page.getByRole('dialog', { name: 'How it looks to you' });
  await looks.getByRole('radio', { name: 'Lamp' }).check();
  await looks.getByLabel('Type of the source').selectOption('18');
  await looks.getByLabel('Long lines').selectOption('run');
  await page.keyboard.press('Escape');
  await page.reload();
  await editor(page).waitFor();
  await eventually(() => page.evaluate(() => document.documentElement.dataset.theme === 'lamp'), 'lamp light');
  await eventually(() => page.locator('.cm-scroller').evaluate((e) => getComputedStyle(e).fontSize === '18px'), 'larger type');
  assert.ok(await page.locator('.cm-scroller').evaluate((e) => e.scrollWidth > e.clientWidth), 'long lines run out');
  await page.context().close();
});

test('axe-core finds nothing wrong by lamp light, on screens and dialogs', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.evaluate(() => Object.keys({ ...Array.from({ length: 9 }) }).forEach((id) => localStorage.setItem(`folio.${id}.light`, '"lamp"')));
  const found = [];
  const look = async (where) => {
    await page.waitForTimeout(300);
    await page.evaluate(axe);
    const { violations } = await page.evaluate(() => globalThis.axe.run(document, { resultTypes: ['violations'], rules: { region: { enabled: !document.querySelector('[role=menu]') } } }));
    found.push(...violations.map((v) => `${where}: ${v.id}: ${v.nodes.map((n) => `${n.target.join(' ')} ${n.any[0]?.message ?? ''}`).join(', ')}`));
  };
  await page.goto(running.demo.address);
  await page.getByRole('heading', { name: 'A Field Book of Walls' }).waitFor();
  await look('shelf');
  await page.getByRole('button', { name: 'Start a manuscript' }).click();
  await page.getByRole('img', { name: /First page of what will come/ }).waitFor();
  await look('start');
  await page.goto(`${running.demo.address}/m/1/set-up`);
  await page.getByRole('region', { name: 'A spread, as set' }).waitFor();
  await page.getByRole('group', { name: 'Paper' }).hover();
  await look('set-up');
  await page.getByRole('tab', { name: /Packages/ }).click();
  await page.getByRole('list', { name: 'Loaded packages' }).waitFor();
  await look('packages');
  await page.goto(`${running.demo.address}/m/1/cross-refs?label=eq:growth`);
  await page.getByRole('img', { name: /The formula as it prints/ }).waitFor();
  await look('cross-refs');
  await page.getByRole('radio', { name: 'Gallery' }).click();
  await look('gallery');
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/walls.tex&line=26`);
  await editor(page).waitFor();
  await page.waitForTimeout(1500);
  await look('write');
  for (const [key, name] of [
    ['F7', 'The table as a grid'],
    ['Control+m', 'A new formula'],
    ['F9', 'Refer to'],
    ['F4', 'Everything by name'],
  ]) {
    await editor(page).focus();
    await page.keyboard.press(key);
    await page.getByRole('dialog', { name }).waitFor();
    await look(name);
    if (name === 'A new formula') {
      await page.getByRole('textbox', { name: 'Formula' }).click();
      await page.keyboard.type('x');
      await page.getByRole('img', { name: 'The formula as it prints: x' }).waitFor();
      await look('a drawn formula');
    }
    await page.keyboard.press('Escape');
    await page.getByRole('dialog', { name }).waitFor({ state: 'detached' });
  }
  await page.getByRole('button', { name: 'How it looks to you' }).click();
  await look('looks');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /words$/ }).click();
  await look('words');
  await page.keyboard.press('Escape');
  await page.goto(`${running.demo.address}/m/1/sources?key=rook1991`);
  await page.getByText('Ledgers of the Marrow estates').first().waitFor();
  await look('sources');
  assert.deepEqual(found, []);
  await page.context().close();
});

test('words have goals, and a remark is left as it is for everyone until it is taken up', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  await page.getByRole('button', { name: /words$/ }).click();
  const words = page.getByRole('dialog', { name: 'Words' });
  await words.getByLabel('Words to reach').fill('12000');
  await words.getByRole('button', { name: 'Set the goal' }).click();
  await words.getByRole('progressbar', { name: 'The goal' }).waitFor();
  await words.getByLabel('A goal for').selectOption('Weather');
  await words.getByLabel('Words to reach').fill('400');
  await page.keyboard.press('Enter');
  await words.getByText(' of 400').waitFor();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /of 12.000 words/ }).waitFor();
  await other.getByRole('button', { name: /of 12.000 words/ }).waitFor();
  const remark = page.getByRole('listitem').filter({ hasText: 'rook1991: An article needs its journal' }).last();
  await remark.getByRole('button', { name: 'Leave this be' }).click();
  await page.getByRole('button', { name: '1 left be' }).waitFor();
  await other.getByRole('button', { name: '1 left be' }).click();
  await other.getByText('Left by Ilse Marrable').waitFor();
  await other.getByRole('button', { name: 'Take it up again' }).click();
  await eventually(async () => (await remark.count()) > 0, 'the remark taken up');
  await other.context().close();
  await page.context().close();
});
