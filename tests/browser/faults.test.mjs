import assert from 'node:assert/strict';
import { test } from 'node:test';
import { alike, application, cursorIn, editor, eventually, has, text, writeAs } from './browser.mjs';

const running = application();

test('the server ends without warning while two type; both go on, and nothing is lost or doubled', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/why.tex');
  const bao = await writeAs(running, 'Bao Tremlett', 'chapters/why.tex');
  await cursorIn(ilse, 'Why date a wall', 'End');
  await cursorIn(bao, 'What a date is good for', 'End');
  const typing = Promise.all([ilse.keyboard.type(' % one two three four five six seven', { delay: 70 }), bao.keyboard.type(' % eins zwei drei vier', { delay: 90 })]);
  await ilse.waitForTimeout(900);
  await running.demo.kill();
  await typing;
  await eventually(async () => /change/.test(await ilse.locator('section[aria-label="Source leaf"] header').innerText()), 'what waits');
  await running.demo.again();
  for (const page of [ilse, bao]) {
    await has(page, '% one two three four five six seven');
    await has(page, '% eins zwei drei vier');
  }
  await alike(ilse, bao);
  assert.equal((await text(bao)).match(/seven/g).length, 1);
  for (const page of [ilse, bao]) await page.context().close();
});

test('a backup put in place while someone writes: the page follows, and words without a place are shown', async () => {
  const ilse = await writeAs(running, 'Ilse Marrable', 'chapters/close.tex');
  await cursorIn(ilse, 'What the stones allow', 'End');
  await ilse.keyboard.type(' % before');
  await eventually(async () => (await ilse.getByTestId('saved').innerText()) === 'saved', 'saved');
  running.demo.run('backup', 'copy.zip');
  await ilse.keyboard.type(' % after');
  await eventually(async () => (await ilse.getByTestId('saved').innerText()) === 'saved', 'saved');
  running.demo.run('restore', 'copy.zip');
  await eventually(async () => (await text(ilse)).includes('% before') && !(await text(ilse)).includes('% after'), 'the earlier text');

  await ilse.context().setOffline(true);
  await cursorIn(ilse, 'What the stones allow', 'End');
  await ilse.keyboard.type(' % nowhere');
  running.demo.run('restore', 'copy.zip');
  await ilse.context().setOffline(false);
  const dialog = ilse.getByRole('alertdialog');
  await dialog.waitFor();
  assert.match(await dialog.innerText(), /put back to an earlier state/);
  assert.match(await dialog.getByRole('textbox').inputValue(), /% nowhere/);
  await dialog.getByRole('button', { name: 'Go on with the shared text' }).click();
  await editor(ilse).waitFor();
  await has(ilse, '% before');
  await ilse.context().close();
});

test('the server ends without warning while suggestions are taken: each is in the text once and settled, or neither', async () => {
  const page = await writeAs(running, 'Ilse Marrable', 'chapters/valley.tex');
  const state = () =>
    page.evaluate(async () => {
      const file = (await (await fetch('/api/manuscripts/1')).json()).files.find((f) => f.path === 'chapters/valley.tex').id;
      const { text: source, version } = await (await fetch(`/api/manuscripts/1/files/${file}`)).json();
      const notes = (await (await fetch('/api/manuscripts/1/notes')).json()).filter((n) => /^KILL\d+$/.test(n.proposal ?? ''));
      return { file, source, version, notes };
    });
  const { file, source, version } = await state();
  const places = [...source.matchAll(/[a-z]{6,}(?= )/g)].filter((m) => !/[\\{]/.test(source.slice(Math.max(0, m.index - 12), m.index))).slice(0, 24);
  const ids = await page.evaluate(
    async ({ of, at, found }) => {
      const { guard } = await (await fetch('/api/session')).json();
      const made = [];
      for (const [i, [from, length]] of found.entries()) {
        const done = await fetch('/api/manuscripts/1/notes', {
          method: 'POST',
          headers: { 'folio-guard': guard, 'content-type': 'application/json' },
          body: JSON.stringify({ file: of, version: at, from, to: from + length, text: '', proposal: `KILL${i}` }),
        });
        if (!done.ok) throw new Error(await done.text());
        made.push(await done.json());
      }
      return made;
    },
    { of: file, at: version, found: places.map((m) => [m.index, m[0].length]) },
  );
  for (const wait of [15, 60, 140]) {
    // One by one and several at once, until it ends.
    const open = (await state()).notes.filter((n) => n.settledBy === null).map((n) => n.id);
    const taking = page.evaluate(async ({ all, guard }) => {
      const headers = { 'folio-guard': guard, 'content-type': 'application/json' };
      const take = (suggestions) => fetch('/api/manuscripts/1/notes/decided', { method: 'POST', headers, body: JSON.stringify({ suggestions, isTaken: true }) }).catch(() => null);
      await Promise.all([...all.slice(0, 4).map((id) => take([id])), take(all.slice(4, 7))]);
    }, { all: open, guard: await page.evaluate(async () => (await (await fetch('/api/session')).json()).guard) });
    await page.waitForTimeout(wait);
    await running.demo.kill();
    await taking;
    await running.demo.again();
    const now = await state();
    assert.equal(now.notes.length, ids.length);
    for (const note of now.notes) {
      const times = now.source.split(new RegExp(`${note.proposal}(?!\\d)`)).length - 1;
      assert.equal(times, note.isTaken === true ? 1 : 0, `${note.proposal} after ${wait} ms`);
      assert.equal(note.settledBy !== null, note.isTaken === true);
    }
  }
  await page.context().close();
});
