import assert from 'node:assert/strict';
import { test } from 'node:test';
import { alike, application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();

test('words that two people type at the same place stay whole, and each undoes only their own', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/walls.tex');
  await cursorIn(ilse, 'South faces give');
  await cursorIn(bao, 'South faces give');
  await Promise.all([ilse.keyboard.type('Hers stay together. ', { delay: 25 }), bao.keyboard.type('His stay together. ', { delay: 31 })]);
  for (const page of [ilse, bao]) {
    await has(page, 'Hers stay together. ');
    await has(page, 'His stay together. ');
  }
  // A pause of half a second, as a busy machine makes, divides what was typed into two steps.
  for (let step = 0; step < 20 && (await text(ilse)).includes('Hers'); step++) await ilse.keyboard.press('Control+z');
  await eventually(async () => !(await text(bao)).includes('Hers'), 'hers taken back');
  await has(ilse, 'His stay together. ');
  await alike(ilse, bao);
  for (const page of [ilse, bao]) await page.context().close();
});

test('others are seen in the source, at their section and on the page, and gone when they go', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/growth.tex');
  const anton = await writeAs(running, 'Anton Quill', 'chapters/growth.tex');
  await anton.locator('.cm-line', { hasText: 'Growth is quick' }).click();
  await ilse.locator('.cm-caret-name', { hasText: 'Anton' }).waitFor();
  const section = ilse.getByRole('button', { name: /Early and late growth.*Anton Quill is here/ });
  await section.click();
  await ilse.locator('[data-sheet] span', { hasText: /^Anton$/ }).waitFor();
  assert.match(await ilse.locator('header p.sr-only').innerText(), /Anton Quill/);
  // A cursor moves with the words before it, before its owner says so.
  const before = await ilse.locator('.cm-caret-of').boundingBox();
  await cursorIn(ilse, 'Growth is quick');
  await ilse.keyboard.type('Now ');
  await eventually(async () => (await ilse.locator('.cm-caret-of').boundingBox()).x > before.x || (await ilse.locator('.cm-caret-of').boundingBox()).y > before.y, 'the cursor moved along');
  await anton.context().close();
  await eventually(async () => (await ilse.locator('.cm-caret-of').count()) === 0, 'the cursor gone');
  await ilse.context().close();
});

