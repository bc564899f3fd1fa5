import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, drawn, editor, eventually, has, signIn, text, writeAs } from './browser.mjs';
import { openNew } from './sheets.mjs';

const running = application();
const file = 'chapters/valley.tex';
const status = (page) => page.getByRole('search').getByRole('status');

test('words are found in all files by key, gone to one after the other, and replaced as one change that can be undone while another writes', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', file);
  const bao = await writeAs(running, 'Bao Tremlett', file);
  await cursorIn(ilse, '\\section{Quarries}');
  await ilse.keyboard.press('Control+Shift+F');
  const find = ilse.getByRole('textbox', { name: 'Find', exact: true });
  await eventually(() => find.evaluate((e) => e === document.activeElement), 'the field');
  await ilse.keyboard.type('wall');
  await eventually(async () => /\d+ places? in \d+ files?/.test(await status(ilse).innerText()), 'what was found');
  await ilse.getByRole('button', { name: 'Whole words' }).click();
  await find.focus();
  await ilse.keyboard.press('Enter');
  await eventually(async () => /^1 of/.test(await status(ilse).innerText()), 'the first');
  // It leads to the place in its file, and the focus stays for the next one.
  await eventually(async () => (await editor(ilse).locator('.cm-found').count()) > 0, 'marks');
  assert.ok(await find.evaluate((e) => e === document.activeElement));
  const total = Number(/of (\d+) place/.exec(await status(ilse).innerText())[1]);

  await ilse.getByRole('textbox', { name: 'Replace with' }).fill('dyke');
  await ilse.getByRole('checkbox', { name: /Replace in line/ }).first().waitFor();
  await cursorIn(bao, '\\section{Quarries}', 'End');
  await bao.keyboard.type(' % by Bao');
  await ilse.getByRole('checkbox', { name: /Replace in line/ }).first().uncheck();
  await ilse.getByRole('button', { name: `Replace ${total - 1}` }).click();
  await ilse.getByText(`${total - 1} place${total === 2 ? '' : 's'} replaced.`).waitFor();
  await eventually(async () => /^1 place in 1 file/.test(await status(ilse).innerText()), () => status(ilse).innerText());
  await ilse.getByRole('button', { name: 'Undo' }).click();
  await eventually(async () => new RegExp(`^${total} place`).test(await status(ilse).innerText()), () => status(ilse).innerText());
  await has(bao, '% by Bao');

  // In print only: what is a key or a command isn't found.
  await ilse.getByRole('button', { name: 'Whole words' }).click();
  await find.fill('sec:delay');
  await eventually(async () => /places? in/.test(await status(ilse).innerText()), 'a key');
  await ilse.getByRole('button', { name: /Only in what prints/ }).click();
  await eventually(async () => /Nothing found/.test(await status(ilse).innerText()), 'no key in print');
  await ilse.getByRole('button', { name: /A pattern/ }).click();
  await find.fill('(a');
  await ilse.getByText('This is no pattern: a group is left open').waitFor();
  await find.press('Escape');
  assert.ok(await editor(ilse).evaluate((e) => e.contains(document.activeElement)), 'back in the text');
  assert.deepEqual([...ilse.problems, ...bao.problems], []);
});

test('sections fold, chosen words are wrapped by key and by the bar, and the names of an environment change together', async () => {
  const page = await writeAs(running, 'Ilse Marrable', file);
  await cursorIn(page, '\\section{Quarries}');
  await page.keyboard.press('Control+.');
  await page.getByRole('button', { name: /^\d+ lines?$/ }).waitFor();
  assert.ok(!(await drawn(page)).includes('Two quarries gave the stone'));
  await page.keyboard.press('Control+.');
  await eventually(async () => (await drawn(page)).includes('Two quarries gave the stone'), 'unfolded');

  await cursorIn(page, '\\section{Quarries}');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Control+i');
  await has(page, '\\emph{Two} quarries');
  await page.keyboard.press('Control+i');
  await page.keyboard.press('Shift+Control+ArrowRight');
  await page.getByRole('toolbar', { name: 'With the chosen words' }).getByRole('button', { name: 'Bold' }).click();
  await has(page, '\\textbf{Two');
  await page.keyboard.press('Control+z');
  await has(page, 'Two quarries gave');

  await cursorIn(page, '\\section{Ledgers');
  await page.keyboard.type('\\begin{quote}\nwords\n\\end{quote}\n');
  await page.locator('.cm-line', { hasText: '\\begin{quote' }).click();
  await page.keyboard.press('End');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.type('s');
  await has(page, '\\end{quotes}');
  // Both names are marked with the next frame.
  await eventually(async () => (await page.locator('.cm-matchingBracket').filter({ hasText: 'quotes' }).count()) === 2, 'both names marked');
  await page.keyboard.press('Control+/');
  await has(page, '% \\begin{quotes}');

  // The markup steps back, and not a character is another.
  const before = await text(page);
  const size = () => page.locator('.cm-line', { hasText: '\\section{Quarries}' }).locator('span').first().evaluate((e) => parseFloat(getComputedStyle(e).fontSize));
  const loud = await size();
  await page.getByRole('button', { name: 'Quiet' }).click();
  await eventually(async () => (await size()) < loud, 'smaller commands');
  assert.equal(await text(page), before);
  // The heading of the section in view stays at the upper edge.
  await page.locator('.cm-scroller').evaluate((e) => e.scrollTo(0, 400));
  await page.locator('.cm-heading-above:not([hidden])').waitFor();
  assert.deepEqual(page.problems, []);
});

