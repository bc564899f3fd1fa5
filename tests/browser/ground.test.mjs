// The interface's ground: places that are kept, narrow windows, keys.
import assert from 'node:assert/strict';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, text, writeAs } from './browser.mjs';

const running = application();

const place = (page) =>
  page.evaluate(() => ({
    source: document.querySelector('.cm-scroller').scrollTop,
    pages: document.querySelector('[aria-label="Pages"]').scrollTop,
    selected: getSelection().toString(),
  }));

const focused = (page) => page.evaluate(() => document.activeElement.closest('[data-leaf]')?.dataset.leaf ?? document.activeElement.tagName);

test('the place is kept over another file and another room: line, scroll, page, selection and undo', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/walls.tex');
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('checkbox', { name: 'Follow' }).uncheck();
  await page.locator('.cm-content').focus();
  await page.keyboard.press('Control+End');
  await page.keyboard.type('% kept');
  await page.keyboard.press('Shift+Control+ArrowLeft');
  await page.locator('[aria-label="Pages"]').evaluate((e) => e.scrollTo({ top: 2100 }));
  await page.waitForTimeout(400);
  const before = await place(page);
  assert.ok(before.source > 100 && before.pages > 2000, JSON.stringify(before));
  await page.getByRole('tab', { name: 'Files' }).click();
  const list = page.getByRole('list', { name: 'Files', exact: true });
  await list.getByRole('button', { name: 'chapters/why.tex', exact: true }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/why.tex' }).waitFor();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('textbox', { name: 'Find a source' }).fill('orme');
  await page.getByRole('link', { name: 'Write' }).click();
  // The ribbon leads to the file that was open last.
  await page.getByRole('textbox', { name: 'Source of chapters/why.tex' }).waitFor();
  await list.getByRole('button', { name: 'chapters/walls.tex', exact: true }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/walls.tex' }).waitFor();
  await page.locator('.cm-content').focus();
  const isThere = async () => {
    const now = await place(page);
    // Lines are no whole pixels high, and where one scrolled to is: they may differ by one.
    return Math.abs(now.source - before.source) <= 1 && now.pages === before.pages && now.selected === before.selected;
  };
  await eventually(isThere, async () => JSON.stringify([before, await place(page)]));
  await page.keyboard.press('Control+z');
  await eventually(async () => !(await text(page)).includes('% kept'), 'the typed words undone, after two other places');
  await page.getByRole('link', { name: 'Sources' }).click();
  assert.equal(await page.getByRole('textbox', { name: 'Find a source' }).inputValue(), 'orme');
  await page.context().close();
});

test('sizes, the folded spine and its face are kept for a person over a reload, and the fold has a visible way back', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.getByRole('tab', { name: 'Files' }).click();
  const separator = page.getByRole('separator', { name: 'Width of the source leaf' });
  const box = await separator.boundingBox();
  await page.mouse.move(box.x + 2, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x - 120, box.y + 200, { steps: 4 });
  await page.mouse.up();
  const width = async () => Math.round((await page.getByRole('region', { name: 'Source leaf' }).boundingBox()).width);
  const narrowed = await width();
  await page.getByRole('button', { name: 'Fold the spine away' }).click();
  await page.getByRole('button', { name: 'Unfold the spine' }).waitFor();
  await page.waitForTimeout(300);
  await page.reload();
  await editor(page).waitFor();
  assert.ok(Math.abs((await width()) - narrowed) < 12, `${await width()}, was ${narrowed}`);
  await page.getByRole('button', { name: 'Unfold the spine' }).click();
  await page.getByRole('list', { name: 'Files' }).waitFor();
  await page.context().close();
});

