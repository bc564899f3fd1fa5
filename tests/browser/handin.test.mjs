// The Hand-in room as an author, another author and a reader use it.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { test } from 'node:test';
import { application, cursorIn, eventually, signIn, text, writeAs } from './browser.mjs';

const running = application();
const check = (page, key) => page.locator(`[data-check="${key}"]`);
const state = (page, key) => check(page, key).getAttribute('data-state');
async function handInAs(name) {
  const page = await signIn(running.browser, running.demo.address, name);
  page.problems = [];
  page.on('pageerror', (e) => page.problems.push(e.message));
  await page.goto(`${running.demo.address}/m/1/hand-in`);
  await page.getByRole('region', { name: 'The checks' }).waitFor();
  return page;
}

test('checks go with the text: what is mended elsewhere holds here, and a place leads to its line', async () => {
  const ilse = await handInAs('Ilse Marrable');
  assert.equal(await state(ilse, 'references'), 'mend');
  await check(ilse, 'references').getByRole('link', { name: /chapters\/clock\.tex, line \d+/ }).click();
  await ilse.getByRole('textbox', { name: 'Source of chapters/clock.tex' }).waitFor();
  await eventually(async () => (await ilse.locator('.cm-activeLine').innerText()).includes('sec:rule'), 'at the reference');
  await ilse.getByRole('link', { name: 'Hand-in', exact: true }).click();
  await check(ilse, 'references').waitFor();
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/clock.tex');
  await cursorIn(bao, 'sec:rule', 'End');
  await bao.keyboard.type(' \\label{sec:rule}');
  await eventually(async () => (await state(ilse, 'references')) === 'holds', 'the reference leads somewhere');
  assert.deepEqual([...ilse.problems, ...bao.problems], []);
  await ilse.context().close();
  await bao.context().close();
});

test('rules are chosen, made and used by the group; words for a picture go into the markup', async () => {
  const ilse = await handInAs('Ilse Marrable');
  const bao = await handInAs('Bao Tremlett');
  await ilse.getByRole('combobox', { name: 'Rules of' }).selectOption('bound-thesis');
  await eventually(async () => (await state(bao, 'spacing')) === 'mend', 'the rules at the other’s');
  await ilse.getByRole('button', { name: 'Make your own' }).click();
  const dialog = ilse.getByRole('dialog');
  await dialog.getByLabel('What they are called').fill('Office of Perpetua Vane');
  await dialog.getByLabel('Margins, at least: Inner').fill('10');
  await dialog.getByLabel('Words of the abstract: Fewest').fill('');
  await dialog.getByLabel('Words of the abstract: Most').fill('');
  await dialog.getByLabel('Lines, at least').selectOption('');
  await dialog.getByLabel('Pages: Fewest').fill('40');
  await dialog.getByLabel('Pages: Most').fill('30');
  await dialog.getByRole('button', { name: 'Save and use' }).click();
  await dialog.getByRole('alert').getByText('The most can’t be less than the fewest.').waitFor();
  await dialog.getByLabel('Pages: Fewest').fill('20');
  await dialog.getByRole('button', { name: 'Save and use' }).click();
  await dialog.waitFor({ state: 'detached' });
  await eventually(async () => (await check(bao, 'pages').innerText()).includes('20 to 30'), 'the house’s pages');
  const chosen = bao.getByRole('combobox', { name: 'Rules of' }).locator('option:checked');
  await eventually(async () => (await chosen.textContent()) === 'Office of Perpetua Vane', 'the house’s name');

  const mute = check(ilse, 'alternatives');
  const count = async () => Number(/(\d+) pictures/.exec(await mute.innerText())?.[1]);
  const before = await count();
  assert.ok(before > 2);
  const field = mute.getByRole('textbox', { name: /^What figures\/growth\.svg shows|growth/ }).first();
  await field.fill('A curve that rises steeply & settles');
  await field.press('Enter');
  await eventually(async () => (await count()) === before - 1, 'one less is mute');
  const source = await writeAs(running, 'Ilse Marrable', 'chapters/growth.tex');
  await eventually(async () => (await text(source)).includes('alt={A curve that rises steeply \\& settles}'), () => text(source));
  assert.deepEqual([...ilse.problems, ...bao.problems], []);
  for (const page of [ilse, bao, source]) await page.context().close();
});

