import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, signIn, writeAs } from './browser.mjs';

const running = application();

const stored = (page, path) =>
  page.evaluate(async (wanted) => {
    const { files } = await (await fetch('/api/manuscripts/1')).json();
    const file = files.find((f) => f.path === wanted);
    return (await (await fetch(`/api/manuscripts/1/files/${file.id}`)).json()).text;
  }, path);

async function setUpAs(who, room = 'set-up') {
  const page = await signIn(running.browser, running.demo.address, who);
  await page.goto(`${running.demo.address}/m/1/${room}`);
  return page;
}

const setting = (page, name) => page.getByRole('group', { name, exact: true });
const preamble = (page) => page.getByRole('region', { name: 'Preamble in main.tex' });
const says = (page, words) => eventually(async () => (await preamble(page).innerText()).includes(words), async () => `${words} in ${await preamble(page).innerText()}`);

test('settings are changed in the preamble’s own text, the page follows, and all is taken back', async () => {
  const page = await setUpAs('Ilse Marrable');
  await setting(page, 'Type size').getByRole('radio', { name: '11 pt' }).waitFor();
  assert.equal(await setting(page, 'Type size').getByRole('radio', { name: '11 pt' }).getAttribute('data-state'), 'on');
  // As the class has it, where nothing says otherwise.
  assert.equal(await setting(page, 'Printed on').getByRole('radio', { name: 'one side' }).getAttribute('data-state'), 'on');
  const first = await stored(page, 'main.tex');
  const facts = page.getByRole('region', { name: 'A spread, as set' });
  const lines = async () => Number(/(\d+) lines/.exec(await facts.innerText())[1]);
  const before = await lines();

  await setting(page, 'Type size').getByRole('radio', { name: '12 pt' }).click();
  await says(page, '\\documentclass[12pt,a4paper]{report}');
  await setting(page, 'Line spacing').getByRole('radio', { name: 'double' }).click();
  await says(page, '\\usepackage{setspace}\\doublespacing');
  await eventually(async () => (await lines()) < before * 0.65, async () => `${await lines()} lines of ${before}`);
  // Only what was asked for.
  const now = await stored(page, 'main.tex');
  assert.equal(now.replace('12pt', '11pt').replace('\\usepackage{setspace}\\doublespacing\n', ''), first);
  await page.getByRole('button', { name: 'Undo' }).click();
  await eventually(async () => !(await preamble(page).innerText()).includes('doublespacing'), 'the spacing taken back');

  // By keyboard: a length is taken with Enter; one that is none is refused in words and nothing is lost.
  const left = page.getByRole('textbox', { name: 'Left margin' });
  await left.fill('35mm');
  await left.press('Enter');
  await says(page, '\\usepackage[left=35mm]{geometry}');
  await eventually(async () => /35 mm/.test(await facts.getByRole('img').getAttribute('aria-label')), 'the margin drawn');
  await left.fill('wide');
  await left.press('Enter');
  await page.getByRole('alert').getByText(/“wide” is no length/).waitFor();
  await left.fill('19cm');
  await left.press('Enter');
  await says(page, 'left=19cm');
  await left.fill('');
  await left.press('Enter');
  await eventually(async () => !(await preamble(page).innerText()).includes('geometry'), 'the margin gone');

  // What fights is said, with the way out.
  await setting(page, 'Paragraphs').getByRole('radio', { name: 'parted by space' }).click();
  await page.getByRole('textbox', { name: 'Indent' }).fill('1em');
  await page.getByRole('textbox', { name: 'Indent' }).press('Enter');
  await page.getByText('Paragraphs are parted by space, and an indent is set too.').waitFor();
  await page.getByRole('button', { name: 'Take it away' }).click();
  await eventually(async () => (await page.getByRole('list', { name: 'What fights' }).count()) === 0, 'nothing fights');
  await page.context().close();
});

test('lines and settings light up both ways, and two people who change one setting both see the later one', async () => {
  const ilse = await setUpAs('Ilse Marrable');
  const bao = await setUpAs('Bao Tremlett');
  await setting(ilse, 'Paper').hover();
  const lit = preamble(ilse).locator('button.bg-mark');
  await eventually(async () => (await lit.allInnerTexts()).some((t) => t.includes('\\documentclass')), async () => (await lit.allInnerTexts()).join());
  await preamble(ilse).getByRole('button', { name: /\\title/ }).click();
  await eventually(() => ilse.evaluate(() => document.activeElement?.getAttribute('aria-label') === 'Title'), 'the title has the focus');
  await setting(bao, 'Paper').getByRole('radio', { name: 'A5' }).waitFor();
  await Promise.all([
    setting(ilse, 'Paper').getByRole('radio', { name: 'A5' }).click(),
    setting(bao, 'Paper').getByRole('radio', { name: 'B5' }).click(),
  ]);
  await eventually(
    async () => (await preamble(ilse).innerText()) === (await preamble(bao).innerText()) && /[ab]5paper/.test(await preamble(bao).innerText()),
    'one paper for both',
  );
  assert.equal((await stored(ilse, 'main.tex')).match(/paper/g).length, 1);
  await setting(ilse, 'Paper').getByRole('radio', { name: 'A4' }).click();
  await says(bao, 'a4paper');
  for (const page of [ilse, bao]) await page.context().close();
});

