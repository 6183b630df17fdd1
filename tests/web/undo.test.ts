import { describe, expect, test } from 'vitest';
import { History } from '../../src/web/src/ui/undo';

describe('what was done', () => {
  test('is taken back last first, done again, and each time said', async () => {
    const history = new History();
    const done: string[] = [];
    for (const words of ['one', 'two'])
      history.push({ words, of: 'list', undo: () => void done.push(`-${words}`), redo: () => void done.push(`+${words}`) });
    await history.undo();
    expect(history.ends()).toMatchObject({ last: 'one', next: 'two', said: 'taken back: two' });
    await history.undo();
    await history.redo();
    expect(done).toEqual(['-two', '-one', '+one']);
    await history.redo();
    await history.redo();
    expect(history.ends().said).toBe('nothing to do again');
  });

  test('is said to be as it was where it cannot be taken back', async () => {
    const history = new History();
    history.push({ words: 'b1 made void', of: 'list', undo: () => Promise.reject(new Error('The disk is full.')), redo: () => {} });
    await history.undo();
    expect(history.ends().said).toBe('not taken back: b1 made void. The disk is full.');
  });
});