test('a manuscript is had as a page of HTML that holds by itself, as words alone, and as a table of its words', async () => {
  const perpetua = await handInAs('Perpetua Vane');
  const goes = perpetua.getByRole('region', { name: 'What goes out' });
  const had = async (name) => {
    const [file] = await Promise.all([perpetua.waitForEvent('download'), goes.getByRole('link', { name }).click()]);
    return { name: file.suggestedFilename(), text: readFileSync(await file.path(), 'utf8') };
  };
  const words = await had('words by section');
  assert.match(words.name, /-words\.csv$/);
  assert.match(words.text, /\r\n,In all,\d+,\r\n$/);
  assert.match((await had('the words alone')).text, /^Reading Walls by Lichen\n/);
  // Figures come apart, each under its number, with a list of their captions.
  const figures = await had('the figures apart');
  assert.match(figures.name, /-figures\.zip$/);
  assert.match(figures.text, /captions\.txt[^]*figure-\d-\d\.(svg|png|pdf)/);
  // The PDF is written anew without the author, under a name that doesn't say hers.
  await goes.getByLabel(/an anonymous copy/).check();
  await goes.getByText(/compiled again just now: \d+ pages, the same/).waitFor();
  const anonymous = await (async () => {
    const [file] = await Promise.all([perpetua.waitForEvent('download'), goes.getByRole('link', { name: 'Get it' }).click()]);
    return { name: file.suggestedFilename(), text: execFileSync('pdftotext', [await file.path(), '-'], { encoding: 'utf8' }) };
  })();
  assert.doesNotMatch(anonymous.name, /marrable/);
  assert.match(anonymous.text, /Reading Walls by Lichen/);
  assert.doesNotMatch(anonymous.text.split('Bibliography')[0].slice(0, 600), /Marrable/);
  await goes.getByLabel(/an anonymous copy/).uncheck();
  const page = await had('HTML with MathML');
  // It is what the standard of HTML calls valid, asks for nothing, and reads well for everyone.
  const { HtmlValidate } = await import('html-validate');
  const checked = await new HtmlValidate({
    extends: ['html-validate:standard'],
    // Formulas belong to another standard; whether styles stand beside words is a matter of taste.
    rules: { 'no-inline-style': 'off', 'no-trailing-whitespace': 'off', 'long-title': 'off', 'void-style': 'off', 'no-raw-characters': 'off' },
  }).validateString(page.text.replace(/<math[\s\S]*?<\/math>/g, ''));
  assert.deepEqual(checked.results.flatMap((r) => r.messages.map((m) => `${m.line}:${m.column} ${m.ruleId} ${m.message}`)).slice(0, 10), []);
  const reader = await running.browser.newPage({ viewport: { width: 1280, height: 800 } });
  const asked = [];
  reader.on('request', (r) => r.url().startsWith('http') && asked.push(r.url()));
  await reader.setContent(page.text);
  assert.ok((await reader.locator('math').count()) > 10);
  await reader.addScriptTag({ path: createRequire(import.meta.url).resolve('axe-core/axe.min.js') });
  const { violations } = await reader.evaluate(() => window.axe.run(document, { rules: { 'image-alt': { enabled: false } } }));
  // Its rule of empty heads sees no formulas.
  const left = violations.filter((v) => !v.nodes.every((n) => v.id === 'empty-table-header' && n.html.includes('<math')));
  assert.deepEqual(left.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 120)}`), []);
  assert.deepEqual(asked, []);
  assert.deepEqual(perpetua.problems, []);
  await reader.close();
  await perpetua.context().close();
});

test('a manuscript is handed in as it is, with its sources; the letter brings the files, and a reader sees what went out', async () => {
  const ilse = await handInAs('Ilse Marrable');
  const goes = ilse.getByRole('region', { name: 'What goes out' });
  await goes.getByText(/compiled again just now: \d+ pages, the same/).waitFor();
  await goes.getByLabel('in one file').check();
  await goes.getByLabel('without comments and typed notes').check();
  await eventually(async () => /compiled again just now: \d+ pages, the same/.test(await goes.innerText()) && !/Packing/.test(await goes.innerText()), 'one file, the same pages');
  await goes.getByLabel('Changes marked since').check();
  // The PDF for keeping says which standard it keeps to, and brings its sources.
  await goes.getByLabel('What the PDF is made for').selectOption('for keeping, with its sources (PDF/A-3)');
  const [kept] = await Promise.all([ilse.waitForEvent('download'), goes.getByRole('link', { name: 'Get it' }).click()]);
  const written = readFileSync(await kept.path(), 'latin1');
  assert.match(written, /<pdfaid:part>3<\/pdfaid:part>\s*<pdfaid:conformance>U</);
  assert.match(written, /\/EmbeddedFile \/Subtype \/application#2Fzip/);
  // One for those who listen says what stands against it, with the way there.
  await goes.getByLabel('What the PDF is made for').selectOption('for those who listen to it, too (PDF/UA-1)');
  await goes.getByText('It can’t say that it is accessible').waitFor();
  assert.match(await goes.getByRole('link', { name: /, line \d+$/ }).first().getAttribute('href'), /^\/m\/1\/write\?file=.*&line=\d+$/);
  const [told] = await Promise.all([ilse.waitForEvent('download'), goes.getByRole('link', { name: 'Get it' }).click()]);
  assert.match(readFileSync(await told.path(), 'latin1'), /application#2Fmathml\+xml/);
  await goes.getByLabel('What the PDF is made for').selectOption('for keeping, with its sources (PDF/A-3)');
  const form = ilse.getByRole('region', { name: 'Hand in' });
  await form.getByLabel('What to call it').fill('To the supervisor');
  await form.getByLabel('To, by letter').fill('anton.quill@hollin-edge.example');
  assert.equal(await form.getByRole('button', { name: 'Hand in', exact: true }).isDisabled(), true);
  await form.getByRole('button', { name: 'hand in as it is' }).click();
  await form.getByText('Handed in: To the supervisor.').waitFor();
  const row = form.getByRole('list', { name: 'Handed in before' }).getByRole('listitem').first();
  assert.match(await row.innerText(), /To the supervisor[\s\S]*sources\.zip[\s\S]*changes\.pdf/);
  const [file] = await Promise.all([ilse.waitForEvent('download'), row.getByRole('link', { name: /sources\.zip/ }).click()]);
  assert.match(file.suggestedFilename(), /sources\.zip$/);
  await ilse.getByRole('link', { name: 'Chronicle', exact: true }).click();
  await eventually(async () => (await ilse.locator('main').getByText('To the supervisor').count()) > 0, 'its pin');

  const anton = await signIn(running.browser, running.demo.address, 'Anton Quill');
  await anton.goto(`${running.demo.address}/outbox`);
  await anton.getByRole('heading', { name: 'Reading Walls by Lichen: To the supervisor' }).waitFor();
  const letter = anton.getByRole('list', { name: 'Files with this letter' });
  assert.equal(await letter.getByRole('link').count(), 3);
  const [pdf] = await Promise.all([anton.waitForEvent('download'), letter.getByRole('link').first().click()]);
  assert.match(pdf.suggestedFilename(), /\.pdf$/);
  assert.match(readFileSync(await pdf.path(), 'latin1'), /<pdfaid:part>3</);
  await anton.context().close();

  const reader = await handInAs('Perpetua Vane');
  await reader.getByText('Authors hand in. Here you see what went out.').waitFor();
  assert.equal(await reader.getByRole('button', { name: 'hand in as it is' }).count(), 0);
  assert.equal(await reader.getByRole('combobox', { name: 'Rules of' }).isDisabled(), true);
  await reader.getByRole('list', { name: 'Handed in before' }).getByText('To the supervisor').waitFor();
  assert.deepEqual([...ilse.problems, ...reader.problems], []);
  await ilse.context().close();
  await reader.context().close();
});
