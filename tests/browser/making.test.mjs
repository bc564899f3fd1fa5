import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, atRest, cursorIn, editor, eventually, has, printed, text, writeAs } from './browser.mjs';

const running = application();

// A picture of four dots.
const dots = 'iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVQI12P4z8DAwMDAxMDAwMDAAAANHQEDasKb6QAAAABJRU5ErkJggg==';

/** Pastes words, or files, where the focus is. */
const paste = (page, { words = '', files = [] }) =>
  page.evaluate(
    ({ words: plain, files: all }) => {
      const data = new DataTransfer();
      if (plain) data.setData('text/plain', plain);
      for (const { name, type, base64 } of all) data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name, { type }));
      document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    },
    { words, files },
  );

/** Drops files on an element. */
async function drop(page, target, files) {
  const box = await target.boundingBox();
  const at = { clientX: box.x + Math.min(80, box.width / 2), clientY: box.y + box.height / 2 };
  await target.evaluate(
    (element, { files: all, at: point }) => {
      const data = new DataTransfer();
      for (const { name, type, base64 } of all) data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name, { type }));
      for (const kind of ['dragenter', 'dragover', 'drop']) element.dispatchEvent(new DragEvent(kind, { ...point, dataTransfer: data, bubbles: true, cancelable: true }));
    },
    { files, at },
  );
}

const picture = (name) => ({ name, type: 'image/png', base64: dots });
const line = (page, words) => page.locator('.cm-line', { hasText: words }).first();

test('a dropped picture becomes a file and a figure that waits for its caption, while others write', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  await line(page, 'Lichen dates a wall').waitFor();
  await cursorIn(other, 'Lichen dates a wall', 'Control+Home');
  await other.keyboard.press('ArrowDown');
  const typing = other.keyboard.type('In short: ', { delay: 30 });
  await drop(page, line(page, 'Lichen dates a wall'), [picture('Wall face.png')]);
  await has(page, '\\includegraphics[width=0.8\\linewidth]{figures/Wall-face.png}');
  await page.keyboard.type('A face in May');
  await page.keyboard.press('Tab');
  await page.keyboard.type('face');
  await typing;
  await has(page, 'In short: Lichen dates a wall');
  await has(page, '\\caption{A face in May}\n  \\label{fig:face}\n\\end{figure}');
  // It stands behind the paragraph, and not in it.
  assert.match(await text(page), /wherever they speak\.\n\n\\begin\{figure\}/);
  await eventually(async () => /Figure 6\.1: A face in May/.test(await printed(page)), 'the figure in the proof');
  await page.keyboard.press('Control+z');
  await other.context().close();
  await page.context().close();
});

test('a picture on the proof goes where its words are written; what can’t be set is said at once', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  await eventually(async () => (await page.locator('.proof-text').count()) > 0, 'pages');
  await page.locator('.cm-line').nth(3).click();
  await eventually(async () => /walls/.test(await printed(page)), 'the words in the proof');
  await paste(page, { files: [{ name: 'photo.webp', type: 'image/webp', base64: dots }] });
  await page.getByText('photo.webp is a picture of a kind that can’t be set').waitFor();
  assert.doesNotMatch(await text(page), /photo/);
  await page.keyboard.press('Control+End');
  await cursorIn(page, 'Nineteen further walls', 'End');
  const words = page.locator('.proof-text', { hasText: 'further walls' });
  await words.waitFor();
  await atRest(words);
  await drop(page, words, [picture('aspect.png')]);
  await eventually(async () => /figures\/aspect\.png/.test(await text(page)), 'the figure in the source');
  await page.context().close();
});

test('pasted cells become a table with the rules of books, or text', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(page, 'we should learn what else', 'Control+End');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await paste(page, { words: 'Wall\tAge & kind\tShare\nHill\t120\t5 %\nFord\t98\t12 %\n' });
  const grid = page.getByRole('dialog', { name: 'A new table' });
  await grid.waitFor();
  assert.equal(await grid.getByLabel('Row 1, column 2', { exact: true }).inputValue(), 'Age \\& kind');
  assert.equal(await grid.getByLabel('Row 3, column 3', { exact: true }).inputValue(), '12 \\%');
  // By keyboard: down the column, and another word for the last cell.
  await grid.getByLabel('Row 1, column 1', { exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Weir');
  await grid.getByRole('button', { name: 'Put it in' }).click();
  await has(page, '    Hill & 120         & 5 \\%  \\\\\n    Weir & 98          & 12 \\% \\\\\n    \\bottomrule');
  await has(page, '\\begin{tabular}{lrr}\n    \\toprule\n    Wall & Age \\& kind');
  await page.keyboard.type('What is left');
  await has(page, '\\caption{What is left}');
  await eventually(async () => /Table 6\.1: What is left/.test(await printed(page)), 'the table in the proof');
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Enter');
  await paste(page, { words: 'a\tb\nc\td' });
  await page.getByRole('dialog', { name: 'A new table' }).getByRole('button', { name: 'Paste it as text' }).click();
  await has(page, 'a\tb\nc\td');
  await page.context().close();
});

test('a table is changed as a grid; who changed it in the text meanwhile is not overwritten', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  for (const one of [page, other]) {
    await editor(one).click();
    await one.keyboard.press('Control+End');
  }
  await line(page, 'Weir').click();
  await page.keyboard.press('F7');
  const grid = page.getByRole('dialog', { name: 'The table as a grid' });
  await grid.getByLabel('Row 2, column 1', { exact: true }).fill('Moor');
  await grid.getByRole('button', { name: 'below' }).first().click();
  await grid.getByLabel('Row 3, column 1', { exact: true }).fill('Crag');
  await cursorIn(other, 'Weir & 98', 'Home');
  await other.keyboard.type('Old ');
  await has(other, 'Old Weir');
  await eventually(async () => /Old /.test(await text(page)), 'the other’s words');
  await grid.getByRole('button', { name: 'Write it into the text' }).click();
  await grid.getByText('Somebody changed it in the text meanwhile').waitFor();
  assert.match(await text(page), /Hill & 120/);
  await grid.getByRole('button', { name: 'Leave it' }).click();
  // The focus is in the text again.
  await page.keyboard.press('F7');
  await grid.getByLabel('Row 2, column 1', { exact: true }).fill('Moor');
  await grid.getByRole('button', { name: 'below' }).first().click();
  await grid.getByLabel('Row 3, column 1', { exact: true }).fill('Crag');
  await cursorIn(other, 'should learn what else', 'End');
  await other.keyboard.type(' Soon.');
  await grid.getByRole('button', { name: 'Write it into the text' }).click();
  await has(page, '    Moor & 120         & 5 \\%  \\\\\n    Crag &  &  \\\\\n    Old Weir & 98');
  await has(page, ' Soon.');
  await page.keyboard.press('Control+z');
  await has(page, 'Hill & 120');
  await has(page, ' Soon.');
  await other.context().close();
  await page.context().close();
});

