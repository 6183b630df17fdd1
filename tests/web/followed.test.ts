import { describe, expect, it } from 'vitest';
import type { Json } from '../../src/web/src/api/client';
import { followed } from '../../src/web/src/desk/followed';
import { INTENTS } from '../../src/web/src/desk/intents';
import { type Path, set } from '../../src/web/src/shop/document';

const begin = (key: string) => INTENTS.find((intent) => intent.key === key)?.begin() as Json;

/** What stands in the label after some changes, one after the other. */
function labelAfter(document: Json, path: Path, values: unknown[], own: string[] = []) {
  let now = document;
  for (const value of values) now = followed(now, set(now, path, value) as Json, path, new Set(own));
  return now.label;
}

describe('texts that follow the figures of a rule', () => {
  it('names the new percentage at every key, also after the field was empty', () => {
    const typed = [{ percent: '' }, { percent: 2 }, { percent: 20 }];
    expect(labelAfter(begin('clear'), ['rewards', 0, 'levels', 0, 'take'], typed)).toBe('20 % off while it lasts');
  });

  it('tells two amounts apart', () => {
    const from: Path = ['when', 'all', 0, 'spend', 'from'];
    expect(labelAfter(begin('lift'), from, ['1', '12', '120', '120.5'])).toBe('10.00 off from 120.50');
    expect(labelAfter(begin('lift'), ['rewards', 0, 'take', 'amount'], ['15.00'])).toBe('15.00 off from 100.00');
  });

  it('leaves alone what somebody wrote, what names another figure, and what has none', () => {
    const take: Path = ['rewards', 0, 'levels', 0, 'take'];
    expect(labelAfter(begin('clear'), take, [{ percent: 30 }], ['label'])).toBe('25 % off while it lasts');
    expect(labelAfter({ ...begin('clear'), label: 'Up to 70 % off' }, take, [{ percent: 30 }])).toBe('Up to 70 % off');
    expect(labelAfter(begin('volume'), ['rewards', 0, 'steps', 0, 'from'], [5])).toBe('The more, the cheaper');
  });
});