test('packages say what they are there for, and are loaded and taken out', async () => {
  const page = await setUpAs('Ilse Marrable');
  await page.getByRole('tab', { name: /Packages/ }).click();
  const loaded = page.getByRole('list', { name: 'Loaded packages' });
  await loaded.getByText('for \\toprule').waitFor();
  const first = await stored(page, 'main.tex');
  await page.getByRole('textbox', { name: 'Find a package' }).fill('\\cref');
  await page.getByRole('button', { name: 'Load cleveref' }).click();
  await says(page, '\\usepackage{cleveref}');
  assert.match(await stored(page, 'main.tex'), /\{hyperref\}[^]*\{cleveref\}/);
  await loaded.getByText('Nothing that it gives is used.').or(loaded.getByText('works by being loaded').last()).waitFor();
  await page.getByRole('button', { name: 'Take cleveref out' }).click();
  await eventually(async () => (await stored(page, 'main.tex')) === first, 'the first text');
  await page.context().close();
  // Who may only read sees it all and changes nothing.
  const reader = await setUpAs('Perpetua Vane');
  await reader.getByRole('tab', { name: /Packages/ }).click();
  await reader.getByRole('list', { name: 'Loaded packages' }).waitFor();
  assert.equal(await reader.getByRole('button', { name: /^(Load|Take) / }).count(), 0);
  await reader.getByRole('tab', { name: 'Settings' }).click();
  // As another test of this file left it.
  await setting(reader, 'Type size').getByText(/^1[12] pt$/).waitFor();
  assert.equal(await reader.getByRole('radio').count(), 0);
  await reader.context().close();
});

test('labels are found, filtered, renamed and mended, and lead to the sentences that use them', async () => {
  const page = await setUpAs('Ilse Marrable', 'cross-refs');
  const table = page.getByRole('table', { name: 'Labels' });
  const row = (words) => table.getByRole('row').filter({ hasText: words });
  await row('sec:delay').waitFor();
  // What a co-writer adds comes by itself.
  const other = await writeAs(running, 'Bao Tremlett', 'chapters/close.tex');
  await cursorIn(other, 'Lichen dates a wall');
  await other.keyboard.type('\\label{par:here}See Section~\\ref{sec:delay} too, and \\ref{sec:delai}. ');
  await row('par:here').waitFor();
  // All of it has come to the others before its page is closed: typing is longer than the first words take to be shown.
  await eventually(async () => (await stored(page, 'chapters/close.tex')).includes('\\ref{sec:delai}. '), 'what was typed');
  await other.context().close();

  // One that is defined nowhere is mended where it is used.
  await page.getByRole('button', { name: /unresolved/ }).click();
  const detail = page.getByRole('region', { name: 'The label', exact: true });
  // Rows move while the proofs of what was half typed come in, and its mend comes with the last of them.
  await eventually(async () => {
    await row('sec:delai').click();
    return (await detail.getByRole('button', { name: 'Write sec:delay' }).count()) > 0;
  }, 'the label chosen');
  await detail.getByRole('button', { name: 'Write sec:delay' }).click();
  await eventually(async () => !(await stored(page, 'chapters/close.tex')).includes('sec:delai'), 'the key mended');
  await eventually(async () => (await row('sec:delai').count()) === 0, 'the row gone');
  await page.getByRole('button', { name: /unresolved/ }).click();
  await page.getByRole('button', { name: /never used/ }).click();
  await eventually(async () => (await table.getByRole('row').count()) === 2, 'the head and one row');
  await page.getByRole('button', { name: /never used/ }).click();
  await page.getByRole('textbox', { name: 'Find a label' }).fill('delay start');
  await row('sec:delay').click();
  await detail.getByText('See Section').first().waitFor();
  assert.match(await detail.innerText(), /3\.2\s+The delay at the start/);
  await detail.getByRole('button', { name: 'Rename everywhere' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'New name' }).fill('sec:wait');
  // Where it stands is listed first: what was mended a moment ago is in it.
  await dialog.getByText('It stands in 6 places').waitFor();
  // A press counts although the button moves away before it is let go, as when a list above it comes in.
  const at = await dialog.getByRole('button', { name: 'Rename' }).boundingBox();
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await dialog.evaluate((panel) => (panel.style.paddingTop = '9rem'));
  await page.mouse.up();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await page.getByRole('textbox', { name: 'Find a label' }).fill('');
  await row('sec:wait').waitFor();
  assert.match(await stored(page, 'chapters/valley.tex'), /\\ref\{sec:wait\}/);

  // Equations are drawn, figures shown, lists as they print.
  await row('eq:growth').click();
  await detail.getByRole('img', { name: /The formula as it prints/ }).waitFor();
  await page.getByRole('radio', { name: 'Gallery' }).click();
  await page.getByRole('list', { name: 'Figures and tables' }).getByRole('img').first().waitFor();
  await page.getByRole('radio', { name: 'As printed' }).click();
  await page.getByRole('region', { name: 'Tables', exact: true }).waitFor();
  await page.getByRole('list', { name: 'Contents' }).getByRole('link', { name: 'Thirty-eight walls' }).click();
  await editor(page).waitFor();
  assert.match(page.url(), /file=chapters%2Fwalls\.tex/);
  await page.context().close();
});

