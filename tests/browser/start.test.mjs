import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, editor, eventually, printed, signIn, text } from './browser.mjs';

const running = application();

async function shelf() {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.goto(running.demo.address);
  await page.getByRole('heading', { name: 'A Field Book of Walls' }).waitFor();
  return page;
}

const dialog = (page) => page.getByRole('dialog', { name: 'Start a manuscript' });
const comes = (page) => dialog(page).getByRole('img', { name: /First page of what will come/ });

test('a thesis is started from its template: what will come is shown, and its proof is there at once', async () => {
  const page = await shelf();
  await page.getByRole('button', { name: 'Start a manuscript' }).click();
  await comes(page).waitFor();
  assert.equal(await dialog(page).getByRole('radio').count(), 10);
  // By keyboard: from one template to the next.
  await dialog(page).getByRole('radio', { name: 'Article', exact: true }).focus();
  for (const name of ['Article in two columns', 'Report', 'Thesis']) {
    await page.keyboard.press('ArrowRight', { delay: 60 });
    await dialog(page).getByRole('radio', { name, checked: true }).waitFor();
  }
  await dialog(page).getByRole('textbox', { name: 'Title' }).fill('Moss & 100 % of it');
  await dialog(page).getByRole('textbox', { name: /Authors/ }).fill('Ilse Marrable, Bao Tremlett');
  await dialog(page).getByLabel('Language').selectOption('ngerman');
  await dialog(page).getByLabel('Paper').selectOption('a5');
  await eventually(async () => /of 2\d pages/.test((await comes(page).getAttribute('aria-label')) ?? ''), 'what will come');
  const begun = Date.now();
  await dialog(page).getByRole('button', { name: 'Start', exact: true }).click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  console.log(`first proof after Start: ${Date.now() - begun} ms`);
  await editor(page).waitFor();
  await eventually(async () => /Moss & 100 % of it/.test(await printed(page)), async () => printed(page));
  assert.match(await text(page), /\\documentclass\[11pt,a5paper,twoside,openright\]\{report\}/);
  await eventually(async () => (await page.getByText('nothing found').count()) === 1, 'no finding');
  await page.context().close();
});

