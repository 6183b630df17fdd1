import { act, fireEvent, render, renderHook, screen } from '@testing-library/react';
import type { KeyboardEvent as Pressed } from 'react';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import { useOpening } from '../../src/web/src/app/useOpening';
import { join } from '../../src/web/src/ui/Ticks';
import { Typed } from '../../src/web/src/ui/Typed';
import { useWalk } from '../../src/web/src/ui/useWalk';

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

describe('a list that is walked', () => {
  const key = (name: string) => ({ key: name, preventDefault: vi.fn() }) as unknown as Pressed;

  test('by arrows stays within its ends and takes only its own keys', () => {
    const { result } = renderHook(() => useWalk(3));
    const walked: boolean[] = [];
    for (const name of ['ArrowUp', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter', 'x'])
      act(() => {
        const pressed = key(name);
        walked.push(result.current.walk(pressed));
        expect(pressed.preventDefault).toHaveBeenCalledTimes(name.startsWith('Arrow') ? 1 : 0);
      });
    expect(result.current.at).toBe(2);
    expect(walked).toEqual([true, true, true, true, false, false]);
    act(() => result.current.setAt(0));
    expect(result.current.at).toBe(0);
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
