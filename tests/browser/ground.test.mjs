// The interface's ground: places that are kept, narrow windows, keys, screen readers, trouble, dropped files.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { brotliCompressSync, constants } from 'node:zlib';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, has, signIn, text, writeAs } from './browser.mjs';

const running = application();
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What axe-core finds wrong on a page; an open menu lies outside the landmarks by its nature. */
async function wrongs(page, where) {
  await page.evaluate(axe);
  const { violations } = await page.evaluate(() =>
    globalThis.axe.run(document, { resultTypes: ['violations'], rules: { region: { enabled: !document.querySelector('[role=menu]') } } }),
  );
  return violations.map((v) => `${where}: ${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}

const place = (page) =>
  page.evaluate(() => ({
    source: document.querySelector('.cm-scroller').scrollTop,
    pages: document.querySelector('[aria-label="Pages"]').scrollTop,
    selected: getSelection().toString(),
  }));

/** Lets go of files over the window, as from a folder beside it. */
const drop = (page, ...files) =>
  page.evaluate((all) => {
    const dataTransfer = new DataTransfer();
    for (const { name, words } of all) dataTransfer.items.add(new File([words], name));
    for (const kind of ['dragenter', 'dragover', 'drop']) document.querySelector('#root').dispatchEvent(new DragEvent(kind, { dataTransfer, bubbles: true, cancelable: true }));
  }, files);

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
  await eventually(async () => JSON.stringify(await place(page)) === JSON.stringify(before), async () => JSON.stringify([before, await place(page)]));
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

test('typing says nothing to a screen reader; trouble and its end are said once each', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  await page.locator('[data-sheet] canvas').first().waitFor();
  await cursorIn(page, 'Two quarries gave');
  await page.evaluate(() => {
    globalThis.said = [];
    new MutationObserver((all) => {
      for (const { target } of all) {
        const region = (target.nodeType === 1 ? target : target.parentElement)?.closest('[role=status], [role=alert], [aria-live]:not([aria-live=off])');
        if (region) globalThis.said.push(region.textContent);
      }
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  await page.keyboard.type('fifteen letters', { delay: 40 });
  await eventually(async () => (await page.getByTestId('saved').innerText()) === 'saved', 'saved');
  await page.waitForTimeout(1500);
  assert.deepEqual(await page.evaluate(() => globalThis.said.filter((s) => s.trim())), []);
  await page.context().setOffline(true);
  await eventually(async () => /connection/.test((await page.evaluate(() => globalThis.said)).join()), 'the trouble said');
  await page.context().setOffline(false);
  await eventually(async () => (await page.evaluate(() => globalThis.said)).at(-1) === 'Everything is saved again.', 'its end said');
  await page.context().close();
});

test('axe-core finds nothing wrong on any screen and dialog, at 100 and 200 %', async () => {
  const door = await (await running.browser.newContext()).newPage();
  await door.goto(running.demo.address);
  await door.getByRole('heading', { name: 'Sign in' }).waitFor();
  const found = await wrongs(door, 'sign-in');
  await door.context().close();
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  for (const [size, viewport] of [['100 %', { width: 1280, height: 800 }], ['200 %', { width: 640, height: 400 }]]) {
    const look = async (where) => found.push(...(await wrongs(page, `${where} at ${size}`)));
    const dialog = async (where, ...names) => {
      for (const name of names) await page.getByRole('button', { name }).first().click();
      await page.getByRole('dialog').waitFor();
      await page.waitForTimeout(250);
      await look(where);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
    };
    await page.setViewportSize(viewport);
    await page.goto(running.demo.address);
    await page.getByRole('heading', { name: 'A Field Book of Walls' }).waitFor();
    await look('shelf');
    await dialog('account', /^Ilse Marrable/);
    await dialog('start', 'Start a manuscript');
    await page.goto(`${running.demo.address}/outbox`);
    await page.getByRole('heading', { name: 'Outbox' }).waitFor();
    await look('outbox');
    await page.goto(`${running.demo.address}/m/1/write?file=chapters/growth.tex`);
    await editor(page).waitFor();
    await page.waitForTimeout(1500);
    await look('write');
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Proof' }).click();
    await page.locator('[data-sheet] canvas').first().waitFor();
    await look('proof');
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Spine' }).click();
    await page.getByRole('tab', { name: 'Files' }).click();
    await look('files');
    await page.getByRole('button', { name: 'More for chapters/why.tex' }).click();
    await page.getByRole('menu').waitFor();
    await look('menu');
    await page.keyboard.press('Escape');
    await dialog('new file', 'New');
    await dialog('people', 'People');
    await page.goto(`${running.demo.address}/m/1/sources?key=rook1991`);
    await page.getByTestId('printed').waitFor();
    await look('sources');
    await dialog('paste', 'Paste or import');
    await dialog('look up', 'Look up');
    await dialog('rename a key', 'Rename key everywhere');
    await dialog('merge', 'Merge with its twin');
  }
  assert.deepEqual(found, []);
  await page.context().close();
});

test('a room that can’t load comes by itself when the server answers again', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  await page.route('**/api/manuscripts/1', (route) => route.abort());
  await page.getByRole('link', { name: /Reading Walls/ }).first().click();
  await page.getByText('The manuscript comes by itself once it answers').waitFor();
  await page.unroute('**/api/manuscripts/1');
  await editor(page).waitFor();
  await page.route('**/api/manuscripts/1/sources', (route) => route.fulfill({ status: 503, body: '' }));
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('The sources comes by itself').or(page.getByText('The sources come by themselves')).first().waitFor();
  await page.unroute('**/api/manuscripts/1/sources');
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  await page.context().close();
});

test('who is signed out is told, and is back at the same place after signing in', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/clock.tex');
  const address = page.url();
  await page.context().clearCookies();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('You are signed out').waitFor();
  await page.goBack();
  await page.getByRole('button', { name: 'Ilse Marrable' }).click();
  await page.getByRole('textbox', { name: 'Source of chapters/clock.tex' }).waitFor();
  assert.equal(page.url(), address);
  await page.context().close();
});

test('a room whose code is gone says so, and loads again at the same place', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  let refused = 0;
  await page.route('**/assets/SourcesRoom-*.js', (route) => {
    refused++;
    return route.fulfill({ status: 404, body: '' });
  });
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByText('the server was probably updated').waitFor();
  await page.unroute('**/assets/SourcesRoom-*.js');
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  assert.ok(refused > 0 && page.url().includes('/m/1/sources'), page.url());
  await page.context().close();
});

test('files that are dropped anywhere are uploaded, and each that is there already is asked about', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  await page.getByRole('tab', { name: 'Files' }).click();
  const list = page.getByRole('list', { name: 'Files', exact: true });
  await drop(page, { name: 'first.tex', words: 'einundzwanzig' }, { name: 'second.tex', words: 'zweiundzwanzig' });
  await list.getByText('second.tex').waitFor();
  assert.equal(await list.getByText('first.tex').count(), 1);
  assert.equal((await text(page)).includes('einundzwanzig'), false);
  // From another room too. The first is replaced, the second stays as it is.
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  await drop(page, { name: 'first.tex', words: 'ONE' }, { name: 'second.tex', words: 'TWO' }, { name: 'third.tex', words: 'three' });
  const asked = page.getByRole('alertdialog');
  await asked.getByText('Replace first.tex?').waitFor();
  await asked.getByRole('button', { name: 'Replace it' }).click();
  await asked.getByText('Replace second.tex?').waitFor();
  await asked.getByRole('button', { name: 'Cancel' }).click();
  const words = (path) =>
    page.evaluate(async (wanted) => {
      const { files } = await (await fetch('/api/manuscripts/1')).json();
      const file = files.find((f) => f.path === wanted);
      return file && (await (await fetch(`/api/manuscripts/1/files/${file.id}`)).json()).text;
    }, path);
  await eventually(async () => (await words('third.tex')) === 'three', 'the third');
  assert.deepEqual([await words('first.tex'), await words('second.tex')], ['ONE', 'zweiundzwanzig']);
  assert.ok(page.url().includes('/m/1/sources'));
  await page.context().close();
});

test('links from when files were called parts lead to their place, and words that waited since then go out', async () => {
  const page = await signIn(running.browser, running.demo.address, 'Ilse Marrable');
  const person = await page.evaluate(async () => (await (await fetch('/api/session')).json()).person.id);
  await page.goto(`${running.demo.address}/m/1/write?part=chapters/clock.tex&line=5`);
  await page.getByRole('textbox', { name: 'Source of chapters/clock.tex' }).waitFor();
  // A record as the first version of the page kept it.
  await page.goto(`${running.demo.address}/folio.svg`);
  await page.evaluate(async (who) => {
    const { files } = await (await fetch('/api/manuscripts/1')).json();
    const part = files.find((f) => f.path === 'chapters/close.tex').id;
    const { text: base, version } = await (await fetch(`/api/manuscripts/1/files/${part}`)).json();
    const { generation } = await (await fetch('/api/manuscripts/1/proof')).json();
    await new Promise((done) => (indexedDB.deleteDatabase('young-folio').onsuccess = done));
    await new Promise((done) => {
      const opening = indexedDB.open('young-folio', 1);
      opening.onupgradeneeded = () => opening.result.createObjectStore('unsent', { keyPath: 'clientId' }).createIndex('manuscript', 'manuscript');
      opening.onsuccess = () => {
        const change = opening.result.transaction('unsent', 'readwrite');
        change.objectStore('unsent').put({ clientId: `${who}:1`, manuscript: 1, part, path: 'chapters/close.tex', generation: generation ?? globalThis.generation, version, base, updates: [[base.length, [0, '% from before']]] });
        change.oncomplete = () => {
          opening.result.close();
          done();
        };
      };
    });
  }, person);
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/close.tex`);
  // Whatever state of the data it was of, it is in the text or shown to be copied: it isn't lost.
  await eventually(async () => (await text(page)).includes('% from before') || /% from before/.test(await page.getByLabel('What you typed').inputValue().catch(() => '')), 'the words from before');
  await page.context().close();
});

