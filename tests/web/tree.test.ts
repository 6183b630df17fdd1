import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { GROUPS, groupOf, move, step } from '../../src/web/src/desk/tree';
import { type Condition, get, type Path } from '../../src/web/src/shop/document';

type Way = 'up' | 'down' | 'out' | 'into';

/** A tree of conditions, each leaf with a number of its own. */
const trees = fc
  .letrec<{ node: Condition; group: Condition }>((tie) => ({
    node: fc.oneof({ depthSize: 'small', withCrossShrink: true }, fc.record({ leaf: fc.constant(0) }), tie('group')),
    group: fc
      .tuple(fc.constantFrom(...GROUPS), fc.array(tie('node'), { minLength: 1, maxLength: 4 }))
      .map(([kind, parts]) => ({ [kind]: parts })),
  }))
  .group.map((group) => {
    let next = 0;
    const numbered = (condition: Condition): Condition => {
      const kind = groupOf(condition);
      if (kind) return { [kind]: (condition[kind] as Condition[]).map(numbered) };
      next += 1;
      return { leaf: next };
    };
    return { name: 'kept', when: numbered(group) };
  });

const leaves = (condition: Condition): number[] => {
  const kind = groupOf(condition);
  return kind ? (condition[kind] as Condition[]).flatMap(leaves) : [condition.leaf as number];
};

/** Every place in the tree but its root. */
function places(condition: Condition, at: Path): Path[] {
  const kind = groupOf(condition);
  if (!kind) return [];
  return (condition[kind] as Condition[]).flatMap((part, index) => {
    const path: Path = [...at, kind, index];
    return [path, ...places(part, path)];
  });
}

const pick = <T>(from: T[], number: number) => from[number % from.length] as T;

describe('conditions move by keys', () => {
  test('and none is lost, doubled or changed on the way', () => {
    fc.assert(
      fc.property(trees, fc.nat(), fc.constantFrom<Way>('up', 'down', 'out', 'into'), (document, number, way) => {
        const from = pick(places(document.when, ['when']), number);
        const before = structuredClone(document);
        const moved = step(document, from, way);
        expect(document).toEqual(before);
        expect(leaves(moved.document.when as Condition).sort()).toEqual(leaves(document.when).sort());
        // The path says where it is now.
        expect(get(moved.document, moved.path)).toEqual(get(document, from));
        expect(moved.document.name).toBe('kept');
      }),
    );
  });

  test('up and down are each the way back of the other', () => {
    fc.assert(
      fc.property(trees, fc.nat(), (document, number) => {
        const from = pick(places(document.when, ['when']), number);
        for (const [there, back] of [
          ['up', 'down'],
          ['down', 'up'],
        ] as [Way, Way][]) {
          const moved = step(document, from, there);
          if (moved.document !== document) expect(step(moved.document, moved.path, back)).toEqual({ document, path: from });
        }
      }),
    );
  });

  test('out of a group and into it again at its end', () => {
    const document = { when: { all: [{ any: [{ leaf: 1 }, { leaf: 2 }] }, { leaf: 3 }] } };
    const out = step(document, ['when', 'all', 0, 'any', 0], 'out');
    expect(out).toEqual({ document: { when: { all: [{ any: [{ leaf: 2 }] }, { leaf: 1 }, { leaf: 3 }] } }, path: ['when', 'all', 1] });
    const into = step(out.document, out.path, 'into');
    expect(into).toEqual({
      document: { when: { all: [{ any: [{ leaf: 2 }, { leaf: 1 }] }, { leaf: 3 }] } },
      path: ['when', 'all', 0, 'any', 1],
    });
  });

  test('where there is no way they stay', () => {
    const document = { when: { all: [{ leaf: 1 }, { leaf: 2 }] } };
    expect(step(document, ['when', 'all', 0], 'up').document).toBe(document);
    expect(step(document, ['when', 'all', 1], 'down').document).toBe(document);
    expect(step(document, ['when', 'all', 0], 'out').document).toBe(document);
    expect(step(document, ['when', 'all', 1], 'into').document).toBe(document);
  });
});

describe('conditions are dragged', () => {
  test('before any other, wherever it stands, but not into themselves', () => {
    fc.assert(
      fc.property(trees, fc.nat(), fc.nat(), (document, first, second) => {
        const all = places(document.when, ['when']);
        const [from, before] = [pick(all, first), pick(all, second)];
        const [list, index] = [before.slice(0, -1), before.at(-1) as number];
        const moved = move(document, from, list, index);
        expect(leaves(moved.when as Condition).sort()).toEqual(leaves(document.when).sort());
        if (from.every((way, place) => list[place] === way)) {
          expect(moved).toBe(document);
          return;
        }

        // Read from left to right: what was dragged now stands where it was dropped, and all else in the order it had.
        const dragged = leaves(get(document, from) as Condition);
        const [kept, target] = [leaves(document.when).filter((leaf) => !dragged.includes(leaf)), get(document, before) as Condition];
        const landed = leaves(moved.when as Condition);
        expect(landed.filter((leaf) => !dragged.includes(leaf))).toEqual(kept);
        const next = leaves(target).find((leaf) => !dragged.includes(leaf));
        if (next !== undefined) expect(landed[landed.indexOf(dragged.at(-1) as number) + 1]).toBe(next);
      }),
    );
  });
});
