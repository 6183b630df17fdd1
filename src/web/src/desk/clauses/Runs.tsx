import type { Json, NextOpening } from '../../api/client';
import { Clause } from '../../shop/Clause';
import { type Draft, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { useCart } from '../../tape/cart';
import { isLocal } from '../../ui/local';
import { toNumber, toText } from '../../ui/numbers';
import { Typed } from '../../ui/Typed';
import { WhenPopup } from '../../ui/WhenPopup';
import { sayWhen } from '../../ui/when';
import { Repeats } from './Repeats';

/** From when to when, in the shop's time. */
export function Runs({ draft, comings }: { draft: Draft; comings: NextOpening[] }) {
  const { info, format } = useShopContext();
  const { cart } = useCart();
  const window = (draft.document.window ?? {}) as Json;
  const now = format.toLocal(cart.at ?? (info.demoClock ? info.now : Date.now()));
  const quiet = window.start === undefined && window.end === undefined;
  const set = (change: Json) => {
    const kept = Object.fromEntries(Object.entries({ ...window, ...change }).filter(([, entry]) => entry !== undefined));
    draft.change(['window'], Object.keys(kept).length === 0 ? undefined : kept);
  };
  const edge = (name: 'start' | 'end', empty: string, examples: string[]) => {
    const other = name === 'start' ? 'end' : 'start';
    const written = toText(window[name]);
    return (
      <WhenPopup
        label={name === 'start' ? 'Start' : 'End'}
        words={isLocal(written) ? sayWhen(written, info.locale, name) : written || empty}
        value={isLocal(written) ? written : undefined}
        edge={name}
        locale={info.locale}
        zone={info.timeZone}
        clocksAt={format.clocksAt}
        now={now}
        start={toText(window.start) || undefined}
        empty={empty}
        examples={examples}
        wanting={problemsUnder(draft.problems, `/window/${name}`).length > 0}
        keep={() => {
          const old = draft.document.window;
          return () => draft.change(['window'], old);
        }}
        onChange={(local, both) => set(both ? { [name]: local, [other]: both } : { [name]: local })}
      />
    );
  };
  return (
    <Clause name="Runs" problems={problemsUnder(draft.problems, '/window')} quiet={quiet}>
      from {edge('start', 'the moment it is live', ['today', 'tomorrow', 'this weekend', 'next week'])} to{' '}
      {edge('end', 'no end', ['this weekend', 'for one week', 'for two weeks'])} {info.timeZone} time,{' '}
      {window.graceMinutes !== undefined && 'with '}
      <Typed
        label="Minutes of grace"
        placeholder="no grace"
        value={toText(window.graceMinutes)}
        onType={(text) => draft.change(['window', 'graceMinutes'], toNumber(text))}
      />
      {window.graceMinutes !== undefined && ' minutes of grace before and after'}
      <Repeats
        window={window}
        set={set}
        now={now}
        locale={info.locale}
        comings={comings}
        wanting={problemsUnder(draft.problems, '/window/repeat').length > 0}
      />
    </Clause>
  );
}