test('the spine follows the heading in view, and a page takes the width of its leaf again', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/clock.tex');
  await page.setViewportSize({ width: 1280, height: 420 });
  await page.getByRole('button', { name: /A clock with two hands/ }).waitFor();
  await page.locator('.cm-content').focus();
  await page.keyboard.press('Control+End');
  await eventually(async () => /When the hands/.test(await page.locator('[aria-current=location]').innerText()), 'the last section');
  await eventually(async () => page.locator('[aria-current=location]').evaluate((e) => {
    const inner = e.getBoundingClientRect();
    const outer = e.closest('[role=tabpanel]').getBoundingClientRect();
    return inner.top >= outer.top - 1 && inner.bottom <= outer.bottom + 1;
  }), 'the heading in view');
  await page.getByRole('button', { name: 'Larger' }).click();
  const fit = page.getByRole('button', { name: 'Fit', exact: true });
  assert.equal(await fit.getAttribute('aria-pressed'), 'false');
  await fit.click();
  assert.equal(await fit.getAttribute('aria-pressed'), 'true');
  // A whole page, and a page by its number.
  await page.getByRole('button', { name: 'Whole', exact: true }).click();
  const pages = page.getByRole('region', { name: 'Pages' });
  const height = async (of) => (await of.boundingBox()).height;
  await eventually(async () => (await height(page.locator('[data-sheet]').first())) <= (await height(pages)), 'a whole page in view');
  const number = page.getByRole('textbox', { name: 'Page', exact: true });
  await number.fill('3');
  await number.press('Enter');
  await eventually(async () => Math.abs((await page.locator('[data-sheet="3"]').boundingBox()).y - (await pages.boundingBox()).y) < 30, 'page 3');
  assert.equal(await number.inputValue(), '3');
  await number.fill('none');
  await number.press('Enter');
  await eventually(async () => (await number.inputValue()) === '3', 'still there');
  await fit.click();
  await page.context().close();
});

