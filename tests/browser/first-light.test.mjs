import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, signIn, printed } from './browser.mjs';

const running = application();

/** Opens the demo thesis at a file, and waits for its pages. */
async function openThesis(name = 'Ilse Marrable', file = 'chapters/growth.tex') {
  const page = await signIn(running.browser, running.demo.address, name);
  await page.getByRole('link', { name: /Reading Walls/ }).first().click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  if (file) {
    await page.getByRole('tab', { name: 'Files' }).click();
    await page.getByRole('list', { name: 'Files' }).getByRole('button', { name: file, exact: true }).click();
    await page.getByRole('textbox', { name: `Source of ${file}` }).waitFor();
    await page.getByRole('tab', { name: 'Structure' }).click();
  }
  return page;
}

const proofText = printed;

test('a typed sentence shows in the proof, and a new section changes the number after it', async () => {
  const page = await openThesis();
  await page.getByRole('button', { name: /Early and late growth/ }).click();
  await cursorIn(page, 'Growth is quick');
  await page.keyboard.type('Quagmire sentences are typed by hand. ');
  await eventually(async () => (await proofText(page)).includes('Quagmire sentences are typed by hand.'), 'the sentence in the proof');
  const structure = page.getByRole('list', { name: 'Structure' });
  assert.match(await structure.innerText(), /3\.1\s+Early and late growth/);
  await cursorIn(page, 'Early and late growth');
  await page.keyboard.type('\\section{A section before it}\nIts words.\n\n');
  await eventually(async () => /3\.2\s+Early and late growth/.test(await structure.innerText()), 'the new number in the spine');
  await eventually(async () => (await proofText(page)).includes('3.2'), 'the new number in the proof');
  await page.context().close();
});

test('pages follow while someone types on, and are called current only when they hold the last words', async () => {
  const page = await openThesis();
  await page.getByRole('button', { name: /Early and late growth/ }).click();
  await page.getByText(/^current/).waitFor();
  await cursorIn(page, 'We fit the two regimes');
  // What the pages hold of the sentence, and what is said of them, at every moment. Where a line ends there is no space.
  await page.evaluate(() => {
    window.seen = [];
    const look = () => {
      const words = [...document.querySelectorAll('.proof-text')].map((e) => e.textContent).join(' ').match(/Typed\s*on[\s\d]*/)?.[0].trim() ?? '';
      window.seen.push({ words, said: document.querySelector('[data-testid="proof-state"]').textContent });
      window.setTimeout(look, 20);
    };
    look();
  });
  await page.keyboard.type('Typed on ');
  let last = 0;
  for (const end = Date.now() + 6000; Date.now() < end; ) await page.keyboard.type(`${++last} `, { delay: 40 });
  const typed = await page.evaluate(() => window.seen.length);
  await eventually(async () => (await proofText(page)).includes(` ${last} `), 'the last words in the proof');
  await page.getByText(/^current/).waitFor();
  const seen = await page.evaluate(() => window.seen);
  const shown = new Set(seen.slice(0, typed).map((s) => s.words));
  assert.ok(shown.size >= 3, `while typing the pages showed ${[...shown].join(' | ')}`);
  const first = seen.findIndex((s) => s.words);
  const early = seen.slice(first).filter((s) => s.said.startsWith('current') && !s.words.endsWith(`${last}`));
  assert.deepEqual(early, []);
  await page.context().close();
});

test('a slip is a finding with the proof still whole, and its mend puts it right', async () => {
  const page = await openThesis('Ilse Marrable', 'chapters/close.tex');
  await cursorIn(page, 'Lichen dates a wall');
  await page.keyboard.type('\\textbff{Bold} words. ');
  const findings = page.getByRole('region', { name: 'Findings' });
  await eventually(async () => (await findings.innerText()).includes('There is no command \\textbff.'), 'the finding');
  await eventually(async () => (await page.locator('.cm-lintRange-error').count()) > 0, 'the mark in the text');
  await eventually(async () => (await page.locator('[data-sheet] canvas').count()) > 0, 'the proof still whole');
  const row = findings.locator('li', { hasText: 'textbff' });
  await row.getByRole('button', { name: 'Write \\textbf' }).click();
  await eventually(async () => !(await findings.innerText()).includes('textbff'), 'the finding gone');
  assert.match(await editor(page).innerText(), /\\textbf\{Bold\} words\./);
  await page.context().close();
});

