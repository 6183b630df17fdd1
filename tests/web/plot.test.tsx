import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeAll, describe, expect, test, vi } from 'vitest';
import { Plot } from '../../src/web/src/desk/curve/Plot';

// The page that tests run in has no layout.
beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
});
afterEach(cleanup);

const points = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12].map((units) => ({
  units,
  spend: `${units}.00`,
  before: `${units}.00`,
  after: `${units - Math.floor(units / 3)}.00`,
  margin: units === 9 ? '-1.00' : '1.00',
}));

function plot(units: number) {
  const onMove = vi.fn();
  render(
    <Plot
      points={points}
      marks={[{ kind: 'flat', places: [3, 6, 9, 12], sentence: '' }]}
      against="units"
      units={units}
      onMove={onMove}
      say={(point) => `${point.units} cost ${point.after}`}
      money={(amount) => amount}
      label="Units of it"
    />,
  );
  return { onMove, slider: screen.getByRole('slider', { name: 'Units of it' }) };
}

describe('the cursor of a price curve', () => {
  test.each([
    ['ArrowRight', 6],
    ['ArrowUp', 6],
    ['ArrowLeft', 4],
    ['ArrowDown', 4],
    ['PageUp', 12],
    ['PageDown', 1],
    ['Home', 1],
    ['End', 12],
  ])('%s moves it from 5 to %i', (key, to) => {
    const { onMove, slider } = plot(5);
    fireEvent.keyDown(slider, { key });
    expect(onMove.mock.calls).toEqual([[to]]);
  });

  test('stays within the curve, and leaves keys alone that mean something else', () => {
    const { onMove, slider } = plot(12);
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    fireEvent.keyDown(slider, { key: 'z', ctrlKey: true });
    fireEvent.keyDown(slider, { key: 'ArrowRight', ctrlKey: true });
    fireEvent.keyDown(slider, { key: 'Tab' });
    expect(onMove.mock.calls).toEqual([[12]]);
  });

  test('says where it is to those who listen, also where nothing of it is in the cart', () => {
    expect(plot(3).slider.getAttribute('aria-valuetext')).toBe('3 cost 2.00');
    cleanup();
    expect(plot(0).slider.getAttribute('aria-valuetext')).toBe('none of it is in the cart');
  });
});