test('where it is narrow one leaf is shown at a time, and nothing is out of reach', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.locator('[data-sheet] canvas').first().waitFor();
  for (const [width, height] of [[640, 400], [390, 844], [820, 1100]]) {
    await page.setViewportSize({ width, height });
    await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Source' }).click();
    const source = await editor(page).boundingBox();
    assert.ok(source.height > 60, `the text at ${width}: ${source.height}`);
    await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Spine' }).click();
    await page.getByRole('tab', { name: 'Files' }).click();
    await page.getByRole('list', { name: 'Files' }).waitFor();
    await page.getByRole('tab', { name: 'Structure' }).click();
    await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Proof' }).click();
    for (const element of [page.getByTestId('proof-state'), page.getByRole('link', { name: 'PDF' }), page.getByRole('button', { name: 'People', exact: true }), page.getByRole('link', { name: 'Sources' })]) {
      const box = await element.boundingBox();
      assert.ok(box.x >= 0 && box.x + box.width <= width, `at ${width}: ${JSON.stringify(box)}`);
    }
    assert.equal(await page.evaluate(() => document.documentElement.scrollWidth > innerWidth), false, `no scrolling sideways at ${width}`);
  }
  // The other rooms stand one leaf below the other.
  for (const [room, there] of [['set-up', page.getByRole('group', { name: 'Type size' })], ['cross-refs?label=fig:growth', page.getByRole('table', { name: 'Labels' })], ['chronicle', page.getByRole('list', { name: 'History', exact: true })], ['hand-in', page.getByRole('region', { name: 'The checks' })]])
    for (const [width, height] of [[390, 844], [820, 1100]]) {
      await page.setViewportSize({ width, height });
      await page.goto(`${running.demo.address}/m/1/${room}`);
      await there.waitFor();
      assert.equal(await page.evaluate(() => document.documentElement.scrollWidth > innerWidth), false, `no scrolling sideways in ${room} at ${width}`);
    }
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/why.tex`);
  await page.locator('[data-sheet] canvas').first().or(editor(page)).first().waitFor();
  // What is chosen in the spine is shown in its leaf.
  await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Spine' }).click();
  await page.getByRole('button', { name: /The valley and its walls/ }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/valley.tex' }).waitFor();
  await page.context().close();
});

test('by key: out of the text, from leaf to leaf, from the proof to the source, and back from a dialog', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.locator('.cm-content').focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Tab');
  assert.notEqual(await page.evaluate(() => document.activeElement.className.includes('cm-content')), true);
  assert.equal((await text(page)).startsWith('\\chapter'), true, 'nothing was typed');
  await page.locator('.cm-content').focus();
  const seen = [];
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('F6');
    seen.push(await focused(page));
  }
  assert.deepEqual(new Set(seen), new Set(['findings', 'spine', 'proof', 'top']));
  await page.keyboard.press('Shift+F6');
  await page.keyboard.press('F6');
  assert.equal(await focused(page), seen.at(-1));
  for (const [room, leaves] of [['Set-up', ['settings', 'preamble', 'page', 'top']], ['Cross-refs', ['labels', 'top']]]) {
    await page.getByRole('link', { name: room }).click();
    await page.locator(`[data-leaf="${leaves[0]}"]`).waitFor();
    const found = new Set();
    for (let i = 0; i < leaves.length; i++) {
      await page.keyboard.press('F6');
      found.add(await focused(page));
    }
    assert.deepEqual(found, new Set(leaves), room);
  }
  await page.getByRole('link', { name: 'Write' }).click();
  await page.locator('[data-sheet] canvas').first().waitFor();
  const pages = page.getByRole('region', { name: 'Pages' });
  await pages.evaluate((e) => e.scrollTo({ top: (e.scrollHeight / 26) * 8 }));
  await page.waitForTimeout(500);
  await pages.focus();
  await page.keyboard.press('Enter');
  await eventually(async () => (await focused(page)) === 'source', 'the source of what is in view');
  // The focus goes back to the button of the menu that led to the dialog.
  await page.getByRole('tab', { name: 'Files' }).click();
  const more = page.getByRole('button', { name: 'More for figures/stone.jpg' });
  await more.focus();
  await page.keyboard.press('Enter');
  await page.getByRole('menuitem', { name: /Rename/ }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor();
  await page.keyboard.press('Escape');
  await eventually(() => more.evaluate((e) => e === document.activeElement), 'the focus back at the menu’s button');
  const people = page.getByRole('button', { name: 'People', exact: true });
  await people.focus();
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor();
  await page.keyboard.press('Escape');
  await eventually(() => people.evaluate((e) => e === document.activeElement), 'the focus back at People');
  await page.context().close();
});

test('everything is reached by its name: files, sections, labels, sources and what can be done', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  const reach = async (words, wanted) => {
    await page.keyboard.press('F4');
    await page.getByRole('combobox', { name: 'Name' }).fill(words);
    await page.getByRole('option', { selected: true }).filter({ hasText: wanted }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
  };
  await reach('quarries', /^Section\s*Quarries/);
  await page.getByRole('textbox', { name: 'Source of chapters/valley.tex' }).waitFor();
  await eventually(async () => /\\section\{Quarries\}/.test(await page.locator('.cm-activeLine').innerText()), 'at the section');
  await reach('sec:delay', /^Label\s*sec:delay/);
  await eventually(async () => /sec:delay/.test(await page.locator('.cm-activeLine').innerText()), 'at the label');
  // Within the same file too.
  await reach('early and late', /^Section\s*Early and late growth/);
  await eventually(async () => /Early and late growth/.test(await page.locator('.cm-activeLine').innerText()), 'at the other section');
  await reach('find in all', /Find in all files/);
  await eventually(() => page.getByRole('textbox', { name: 'Find', exact: true }).evaluate((e) => e === document.activeElement), 'the field');
  await reach('field2024', /^Source\s*field2024/);
  await page.getByRole('heading', { name: 'field2024' }).waitFor();
  // From another room.
  await reach('main.tex', /^File\s*main\.tex/);
  await page.getByRole('textbox', { name: 'Source of main.tex' }).waitFor();
  // By mouse; what has no name here is said.
  await page.keyboard.press('F4');
  await page.getByRole('combobox', { name: 'Name' }).fill('nothing of the kind');
  await page.getByText('Nothing here has such a name.').waitFor();
  await page.getByRole('combobox', { name: 'Name' }).fill('growth');
  await page.getByRole('option').filter({ hasText: 'chapters/growth.tex' }).first().click();
  await page.getByRole('textbox', { name: 'Source of chapters/growth.tex' }).waitFor();
  assert.deepEqual(page.problems, []);
  await page.context().close();
});