test('what was typed is there after a reload', async () => {
  const page = await openThesis('Ilse Marrable', 'chapters/valley.tex');
  await cursorIn(page, 'Two quarries gave');
  await page.keyboard.type('Reloaded words. ');
  // The chip may still say “saved” of what was there before the keys.
  await page.waitForTimeout(500);
  await eventually(async () => (await page.getByTestId('saved').innerText()) === 'saved', 'saved');
  await page.reload();
  await editor(page).waitFor();
  await eventually(async () => (await editor(page).innerText()).includes('Reloaded words.'), 'the words after the reload');
  await page.context().close();
});

test('a click in the proof leads to its source line', async () => {
  const page = await openThesis('Ilse Marrable', null);
  // The pages are there before the text is: where one clicks meanwhile counts, once it comes.
  await page.route(/\/api\/manuscripts\/1\/files\/\d+$/, (route) => setTimeout(() => void route.continue(), 2500));
  await page.getByRole('button', { name: /North faces/ }).click();
  const word = page.locator('[data-sheet]', { hasText: 'On north faces the late' }).locator('.proof-text span', { hasText: /^late/ }).first();
  await word.waitFor();
  await word.click();
  const line = page.locator('.cm-activeLine');
  await eventually(async () => (await line.count()) > 0 && (await line.first().innerText()).includes('On north faces'), 'the source line');
  await page.context().close();
});

test('a reader can read and not write', async () => {
  const page = await openThesis('Perpetua Vane', 'chapters/why.tex');
  assert.equal(await editor(page).getAttribute('aria-readonly'), 'true');
  await page.getByRole('tab', { name: 'Files' }).click();
  assert.equal(await page.getByRole('button', { name: 'New', exact: true }).count(), 0);
  await page.context().close();
});

test('files are made, renamed and deleted', async () => {
  const page = await openThesis('Ilse Marrable', null);
  await page.getByRole('tab', { name: 'Files' }).click();
  await page.getByRole('button', { name: 'New', exact: true }).click();
  await page.getByRole('textbox', { name: /Its name/ }).fill('chapters/extra');
  await page.getByRole('button', { name: 'Create' }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/extra.tex' }).waitFor();
  await page.getByRole('button', { name: 'More for chapters/extra.tex' }).click();
  await page.getByRole('menuitem', { name: /Rename/ }).click();
  await page.getByRole('textbox', { name: 'New name' }).fill('chapters/more.tex');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await page.getByRole('button', { name: 'More for chapters/more.tex' }).click();
  await page.getByRole('menuitem', { name: /Delete/ }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await eventually(async () => (await page.getByRole('button', { name: 'chapters/more.tex', exact: true }).count()) === 0, 'the file gone');
  await page.context().close();
});

test('keystroke to updated proof on screen, measured', async (t) => {
  const page = await openThesis('Ilse Marrable', 'chapters/clock.tex');
  await page.getByRole('button', { name: /When the hands disagree/ }).click();
  await cursorIn(page, 'The flood of 1894');
  const times = [];
  for (let i = 0; i < 7; i++) {
    const word = `Mark${'abcdefg'[i]}`;
    const start = Date.now();
    await page.keyboard.type(`${word} `);
    await eventually(async () => (await proofText(page)).includes(word), word);
    times.push(Date.now() - start);
  }
  times.sort((a, b) => a - b);
  t.diagnostic(`keystroke to proof: median ${times[3]} ms of ${times.join(', ')}`);
});
