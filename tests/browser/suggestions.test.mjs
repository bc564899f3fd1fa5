import assert from 'node:assert/strict';
import { test } from 'node:test';
import { alike, application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();
const slip = (page) => page.getByRole('form', { name: 'A suggestion' });
const words = (page) => slip(page).getByRole('textbox', { name: 'What should stand there' });
const thread = (page, of) => page.locator('[data-thread]', { hasText: of });
async function openSuggested(page) {
  await page.getByRole('tab', { name: /^Notes/ }).click();
  await page.getByRole('button', { name: /^suggested/ }).click();
}

test('what a reviewer types is a suggestion, which an author takes with an answer while both go on', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'chapters/growth.tex');
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/growth.tex');
  const before = await text(ilse);
  await anton.locator('.cm-line', { hasText: 'Growth is quick' }).click();
  await anton.keyboard.press('Home');
  for (let i = 0; i < 'Growth is '.length; i++) await anton.keyboard.press('ArrowRight');
  // Fast keys: the first opens the slip, all stand in it.
  await anton.keyboard.type('very ');
  assert.equal(await words(anton).inputValue(), 'Growth is very quick for some forty years and then settles.');
  assert.equal(await text(anton), before);
  await slip(anton).getByRole('textbox', { name: 'Why' }).fill('<b>Seven</b> times as quick, @Ilse');
  // Others write meanwhile, also above it.
  await cursorIn(ilse, '\\section{Early and late', 'Home');
  await ilse.keyboard.type('% here\n');
  await has(anton, '% here');
  await slip(anton).getByRole('button', { name: 'Suggest' }).click();
  await slip(anton).waitFor({ state: 'detached' });
  await ilse.locator('.cm-proposal', { hasText: 'is very' }).waitFor();
  assert.equal(await text(ilse), await text(anton));
  assert.ok(!(await text(ilse)).includes('very quick'));

  await openSuggested(ilse);
  const made = thread(ilse, 'Seven');
  await made.locator('button').first().click();
  await made.getByText('<b>Seven</b> times as quick').waitFor();
  await made.getByRole('textbox', { name: 'Answer' }).fill('Good.');
  await made.getByRole('button', { name: 'Take', exact: true }).click();
  await has(ilse, 'Growth is very quick for some');
  await has(anton, 'Growth is very quick for some');
  await alike(ilse, anton);
  await eventually(async () => (await ilse.locator('.cm-proposal', { hasText: 'is very' }).count()) === 0, 'nothing suggested there');
  // Who suggested it reads what was answered.
  await anton.getByRole('tab', { name: /^Notes/ }).click();
  await anton.getByRole('button', { name: /^settled/ }).click();
  await thread(anton, 'Seven').locator('button').first().click();
  await thread(anton, 'Seven').getByText('Good.').waitFor();
  await thread(anton, 'Seven').getByText('taken').waitFor();
  for (const page of [anton, ilse]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('words that go, a command around words, and what is pasted are suggestions too; Escape leaves all as it is', async () => {
  const anton = await writeAs(running, 'Anton Quill', 'chapters/close.tex');
  const before = await text(anton);
  const first = anton.locator('.cm-line', { hasText: 'Lichen dates a wall' });
  await first.click({ position: { x: 2, y: 8 } });
  await anton.keyboard.press('Control+Shift+ArrowRight');
  await anton.keyboard.press('Delete');
  assert.match(await words(anton).inputValue(), /^\s?dates a wall in the Marrow Valley/);
  await anton.keyboard.press('Escape');
  assert.ok(await editor(anton).evaluate((e) => e === document.activeElement));
  await first.click({ position: { x: 2, y: 8 } });
  await anton.keyboard.press('Control+Shift+ArrowRight');
  await anton.keyboard.press('Control+i');
  assert.match(await words(anton).inputValue(), /^\\emph\{Lichen ?\}/);
  await anton.keyboard.press('Escape');
  // A slip in which nothing was changed is no suggestion; that is said, and it stays.
  await anton.keyboard.press('Control+Alt+s');
  await anton.keyboard.press('Control+Enter');
  await slip(anton).getByText('That would change nothing').waitFor();
  await words(anton).fill('Lichens date a wall');
  await anton.keyboard.press('Control+Enter');
  await slip(anton).waitFor({ state: 'detached' });
  await anton.locator('.cm-proposal').first().waitFor();
  assert.equal(await text(anton), before);
  // Taken back, it is nowhere.
  await openSuggested(anton);
  const made = thread(anton, 'Lichens date');
  await made.locator('button').first().click();
  await made.getByRole('button', { name: /More/ }).click();
  await anton.getByRole('menuitem', { name: 'Take it back' }).click();
  await eventually(async () => (await anton.locator('.cm-proposal').count()) === 0, 'nothing suggested');
  await anton.context().close();
});

test('an author may suggest instead of writing, declines, and takes all of one person at once; what cannot be is said', async () => {
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/growth.tex');
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/growth.tex');
  await bao.getByRole('button', { name: 'Suggest instead of writing' }).click();
  await bao.getByRole('list', { name: 'Structure' }).getByRole('button', { name: /What a quadrat misses/ }).click();
  await bao.keyboard.press('End');
  await bao.keyboard.type('\\label{sec:quadrat}');
  await bao.keyboard.press('Control+Enter');
  await slip(bao).waitFor({ state: 'detached' });
  await bao.getByRole('button', { name: 'Suggest instead of writing' }).click();
  // Writing again, Bao changes the words of another one, which is left then.
  const passage = bao.locator('.cm-suggested', { hasText: 'by diameters alone' }).first();
  await passage.scrollIntoViewIfNeeded();
  // It goes over several lines: its first word.
  const { x, y } = await passage.evaluate((e) => e.getClientRects()[0]);
  await bao.mouse.dblclick(x + 10, y + 8);
  await bao.keyboard.type('lag');
  await openSuggested(ilse);
  await thread(ilse, 'were changed since').waitFor();
  await ilse.getByRole('combobox', { name: 'Whose suggestions' }).selectOption({ label: 'Of Bao Tremlett' });
  await ilse.getByRole('button', { name: 'Take all 2' }).click();
  await has(bao, 'misses}\\label{sec:quadrat}');
  await has(bao, 'as it should. Beyond eight it falls by little.');
  // Her own list has to know it, too: what is taken already would be left once more.
  await eventually(async () => (await ilse.getByRole('combobox', { name: 'Whose suggestions' }).inputValue()) === '0', 'a list without those that were taken');
  await ilse.getByRole('button', { name: /^Take all/ }).click();
  await ilse.getByText(/1 suggestion is left: The words that it changes were changed since\./).waitFor();
  const stale = thread(ilse, 'were changed since');
  await stale.locator('button').first().click();
  await stale.getByRole('button', { name: 'Take all the same' }).waitFor();
  await stale.getByRole('button', { name: 'Decline' }).click();
  await eventually(async () => (await ilse.locator('[data-thread]').count()) <= 1, 'all decided');
  for (const page of [bao, ilse]) {
    assert.deepEqual(page.problems, []);
    await page.context().close();
  }
});

test('some suggestions are chosen by hand and taken together; the others wait on', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await ilse.evaluate(async (chosen) => {
    const { guard } = await (await fetch('/api/session')).json();
    const files = (await (await fetch('/api/manuscripts/1')).json()).files;
    const file = files.find((f) => f.path === 'chapters/close.tex').id;
    const { text: source, version } = await (await fetch(`/api/manuscripts/1/files/${file}`)).json();
    for (const word of chosen) {
      const from = source.indexOf(word);
      const wish = { file, version, from, to: from + word.length, text: '', proposal: `${word}X` };
      const done = await fetch('/api/manuscripts/1/notes', { method: 'POST', headers: { 'folio-guard': guard, 'content-type': 'application/json' }, body: JSON.stringify(wish) });
      if (!done.ok) throw new Error(await done.text());
    }
  }, ['Lichen', 'dates', 'Marrow']);
  await openSuggested(ilse);
  const pick = (word) => ilse.getByRole('checkbox', { name: `Choose the suggestion ${word}X` });
  await pick('Lichen').check();
  await pick('Marrow').check();
  await ilse.getByRole('button', { name: 'Take the chosen 2' }).click();
  await has(ilse, 'LichenX dates a wall in the MarrowX Valley');
  // The one that wasn’t chosen stands as a proposal beside its words, and can be chosen still.
  await pick('dates').check();
  await ilse.getByRole('button', { name: 'Decline the chosen 1' }).click();
  await pick('dates').waitFor({ state: 'detached' });
  await has(ilse, 'LichenX dates a wall in the MarrowX Valley');
  assert.deepEqual(ilse.problems, []);
  await ilse.context().close();
});
