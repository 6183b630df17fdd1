import fc from 'fast-check';
import { describe, expect, test, vi } from 'vitest';
import { Refused, Unreachable } from '../../src/web/src/api/client';
import { Newest } from '../../src/web/src/api/newest';
import { History } from '../../src/web/src/ui/undo';

describe('one request at a time', () => {
  test('whatever comes when, the last wish is answered last, once, and none overlaps another', async () => {
    vi.useFakeTimers();
    const step = fc.record({
      pause: fc.integer({ min: 0, max: 30 }),
      lasts: fc.integer({ min: 1, max: 40 }),
      ends: fc.integer({ min: 0, max: 5 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 20 }), async (steps) => {
        let under = 0;
        const told: number[] = [];
        const refused: number[] = [];
        let tries = 0;
        const newest = new Newest<number, number>(
          async (wish) => {
            under += 1;
            expect(under).toBe(1);
            await new Promise((resolve) => setTimeout(resolve, steps[wish]?.lasts));
            under -= 1;
            tries += 1;
            // Down now and then, but never for ever.
            if (steps[wish]?.ends === 0 && tries % 3 !== 0) throw tries % 2 ? new Unreachable() : new Refused(503, []);
            if (steps[wish]?.ends === 1) throw new Refused(422, []);
            return wish;
          },
          { answered: (answer) => told.push(answer), refused: (_, wish) => refused.push(wish), waiting: () => {} },
          25,
        );
        for (const [wish, { pause }] of steps.entries()) {
          newest.want(wish);
          await vi.advanceTimersByTimeAsync(pause);
        }
        await vi.advanceTimersByTimeAsync(2000);
        expect(newest.standing).toBe('idle');
        const last = steps.length - 1;
        expect([told.at(-1), refused.at(-1)]).toContain(last);
        expect(told).toEqual([...new Set(told)].sort((left, right) => left - right));
      }),
      { numRuns: 200 },
    );
    vi.useRealTimers();
  });

  test('what is given up is told so and ends unheard; what is wanted after it is sent', async () => {
    const [told, refused]: [number[], Error[]] = [[], []];
    const newest = new Newest<number, number>(
      (wish, leaving) =>
        new Promise((resolve, reject) => {
          if (wish === 2) resolve(wish);
          else leaving.addEventListener('abort', () => reject(new Unreachable()));
        }),
      { answered: (answer) => told.push(answer), refused: (error) => refused.push(error), waiting: (error) => refused.push(error) },
    );
    const first = newest.want(1);
    newest.stop();
    await Promise.all([first, newest.want(2)]);
    expect([told, refused, newest.standing]).toEqual([[2], [], 'idle']);
  });

  test('what is no longer wanted is not sent again', async () => {
    vi.useFakeTimers();
    let sent = 0;
    const newest = new Newest<number, number>(
      async () => {
        sent += 1;
        throw new Unreachable();
      },
      { answered: () => {}, refused: () => {}, waiting: () => {} },
    );
    await newest.want(1);
    expect(newest.standing).toBe('waiting');
    newest.stop();
    await vi.advanceTimersByTimeAsync(10_000);
    expect([sent, newest.standing]).toEqual([1, 'idle']);
    vi.useRealTimers();
  });
});

describe('what was done', () => {
  test('taken back and done again in any order leaves what a list of states would', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -2, max: 9 }), { maxLength: 40 }), (todo) => {
        const history = new History();
        let [value, at] = [0, 0];
        let states = [0];
        for (const what of todo) {
          if (what === -1) {
            history.undo();
            at = Math.max(0, at - 1);
          } else if (what === -2) {
            history.redo();
            at = Math.min(states.length - 1, at + 1);
          } else {
            const before = value;
            value = what;
            history.push({
              words: `${what}`,
              of: 'a',
              undo: () => {
                value = before;
              },
              redo: () => {
                value = what;
              },
            });
            states = [...states.slice(0, at + 1), what];
            at += 1;
          }
          expect(value).toBe(states[at]);
        }
      }),
    );
  });
});
