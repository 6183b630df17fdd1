import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, test } from 'vitest';
import type { Json } from '../../src/web/src/api/client';
import { readTake, sayTake, takeTyped } from '../../src/web/src/desk/clauses/rewards/takes';
import { Sheet } from '../../src/web/src/ui/Sheet';

afterEach(cleanup);

describe('what a step takes, as it is typed', () => {
  test.each([
    ['10 %', { percent: 10 }],
    ['5.00 off', { amount: '5.00' }],
    ['€5', { amount: '5' }],
    ['for 12.00', { price: '12.00' }],
    ['free', { percent: 100 }],
    ['', undefined],
  ])('“%s” says its kind', (typed, take) => expect(readTake(typed, { amount: '1.00' })).toEqual(take));

  test('a number alone is of the kind that stood there, else of the others, else a percentage', () => {
    expect(readTake('20', { percent: 10 }, [{ amount: '3' }])).toEqual({ percent: 20 });
    expect(readTake('20', { amount: '3' }, [{ percent: 10 }])).toEqual({ amount: '20' });
    expect(readTake('20', { price: '3' })).toEqual({ price: '20' });
    expect(readTake('20', undefined, [{ percent: 10 }, { amount: '3' }, undefined])).toEqual({ amount: '20' });
    expect(readTake('20')).toEqual({ percent: 20 });
  });

  test('amounts in other currencies stay with what is typed in the shop’s own', () =>
    expect(
      takeTyped('6', { now: { amount: { EUR: '5', GBP: '4' } }, before: { amount: { EUR: '5', GBP: '4' } }, others: [], base: 'EUR' }),
    ).toEqual({
      amount: { EUR: '6', GBP: '4' },
    }));

  test('in a table it keeps its kind also over what was emptied, key by key; a new row has that of the row above', () => {
    let rows: { take?: Json }[] = [];
    const Table = () => {
      const [shown, setShown] = useState<{ take?: Json }[]>([{ take: { percent: 10 } }, { take: { amount: '4.00' } }]);
      rows = shown;
      const text = {
        get: (row: { take?: Json }) => sayTake(row.take),
        set: (row: { take?: Json }, typed: string, before: { take?: Json }, all: { take?: Json }[]) => ({
          take: takeTyped(typed, { now: row.take, before: before.take, others: all.map((one) => one.take), base: 'EUR' }),
        }),
      };
      return <Sheet label="Steps" row="step" rows={shown} onRows={setShown} fresh={() => ({})} columns={[{ head: 'takes', text }]} />;
    };
    render(<Table />);
    const field = (place: number) => screen.getByLabelText(`takes, step ${place}`);
    const type = (place: number, ...texts: string[]) => {
      fireEvent.focus(field(place));
      for (const value of texts) fireEvent.change(field(place), { target: { value } });
      fireEvent.blur(field(place));
    };
    type(1, '', '2', '20');
    expect(rows).toEqual([{ take: { percent: 20 } }, { take: { amount: '4.00' } }]);
    fireEvent.click(screen.getByText('another step'));
    type(3, '6', '6.50');
    expect(rows[2]).toEqual({ take: { amount: '6.50' } });
    expect((field(3) as HTMLInputElement).value).toBe('6.50 off');
    // What says its kind is followed by what says none, also without leaving the cell; what cannot be read is not.
    type(3, '7', '7 %', '', '8', '8 o', '8 of', '9');
    expect(rows[2]).toEqual({ take: { amount: '9' } });
    type(3, '8 %');
    expect(rows[2]).toEqual({ take: { percent: 8 } });
  });
});
