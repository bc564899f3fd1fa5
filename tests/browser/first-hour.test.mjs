// The first hour of someone who never was here: from an account to a PDF that a co-author wrote along.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { application, editor, eventually, has, printed, text } from './browser.mjs';

const running = application();

// A picture of four dots.
const dots = 'iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVQI12P4z8DAwMDAxMDAwMDAAAANHQEDasKb6QAAAABJRU5ErkJggg==';

async function newAccount(page, name, address) {
  await page.getByRole('button', { name: 'I have no account yet' }).click();
  await page.getByRole('textbox', { name: 'Your name' }).fill(name);
  await page.getByRole('textbox', { name: 'E-mail address' }).fill(address);
  await page.getByLabel(/A password/).fill('words and more words');
  await page.getByRole('button', { name: 'Make the account' }).click();
}

const paste = (page, words) =>
  page.evaluate((plain) => {
    const data = new DataTransfer();
    data.setData('text/plain', plain);
    document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, words);

/** A line of its own above the end of the document, with the cursor in it. */
async function lineBeforeTheEnd(page) {
  await editor(page).focus();
  await page.keyboard.press('Control+End');
  await page.locator('.cm-line', { hasText: '\\end{document}' }).click();
  await page.keyboard.press('Home');
  await page.keyboard.type('\n\n');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
}

test('the first hour: an account, an article with all that belongs into one, slips mended, a co-author, a PDF', { timeout: 230000 }, async () => {
  const context = await running.browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block', acceptDownloads: true });
  const page = await context.newPage();
  await page.goto(running.demo.address);
  await newAccount(page, 'Una Fell', 'una@moor.example');
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  await page.getByRole('button', { name: 'Start a manuscript' }).first().click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Stones in the Mist');
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await editor(page).waitFor();
  await page.locator('[data-sheet] canvas').first().waitFor();
  await eventually(async () => /Stones in the Mist/.test(await printed(page)), 'the title in the proof');

  // Sections, by completion; a list by the bar over chosen words.
  await lineBeforeTheEnd(page);
  await page.keyboard.type('\\section{Walks}\\label{sec:walks}\nWe went out on three days:\n\nmist\nrain\nsun');
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Shift+Home');
  await page.getByRole('toolbar', { name: 'With the chosen words' }).getByRole('button', { name: 'List', exact: true }).click();
  await has(page, '\\begin{itemize}\n  \\item mist\n  \\item rain\n  \\item sun\n\\end{itemize}');
  await eventually(async () => /Walks/.test(await printed(page)) && /mist/.test(await printed(page)), 'the section in the proof');

  // A figure by drop.
  await lineBeforeTheEnd(page);
  await page.locator('.cm-activeLine').evaluate((element, base64) => {
    const data = new DataTransfer();
    data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'mist.png', { type: 'image/png' }));
    const box = element.getBoundingClientRect();
    for (const kind of ['dragenter', 'dragover', 'drop'])
      element.dispatchEvent(new DragEvent(kind, { clientX: box.x + 10, clientY: box.y + 8, dataTransfer: data, bubbles: true, cancelable: true }));
  }, dots);
  await has(page, 'figures/mist.png');
  await page.keyboard.type('The mist');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await eventually(async () => /Figure 1: The mist/.test(await printed(page)), 'the figure');

  // A table by paste.
  await lineBeforeTheEnd(page);
  await paste(page, 'Day\tStones\nMist\t12\nRain\t7\n');
  await page.getByRole('dialog', { name: 'A new table' }).getByRole('button', { name: 'Put it in' }).click();
  await has(page, '\\caption{}');
  await page.keyboard.type('Stones by day');
  await page.keyboard.press('Tab');
  await page.keyboard.type('days');
  await eventually(async () => /Table 2: Stones by day/.test(await printed(page)), 'the table');

  // A formula.
  await lineBeforeTheEnd(page);
  await page.keyboard.press('Control+m');
  const helper = page.getByRole('dialog', { name: 'A new formula' });
  await helper.getByRole('radio', { name: 'With a number' }).check();
  await helper.getByRole('textbox', { name: 'Formula' }).click();
  await page.keyboard.type('m = ');
  await helper.getByRole('button', { name: 'Fraction' }).click();
  await page.keyboard.type('s');
  await page.keyboard.press('Tab');
  await page.keyboard.type('d');
  await helper.getByRole('img').waitFor();
  await helper.getByRole('button', { name: 'Put it in' }).click();
  await has(page, '\\begin{equation}\n  m = \\frac{s}{d}\n\\end{equation}');

  // Two citations out of one pasted record and one more, a reference, a footnote.
  await lineBeforeTheEnd(page);
  await page.keyboard.type('As ');
  for (const [key, who] of [['fell2020', 'Una Fell'], ['moor2021', 'Ada Moor']]) {
    await paste(page, `@book{${key}, author = {${who}}, title = {Stones of ${who}}, year = {2020}, publisher = {Hill Press}}`);
    await page.getByRole('button', { name: 'File it and cite it' }).click();
    await has(page, `{${key}}`);
    await page.keyboard.type(' and ');
  }
  await page.keyboard.type('as Section~');
  await page.keyboard.press('F9');
  await page.getByRole('dialog', { name: 'Refer to' }).getByRole('combobox').fill('walks');
  await page.getByRole('option', { name: /sec:walks/ }).waitFor();
  await page.keyboard.press('Enter');
  await has(page, '\\ref{sec:walks}');
  await page.keyboard.type(' say\\footnote{Not always.}.');
  await eventually(async () => /as Section.\d say/.test(await printed(page)), 'the reference in the proof');

  // Slips of a first hour, each mended by its button.
  await lineBeforeTheEnd(page);
  await page.keyboard.insertText('A \\emhp{word}, $a+b, and \\includegrpahics{figures/mist.png}.\n\n\\begin{itemise}\n\\item one\n\\end{itemise}\n\n50% of R\\#1 & two, a_b, \\left(x, \\ref{sec:wlaks}.');
  const findings = page.getByRole('region', { name: 'Findings' });
  await findings.getByText('\\emhp').first().waitFor();
  let before = '';
  for (let i = 0; i < 16; i++) {
    const mend = findings.getByRole('listitem').getByRole('button', { name: /^(Write|Load|Put|Close|Mend)/ }).first();
    await page.waitForTimeout(1200);
    const now = await text(page);
    if (now === before || (await mend.count()) === 0) break;
    before = now;
    await mend.click();
  }
  const mended = await text(page);
  assert.match(mended, /\\emph\{word\}/);
  assert.match(mended, /\\begin\{itemize\}\n\\item one\n\\end\{itemize\}/);
  assert.match(mended, /50\\%/);
  assert.match(mended, /a\$?\\?_/);

  // A co-author comes in and writes along.
  await page.getByRole('button', { name: 'People', exact: true }).click();
  const people = page.getByRole('dialog');
  await people.getByRole('textbox', { name: /Invite/ }).fill('ada@moor.example');
  await people.getByRole('button', { name: 'Invite' }).click();
  await people.getByRole('list', { name: 'Invitations' }).getByText('ada@moor.example').waitFor();
  const link = /\/join\/[\w-]+/.exec(await people.innerText())[0];
  const other = await (await running.browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' })).newPage();
  await other.goto(running.demo.address + link);
  await newAccount(other, 'Ada Moor', 'ada@moor.example');
  await other.getByRole('button', { name: /Ask to come in/ }).click();
  await people.getByRole('button', { name: 'Let in' }).click();
  await people.getByRole('combobox', { name: 'Role of Ada Moor' }).waitFor();
  await page.keyboard.press('Escape');
  await other.goto(page.url());
  await editor(other).waitFor();
  await other.getByRole('list', { name: 'Structure' }).getByRole('button', { name: /Walks/ }).click();
  await other.locator('.cm-line', { hasText: 'We went out on three days' }).click();
  await other.keyboard.press('Home');
  const along = other.keyboard.type('Ada came along. ', { delay: 25 });
  await lineBeforeTheEnd(page);
  await page.keyboard.type('The end is near.', { delay: 25 });
  await along;
  await eventually(async () => /Ada came along\. We went out/.test(await printed(other)), 'both in the proof');
  await other.keyboard.press('Control+End');
  await has(other, 'The end is near.');

  // The PDF.
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'PDF' }).click()]);
  const path = await download.path();
  assert.ok(readFileSync(path).subarray(0, 5).toString() === '%PDF-');
  const words = execFileSync('pdftotext', [path, '-']).toString().replace(/\s+/g, ' ');
  for (const wanted of ['Stones in the Mist', 'Ada came along. We went out', 'Figure 1: The mist', 'Table 2: Stones by day', 'Not always.', 'Stones of Una Fell', 'The end is near.'])
    assert.ok(words.includes(wanted), `“${wanted}” in ${words}`);
  await other.context().close();
  await context.close();
});
