import { act, fireEvent, render, renderHook, screen } from '@testing-library/react';
import { type KeyboardEvent as Pressed, useState } from 'react';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import { useOpening } from '../../src/web/src/app/useOpening';
import { Finder } from '../../src/web/src/ui/Finder';
import { join } from '../../src/web/src/ui/Ticks';
import { Typed } from '../../src/web/src/ui/Typed';

beforeEach(() => {
  document.body.innerHTML = '';
});

const field = () => screen.getByLabelText('At least') as HTMLInputElement;

describe('a part that is typed', () => {
  test('keeps what is typed while it has the focus, whatever the document makes of it', () => {
    const typed = vi.fn();
    const { rerender } = render(<Typed label="At least" value="100.00" onType={typed} />);
    fireEvent.focus(field());
    fireEvent.change(field(), { target: { value: '1,5' } });
    expect(typed).toHaveBeenLastCalledWith('1,5');
    // The document reads a comma as a point.
    rerender(<Typed label="At least" value="1.5" onType={typed} />);
    expect(field().value).toBe('1,5');
    fireEvent.blur(field());
    expect(field().value).toBe('1.5');
  });

  test('shows what somebody else put there, also while it has the focus', () => {
    const { rerender } = render(<Typed label="At least" value="60" onType={() => {}} />);
    fireEvent.focus(field());
    rerender(<Typed label="At least" value="14" onType={() => {}} />);
    expect(field().value).toBe('14');
  });

  test('follows the document while it has not', () => {
    const { rerender } = render(<Typed label="At least" value="100.00" onType={() => {}} />);
    rerender(<Typed label="At least" value="80.00" onType={() => {}} />);
    expect(field().value).toBe('80.00');
  });

  test('says that it is wanting something', () => {
    render(<Typed label="At least" value="" wanting onType={() => {}} />);
    expect(field().dataset.wanting).toBe('true');
  });

  test('leaves Enter to whoever took it', () => {
    const taken = vi.fn((event: Pressed) => event.preventDefault());
    render(<Typed label="At least" value="1" onType={() => {}} onKeyDown={taken} />);
    expect(fireEvent.keyDown(field(), { key: 'Enter' })).toBe(false);
    expect(taken).toHaveBeenCalledOnce();
  });
});

describe('words', () => {
  test('are joined as people join them', () => {
    expect(join([], 'or')).toBe('');
    expect(join(['a'], 'or')).toBe('a');
    expect(join(['a', 'b'], 'or')).toBe('a or b');
    expect(join(['a', 'b', 'c'], 'and')).toBe('a, b and c');
  });
});

describe('what is found by typing', () => {
  const found = ['bell', 'bracket', 'brake'];
  const finder = () => {
    const [taken, done] = [vi.fn(), vi.fn()];
    const Asked = () => {
      const [q, setQ] = useState('');
      const row = (one: string) => (
        <>
          {one} <span data-aside>leave out</span>
        </>
      );
      return <Finder label="At least" value={q} onType={setQ} found={found} keyOf={(one) => one} row={row} onTake={taken} onDone={done} />;
    };
    render(<Asked />);
    const press = (...keys: string[]) => keys.map((key) => fireEvent.keyDown(field(), { key }));
    return { taken, done, press, marked: () => screen.getByRole('option', { selected: true }).textContent };
  };

  test('is marked by arrows within its ends, which take only their own keys, and from the first again when more is typed', () => {
    const { press, marked, taken } = finder();
    // What the field does itself with a key is not kept from it.
    expect(press('ArrowUp', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'x')).toEqual([false, false, false, false, true]);
    expect(marked()).toContain('brake');
    expect(field().getAttribute('aria-activedescendant')).toBe(screen.getByRole('option', { selected: true }).id);
    fireEvent.change(field(), { target: { value: 'b' } });
    expect(marked()).toContain('bell');
    press('ArrowDown', 'Enter');
    expect(taken).toHaveBeenLastCalledWith('bracket', { isAside: false, isKey: true });
  });

  test('is taken by a press, and aside with Alt or by what stands there for it; Enter in the empty field is done', () => {
    const { press, taken, done } = finder();
    fireEvent.click(screen.getAllByRole('option')[2] as Element);
    expect(taken).toHaveBeenLastCalledWith('brake', { isAside: false, isKey: false });
    fireEvent.click(screen.getAllByText('leave out')[1] as Element);
    expect(taken).toHaveBeenLastCalledWith('bracket', { isAside: true, isKey: false });
    press('Enter');
    expect(done).toHaveBeenCalledOnce();
    fireEvent.change(field(), { target: { value: 'b' } });
    fireEvent.keyDown(field(), { key: 'Enter', altKey: true });
    expect(taken).toHaveBeenLastCalledWith('bell', { isAside: true, isKey: true });
  });
});

describe('what opens', () => {
  test('does so by its event and by its keys, and no longer once it is gone', () => {
    const { result, unmount } = renderHook(() => useOpening('keys-of-the-page', (event, open) => event.key === '?' && open()));
    const [isOpen, set] = [() => result.current[0], (open: boolean) => act(() => result.current[1](open))];
    act(() => void window.dispatchEvent(new KeyboardEvent('keydown', { key: 'x' })));
    expect(isOpen()).toBe(false);
    act(() => void window.dispatchEvent(new KeyboardEvent('keydown', { key: '?' })));
    expect(isOpen()).toBe(true);
    set(false);
    act(() => void window.dispatchEvent(new Event('keys-of-the-page')));
    expect(isOpen()).toBe(true);
    set(false);
    unmount();
    window.dispatchEvent(new KeyboardEvent('keydown', { key: '?' }));
    expect(isOpen()).toBe(false);
  });
});
