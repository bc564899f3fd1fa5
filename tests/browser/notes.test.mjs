// A review: notes in the margin from the first to settled, by two people at once.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, atRest, cursorIn, eventually, has, signIn, text, writeAs } from './browser.mjs';

const running = application();

const face = (page) => page.getByRole('tab', { name: /^Notes/ });
const thread = (page, words) => page.locator('[data-thread]', { hasText: words });

test('a reviewer writes a note on chosen words, an author answers, and it is settled and opened again', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'chapters/why.tex');
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await anton.locator('.cm-line', { hasText: 'A dry-stone wall has no mortar' }).first().dblclick({ position: { x: 60, y: 8 } });
  const bar = anton.getByRole('toolbar', { name: 'With the chosen words' });
  await bar.getByRole('button', { name: 'Note' }).click();
  const words = anton.getByRole('textbox', { name: 'What you have to say' });
  await words.fill('Which two, @Ilse? <b>Name</b> them.');
  await words.press('Control+Enter');
  await thread(anton, 'Which two').waitFor();
  const noted = anton.locator('.cm-noted-chosen').first();
  const passage = (await noted.textContent()).trim();
  assert.match(passage, /^\S+$/);
  // It comes to the other at once, as words, on the spine and in the text.
  await face(ilse).click();
  await thread(ilse, '<b>Name</b> them.').waitFor();
  await ilse.locator('.cm-noted').first().waitFor();
  await ilse.getByRole('button', { name: /^to me/ }).click();
  await thread(ilse, 'Which two').getByRole('button').first().click();
  await ilse.locator('.cm-noted-chosen').waitFor();
  // Both write: what is typed before the passage moves it, and the note along.
  await cursorIn(ilse, 'It stands for two hundred years', 'Home');
  await ilse.keyboard.type('In all, ');
  await thread(ilse, 'Which two').getByRole('textbox', { name: 'Answer' }).fill('The mill’s, and the one at the ford.');
  await thread(ilse, 'Which two').getByRole('button', { name: 'Answer', exact: true }).click();
  await thread(anton, 'the one at the ford').waitFor();
  await anton.locator('.cm-line', { hasText: 'In all, ' }).waitFor();
  assert.equal((await noted.textContent()).trim(), passage);
  await thread(anton, 'Which two').getByRole('button', { name: 'Settle' }).click();
  await eventually(async () => (await ilse.locator('.cm-noted:not(.cm-noted-chosen)').count()) < 2, 'settled ones aren’t marked');
  // Whoever answered hears of it, and comes to it from there.
  const news = ilse.getByRole('region', { name: 'News' });
  await news.getByText(/Anton settled the note on/).getByRole('button').click();
  await thread(ilse, 'Which two').getByText('settled').waitFor();
  await ilse.getByRole('button', { name: /^settled/ }).click();
  await thread(ilse, 'Which two').getByRole('button', { name: 'Open again' }).click();
  await anton.getByRole('button', { name: /^open/ }).click();
  await thread(anton, 'Which two').waitFor();
  // Whoever was named got a letter that leads there.
  await ilse.goto(`${running.demo.address}/outbox`);
  await ilse.getByText(/Anton Quill names you in/).first().waitFor();
  await anton.context().close();
  await ilse.context().close();
});

test('a note whose words go says what they were, and finds them where they come in again', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/clock.tex');
  await cursorIn(page, '\\section{Shade as a measure}', 'End');
  await page.keyboard.type('\nWords that are noted here.');
  // At once: what isn't stored yet belongs to the words all the same.
  await page.keyboard.press('Control+Alt+n');
  await page.getByRole('textbox', { name: 'What you have to say' }).fill('Keep this.');
  await page.getByRole('button', { name: 'Write it' }).click();
  await thread(page, 'Keep this.').waitFor();
  await page.locator('.cm-line', { hasText: 'Words that are noted here.' }).click();
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+End');
  await page.keyboard.press('Control+x');
  await thread(page, 'Keep this.').getByText(/The passage is gone/).waitFor();
  await thread(page, 'Keep this.').getByText('Words that are noted here.').waitFor();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Control+v');
  await eventually(async () => (await thread(page, 'Keep this.').getByText(/The passage is gone/).count()) === 0, 'the passage found again');
  await page.context().close();
});

test('what waits says how many notes name one, and a reader reads them without a way to write', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.goto(running.demo.address);
  const waits = page.getByRole('region', { name: 'Waits for you' });
  await waits.getByText('in Reading Walls by Lichen.').first().waitFor();
  await waits.getByRole('link', { name: /\d open notes? to you/ }).click();
  await thread(page, 'Poor by how much').waitFor();
  await page.context().close();
  const reader = await writeAs(running, 'Perpetua Vane', 'chapters/growth.tex');
  await face(reader).click();
  await thread(reader, 'Poor by how much').getByRole('button').first().click();
  await reader.getByText('About four years at eight quadrats').waitFor();
  assert.equal(await reader.getByRole('textbox', { name: 'Answer' }).count(), 0);
  await reader.context().close();
});

