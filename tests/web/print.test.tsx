import { act, renderHook, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Cart, Json, TapeAnswer } from '../../src/web/src/api/client';
import { usePrint } from '../../src/web/src/tape/usePrint';
import { Server } from './server';

const cart: Cart = { at: '2027-03-05T10:00:00+01:00', codes: [], lines: [{ sku: 'A', quantity: 1 }] };
const draft = (percent: number): Json => ({ id: 'spring', rewards: [{ kind: 'discount', take: { percent } }] });
const wrong: Json = { id: 'spring', rewards: [{ kind: 'discount', take: { percent: 'ten' } }] };

const good = (due: string) => ({ print: { due }, live: null, clauses: [], draftProblems: [], cartProblems: [] }) as unknown as TapeAnswer;
const refused = { ...good(''), print: null, draftProblems: [{ at: '/rewards/0/take/percent', code: 'wrongType', message: 'A number.' }] };

let server: Server;
beforeEach(() => {
  server = new Server();
});
afterEach(() => vi.useRealTimers());

const until = (holds: () => void) => waitFor(holds, { interval: 5 });
const answer = async (body: unknown, status = 200) => {
  await until(() => expect(server.open).toBe(1));
  await act(async () => server.answer({ status, body }));
};

const tape = (first: { cart: Cart; draft: Json | null; turn?: number }) =>
  renderHook(({ cart, draft, turn }: { cart: Cart; draft: Json | null; turn?: number }) => usePrint(cart, draft, turn), {
    initialProps: first,
  });
const due = (printed: ReturnType<typeof usePrint>) => (printed.print as unknown as { due: string } | null)?.due;

describe('the tape', () => {
  test('asks again only when something changed', async () => {
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await answer(good('9.00'));
    await until(() => expect(due(result.current)).toBe('9.00'));
    rerender({ cart: { ...cart }, draft: draft(10) });
    rerender({ cart, draft: draft(10) });
    expect(server.asked.length).toBe(1);
    expect(result.current).toMatchObject({ stale: false, down: false, serial: 1 });
  });

  test('leaves out states between and never shows an older one after a newer', async () => {
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await until(() => expect(server.open).toBe(1));
    for (const percent of [11, 12, 13]) rerender({ cart, draft: draft(percent) });
    expect(server.open).toBe(1);
    await answer(good('9.00'));
    await answer(good('8.70'));
    await until(() => expect(due(result.current)).toBe('8.70'));
    expect(server.asked.map((asked) => asked.body.draft)).toEqual([draft(10), draft(13)]);
    expect(result.current.serial).toBe(2);
  });

  test('keeps the last good print while the draft makes no sense, and goes on pricing the cart with the last good draft', async () => {
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await answer(good('9.00'));
    rerender({ cart, draft: wrong });
    await answer(refused);
    // Asked again with the draft as it last made sense.
    await answer(good('9.00'));
    await until(() => expect(result.current.stale).toBe(true));
    expect(due(result.current)).toBe('9.00');
    expect(result.current.draftProblems).toEqual(refused.draftProblems);

    const two = { ...cart, lines: [{ sku: 'A', quantity: 2 }] };
    rerender({ cart: two, draft: wrong });
    await answer(refused);
    await answer(good('18.00'));
    await until(() => expect(due(result.current)).toBe('18.00'));
    expect(server.asked.at(-1)?.body).toEqual({ cart: two, draft: draft(10) });
    expect(result.current.stale).toBe(true);

    rerender({ cart: two, draft: draft(20) });
    await answer(good('16.00'));
    await until(() => expect(result.current.stale).toBe(false));
  });

  test('does not price one promotion with the last good state of another', async () => {
    const { rerender } = tape({ cart, draft: draft(10) });
    await answer(good('9.00'));
    rerender({ cart, draft: { ...wrong, id: 'other' } });
    await answer(refused);
    await answer(good('10.00'));
    expect(server.asked.at(-1)?.body.draft).toBeNull();
  });

  test('is printed again when what is live changes, though cart and draft do not', async () => {
    const { result, rerender } = tape({ cart, draft: null, turn: 1 });
    await answer(good('9.00'));
    rerender({ cart, draft: null, turn: 2 });
    await answer(good('8.00'));
    await until(() => expect(due(result.current)).toBe('8.00'));
  });

  test('looks for a better choice where it is not proved, once, and not while something else is wanted', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 50 });
    const unproved = (due: string) => ({ ...good(due), print: { due, proved: false, totals: { saving: '1.00' } } });
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await answer(unproved('9.00'));
    await act(() => vi.advanceTimersByTimeAsync(300));
    rerender({ cart, draft: draft(11) });
    await answer(unproved('8.90'));
    await act(() => vi.advanceTimersByTimeAsync(900));
    await answer({ ...good('8.50'), print: { due: '8.50', proved: true, totals: { saving: '1.40' } } });
    await until(() => expect(due(result.current)).toBe('8.50'));
    expect(server.asked.map((asked) => asked.body.draft)).toEqual([draft(10), draft(11), draft(11)]);
    await act(() => vi.advanceTimersByTimeAsync(3000));
    expect(server.open).toBe(0);
  });

  test('comes again when the server asks it to', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 100 });
    const { result } = tape({ cart, draft: null });
    await answer({ problems: [{ at: '', code: 'busy', message: 'Too many.' }] }, 429);
    await act(() => vi.advanceTimersByTimeAsync(2000));
    await answer(good('9.00'));
    await until(() => expect(due(result.current)).toBe('9.00'));
  });

  test('says that the server is down, keeps its figures, and prints when it is back', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 100 });
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await answer(good('9.00'));
    rerender({ cart, draft: draft(20) });
    await until(() => expect(server.open).toBe(1));
    await act(async () => server.answer('unreachable'));
    await until(() => expect(result.current.down).toBe(true));
    expect(due(result.current)).toBe('9.00');
    await act(() => vi.advanceTimersByTimeAsync(2000));
    await answer(good('8.00'));
    await until(() => expect(result.current).toMatchObject({ down: false, stale: false }));
    expect(due(result.current)).toBe('8.00');
  });

  test('says what the server said when it fails, and is not stuck', async () => {
    const { result, rerender } = tape({ cart, draft: draft(10) });
    await answer({ detail: 'Something broke.' }, 500);
    await until(() => expect(result.current.cartProblems[0]?.message).toBe('Something broke.'));
    rerender({ cart, draft: draft(11) });
    await answer(good('8.90'));
    await until(() => expect(result.current).toMatchObject({ stale: false, cartProblems: [] }));
  });

  test('without a clock of its own follows the minute', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 100 });
    const { at: _, ...now } = cart;
    tape({ cart: now, draft: null });
    await answer(good('10.00'));
    await act(() => vi.advanceTimersByTimeAsync(61_000));
    await answer(good('9.00'));
    expect(server.asked.map((asked) => asked.body)).toEqual([
      { cart: now, draft: null },
      { cart: now, draft: null },
    ]);
  });
});
