import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { get, given, isAboutWhom, type Path, pointerOf, problemsUnder, set, topConditions } from '../../src/web/src/shop/document';

const keys = fc.constantFrom('name', 'note', 'rewards', 'when');
const paths: fc.Arbitrary<Path> = fc
  .tuple(keys, fc.array(fc.oneof(keys, fc.nat({ max: 2 })), { maxLength: 3 }))
  .map(([first, rest]) => [first, ...rest]);
const values = fc.oneof(fc.string(), fc.integer(), fc.boolean(), fc.constant(null));
const documents = fc.dictionary(keys, fc.oneof(values, fc.array(fc.dictionary(keys, values)), fc.dictionary(keys, values)));

describe('a place in a document', () => {
  test('holds what was set, and nothing else changes', () => {
    fc.assert(
      fc.property(documents, paths, values, (document, path, value) => {
        const before = structuredClone(document);
        const after = set(document, path, value);
        expect(document).toEqual(before);
        expect(get(after, path)).toEqual(value);
        for (const key of Object.keys(before)) if (key !== path[0]) expect(get(after, [given(key)])).toBe(get(document, [given(key)]));
      }),
    );
  });

  test('taken out is gone', () => {
    expect(set({ name: { note: 1, c: 2 } }, ['name', 'note'], undefined)).toEqual({ name: { c: 2 } });
    expect(set({ rewards: ['x', 'y', 'z'] }, ['rewards', 1], undefined)).toEqual({ rewards: ['x', 'z'] });
    expect(get({ name: null }, ['name', 'note'])).toBeUndefined();
  });

  test.each([
    // Source: RFC 6901, section 5.
    [[], ''],
    [['foo'], '/foo'],
    [['foo', 0], '/foo/0'],
    [[''], '/'],
    [['a/b'], '/a~1b'],
    [['m~n'], '/m~0n'],
    [[' '], '/ '],
  ] as [Path, string][])('%j is written %s', (path, pointer) => {
    expect(pointerOf(path)).toBe(pointer);
  });

  test('has the problems at it and below it, not those of a longer name', () => {
    const problem = (at: string) => ({ at, code: 'missing' as const, message: '' });
    const all = ['/rewards', '/rewards/0/take', '/rewardsToo', '/rewards/01'].map(problem);
    expect(problemsUnder(all, '/rewards').map((found) => found.at)).toEqual(['/rewards', '/rewards/0/take', '/rewards/01']);
    expect(problemsUnder(all, '/rewards/0').map((found) => found.at)).toEqual(['/rewards/0/take']);
  });
});

describe('conditions', () => {
  test('stand at the top whatever form the tree has', () => {
    const one = { quantity: { op: '>=', n: 2 } };
    expect(topConditions({})).toEqual([]);
    expect(topConditions({ when: { all: [one, one] } })).toEqual([one, one]);
    expect(topConditions({ when: one })).toEqual([one]);
    expect(topConditions({ when: { any: [one] } })).toEqual([{ any: [one] }]);
  });

  test('are about whom where every part is', () => {
    const [who, what] = [{ shopper: { groups: ['trade'] } }, { spend: { from: '10.00' } }];
    expect(isAboutWhom(who)).toBe(true);
    expect(isAboutWhom(what)).toBe(false);
    expect(isAboutWhom({ any: [who, { destination: { in: ['DE'] } }] })).toBe(true);
    expect(isAboutWhom({ none: [who, what] })).toBe(false);
    expect(isAboutWhom({ any: [] })).toBe(false);
    expect(isAboutWhom({})).toBe(false);
  });
});