test('a text that is dropped or pasted becomes a manuscript as it is, and one of the shelf is duplicated', async () => {
  const page = await shelf();
  const data = await page.evaluateHandle(() => {
    const files = new DataTransfer();
    files.items.add(new File(['\\documentclass{article}\n\\title{Dropped}\n\\begin{document}\n\\maketitle\nTheir words.\n\\end{document}\n'], 'paper.tex'));
    return files;
  });
  await page.locator('main').dispatchEvent('drop', { dataTransfer: data });
  await comes(page).waitFor();
  assert.equal(await dialog(page).getByRole('textbox', { name: 'Title' }).inputValue(), 'Dropped');
  await dialog(page).getByRole('button', { name: 'Start', exact: true }).click();
  await editor(page).waitFor();
  assert.match(await text(page), /Their words\./);

  await page.goto(running.demo.address);
  await page.getByRole('button', { name: 'More for To the Marrow Walls Trust' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate …' }).click();
  await dialog(page).getByRole('textbox', { name: 'Title' }).fill('A second letter');
  await dialog(page).getByText('All its files, without its history').waitFor();
  await dialog(page).getByRole('button', { name: 'Start', exact: true }).click();
  await editor(page).waitFor();
  await eventually(async () => /\\documentclass.*\{letter\}/.test(await text(page)), 'the letter');
  await page.goto(running.demo.address);

  // The shelf is looked through and ordered.
  const titles = () => page.getByRole('list', { name: 'Manuscripts', exact: true }).getByRole('heading').allInnerTexts();
  await page.getByRole('heading', { name: 'A second letter' }).waitFor();
  await page.getByRole('combobox', { name: 'in order of' }).selectOption('title');
  assert.deepEqual(await titles(), [...(await titles())].sort((a, b) => a.localeCompare(b)));
  await page.getByRole('textbox', { name: 'Find a manuscript' }).fill('letter');
  await eventually(async () => (await titles()).length === 2, async () => (await titles()).join());
  await page.getByRole('textbox', { name: 'Find a manuscript' }).fill('nothing like it');
  await page.getByText('None fits. Take a word away.').waitFor();
  await page.context().close();
});

test('a mark and a deadline are the group’s, what is due waits at the top, and the archive is one’s own', async () => {
  const page = await shelf();
  const book = (title) => page.getByRole('list', { name: 'Manuscripts', exact: true }).getByRole('listitem').filter({ hasText: title });
  const act = async (title, what) => {
    await page.getByRole('button', { name: `More for ${title}`, exact: true }).click();
    await page.getByRole('menuitem', { name: what }).click();
  };
  await act('Shade and Slow Growth', 'Mark …');
  await page.getByRole('dialog').getByRole('textbox').fill('Spring 2027');
  await page.getByRole('dialog').getByRole('button', { name: 'Mark it' }).click();
  await book('Shade and Slow Growth').getByText('Spring 2027').waitFor();
  await act('Shade and Slow Growth', 'Deadline …');
  const day = await page.evaluate(() => {
    const d = new Date(Date.now() + 3 * 86400000);
    return `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
  });
  await page.getByRole('dialog').getByLabel(/The day/).fill(day);
  await page.getByRole('dialog').getByRole('button', { name: 'Set it' }).click();
  await page.getByRole('region', { name: 'Waits for you' }).getByText(/due in 3 days/).waitFor();
  // What is due is checked while it rests, and the shelf says how far it is.
  const checks = book('Shade and Slow Growth').getByRole('link', { name: /\d+ of \d+ checks hold/ });
  await eventually(async () => { await page.reload(); await book('Shade and Slow Growth').waitFor(); return (await checks.count()) === 1; }, 'how far the checks are');
  await checks.click();
  await page.getByRole('region', { name: 'The checks' }).waitFor();
  await page.goBack();
  await page.getByRole('group', { name: 'Marks' }).getByRole('button', { name: 'Spring 2027' }).click();
  await eventually(async () => (await page.getByRole('list', { name: 'Manuscripts', exact: true }).getByRole('heading').count()) === 1, 'one of this mark');
  await page.getByRole('group', { name: 'Marks' }).getByRole('button', { name: 'Spring 2027' }).click();
  await act('A Field Book of Walls', 'Into your archive');
  await page.getByRole('region', { name: 'Archive' }).getByText('A Field Book of Walls').waitFor();
  assert.equal(await book('A Field Book of Walls').count(), 0);
  await page.getByRole('region', { name: 'Archive' }).getByRole('button', { name: 'Back to the shelf' }).click();
  await book('A Field Book of Walls').waitFor();
  await page.context().close();
});

test('a manuscript becomes a template of the group with places to fill', async () => {
  const page = await shelf();
  const book = page.getByRole('list', { name: 'Manuscripts' }).getByRole('listitem').filter({ hasText: 'Shade and Slow Growth' });
  await book.getByRole('button', { name: /More for Shade/ }).click();
  await page.getByRole('menuitem', { name: 'Make it a template' }).click();
  await book.getByText('template', { exact: true }).waitFor();
  await page.getByRole('button', { name: 'Start a manuscript' }).click();
  await dialog(page).getByRole('radio', { name: /Shade and Slow Growth/ }).click();
  await dialog(page).getByRole('textbox', { name: 'Title' }).fill('Moss in May');
  await dialog(page).getByRole('textbox', { name: /Authors/ }).fill('Perpetua Vane');
  await dialog(page).getByRole('textbox', { name: 'Institute' }).fill('Department office');
  await dialog(page).getByRole('button', { name: 'Start', exact: true }).click();
  await editor(page).waitFor();
  await eventually(async () => /Perpetua Vane/.test(await printed(page)), async () => printed(page));
  assert.match(await text(page), /\\author\{Perpetua Vane \\\\ Department office\}/);
  await page.context().close();
});

test('a folder that is dropped becomes a manuscript, and what is to be said of it stays until someone has read it', async () => {
  const page = await shelf();
  await page.evaluate(() => {
    const file = (name, words) => ({ name, isDirectory: false, isFile: true, file: (take) => take(new File([words], name)) });
    const folder = (name, entries) => ({
      name,
      isDirectory: true,
      createReader: () => ({ readEntries: (take) => take(entries.splice(0)) }),
    });
    const dropped = folder('walls', [
      file('walls.tex', '\\documentclass{article}\n\\usepackage{tikzbird}\n\\begin{document}\nOf walls. \\input{parts/one}\\input{gone}\n\\end{document}\n'),
      file('walls.aux', 'x'),
      folder('parts', [file('one.tex', 'Part one.')]),
    ]);
    // What a browser gives for a dropped folder; scripts can’t make one.
    DataTransferItem.prototype.webkitGetAsEntry = () => dropped;
    const transfer = new DataTransfer();
    transfer.items.add(new File(['x'], 'walls'));
    for (const kind of ['dragenter', 'drop']) window.dispatchEvent(new DragEvent(kind, { dataTransfer: transfer, bubbles: true, cancelable: true }));
  });
  const asked = page.getByRole('dialog');
  await asked.getByRole('button', { name: 'Import' }).click();
  await asked.getByText('tikzbird').waitFor();
  await asked.getByText(/1 by-product/).waitFor();
  await asked.getByText(/“gone”/).waitFor();
  await asked.getByRole('link', { name: 'Open it' }).click();
  const strip = page.getByRole('region', { name: 'How it came in' });
  await strip.getByText('2 files; compiling starts at walls.tex.').waitFor();
  await page.reload();
  await strip.getByText('tikzbird').waitFor();
  await strip.getByRole('button', { name: 'I’ve read it' }).click();
  await strip.waitFor({ state: 'detached' });
  await editor(page).waitFor();
  await page.context().close();
});
