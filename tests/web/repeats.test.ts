import fc from 'fast-check';
import { expect, test } from 'vitest';
import { DAYS, firstFrom, type Repeat, readLasts, readRepeat, writeLasts, writeRepeat } from '../../src/web/src/desk/clauses/repeats';

const anyRepeat: fc.Arbitrary<Repeat> = fc.oneof(
  fc.constant<Repeat>({ kind: 'daily' }),
  fc.subarray(DAYS, { minLength: 1 }).map((days): Repeat => ({ kind: 'weekly', days })),
  fc.tuple(fc.constantFrom(1, 2, 3, 4, -1), fc.constantFrom(...DAYS)).map(([nth, day]): Repeat => ({ kind: 'monthly', nth, day })),
  fc.constantFrom(1, 15, 31, -1).map((of): Repeat => ({ kind: 'monthDay', of })),
);

test('what is said is read back as it was said', () => {
  fc.assert(
    fc.property(anyRepeat, (repeat) => {
      expect(readRepeat(writeRepeat(repeat))).toEqual(repeat);
    }),
  );
  expect(readRepeat(undefined)).toEqual({ kind: 'never' });
  expect(readRepeat('FREQ=YEARLY')).toEqual({ kind: 'rule', text: 'FREQ=YEARLY' });
  for (const lasts of ['PT4H', 'PT90M', 'P2D']) {
    const read = readLasts(lasts);
    expect(read && writeLasts(read.number, read.unit)).toBe(lasts);
  }
  expect(readLasts('P1DT2H')).toBeNull();
});

test('it begins at a time of its own, the first there is, at the same hour', () => {
  // Facts of the calendar: 5 March 2027 is a Friday, and the last of that month too falls on the 26th.
  expect(firstFrom({ kind: 'weekly', days: ['FR', 'SU'] }, '2027-03-05T18:00')).toBe('2027-03-05T18:00');
  expect(firstFrom({ kind: 'weekly', days: ['TH'] }, '2027-03-05T18:00')).toBe('2027-03-11T18:00');
  expect(firstFrom({ kind: 'monthly', nth: 1, day: 'SA' }, '2027-03-07T10:00')).toBe('2027-04-03T10:00');
  expect(firstFrom({ kind: 'monthly', nth: -1, day: 'FR' }, '2027-03-05T10:00')).toBe('2027-03-26T10:00');
  expect(firstFrom({ kind: 'monthDay', of: 31 }, '2027-04-01T08:30')).toBe('2027-05-31T08:30');
  expect(firstFrom({ kind: 'monthDay', of: -1 }, '2028-02-01T08:30')).toBe('2028-02-29T08:30');
});
