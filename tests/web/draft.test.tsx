import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Json, PromotionPage } from '../../src/web/src/api/client';
import { useDraft } from '../../src/web/src/desk/useDraft';
import { History, HistoryProvider } from '../../src/web/src/ui/undo';
import { Server } from './server';

const page = (revision: number, document: Json): PromotionPage =>
  ({ id: 'spring', state: 'draft', revision, document, saved: null }) as unknown as PromotionPage;

const client = new QueryClient();
let history: History;
const Within = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={client}>
    <HistoryProvider value={history}>{children}</HistoryProvider>
  </QueryClientProvider>
);
const desk = (revision = 1, document: Json = { name: 'Spring' }) =>
  renderHook(() => useDraft(page(revision, document)), { wrapper: Within });

/** What windows keep of the draft in this browser. */
const keptHere = () => Object.entries(localStorage).filter(([key]) => key.startsWith('rapid-ledger.draft.spring '));
const kept = () => JSON.parse(keptHere()[0]?.[1] ?? 'null') as { document: Json } | null;

let server: Server;
beforeEach(() => {
  localStorage.clear();
  server = new Server();
  history = new History();
});
// A desk that is left sends what it was about to keep: to the server of its own test.
afterEach(async () => {
  vi.useRealTimers();
  cleanup();
  await new Promise((done) => setTimeout(done));
});

/** Lets the page and its requests go on until something holds. */
const until = (holds: () => void) => waitFor(holds, { interval: 5 });
const answer = async (revision: number, document: Json) => {
  await until(() => expect(server.open).toBe(1));
  await act(async () => server.answer({ status: 200, body: page(revision, document) }));
};

