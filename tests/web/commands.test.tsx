import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { CommandLine, farFrom } from '../../src/web/src/app/CommandLine';
import { useActions } from '../../src/web/src/ui/actions';
import { Server } from './server';
import { cart, Within } from './shop';

const line = (sku: string) => ({ codes: [], lines: [{ sku, quantity: 1 }] });
const samples = [
  { id: 'tour', name: 'Spring tour', who: '', cart: line('A') },
  { id: 'restock', name: 'Workshop restock', who: '', cart: line('B') },
];
const rows = [
  { id: 'moss', name: 'Clear the moss panniers', phaseText: 'live', codes: [] },
  { id: 'winter', name: 'Winter off the rails', phaseText: 'ended 3 days ago', codes: ['RAILS'] },
];

// As they are offered beside the commands of the page.
const FOUND = ['Clear the moss panniers live', 'Winter off the rails RAILS, ended 3 days ago'];

let server: Server;

beforeEach(async () => {
  localStorage.clear();
  window.history.replaceState(null, '', '/promotions');
  server = new Server();
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <Within samples={samples}>
        <input aria-label="Elsewhere" />
        <input id="enter-code" aria-label="Enter a code" />
        <CommandLine />
      </Within>
    </QueryClientProvider>,
  );
});
afterEach(cleanup);

// The server finds by words too.
const found = async (text: string) => {
  await waitFor(() => expect(server.open).toBeGreaterThan(0));
  const words = text.toLowerCase().split(' ');
  const matching = rows.filter((row) => words.every((word) => `${row.name} ${row.phaseText}`.toLowerCase().includes(word)));
  // Codes, goods and shoppers are looked for too; there are none here.
  const none: Record<string, unknown> = { '/api/promotions': { rows: matching }, '/api/codes': { own: [], ofBatches: [] } };
  await act(async () => server.answerEach((path) => none[path] ?? []));
};
const open = async (key: Partial<KeyboardEventInit> = { key: '/' }) => {
  fireEvent.keyDown(document.body, key);
  await found('');
  return screen.getByLabelText('Command');
};
const offered = () => screen.queryAllByRole('option').map((item) => item.textContent);
const type = async (field: HTMLElement, text: string) => {
  fireEvent.change(field, { target: { value: text } });
  await found(text);
};

describe('what is not a promotion', () => {
  test('codes, goods and shoppers are found once there is something to look for', async () => {
    fireEvent.keyDown(document.body, { key: '/' });
    await found('');
    const field = screen.getByLabelText('Command');
    fireEvent.change(field, { target: { value: 'ki' } });
    await waitFor(() => expect(server.open).toBe(4));
    const there: Record<string, unknown> = {
      '/api/promotions': { rows: [] },
      '/api/codes': {
        own: [{ code: 'KITE', promotion: 'p', promotionName: 'P', state: 'live', uses: 0, link: '' }],
        ofBatches: [{ code: 'KI-77', batch: 'b1' }],
      },
      '/api/items': [{ sku: 'KIT', name: 'Kit, small', regular: '1.00', price: '1.00' }],
      '/api/shoppers': [{ id: 's1', name: 'Kira Oddly', groups: ['club'], orders: 3, spent: '9.00' }],
    };
    await act(async () => server.answerEach((path) => there[path] ?? []));
    await waitFor(() =>
      expect(offered().slice(0, 4)).toEqual([
        'KITE the story of this code',
        'KI-77 the story of this code',
        'Kit, small KIT, into the cart',
        'Kira Oddly club: let them buy',
      ]),
    );
    // What the arrows reach is done: the item goes into the cart, the code opens its story.
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(cart.cart.lines.at(-1)).toEqual({ sku: 'KIT', quantity: 1 });
  });
});