test('both rooms open quickly for a book of over a hundred pages', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  const id = await page.evaluate(async () => (await (await fetch('/api/manuscripts')).json()).find((m) => m.title === 'A Field Book of Walls').id);
  await page.goto(`${running.demo.address}/m/${id}/write`);
  await editor(page).waitFor();
  await page.getByText('current').waitFor();
  for (const [room, what] of [
    ['Set-up', () => setting(page, 'Type size')],
    ['Cross-refs', () => page.getByRole('table', { name: 'Labels' }).getByRole('row').nth(3)],
  ]) {
    const begun = Date.now();
    await page.getByRole('link', { name: room }).click();
    await what().waitFor();
    console.log(`${room} of ${id}: ${Date.now() - begun} ms`);
  }
  await page.context().close();
});

test('a set-up of the group is saved under a name, looked at, and applied to another manuscript', async () => {
  const page = await setUpAs('Ilse Marrable');
  await page.getByRole('tab', { name: 'Of the group' }).click();
  await page.getByRole('textbox', { name: /Save this manuscript’s set-up/ }).fill('House style');
  await page.getByRole('button', { name: 'Save it' }).click();
  await page.getByText('House style').waitFor();
  await page.context().close();

  const other = await signIn(running.browser, running.demo.address, 'Bao Tremlett');
  await other.goto(`${running.demo.address}/m/2/set-up`);
  await other.getByRole('tab', { name: 'Of the group' }).click();
  assert.equal(await other.getByRole('button', { name: 'Delete House style' }).count(), 0);
  await other.getByRole('button', { name: 'What House style would change' }).click();
  const changes = other.getByRole('region', { name: 'What House style would change' });
  await changes.getByRole('checkbox', { name: /Document class.*report/ }).uncheck();
  // What is only set here stays, unless it is wanted gone.
  assert.equal(await changes.getByRole('checkbox', { name: /Columns.*two/ }).isChecked(), false);
  await changes.getByRole('checkbox', { name: /Columns.*two/ }).check();
  await changes.getByRole('button', { name: /^Apply \d+ changes$/ }).click();
  await other.getByText(/“House style” is applied/).waitFor();
  const shown = other.getByRole('region', { name: 'Preamble in main.tex' });
  await eventually(async () => /\\documentclass\[1[12]pt,a4paper\]\{article\}/.test((await shown.innerText()).replace(/\s/g, '')), async () => shown.innerText());
  assert.match(await shown.innerText(), /\\title\{Shade and Slow Growth/);
  await changes.getByRole('checkbox', { name: /Document class.*report/ }).waitFor();
  await other.getByRole('button', { name: 'Undo' }).click();
  await eventually(async () => (await shown.innerText()).replace(/\s/g, '').includes('[10pt,a4paper,twocolumn]{article}'), async () => shown.innerText());
  await other.context().close();
});

test('authors, the abstract, a factor for the lines and a family in its own letters are fields', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.goto(`${running.demo.address}/m/2/set-up`);
  const shown = page.getByRole('region', { name: 'Preamble in main.tex' });
  const comes = (words) => eventually(async () => (await shown.innerText()).replace(/\s+/g, ' ').includes(words), async () => `${words} in ${await shown.innerText()}`);
  const institute = page.getByRole('textbox', { name: 'Institute of author 2' });
  await institute.fill('Hollin Edge');
  await institute.press('Enter');
  await comes('\\author{B. Tremlett \\and I. Marrable \\\\ Hollin Edge \\and A. Quill}');
  const factor = page.getByRole('textbox', { name: 'Line spacing, a factor' });
  await factor.fill('1.15');
  await factor.press('Enter');
  await comes('\\setstretch{1.15}');
  await page.getByText('Each in its own letters').click();
  await page.getByRole('img', { name: 'A line in Schola' }).waitFor();
  await page.getByRole('button', { name: /^Schola/ }).click();
  await comes('tgschola');
  const abstract = page.getByRole('textbox', { name: 'Abstract' });
  assert.match(await abstract.inputValue(), /^Thallus diameter/);
  await abstract.fill('Moss grows.\n\nSlowly.');
  await abstract.blur();
  await page.getByText(/^Abstract: /).waitFor();
  const text = await page.evaluate(async () => {
    const { files } = await (await fetch('/api/manuscripts/2')).json();
    return (await (await fetch(`/api/manuscripts/2/files/${files.find((f) => f.path === 'main.tex').id}`)).json()).text;
  });
  assert.match(text, /\\begin\{abstract\}\n\s*Moss grows\.\n\nSlowly\.\n\\end\{abstract\}/);
  await page.context().close();
});