describe('a draft', () => {
  test('is in the browser before the server has answered, and out of it after', async () => {
    const { result } = desk();
    act(() => result.current.change(['name'], 'Summer'));
    expect(kept()?.document).toEqual({ name: 'Summer' });
    expect(result.current.keeping).toBe('keeping');
    await answer(2, { name: 'Summer' });
    await until(() => expect(result.current.keeping).toBe('kept'));
    expect(kept()).toBeNull();
    expect(server.asked).toEqual([
      { method: 'PUT', path: '/api/promotions/spring/draft', body: { revision: 1, document: { name: 'Summer' } } },
    ]);
  });

  test('that is left a moment after the last key is sent then', async () => {
    const { result, unmount } = desk();
    act(() => result.current.change(['name'], 'Summer'));
    expect(server.asked).toEqual([]);
    unmount();
    await until(() => expect(server.asked.map((asked) => asked.body)).toEqual([{ revision: 1, document: { name: 'Summer' } }]));
  });

  test('is sent one state at a time, and of many typed meanwhile only the newest', async () => {
    const { result } = desk();
    act(() => result.current.change(['name'], 'a'));
    await until(() => expect(server.open).toBe(1));
    for (const name of ['ab', 'abc', 'abcd']) act(() => result.current.change(['name'], name));
    expect(server.open).toBe(1);
    await answer(2, { name: 'a' });
    await answer(3, { name: 'abcd' });
    await until(() => expect(result.current.keeping).toBe('kept'));
    expect(server.asked.map((asked) => asked.body)).toEqual([
      { revision: 1, document: { name: 'a' } },
      { revision: 2, document: { name: 'abcd' } },
    ]);
    expect(result.current.document).toEqual({ name: 'abcd' });
  });

  test('waits while the server is down and arrives when it is back', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 100 });
    const { result } = desk();
    act(() => result.current.change(['name'], 'Summer'));
    await until(() => expect(server.open).toBe(1));
    await act(async () => server.answer('unreachable'));
    await until(() => expect(result.current.keeping).toBe('waiting'));
    expect(kept()?.document).toEqual({ name: 'Summer' });
    act(() => result.current.change(['label'], 'typed while down'));
    await until(() => expect(server.open).toBe(1));
    await act(async () => server.answer('unreachable'));
    await act(() => vi.advanceTimersByTimeAsync(2000));
    await answer(2, { name: 'Summer', label: 'typed while down' });
    await until(() => expect(result.current.keeping).toBe('kept'));
    expect(server.asked.at(-1)?.body).toEqual({ revision: 1, document: { name: 'Summer', label: 'typed while down' } });
  });

  test('that an earlier visit could not bring to the server is there again and sent', async () => {
    localStorage.setItem('rapid-ledger.draft.spring earlier', JSON.stringify({ document: { name: 'From before' }, revision: 1 }));
    const { result } = desk();
    expect(result.current.document).toEqual({ name: 'From before' });
    expect(result.current.keeping).toBe('waiting');
    await answer(2, { name: 'From before' });
    await until(() => expect(result.current.keeping).toBe('kept'));
  });

  test('of which the browser holds something broken is shown as the server has it', () => {
    localStorage.setItem('rapid-ledger.draft.spring earlier', '{"document":');
    expect(desk().result.current.document).toEqual({ name: 'Spring' });
  });

  test('left over from before somebody else wrote is shown beside theirs, and sent only when it is chosen', async () => {
    localStorage.setItem('rapid-ledger.draft.spring earlier', JSON.stringify({ document: { note: 'mine' }, revision: 1 }));
    const { result } = desk(2, { note: 'theirs' });
    expect(result.current.keeping).toBe('conflict');
    expect([result.current.document, result.current.theirs?.document]).toEqual([{ note: 'mine' }, { note: 'theirs' }]);
    await act(() => new Promise((done) => setTimeout(done, 20)));
    expect(server.asked).toEqual([]);
    act(() => result.current.settle(true));
    await answer(3, { note: 'mine' });
    expect(server.asked.at(-1)?.body).toEqual({ revision: 2, document: { note: 'mine' } });
  });

  test('of one window stays when another has brought its own to the server', async () => {
    localStorage.setItem('rapid-ledger.draft.spring other', JSON.stringify({ document: { name: 'Spring' }, revision: 1 }));
    const { result } = desk();
    act(() => result.current.change(['name'], 'Summer'));
    expect(keptHere()).toHaveLength(2);
    await answer(2, { name: 'Summer' });
    await until(() => expect(result.current.keeping).toBe('kept'));
    expect(keptHere().map(([key]) => key)).toEqual(['rapid-ledger.draft.spring other']);
  });

  test('that somebody else wrote too is not overwritten; either side can be taken', async () => {
    for (const mine of [true, false]) {
      server = new Server();
      localStorage.clear();
      const { result } = desk();
      act(() => result.current.change(['name'], 'Mine'));
      await until(() => expect(server.open).toBe(1));
      await act(async () => server.answer({ status: 409, body: { message: 'Written elsewhere.', theirs: page(7, { name: 'Theirs' }) } }));
      await until(() => expect(result.current.keeping).toBe('conflict'));
      expect(result.current.theirs?.document).toEqual({ name: 'Theirs' });
      expect(kept()?.document).toEqual({ name: 'Mine' });
      act(() => result.current.settle(mine));
      if (mine) {
        await answer(8, { name: 'Mine' });
        expect(server.asked.at(-1)?.body).toEqual({ revision: 7, document: { name: 'Mine' } });
      }

      await until(() => expect(result.current.keeping).toBe('kept'));
      expect(result.current.document).toEqual({ name: mine ? 'Mine' : 'Theirs' });
      // What was given up can be had back.
      if (!mine) {
        await act(() => history.undo());
        expect(result.current.document).toEqual({ name: 'Mine' });
      }
    }
  });

  test('goes back and forth by what was done, a word at a time, and forgets what was undone when something new is done', async () => {
    const { result } = desk();
    for (const name of ['S', 'Su', 'Sun']) act(() => result.current.change(['name'], name));
    act(() => result.current.change(['label'], 'Sunny'));
    act(() => result.current.change(['rank'], 7));
    await act(() => history.undo());
    expect(result.current.document).toEqual({ name: 'Sun', label: 'Sunny' });
    expect(history.ends().said).toBe('taken back: a change of Alongside');
    await act(() => history.undo());
    await act(() => history.redo());
    expect(result.current.document).toEqual({ name: 'Sun', label: 'Sunny' });
    act(() => result.current.change(['note'], 'new'));
    expect(history.ends().next).toBeUndefined();
    for (let step = 0; step < 9; step += 1) await act(() => history.undo());
    expect(result.current.document).toEqual({ name: 'Spring' });
    expect(history.ends()).toMatchObject({ last: undefined, said: 'nothing to take back' });
  });

  test('leaves nothing behind that could be taken back when it is closed', () => {
    const { result, unmount } = desk();
    history.push({ words: 'a quantity', of: 'cart', undo: () => {}, redo: () => {} });
    act(() => result.current.change(['name'], 'Summer'));
    unmount();
    expect(history.ends().last).toBe('a quantity');
  });

  test('that somebody else wrote to say the same is no conflict', async () => {
    const { result } = desk();
    act(() => result.current.change(['name'], 'Same'));
    await until(() => expect(server.open).toBe(1));
    await act(async () => server.answer({ status: 409, body: { detail: 'Elsewhere.', theirs: page(7, { name: 'Same' }) } }));
    await until(() => expect(result.current.keeping).toBe('kept'));
    expect(result.current.theirs).toBeNull();
    expect(result.current.saved.revision).toBe(7);
  });

  test('is put live only after all that was typed is kept, at the newest revision', async () => {
    const { result } = desk();
    act(() => result.current.change(['name'], 'Summer'));
    const seen: unknown[] = [];
    let done: Promise<unknown> = Promise.resolve();
    act(() => {
      done = result.current.act(async (revision, document) => {
        seen.push(revision, document);
        return page(3, document);
      });
    });
    expect(seen).toEqual([]);
    await answer(2, { name: 'Summer' });
    await act(async () => void (await done));
    expect(seen).toEqual([2, { name: 'Summer' }]);
    expect(result.current.saved.revision).toBe(3);
  });

  test('that is refused says why and keeps what was typed', async () => {
    const { result } = desk();
    act(() => result.current.change(['name'], 'x'.repeat(10)));
    await until(() => expect(server.open).toBe(1));
    await act(async () =>
      server.answer({ status: 413, body: { problems: [{ at: '', code: 'tooLarge', message: 'This is too large.' }] } }),
    );
    await until(() => expect(result.current.failure).toBe('This is too large.'));
    expect(kept()?.document).toEqual({ name: 'x'.repeat(10) });
  });
});
