import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import type { TapePrint } from '../../src/web/src/api/client';
import { TapeCodes } from '../../src/web/src/tape/TapeCodes';
import { TapeEntries } from '../../src/web/src/tape/TapeEntries';
import { WhyNot } from '../../src/web/src/tape/WhyNot';
import { Server } from './server';
import { cart, Within } from './shop';

const sample = { id: 's', name: 'S', who: '', cart: { codes: ['Ride10'], lines: [{ sku: 'A', quantity: 2 }] } };
const why = (promotion: string, remedy: object | null = null) => ({
  promotion,
  name: `Name of ${promotion}`,
  reason: '',
  message: `${promotion} is short.`,
  remedy,
});
const printed = (parts: object) => ({ whyNot: [], nudges: [], codes: [], ...parts }) as unknown as TapePrint;

const show = (part: ReactNode) => render(<Within samples={[sample]}>{part}</Within>);

beforeEach(() => localStorage.clear());
afterEach(cleanup);

test('entries are printed in the order of the passes, so that each is taken from the total above it', () => {
  const entry = (promotion: string, from: string, amount: string, net: string | null = null) => ({
    promotion,
    from,
    amount,
    net,
    label: promotion,
    name: promotion,
    units: 1,
    before: null,
  });
  const totals = { goods: '100.00', shipping: '5.00', points: 0, taxIncluded: true, shippingUnavailable: false };
  const entries = [
    entry('order', 'order', '9.00'),
    entry('gift', 'gift', '3.00', '1.00'),
    entry('parcel', 'delivery', '5.00'),
    entry('items', 'goods', '10.00'),
  ];
  show(
    <TapeEntries print={printed({ entries, totals, currency: 'EUR', offers: [], taxes: [] })} live={null} lit={null} onLight={() => {}} />,
  );
  const rows = screen
    .getAllByTestId('entry')
    .map((row) => [row.dataset.promotion, row.querySelector('[role=cell]:last-child')?.textContent]);
  expect(rows).toEqual([
    ['items', '90.00'],
    ['gift', '91.00'],
    ['order', '82.00'],
    ['parcel', '82.00'],
  ]);
});

describe('why not', () => {
  const names = () => screen.queryAllByTestId('why-not').map((row) => row.dataset.promotion);

  test('tells of the promotion on the desk first, of the nearest, and of the others if asked', () => {
    show(<WhyNot print={printed({ whyNot: ['a', 'b', 'c', 'd', 'e', 'f', 'mine'].map((id) => why(id)) })} draftId="mine" />);
    expect(names()).toEqual(['mine', 'a', 'b', 'c', 'd']);
    expect(screen.getAllByTestId('why-not')[0]?.textContent).toBe('✎Name of mine mine is short.');
    fireEvent.click(screen.getByText('2 more'));
    expect(names()).toEqual(['mine', 'a', 'b', 'c', 'd', 'e', 'f']);
    fireEvent.click(screen.getByText('only the nearest'));
    expect(names().length).toBe(5);
  });

  test('is not there when everything applied', () => {
    show(<WhyNot print={printed({})} />);
    expect(screen.queryByLabelText('Why not')).toBeNull();
  });

  test('a press makes the cart fit', () => {
    show(<WhyNot print={printed({ whyNot: [why('a', { kind: 'add', value: 'A', units: 3, words: 'add 3 more' }), why('b')] })} />);
    expect(screen.getAllByRole('button').map((button) => button.textContent)).toEqual(['add 3 more']);
    fireEvent.click(screen.getByText('add 3 more'));
    expect(cart.cart.lines).toEqual([{ sku: 'A', quantity: 5 }]);
  });

  test('what would bring a promotion is put in by a press, all of it', async () => {
    const add = [
      { sku: 'A', name: 'Tube', quantity: 1 },
      { sku: 'B', name: 'Tyre', quantity: 2 },
    ];
    show(
      <WhyNot
        print={printed({ whyNot: [why('a')], nudges: [{ promotion: 'a', message: 'm', shopper: 'Add 3 more: A.', add, saves: '1.00' }] })}
      />,
    );
    fireEvent.click(screen.getByText('add 1 Tube and 2 Tyre'));
    await waitFor(() =>
      expect(cart.cart.lines).toEqual([
        { sku: 'A', quantity: 3 },
        { sku: 'B', quantity: 2 },
      ]),
    );
  });

  test.each([
    [
      'the first shopper of the group',
      [
        { id: 's2', name: 'Odd', groups: ['club'] },
        { id: 's1', name: 'Ada', groups: ['trade'] },
      ],
      'Ada',
    ],
    ['somebody of it where there is none', [], 'Somebody of trade'],
    ['somebody of it while the server is down', 'unreachable', 'Somebody of trade'],
  ] as const)('lets %s buy', async (_, found, expected) => {
    const server = new Server();
    show(<WhyNot print={printed({ whyNot: [why('a', { kind: 'group', value: 'trade', units: 0, words: 'buy as trade' })] })} />);
    fireEvent.click(screen.getByText('buy as trade'));
    await waitFor(() => expect(server.open).toBe(1));
    await act(async () => server.answer(found === 'unreachable' ? found : { status: 200, body: found }));
    await waitFor(() => expect(cart.who).toBe(expected));
    expect(cart.cart.shopper?.groups).toEqual(['trade']);
  });
});

describe('the codes of a cart', () => {
  const codes = printed({
    codes: [
      { code: 'RIDE10', status: 'applied', message: '10 % off' },
      { code: 'OLD', status: 'ended', message: 'ended 3 days ago' },
    ],
  });
  const enter = (text: string) => {
    fireEvent.change(screen.getByLabelText('Enter a code'), { target: { value: text } });
    fireEvent.submit(screen.getByLabelText('Enter a code').closest('form') as HTMLFormElement);
  };

  test('say what became of each', () => {
    show(<TapeCodes print={codes} />);
    expect(screen.getAllByTestId('code').map((row) => row.textContent)).toEqual([
      '✓ RIDE1010 % offtake out',
      '× OLDended 3 days agotake out',
    ]);
  });

  test('are entered once however they are written, and never empty', () => {
    show(<TapeCodes print={codes} />);
    for (const typed of ['', '  ', ' climb ', 'CLIMB', 'ｃｌｉｍｂ']) enter(typed);
    expect(cart.cart.codes).toEqual(['Ride10', 'ｃｌｉｍｂ']);
    expect((screen.getByLabelText('Enter a code') as HTMLInputElement).value).toBe('');
  });

  test('are taken out as they were written', () => {
    show(<TapeCodes print={codes} />);
    fireEvent.click(screen.getByLabelText('take out RIDE10'));
    expect(cart.cart.codes).toEqual([]);
  });
});
