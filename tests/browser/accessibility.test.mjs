// For those who listen to the page: what it says by itself, and what axe-core finds on every screen and dialog.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { test } from 'node:test';
import { application, cursorIn, editor, eventually, signIn, writeAs } from './browser.mjs';

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
      await page.waitForTimeout(where === 'start' ? 2500 : 250);
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
    await dialog('keys', 'Keys');
    await page.keyboard.press('F4');
    await page.getByRole('combobox', { name: 'Name' }).fill('wall');
    await page.getByRole('option').first().waitFor();
    await look('by name');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.locator('.cm-content').press('Control+End');
    await page.keyboard.type(' \\subs');
    await page.getByRole('option').first().waitFor();
    await look('completion');
    await page.keyboard.press('Escape');
    for (let i = 0; i < 6; i++) await page.keyboard.press('Backspace');
    await page.locator('.cm-line span', { hasText: /^sec:delay$/ }).first().click();
    await page.keyboard.press('F2');
    await page.getByRole('list', { name: 'Places' }).getByRole('listitem').first().waitFor();
    await look('rename');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Proof' }).click();
    await page.locator('[data-sheet] canvas').first().waitFor();
    await look('proof');
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Spine' }).click();
    await page.getByRole('tab', { name: 'Files' }).click();
    await look('files');
    await page.getByRole('tab', { name: 'Find' }).click();
    await page.getByRole('textbox', { name: 'Find', exact: true }).fill('wall');
    await page.getByRole('textbox', { name: 'Replace with' }).fill('dyke');
    await page.getByRole('checkbox', { name: /Replace in line/ }).first().waitFor();
    await look('find');
    await page.getByRole('button', { name: /^\d.* words$/ }).click();
    await page.getByRole('list', { name: 'Words by section' }).waitFor();
    await look('words');
    await page.keyboard.press('Escape');
    await page.getByRole('tab', { name: 'Files' }).click();
    await page.getByRole('button', { name: 'More for chapters/why.tex' }).click();
    await page.getByRole('menu').waitFor();
    await look('menu');
    await page.keyboard.press('Escape');
    await page.getByRole('tab', { name: /^Notes/ }).click();
    await page.locator('[data-thread]').first().getByRole('button').first().click();
    await page.getByRole('textbox', { name: 'Answer' }).waitFor();
    await look('notes');
    await page.getByRole('button', { name: /^suggested/ }).click();
    await page.getByRole('group', { name: 'All that are suggested' }).waitFor();
    await page.locator('[data-thread]').first().getByRole('button').first().click();
    await look('suggestions');
    // At 200 % one leaf is shown at a time.
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Source' }).click();
    await page.locator('.cm-content').focus();
    await page.keyboard.press('Control+Alt+s');
    await page.getByRole('form', { name: 'A suggestion' }).waitFor();
    await look('slip');
    await page.keyboard.press('Escape');
    if (size === '200 %') await page.getByRole('group', { name: 'Leaf' }).getByRole('button', { name: 'Spine' }).click();
    await page.getByRole('button', { name: /^Talk/ }).click();
    await page.locator('[data-message]').first().waitFor();
    await look('talk');
    await page.getByRole('button', { name: 'Close the talk' }).click();
    await page.getByRole('tab', { name: 'Files' }).click();
    await dialog('new file', 'New');
    await dialog('people', 'People');
    await page.goto(`${running.demo.address}/m/1/set-up`);
    await page.getByRole('group', { name: 'Type size' }).waitFor();
    await look('set-up');
    await page.getByRole('tab', { name: /Packages/ }).click();
    await page.getByRole('list', { name: 'Loaded packages' }).waitFor();
    await look('packages');
    await page.getByRole('tab', { name: 'Of the group' }).click();
    await page.getByRole('textbox', { name: /Save this manuscript/ }).waitFor();
    await look('set-ups of the group');
    await page.goto(`${running.demo.address}/m/1/chronicle?from=600`);
    await page.getByRole('list', { name: 'History', exact: true }).waitFor();
    await page.locator('ins').first().waitFor();
    await look('chronicle');
    await dialog('pin', 'Pin now');
    await page.getByRole('tab', { name: 'In print' }).click();
    await page.getByRole('list', { name: 'Changes' }).waitFor();
    await look('compared in print');
    await page.goto(`${running.demo.address}/m/1/cross-refs?label=fig:growth`);
    await page.getByRole('region', { name: 'The label', exact: true }).getByRole('img').waitFor();
    await look('cross-refs');
    for (const face of ['Gallery', 'As printed', 'List']) {
      await page.getByRole('radio', { name: face }).click();
      await look(face);
    }
    await page.goto(`${running.demo.address}/m/1/hand-in`);
    await page.getByText(/compiled again just now/).waitFor();
    await look('hand-in');
    await dialog('rules', 'Make your own');
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
