import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';

/** What the server would answer, by path; without an entry it can't be reached. */
let answers: Record<string, unknown> = {};
let person = 3;

const session = (id: number) => ({
  person: id ? { id, name: 'Someone' } : null,
  guard: 'g',
  demoPeople: [],
  colours: [],
});

beforeEach(() => {
  vi.resetModules();
  answers = {};
  person = 3;
  vi.stubGlobal('fetch', (path: string) => {
    if (!(path in answers)) return Promise.reject(new TypeError('no connection'));
    const answer = answers[path];
    if (answer instanceof Promise) return answer;
    const headers = new Headers({ 'folio-person': String(person) });
    return Promise.resolve(
      answer instanceof Blob ? new Response(answer, { headers }) : Response.json(answer, { headers }),
    );
  });
});

/** The page as it is when it was just loaded. */
const load = async () => ({ ...(await import('../src/offline/kept')), ...(await import('../src/api/client')) });

/** Signed in as someone, with a connection. */
async function signedIn(id: number) {
  person = id;
  answers['/api/session'] = session(id);
  const page = await load();
  await page.keptSession();
  return page;
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 30));

describe('what a browser keeps of the server’s answers', () => {
  it('asks the server where the browser’s own store doesn’t answer', async () => {
    const page = await signedIn(3);
    const copies = await import('../src/offline/copyStore');
    vi.spyOn(copies, 'findCopy').mockReturnValue(new Promise(() => undefined));
    answers['/api/manuscripts/1/proof/sheets/abc'] = { ink: 1 };
    expect(await page.getOnce('/api/manuscripts/1/proof/sheets/abc')).toEqual({ ink: 1 });
  });

  it('answers without a connection with what came last, and says of when it is', async () => {
    const page = await signedIn(3);
    answers['/api/manuscripts/1'] = { title: 'Walls' };
    expect(await page.getKept('/api/manuscripts/1')).toEqual({ title: 'Walls' });
    await settled();
    answers = {};
    vi.resetModules();
    const later = await load();
    const found = await later.keptSession();
    expect([found.person?.id, found.asOf !== undefined]).toEqual([3, true]);
    expect(await later.getKept('/api/manuscripts/1')).toMatchObject({
      title: 'Walls',
      asOf: expect.any(String) as string,
    });
    await expect(later.getKept('/api/manuscripts/2')).rejects.toThrow('can’t be reached');
  });

  it('shows nothing of one person to another, and keeps nothing of whoever isn’t signed in', async () => {
    const page = await signedIn(3);
    answers['/api/manuscripts/1'] = { title: 'Ilse’s' };
    await page.getKept('/api/manuscripts/1');
    await settled();
    vi.resetModules();
    const other = await signedIn(4);
    delete answers['/api/manuscripts/1'];
    await expect(other.getKept('/api/manuscripts/1')).rejects.toThrow();
    // Back again, the first one finds nothing either: it went when the other came.
    vi.resetModules();
    const back = await signedIn(3);
    await expect(back.getKept('/api/manuscripts/1')).rejects.toThrow();
    vi.resetModules();
    await signedIn(0);
    answers = {};
    vi.resetModules();
    await expect((await load()).keptSession()).rejects.toThrow();
  });

  it('refuses what comes for someone else, and says that the session changed', async () => {
    const page = await signedIn(3);
    const out = vi.fn();
    page.onSignedOut(out);
    answers['/api/manuscripts/1'] = { title: 'Anton’s' };
    person = 4;
    await expect(page.getKept('/api/manuscripts/1')).rejects.toThrow('Someone else');
    expect(out).toHaveBeenCalledOnce();
    await settled();
    answers = {};
    await expect(page.getKept('/api/manuscripts/1')).rejects.toThrow('can’t be reached');
  });

  it('takes the copy when the answer is slow, and says so when it comes after all', async () => {
    const page = await signedIn(3);
    answers['/api/manuscripts/1'] = { title: 'before' };
    await page.getKept('/api/manuscripts/1');
    await settled();
    let answer!: (response: Response) => void;
    answers['/api/manuscripts/1'] = new Promise<Response>((resolve) => (answer = resolve));
    const late = vi.fn();
    page.lateAnswers.addEventListener('answer', late);
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    const asked = page.getKept('/api/manuscripts/1');
    await vi.advanceTimersByTimeAsync(4100);
    vi.useRealTimers();
    expect(await asked).toMatchObject({ title: 'before' });
    expect(late).not.toHaveBeenCalled();
    answer(Response.json({ title: 'after' }));
    await settled();
    expect(late).toHaveBeenCalledOnce();
  });

  it('keeps the manuscripts that were open last, and nothing of another state of the data', async () => {
    const page = await signedIn(3);
    for (let id = 1; id <= 14; id++) {
      await page.keep(`/api/manuscripts/${id}/proof`, { id });
      await page.noteOpened(id, 'g1', 12);
      await new Promise((resolve) => setTimeout(resolve, 2));
    }
    expect(await page.keptManuscripts()).toEqual([14, 13, 12, 11, 10, 9, 8, 7, 6, 5, 4, 3]);
    expect([(await page.keptPaths(2)).size, (await page.keptPaths(3)).size]).toEqual([0, 1]);
    await page.noteOpened(3, 'g1', 12);
    expect((await page.keptPaths(3)).size).toBe(1);
    await page.noteOpened(3, 'g2', 12);
    expect([(await page.keptPaths(3)).size, await page.keptGeneration(3)]).toEqual([0, 'g2']);
    await page.forget(14);
    expect(await page.keptManuscripts()).not.toContain(14);
  });

  it('leaves nothing that a tab kept after another one signed out, and nothing that guards changes', async () => {
    const page = await signedIn(3);
    const out = vi.fn();
    page.onSignedOut(out);
    vi.resetModules();
    const other = await signedIn(0);
    await page.keep('/api/manuscripts/1', { title: 'too late' });
    await page.noteOpened(1, 'g1', 12);
    vi.resetModules();
    const again = await signedIn(3);
    expect([await again.findKept('/api/manuscripts/1'), await again.keptManuscripts()]).toEqual([null, []]);
    await settled();
    // The other tab was told.
    expect(out).toHaveBeenCalled();
    answers = {};
    vi.resetModules();
    expect((await (await load()).lastKnownSession())?.guard).toBe('');
    expect(await other.keptManuscripts()).toEqual([]);
  });

  it('lets go of manuscripts that are no longer on the shelf', async () => {
    const page = await signedIn(3);
    for (const id of [21, 22]) {
      await page.keep(`/api/manuscripts/${id}/proof`, { id });
      await page.noteOpened(id, 'g1', 12);
    }
    await page.forgetOthers([22]);
    expect(await page.keptManuscripts()).toEqual([22]);
    expect([(await page.keptPaths(21)).size, (await page.keptPaths(22)).size]).toEqual([0, 1]);
  });
});