test('what is typed without a connection waits, survives a reload, and goes out once', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/valley.tex');
  await cursorIn(ilse, 'Two quarries gave');
  await ilse.context().setOffline(true);
  const chip = ilse.locator('section[aria-label="Source leaf"] header [data-testid=saved]');
  // What is typed before the page has heard of it may still go out.
  await eventually(async () => /no connection just now/.test(await chip.innerText()), async () => `no connection: ${await chip.innerText()}`);
  await ilse.keyboard.type('Offline words. ');
  await eventually(async () => /15 changes wait for the connection/.test(await chip.innerText()), async () => `what waits: ${await chip.innerText()}`);
  // The others go on meanwhile.
  await cursorIn(bao, 'Two quarries gave', 'End');
  await bao.keyboard.type(' Meanwhile.');
  await bao.getByTestId('saved').waitFor();

  // The page comes back before the live connection does.
  await ilse.route('**/hub/**', (route) => route.abort());
  await ilse.context().setOffline(false);
  await ilse.reload();
  await has(ilse, 'Offline words. ');
  await eventually(async () => /15 changes wait/.test(await chip.innerText()), 'what waits after the reload');
  await ilse.unroute('**/hub/**');
  await has(bao, 'Offline words. ');
  await has(ilse, ' Meanwhile.');
  await alike(ilse, bao);
  assert.equal((await text(bao)).split('Offline words. ').length, 2);
  await eventually(async () => (await ilse.getByTestId('saved').innerText()) === 'saved', 'saved');
  for (const page of [ilse, bao]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('words for a file that was deleted meanwhile are shown, not lost', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(ilse, 'Lichen dates a wall');
  await ilse.context().setOffline(true);
  await ilse.keyboard.type('Lonely words. ');
  const bao = await writeAs(running, 'Bao Tremlett', 'main.tex');
  await bao.getByRole('tab', { name: 'Files' }).click();
  await bao.getByRole('button', { name: 'More for chapters/close.tex' }).click();
  await bao.getByRole('menuitem', { name: /Delete/ }).click();
  await bao.getByRole('button', { name: 'Delete it' }).click();
  await eventually(async () => (await bao.getByRole('button', { name: 'chapters/close.tex', exact: true }).count()) === 0, 'the file gone');
  await ilse.context().setOffline(false);
  const dialog = ilse.getByRole('alertdialog');
  await dialog.waitFor();
  assert.match(await dialog.getByRole('textbox').inputValue(), /Lonely words\. /);
  assert.match(await dialog.innerText(), /isn't there any more/);
  await dialog.getByRole('button', { name: 'Go on with the shared text' }).click();
  await editor(ilse).waitFor();
  for (const page of [ilse, bao]) await page.context().close();
});

test('what one does with files is there for the other at once, and a writer stays in a file that gets another name', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  const bao = await writeAs(running, 'Bao Tremlett', 'main.tex');
  await ilse.getByRole('tab', { name: 'Files' }).click();
  await bao.getByRole('tab', { name: 'Files' }).click();
  const list = (page) => page.getByRole('list', { name: 'Files' });
  const there = (page, path) => eventually(async () => (await list(page).getByRole('button', { name: path, exact: true }).count()) === 1, `${path} in the list`);
  await cursorIn(ilse, 'Two quarries gave');
  await ilse.keyboard.type('Before. ');
  await bao.getByRole('button', { name: 'More for chapters/valley.tex' }).click();
  await bao.getByRole('menuitem', { name: /Rename/ }).click();
  await bao.getByRole('textbox', { name: 'New name' }).fill('ground/marrow.tex');
  await bao.getByRole('button', { name: 'Rename', exact: true }).click();
  await there(ilse, 'ground/marrow.tex');
  await ilse.getByRole('textbox', { name: 'Source of ground/marrow.tex' }).waitFor();
  await ilse.keyboard.type('After. ');
  await has(ilse, 'Before. After. ');
  assert.match(ilse.url(), /file=ground%2Fmarrow\.tex/);
  await has(bao, '\\include{ground/marrow}');
  await list(bao).getByRole('button', { name: 'ground/marrow.tex', exact: true }).click();
  await has(bao, 'Before. After. ');

  await ilse.getByRole('button', { name: 'New', exact: true }).click();
  await ilse.getByRole('textbox', { name: /Its name/ }).fill('chapters/appendix');
  await ilse.getByRole('button', { name: 'Create' }).click();
  await there(bao, 'chapters/appendix.tex');
  await ilse.getByTestId('upload').setInputFiles({ name: 'walls.csv', mimeType: 'text/csv', buffer: Buffer.from('wall,age\n1,90\n') });
  await eventually(async () => (await list(bao).innerText()).includes('walls.csv'), 'the data at the other’s');

  await ilse.getByRole('textbox', { name: 'Source of chapters/appendix.tex' }).waitFor();
  await bao.getByRole('button', { name: 'More for chapters/appendix.tex' }).click();
  await bao.getByRole('menuitem', { name: /Delete/ }).click();
  await bao.getByRole('button', { name: 'Delete it' }).click();
  await ilse.getByText('was deleted. This is main.tex.').waitFor();
  await ilse.getByRole('button', { name: 'Good' }).click();
  await ilse.getByRole('textbox', { name: 'Source of main.tex' }).waitFor();
  for (const page of [ilse, bao]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('two tabs of one person are two writers, and neither takes the other’s words for its own', async () => {
  const first = await writeAs(running, 'Ilse Marrable', 'chapters/clock.tex');
  const second = await first.context().newPage();
  await second.goto(first.url());
  await editor(second).waitFor();
  await cursorIn(first, 'A clock with two hands', 'End');
  await cursorIn(second, 'A clock with two hands', 'End');
  await first.keyboard.type(' % first tab');
  await second.keyboard.type(' % second tab');
  for (const page of [first, second]) {
    await has(page, '% first tab');
    await has(page, '% second tab');
  }
  await first.keyboard.press('Control+z');
  await eventually(async () => !(await text(second)).includes('% first tab'), 'only its own taken back');
  await has(second, '% second tab');
  await first.context().close();
});
