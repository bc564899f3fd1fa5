import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { describe, expect, test, vi } from 'vitest';
import { staleness } from '../src/live/staleness';

/** A server whose answers come when they are let go, each with what it was at the time of being asked. */
function slowServer() {
  const waiting: (() => void)[] = [];
  const server = {
    now: 'before',
    asked: 0,
    answer: () => waiting.shift()?.(),
    ask: () => {
      server.asked++;
      const then = server.now;
      return new Promise<string>((done) => waiting.push(() => done(then)));
    },
  };
  return server;
}

const watched = (client: QueryClient, key: string, ask: () => Promise<string>) => {
  const observer = new QueryObserver(client, { queryKey: ['m', 1, key], queryFn: ask, retry: false });
  observer.subscribe(() => undefined);
  return () => observer.getCurrentResult().data;
};

describe('what was heard of while it was on its way', () => {
  test('is fetched once more when it is there', async () => {
    const client = new QueryClient();
    const { stale } = staleness(client);
    const server = slowServer();
    const shown = watched(client, 'proof', server.ask);
    server.now = 'after';
    stale(['m', 1, 'proof']);
    server.answer();
    await vi.waitFor(() => expect(server.asked).toBe(2));
    server.answer();
    await vi.waitFor(() => expect(shown()).toBe('after'));
    expect(server.asked).toBe(2);
  });

  test('is fetched once more for a key that holds it, and nothing else is', async () => {
    const client = new QueryClient();
    const { stale } = staleness(client);
    const [proof, other] = [slowServer(), slowServer()];
    watched(client, 'proof', proof.ask);
    watched(client, 'people', other.ask);
    stale(['m', 1, 'proof']);
    proof.answer();
    other.answer();
    await vi.waitFor(() => expect(proof.asked).toBe(2));
    expect(other.asked).toBe(1);
    stale(['m', 1]);
    await vi.waitFor(() => expect(other.asked).toBe(2));
  });

  test('is left when nobody listens any more', async () => {
    const client = new QueryClient();
    const { stale, close } = staleness(client);
    const server = slowServer();
    const shown = watched(client, 'proof', server.ask);
    stale(['m', 1, 'proof']);
    close();
    server.answer();
    await vi.waitFor(() => expect(shown()).toBe('before'));
    expect(server.asked).toBe(1);
  });
});