test('a supervisor chooses words on the page: a note on them, or other words for them', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'main.tex');
  await anton.getByRole('list', { name: 'Structure' }).getByRole('button', { name: /Why date a wall/ }).click();
  const bar = anton.getByRole('toolbar', { name: 'With the words on the page' });
  /** Chooses a word on the page as a hand does. */
  const choose = async (word) => {
    const found = anton.locator('.proof-text span', { hasText: word }).first();
    await found.waitFor();
    await atRest(found);
    const box = await found.boundingBox();
    await anton.mouse.dblclick(box.x + box.width / 2, box.y + box.height / 2);
  };
  await choose(/^mortar,/);
  await bar.getByRole('button', { name: 'Note' }).click();
  const note = anton.getByRole('form', { name: 'A new note' });
  await note.getByText(/^mortar/).waitFor();
  await note.getByRole('textbox').fill('None at all?');
  await note.getByRole('button', { name: 'Write it' }).click();
  await thread(anton, 'None at all?').getByText(/^mortar/).waitFor();
  assert.match(await anton.locator('.cm-noted-chosen').first().textContent(), /^mortar/);

  await choose(/^inscription/);
  await bar.getByRole('button', { name: 'Suggest' }).click();
  const words = anton.getByRole('textbox', { name: 'What should stand there' });
  assert.match(await words.inputValue(), /^inscription/);
  await words.fill('letters');
  await words.press('Control+Enter');
  await anton.locator('.cm-proposal', { hasText: 'letters' }).waitFor();
  // The mouse elsewhere, and the bar is gone.
  await choose(/^document/);
  await bar.waitFor();
  await anton.keyboard.press('Escape');
  await anton.locator('.cm-content').click();
  await bar.waitFor({ state: 'detached' });
  assert.deepEqual(anton.problems, []);
  await anton.context().close();
});

test('a note that is typed in the text is listed with the others, goes into the margin, and back into the text', async () => {
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(bao, 'What the stones allow', 'End');
  await bao.keyboard.press('Enter');
  await bao.keyboard.type('\\todo{Say which walls');
  await bao.getByRole('tab', { name: /^Notes/ }).click();
  await bao.getByRole('button', { name: /^open/ }).click();
  const typed = bao.getByRole('button', { name: /\\todo.*Say which walls/ });
  await typed.waitFor();
  await typed.click();
  await bao.getByRole('button', { name: 'Into the margin' }).click();
  await thread(bao, 'Say which walls').waitFor();
  await eventually(async () => !(await text(ilse)).includes('\\todo'), 'out of the text');
  await ilse.getByRole('tab', { name: /^Notes/ }).click();
  await ilse.getByRole('button', { name: /^open/ }).click();
  await thread(ilse, 'Say which walls').locator('button').first().click();
  await thread(ilse, 'Say which walls').getByRole('button', { name: /More/ }).click();
  await ilse.getByRole('menuitem', { name: 'Into the text' }).click();
  await has(bao, '\\todo{Bao Tremlett: Say which walls}');
  await bao.getByRole('button', { name: /\\todo.*Bao Tremlett: Say which walls/ }).waitFor();
  for (const page of [bao, ilse]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('the other button on a page gives a note on what is there: a formula, a picture', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'chapters/growth.tex');
  await anton.locator('[data-sheet="10"] canvas').waitFor();
  await eventually(async () => (await anton.getByTestId('proof-state').innerText()).includes('current'), 'the proof');
  const form = anton.getByRole('form', { name: 'A new note' });
  const on = async (number, x, y) => {
    const sheet = anton.locator(`[data-sheet="${number}"]`);
    await sheet.evaluate((s) => s.scrollIntoView({ block: 'start' }));
    await sheet.locator('canvas').waitFor();
    const box = await sheet.boundingBox();
    await anton.mouse.click(box.x + x * box.width, box.y + y * box.height, { button: 'right' });
    await anton.getByRole('toolbar', { name: 'With what is here' }).getByRole('button', { name: 'Note' }).click();
  };
  await on(10, 0.462, 0.515);
  await form.getByText('\\begin{equation}\\label{eq:growth}').waitFor();
  await form.getByRole('button', { name: 'Cancel' }).click();
  await on(11, 0.47, 0.27);
  await form.getByText(/^\\includegraphics/).waitFor();
  await form.getByRole('textbox').fill('Larger figures on the axes, please.');
  await form.getByRole('button', { name: 'Write it' }).click();
  await thread(anton, 'Larger figures').waitFor();
  assert.deepEqual(anton.problems, []);
  await anton.context().close();
});