describe('the command line', () => {
  test.each([{ key: '/' }, { key: 'k', ctrlKey: true }, { key: 'K', metaKey: true }])('opens by %o', async (key) => {
    expect(await open(key)).toBeTruthy();
    await waitFor(() => expect(offered()).toEqual(expect.arrayContaining(['Counter play the shopper', ...FOUND])));
  });

  test('leaves keys alone that are typed into a field', () => {
    fireEvent.keyDown(screen.getByLabelText('Elsewhere'), { key: '/' });
    fireEvent.keyDown(screen.getByLabelText('Elsewhere'), { key: 'n' });
    expect(screen.queryByLabelText('Command')).toBeNull();
    expect(window.location.pathname).toBe('/promotions');
  });

  test('one key goes to a new promotion, one to the field for a code', () => {
    fireEvent.keyDown(document.body, { key: 'c' });
    expect(document.activeElement?.id).toBe('enter-code');
    fireEvent.keyDown(document.body, { key: 'n' });
    expect(window.location.pathname).toBe('/promotions/new');
  });

  test('finds by words in any order, of the name and of what is said beside it', async () => {
    const field = await open();
    await waitFor(() => expect(offered()).toEqual(expect.arrayContaining(['Counter play the shopper', ...FOUND])));
    await type(field, 'panniers MOSS');
    await waitFor(() => expect(offered()).toEqual(['Clear the moss panniers live']));
    await type(field, 'ended');
    await waitFor(() => expect(offered()).toEqual(['Winter off the rails RAILS, ended 3 days ago']));
    await type(field, 'ended moss');
    await screen.findByText('Nothing of that name.');
    expect(offered()).toEqual([]);
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(window.location.pathname).toBe('/promotions');
  });

  test('puts what begins as typed before what only holds the words', () => {
    const names = ['Cart: Spring tour, Berlin', 'Spring climb', 'Spring newsletter', 'The new spring'];
    const nearest = (typed: string) => [...names].sort((left, right) => farFrom(left, typed) - farFrom(right, typed))[0];
    expect(nearest('spring n')).toBe('Spring newsletter');
    expect(nearest('new spr')).toBe('The new spring');
    expect(nearest('cart')).toBe('Cart: Spring tour, Berlin');
  });

  test('goes to the one that the arrows reached, and is closed', async () => {
    const field = await open();
    await type(field, 'the');
    await waitFor(() => expect(offered().some((words) => words?.startsWith('Winter'))).toBe(true));
    const place = offered().findIndex((words) => words?.startsWith('Winter'));
    for (let step = 0; step < place; step++) fireEvent.keyDown(field, { key: 'ArrowDown' });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(window.location.pathname).toBe('/promotions/winter');
    expect(screen.queryByLabelText('Command')).toBeNull();
  });

  test('puts a cart on the tape, and turns the paper', async () => {
    const field = await open();
    await type(field, 'restock');
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(cart.cart.lines).toEqual(line('B').lines);
    fireEvent.keyDown(document.body, { key: '/' });
    await found('');
    await type(screen.getByLabelText('Command'), 'night');
    fireEvent.keyDown(screen.getByLabelText('Command'), { key: 'Enter' });
    expect(document.documentElement.dataset.page).toBe('night');
  });

  test('sets the clock to a moment as people say it, and begins what is wanted', async () => {
    const field = await open();
    await type(field, 'clock 5 march 2027 18:00');
    await waitFor(() => expect(offered()[0]).toMatch(/^Clock: .*5 Mar.* 18:00/));
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(cart.cart.at).toBe('2027-03-05T17:00:00Z');
    await open();
    await type(screen.getByLabelText('Command'), 'sell sets');
    fireEvent.keyDown(screen.getByLabelText('Command'), { key: 'Enter' });
    await waitFor(() => expect(server.open).toBeGreaterThan(0));
    await act(async () => server.answerEach((path) => (path === '/api/promotions' ? { id: 'p7' } : [])));
    await waitFor(() => expect(window.location.pathname).toBe('/promotions/p7'));
  });

  test('runs what the page one is on offers, as it is then', async () => {
    let done = 0;
    const Page = ({ by }: { by: number }) => {
      useActions([{ words: 'retire', detail: 'this promotion', run: () => (done += by) }]);
      return null;
    };
    const page = render(<Page by={1} />);
    page.rerender(<Page by={10} />);
    // What is done by Enter alone does no harm.
    const field = await open();
    await waitFor(() => expect(offered()).toContain('Retire this promotion'));
    expect(offered()[0]).toBe('New promotion begin from what you want');
    await type(field, 'retire');
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(done).toBe(10);
    page.unmount();
    await open();
    expect(offered()).not.toContain('Retire this promotion');
  });
});
