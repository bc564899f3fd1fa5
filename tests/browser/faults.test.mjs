import assert from 'node:assert/strict';
import { test } from 'node:test';
import { alike, application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();

test('the server ends without warning while two type; both go on, and nothing is lost or doubled', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/why.tex');
  await cursorIn(ilse, 'Why date a wall', 'End');
  await cursorIn(bao, 'What a date is good for', 'End');
  const typing = Promise.all([ilse.keyboard.type(' % one two three four five six seven', { delay: 70 }), bao.keyboard.type(' % eins zwei drei vier', { delay: 90 })]);
  await ilse.waitForTimeout(900);
  await running.demo.kill();
  await typing;
  await eventually(async () => /change/.test(await ilse.locator('section[aria-label="Source leaf"] header').innerText()), 'what waits');
  await running.demo.again();
  for (const page of [ilse, bao]) {
    await has(page, '% one two three four five six seven');
    await has(page, '% eins zwei drei vier');
  }
  await alike(ilse, bao);
  assert.equal((await text(bao)).match(/seven/g).length, 1);
  for (const page of [ilse, bao]) await page.context().close();
});

test('a backup put in place while someone writes: the page follows, and words without a place are shown', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(ilse, 'What the stones allow', 'End');
  await ilse.keyboard.type(' % before');
  await eventually(async () => (await ilse.getByTestId('saved').innerText()) === 'saved', 'saved');
  running.demo.run('backup', 'copy.zip');
  await ilse.keyboard.type(' % after');
  await eventually(async () => (await ilse.getByTestId('saved').innerText()) === 'saved', 'saved');
  running.demo.run('restore', 'copy.zip');
  await eventually(async () => (await text(ilse)).includes('% before') && !(await text(ilse)).includes('% after'), 'the earlier text');

  await ilse.context().setOffline(true);
  await cursorIn(ilse, 'What the stones allow', 'End');
  await ilse.keyboard.type(' % nowhere');
  running.demo.run('restore', 'copy.zip');
  await ilse.context().setOffline(false);
  const dialog = ilse.getByRole('alertdialog');
  await dialog.waitFor();
  assert.match(await dialog.innerText(), /put back to an earlier state/);
  assert.match(await dialog.getByRole('textbox').inputValue(), /% nowhere/);
  await dialog.getByRole('button', { name: 'Go on with the shared text' }).click();
  await editor(ilse).waitFor();
  await has(ilse, '% before');
  await ilse.context().close();
});
