import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, eventually, signIn, writeAs } from './browser.mjs';

const running = application();
const panel = (page) => page.getByRole('complementary', { name: 'Talk' });
const message = (page, words) => panel(page).locator('[data-message]', { hasText: words });
const say = (page) => panel(page).getByRole('textbox', { name: 'What you say' });
const leadTo = (page) => panel(page).getByRole('combobox', { name: 'Lead to' });

test('two people talk beside the text: unread is marked, a link leads to its passage when others wrote before it', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'chapters/walls.tex');
  const ilse = await writeAs(running, 'Ilse Marrable', 'main.tex');
  // One message waits from the demo; read, it is marked no more.
  await ilse.getByRole('button', { name: 'Talk, 1 unread' }).click();
  await message(ilse, 'this sentence is the one that matters').waitFor();
  await ilse.getByRole('button', { name: 'Talk', exact: true }).waitFor();
  await ilse.getByRole('button', { name: 'Close the talk' }).click();

  await anton.getByRole('button', { name: /^Talk/ }).click();
  await anton.locator('.cm-line', { hasText: 'South faces give' }).dblclick({ position: { x: 20, y: 8 } });
  await leadTo(anton).selectOption('passage');
  await say(anton).fill('Why not <i>both</i>?');
  await say(anton).press('Enter');
  await message(anton, 'Why not <i>both</i>?').getByRole('link', { name: '“South”' }).waitFor();
  // It comes at once, and is counted until it is read.
  await ilse.getByRole('button', { name: 'Talk, 1 unread' }).click();
  await message(ilse, 'Why not <i>both</i>?').waitFor();
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/walls.tex');
  await cursorIn(bao, '\\section{North faces}', 'Home');
  await bao.keyboard.type('% one\n% two\n');
  await anton.locator('.cm-line', { hasText: '% two' }).waitFor();
  await bao.context().close();
  await message(ilse, 'Why not').getByRole('link', { name: '“South”' }).click();
  // Anton’s name stands behind the first word.
  await ilse.locator('.cm-activeLine', { hasText: 'faces give' }).waitFor();
  // A page, a pin and a source, from whichever room.
  // Before the pages are there, there is none in view.
  await eventually(async () => {
    await leadTo(ilse).selectOption('page');
    return (await panel(ilse).getByRole('button', { name: 'Without this link' }).count()) > 0;
  }, 'the page chosen');
  await say(ilse).fill('Look here.');
  await panel(ilse).getByRole('button', { name: 'Say it' }).click();
  await message(anton, 'Look here.').getByRole('link', { name: /^page \d+$/ }).waitFor();
  await ilse.getByRole('link', { name: 'Chronicle' }).click();
  await ilse.getByRole('list', { name: 'History' }).waitFor();
  assert.equal(await leadTo(ilse).locator('option[value=passage]').count(), 0);
  await leadTo(ilse).selectOption('source rook1987');
  await say(ilse).press('Enter');
  await message(anton, 'the source rook1987').getByRole('link').click();
  await anton.waitForURL(/\/sources\?key=rook1987/);
  assert.ok(await panel(anton).isVisible());
  // Said by oneself, it can be taken back; by another it can't.
  const own = message(anton, 'Why not');
  await own.hover();
  await own.getByRole('button', { name: 'More for this message' }).click();
  await anton.getByRole('menuitem', { name: 'Take it back' }).click();
  await own.waitFor({ state: 'detached' });
  await message(ilse, 'Why not').waitFor({ state: 'detached' });
  assert.equal(await message(anton, 'Look here.').getByRole('button').count(), 0);
  for (const page of [anton, ilse]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('the shelf says what wasn’t read and leads to it, and a reader reads without a way to speak', async () => {
  const bao = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await bao.getByRole('link', { name: /messages? you haven’t read/ }).click();
  await message(bao, 'the two that stand apart').waitFor();
  await bao.context().close();
  const office = await writeAs(running, 'Perpetua Vane', 'main.tex');
  await office.getByRole('button', { name: /^Talk/ }).click();
  await message(office, 'the two that stand apart').waitFor();
  assert.equal(await say(office).count(), 0);
  await office.context().close();
});