test('keys that hands know do what they should, and one sheet lists them', async () => {
  const page = await writeAs(running, 'Ilse Marrable', file);
  await cursorIn(page, '\\section{Ledgers');
  await page.keyboard.press('Control+s');
  await page.getByText('saved, by itself').waitFor();
  await eventually(async () => (await page.getByTestId('saved').innerText()) === 'saved', 'said for a moment only');
  // In the text a question mark is one.
  await page.keyboard.type('?');
  await has(page, '?\\section{Ledgers');
  assert.equal(await page.getByRole('dialog').count(), 0);
  await page.keyboard.press('Control+z');
  await page.getByRole('tab', { name: 'Structure' }).focus();
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog', { name: 'Keys' });
  await sheet.getByText('Find in all files', { exact: true }).waitFor();
  assert.match(await sheet.innerText(), /Ctrl\+Shift\+F/);
  await page.keyboard.press('Escape');
  await sheet.waitFor({ state: 'detached' });
  assert.deepEqual(page.problems, []);
});

test('one button mends a misspelt environment at both ends, and the words are counted by section', async () => {
  const page = await writeAs(running, 'Ilse Marrable', file);
  await cursorIn(page, '\\section{Ledgers');
  await page.keyboard.type('\\begin{itemise}\n\\item one\n\\end{itemise}\n');
  const findings = page.getByRole('region', { name: 'Findings' });
  await findings.getByText('There is no environment itemise.').waitFor();
  await findings.getByRole('button', { name: 'Write itemize' }).first().click();
  await has(page, '\\begin{itemize}');
  await has(page, '\\end{itemize}');
  await eventually(async () => !(await findings.innerText()).includes('itemise'), 'the finding gone');

  await page.getByRole('button', { name: /^\d.* words$/ }).click();
  const words = page.getByRole('dialog', { name: 'Words' });
  await words.getByText('In notes').waitFor();
  const count = async (title) => Number((await words.getByRole('listitem').filter({ hasText: title }).first().innerText()).split('\n').at(-1).replace(/\D/g, ''));
  const before = await count('2.1 Quarries');
  assert.ok(before > 20 && (await count('2 The valley')) > before);
  await page.keyboard.press('Escape');
  await cursorIn(page, '\\section{Quarries}', 'End');
  await page.keyboard.type('\nFour more words here.');
  await eventually(async () => (await page.getByTestId('proof-state').innerText()) === 'current', 'pages');
  await page.getByRole('button', { name: /^\d.* words$/ }).click();
  await eventually(async () => (await count('2.1 Quarries')) === before + 4, 'four more');
  assert.deepEqual(page.problems, []);
});


test('findings come by cause, are filtered, gone through by key and mended together; a word that is typed has none yet', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const findings = page.getByRole('region', { name: 'Findings' });
  await cursorIn(page, 'we should learn what else', 'Control+End');
  await page.keyboard.type('\nWalls & hedges.\n\nStones & moss.\n\nRain & shade.\n');
  const group = findings.getByRole('listitem').filter({ hasText: '& parts the columns of a table, and there is none here. 3 places' });
  await group.waitFor();
  await group.getByRole('button', { name: /3 places/ }).click();
  assert.equal(await group.getByRole('button', { name: 'Write \\&', exact: true }).count(), 3);
  // By key, from anywhere.
  await page.keyboard.press('F8');
  await eventually(async () => (await findings.locator('[aria-current="true"]').count()) === 1, 'one of them is current');
  const first = await findings.locator('[aria-current="true"]').innerText();
  await page.keyboard.press('F8');
  await eventually(async () => (await findings.locator('[aria-current="true"]').innerText()) !== first, 'the next one');
  await page.keyboard.press('Shift+F8');
  await eventually(async () => (await findings.locator('[aria-current="true"]').innerText()) === first, 'back');
  // Only some.
  await findings.getByRole('button', { name: /to check/ }).first().click();
  await eventually(async () => (await group.count()) === 0, 'the others are hidden');
  await findings.getByRole('button', { name: /to check/ }).first().click();
  // All at once, while someone else writes above.
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  await cursorIn(other, 'we should learn what else', 'End');
  await other.keyboard.type(' By Bao.');
  await group.getByRole('button', { name: 'Write \\& in all 3' }).click();
  const mended = /By Bao\.[\s\S]*Walls \\& hedges\.\n\nStones \\& moss\.\n\nRain \\& shade\./;
  await eventually(async () => mended.test(await text(other)), () => text(other));
  await page.getByRole('tab', { name: 'Files' }).click();
  await page.getByRole('list', { name: 'Files', exact: true }).getByRole('button', { name: 'chapters/close.tex', exact: true }).click();
  await eventually(async () => mended.test(await text(page)), () => text(page));
  await eventually(async () => (await group.count()) === 0, 'the findings are gone');
  // While a command is typed nothing is said of it.
  await cursorIn(page, 'Rain', 'End');
  await page.keyboard.type(' \\emp');
  await page.keyboard.press('Escape');
  let said = false;
  for (let i = 0; i < 12; i++) {
    said ||= (await findings.innerText()).includes('\\emp.');
    await page.keyboard.type(i % 2 ? 'p' : 'h');
    await page.keyboard.press('Backspace');
    await page.waitForTimeout(120);
  }
  assert.equal(said, false);
  await page.keyboard.type(' ');
  await findings.getByText('There is no command \\emp.').waitFor();
  await page.context().close();
  await other.context().close();
});