test('a table that a grid would spoil is only looked at', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await editor(page).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Enter');
  await page.keyboard.insertText('\\begin{tabular}{ll}\n  a & \\verb|x| \\\\\n\\end{tabular}');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('F7');
  const grid = page.getByRole('dialog', { name: 'The table as a grid' });
  await grid.getByText('This table can only be looked at here. Line 2 of it has \\verb').waitFor();
  assert.equal(await grid.getByRole('button', { name: 'Write it into the text' }).count(), 0);
  await page.keyboard.press('Escape');
  await page.context().close();
});

test('a formula is made with help and drawn while it is written; the one at the cursor is changed', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(page, 'Three things are left', 'End');
  await page.keyboard.type(' So ');
  await page.keyboard.press('Control+m');
  const helper = page.getByRole('dialog', { name: 'A new formula' });
  await helper.getByRole('textbox', { name: 'Formula' }).waitFor();
  await eventually(() => helper.getByRole('textbox', { name: 'Formula' }).evaluate((e) => e === document.activeElement), 'the focus in the formula');
  await page.keyboard.type('t = ');
  await helper.getByRole('button', { name: 'Fraction' }).click();
  await page.keyboard.type('d');
  await page.keyboard.press('Tab');
  await helper.getByRole('textbox', { name: 'Find a sign' }).fill('greek small rho');
  await page.keyboard.press('Enter');
  const drawing = helper.getByRole('img', { name: 'The formula as it prints: t = \\frac{d}{\\rho}' });
  await drawing.waitFor();
  assert.ok(await drawing.evaluate((i) => i.naturalWidth > 10), 'a drawing');
  await page.keyboard.type('\\wrng');
  await helper.getByText('There is no command \\wrng').waitFor();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Backspace');
  await helper.getByRole('radio', { name: 'On a line of its own' }).check();
  await helper.getByRole('button', { name: 'Put it in' }).click();
  await has(page, ' So \\[\n  t = \\frac{d}{\\rho}\n\\]');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Control+m');
  await page.getByRole('dialog', { name: 'The formula' }).getByRole('radio', { name: 'With a number' }).check();
  await page.getByRole('button', { name: 'Write it into the text' }).click();
  await has(page, ' So \\begin{equation}\n  t = \\frac{d}{\\rho}\n\\end{equation}');
  await page.context().close();
});

test('labels and sources are found by words and named from the keyboard; everything is in one menu', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await editor(page).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.press('Enter');
  await page.keyboard.type('See ');
  await page.keyboard.press('F9');
  await page.getByRole('dialog', { name: 'Refer to' }).getByRole('combobox').fill('delay start');
  await page.getByRole('option', { name: /sec:delay/ }).waitFor();
  await page.keyboard.press('Enter');
  await has(page, 'See \\ref{sec:delay}');
  await page.keyboard.type(' and ');
  await page.keyboard.press('Shift+F9');
  await page.getByRole('dialog', { name: 'Cite' }).getByRole('combobox').fill('field 2024');
  await page.getByRole('option', { name: /field2024/ }).waitFor();
  await page.keyboard.press('Enter');
  await has(page, 'See \\ref{sec:delay} and \\citep{field2024}');
  await page.keyboard.type('.');
  await page.getByRole('button', { name: 'Put in' }).click();
  await page.getByRole('menuitem', { name: 'A formula' }).click();
  await page.getByRole('dialog', { name: 'A new formula' }).waitFor();
  await page.keyboard.press('Escape');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  await eventually(() => editor(page).evaluate((e) => e === document.activeElement), 'the focus in the text');
  await page.keyboard.type(' Then.');
  await has(page, '\\citep{field2024}. Then.');
  // Reached by name as well.
  await page.keyboard.press('F4');
  await page.getByRole('combobox', { name: 'Name' }).fill('put in table');
  await page.keyboard.press('Enter');
  await page.getByRole('dialog', { name: 'A new table' }).waitFor();
  await page.context().close();
});
