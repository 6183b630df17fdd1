import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { formatIn } from '../../src/web/src/ui/format';
import { reading, readWhen, sayWhen } from '../../src/web/src/ui/when';

// A Wednesday.
const now = '2027-03-03T14:20';
const read = (text: string, edge: 'start' | 'end' = 'start', more: object = {}) => readWhen(text, { now, locale: 'en-GB', edge, ...more });
const local = (text: string, edge: 'start' | 'end' = 'start', more: object = {}) => (read(text, edge, more) as { local: string }).local;

describe('dates as people type them', () => {
  test.each([
    ['2027-03-05', '2027-03-05T00:00'],
    ['2027-03-05T18:00', '2027-03-05T18:00'],
    ['2027-03-05 18:30', '2027-03-05T18:30'],
    ['5 March', '2027-03-05T00:00'],
    ['March 5 at 6pm', '2027-03-05T18:00'],
    ['5.3. 18:00', '2027-03-05T18:00'],
    ['05/03/2027', '2027-03-05T00:00'],
    ['5.3.27', '2027-03-05T00:00'],
    ['1 Feb', '2028-02-01T00:00'],
    ['Fri, 5 March 2027, 18:00', '2027-03-05T18:00'],
    ['friday', '2027-03-05T00:00'],
    ['Wednesday', '2027-03-03T00:00'],
    ['next wednesday', '2027-03-10T00:00'],
    ['this friday', '2027-03-05T00:00'],
    ['next friday', '2027-03-12T00:00'],
    ['Friday 18.30', '2027-03-05T18:30'],
    ['5 March 18.30', '2027-03-05T18:30'],
    ['5.3. 18.30', '2027-03-05T18:30'],
    ['5.3.27 8.05', '2027-03-05T08:05'],
    ['Friday 5.12', '2027-12-05T00:00'],
    ['18.30 uhr', '2027-03-03T18:30'],
    ['today 24:00', '2027-03-04T00:00'],
    ['tomorrow 9:00', '2027-03-04T09:00'],
    ['tomorrow noon', '2027-03-04T12:00'],
    ['12 am', '2027-03-03T00:00'],
    ['18:00', '2027-03-03T18:00'],
    ['in three days', '2027-03-06T14:20'],
    ['12 pm', '2027-03-03T12:00'],
    ['now', '2027-03-03T14:20'],
  ])('%s', (typed, expected) => expect(local(typed)).toBe(expected));

  test('a year that is still being typed is no moment yet', () => {
    for (const typed of ['12.3.2', '12.3.202', '12.3.20271', '12.3.1969', '12.3.2200'])
      expect(readWhen(typed, { now: '2027-03-05T10:00', locale: 'de-DE', edge: 'start' }), typed).toHaveProperty('problem');
    expect(readWhen('12.3.2027 10:00', { now: '2027-03-05T10:00', locale: 'de-DE', edge: 'start' })).toEqual({ local: '2027-03-12T10:00' });
  });

  test.each([
    ['2027-01-31T10:00', 'in one month', '2027-02-28T10:00'],
    ['2028-01-31T10:00', 'in one month', '2028-02-29T10:00'],
    ['2027-10-31T10:00', 'in four months', '2028-02-29T10:00'],
    ['2028-02-29T10:00', 'in one year', '2029-02-28T10:00'],
    ['2027-03-15T10:00:30', 'in one month', '2027-04-15T10:00:30'],
  ])('after %s, %s is %s: a month without such a day ends with its last', (from, typed, expected) =>
    expect(local(typed, 'start', { now: from })).toBe(expected),
  );

  test('times with seconds are times, in the shop and in its zone', () => {
    expect(sayWhen('2027-03-05T18:00:30', 'en-GB', 'start')).toBe('Fri, 5 March 2027, 18:00:30');
    expect(sayWhen('2027-03-06T00:00:00', 'en-GB', 'end')).toBe('Fri, 5 March 2027, 24:00');
    const format = formatIn('en-GB', 'Asia/Kathmandu', {});
    expect(format.fromLocal('2027-03-05T18:00:30')).toBe('2027-03-05T12:15:30Z');
    expect(format.fromLocal('2027-03-05T18:00')).toBe('2027-03-05T12:15:00Z');
  });

  test('what is typed is read back in full, with how far off it is and what the clocks do to it', () => {
    const format = formatIn('en-GB', 'Europe/Berlin', {});
    const back = (text: string, edge: 'start' | 'end' = 'start') => reading(text, { now, locale: 'en-GB', edge }, format.clocksAt).words;
    expect(back('next friday')).toBe('Friday, 12 March 2027, 00:00, in 9 days');
    expect(back('today', 'end')).toBe('Wednesday, 3 March 2027, 24:00, today');
    expect(back('28 March 02:30')).toBe(
      'Sunday, 28 March 2027, 02:30, in 25 days ⚠ there is no 02:30 that day, the clocks go forward: 03:30 is taken',
    );
    expect(back('31 October 02:30')).toMatch(/⚠ 02:30 comes twice that day, the clocks go back: the first is taken$/);
    expect(back('31 October 03:30')).not.toContain('⚠');
    expect(back('31 April')).toBe('⚠ There is no such day: 31 april.');
    const lordHowe = formatIn('en-AU', 'Australia/Lord_Howe', {});
    expect(lordHowe.clocksAt('2027-04-04T01:45')).toContain('comes twice');
    expect(formatIn('en-IN', 'Asia/Kathmandu', {}).clocksAt('2027-03-28T02:30')).toBeUndefined();
  });

  test('a day without a time ends at its 24:00', () => {
    expect(local('5 March', 'end')).toBe('2027-03-06T00:00');
    expect(sayWhen('2027-03-06T00:00', 'en-GB', 'end')).toBe('Fri, 5 March 2027, 24:00');
    expect(sayWhen('2027-03-06T00:00', 'en-GB', 'start')).toBe('Sat, 6 March 2027, 00:00');
    expect(local('24:00', 'end', { start: '2027-03-08T10:00' })).toBe('2027-03-09T00:00');
  });

  test('so long after it starts', () => {
    expect(local('for two weeks', 'end', { start: '2027-03-08T00:00' })).toBe('2027-03-22T00:00');
    expect(local('3 days', 'end', { start: '2027-03-08T10:00' })).toBe('2027-03-11T10:00');
    expect(local('one month', 'end', { start: '2027-03-08T00:00' })).toBe('2027-04-08T00:00');
    expect(local('for two weeks', 'end')).toBe('2027-03-17T14:20');
  });

  test('a weekend is both its edges', () => {
    expect(read('this weekend')).toEqual({ local: '2027-03-06T00:00', other: '2027-03-08T00:00' });
    expect(read('this weekend', 'end')).toEqual({ local: '2027-03-08T00:00', other: '2027-03-06T00:00' });
    expect(read('this weekend', 'start', { now: '2027-03-07T10:00' })).toEqual({ local: '2027-03-06T00:00', other: '2027-03-08T00:00' });
    expect(read('next week')).toEqual({ local: '2027-03-08T00:00', other: '2027-03-15T00:00' });
  });

  test.each(['soon', '31 April', '32.1.2027', '25:00', '24:30', '2027-13-01', 'March', ''])('“%s” is said not to be one', (typed) =>
    expect(read(typed)).toHaveProperty('problem'),
  );

  test('are read back as the language itself writes them (Intl, after CLDR)', () => {
    const anyDay = fc.date({ min: new Date('2000-01-01'), max: new Date('2060-12-31'), noInvalidDate: true });
    const styles = fc.constantFrom<Intl.DateTimeFormatOptions>(
      { day: 'numeric', month: 'long', year: 'numeric' },
      { weekday: 'short', day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
      { day: '2-digit', month: '2-digit', year: 'numeric', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
    );
    fc.assert(
      fc.property(anyDay, styles, fc.constantFrom('en-GB', 'en-US', 'de-DE', 'de-AT'), (day, style, locale) => {
        const written = new Intl.DateTimeFormat(locale, { ...style, timeZone: 'UTC' }).format(day);
        const expected = day.toISOString().slice(0, style.hour ? 16 : 10);
        expect((readWhen(written, { now, locale, edge: 'start' }) as { local: string }).local?.slice(0, expected.length)).toBe(expected);
      }),
      { numRuns: 400 },
    );
  });

  test('what is said of a moment is read as that moment', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('2000-01-01'), max: new Date('2060-12-31'), noInvalidDate: true }),
        fc.constantFrom('start', 'end'),
        fc.constantFrom('en-GB', 'de-DE', 'en-US'),
        (day, edge, locale) => {
          const moment = day.toISOString().slice(0, 16);
          expect(readWhen(sayWhen(moment, locale, edge as 'start'), { now, locale, edge: edge as 'start' })).toEqual({ local: moment });
        },
      ),
      { numRuns: 400 },
    );
  });
});