test('a file that is missing is made by its finding, and one that nothing takes in is taken in by another', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'main.tex');
  const findings = page.getByRole('region', { name: 'Findings' });
  await editor(page).click();
  await page.keyboard.press('Control+End');
  await cursorIn(page, '\\end{document}');
  await page.keyboard.type('\\include{chapters/spades}\n');
  await findings.getByRole('button', { name: 'Make chapters/spades.tex' }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/spades.tex' }).waitFor();
  await eventually(async () => (await findings.getByText('chapters/spades').count()) === 0, 'the finding gone');
  await page.locator('.cm-content').click();
  await page.keyboard.type('\\chapter{Spades} We counted 50% of them.');
  await findings.getByRole('button', { name: 'Write \\%', exact: true }).click();
  await has(page, '50\\% of them');
  // Taken out again, it is worth a remark, whose button takes it in.
  await page.getByRole('tab', { name: 'Files' }).click();
  await page.getByRole('list', { name: 'Files', exact: true }).getByRole('button', { name: /^main\.tex/ }).click();
  await page.getByRole('textbox', { name: 'Source of main.tex' }).waitFor();
  await editor(page).click();
  await page.keyboard.press('Control+End');
  await cursorIn(page, '\\include{chapters/spades}');
  await page.keyboard.press('Shift+End');
  await page.keyboard.press('Delete');
  await findings.getByText('Nothing takes in chapters/spades.tex').waitFor();
  await findings.getByRole('listitem').filter({ hasText: 'Nothing takes in' }).getByRole('button', { name: /^Put/ }).click();
  await has(page, '\\include{chapters/spades}\n\\end{document}');
  await page.context().close();
});

test('what newcomers trip over is said once: a line’s end begins no paragraph', async () => {
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/why.tex');
  await cursorIn(bao, 'chapter{', 'Control+End');
  await bao.keyboard.type('\n\nSome words end here.\nAnd more');
  const hint = bao.getByRole('status').filter({ hasText: 'To begin a paragraph, leave an empty line.' });
  await hint.waitFor();
  await hint.getByRole('button', { name: 'Got it' }).click();
  await hint.waitFor({ state: 'detached' });
  await bao.keyboard.type('\n\nOther words end here.\nAnd yet more');
  await has(bao, 'And yet more');
  await bao.waitForTimeout(400);
  assert.equal(await hint.count(), 0);
  await bao.context().close();
});

test('the line one types in stays in sight when findings come up under it', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  const lines = Array.from({ length: 80 }, (_, i) => `Line ${i + 1}.`).join('\n\n');
  await openNew(page, running.demo.address, 'Low', `\\documentclass{article}\n\\begin{document}\n${lines}\n\\end{document}`);
  const scroller = page.locator('.cm-scroller');
  // The lowest line that is there as a whole.
  const lowest = await scroller.evaluate((box) => {
    const { bottom } = box.getBoundingClientRect();
    return [...box.querySelectorAll('.cm-line')].filter((l) => /Line/.test(l.textContent) && l.getBoundingClientRect().bottom < bottom).at(-1).textContent;
  });
  await page.locator('.cm-line', { hasText: lowest }).click();
  await page.keyboard.press('End');
  const height = (await scroller.boundingBox()).height;
  await page.keyboard.type(' See \\ref{nowhere}.');
  await eventually(async () => (await scroller.boundingBox()).height < height - 40, 'the findings');
  const isSeen = async () => {
    const [line, box] = [await page.locator('.cm-activeLine').boundingBox(), await scroller.boundingBox()];
    // Within the pixel that is rounding.
    return line.y >= box.y - 1 && line.y + line.height <= box.y + box.height + 1;
  };
  await eventually(isSeen, 'the line in sight', 5000);
  // Whoever looks at another place is left there.
  await scroller.evaluate((box) => box.scrollTo({ top: box.scrollHeight }));
  await page.setViewportSize({ width: 1280, height: 700 });
  await page.waitForTimeout(300);
  assert.ok(!(await isSeen()));
  await page.context().close();
});