test('two rooms fetch nothing twice at opening, and the code of the first page is small', async () => {
  const context = await running.browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  const scripts = new Map();
  const asked = [];
  page.on('response', async (r) => {
    const path = new URL(r.url()).pathname;
    if (path.endsWith('.js') || path.endsWith('.mjs')) scripts.set(path, r.body().then((b) => brotliCompressSync(b, { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } }).length, () => 0));
    if (path.startsWith('/api/')) asked.push(path);
  });
  const total = async () => (await Promise.all(scripts.values())).reduce((sum, n) => sum + n, 0);
  await page.goto(running.demo.address);
  await page.getByRole('heading', { name: 'Sign in' }).waitFor();
  const first = await total();
  await page.getByRole('button', { name: 'Ilse Marrable' }).click();
  await page.getByRole('heading', { name: 'Your shelf' }).waitFor();
  asked.length = 0;
  await page.goto(`${running.demo.address}/m/1/write?file=chapters/why.tex`);
  await page.locator('[data-sheet] canvas').first().waitFor();
  await page.getByRole('link', { name: 'Sources' }).click();
  await page.getByRole('table', { name: 'Sources' }).waitFor();
  for (const path of ['/api/session', '/api/manuscripts/1', '/api/manuscripts/1/proof', '/api/manuscripts/1/sources', '/api/manuscripts/1/news']) {
    assert.equal(asked.filter((a) => a === path).length, 1, `${path} in ${asked.join(' ')}`);
  }
  const all = await total();
  console.log(`  scripts of the first page: ${Math.round(first / 1000)} kB compressed; with the rooms ${Math.round(all / 1000)} kB`);
  assert.ok(first <= 150_000, `${first}`);
  await context.close();
});
