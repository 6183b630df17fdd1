import { useState } from 'react';
import type { SampleCart, ShopperInfo } from '../api/client';
import { useShoppers } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Finder } from '../ui/Finder';
import { Menu } from '../ui/Menu';
import { Popup } from '../ui/Popup';
import { WhenPopup } from '../ui/WhenPopup';
import { sayWhen } from '../ui/when';
import { useCart } from './cart';

/** Who buys, where it goes, how, on which channel, in which currency, and when: each a part that can change. */
export function TapeHead() {
  const { info } = useShopContext();
  const { cart, change, sample, open, clear } = useCart();
  const samples = info.samples as SampleCart[];
  return (
    <header className="not-printed border-b border-rule px-3 py-1.5 font-sans text-body leading-[25px]">
      <div className="flex items-baseline justify-between gap-3">
        <Clock />
        <Menu
          label="Open a cart"
          words={`cart: ${samples.find((one) => one.id === sample)?.name ?? 'my own'}`}
          items={[...samples.map((one) => ({ words: one.name, onSelect: () => open(one) })), { words: 'an empty cart', onSelect: clear }]}
        />
      </div>
      <p>
        <Buyer /> buys on{' '}
        <Choice
          label="Channel"
          value={cart.channel ?? 'web'}
          options={info.channels.map((channel) => ({ value: channel, words: channel }))}
          onChange={(channel) => change({ channel })}
        />
        , pays in{' '}
        <Choice
          label="Currency"
          value={cart.currency ?? info.currency}
          options={info.currencies.map((currency) => ({ value: currency.code, words: currency.code }))}
          onChange={(currency) => change({ currency })}
        />
        ; to{' '}
        <Choice
          label="Destination"
          value={cart.destination ?? 'nowhere'}
          options={[
            { value: 'nowhere', words: 'a place not said' },
            ...info.places.map((place) => ({ value: place.code, words: place.name })),
          ]}
          onChange={(destination) => change({ destination: destination === 'nowhere' ? undefined : destination })}
        />{' '}
        by{' '}
        <Choice
          label="Delivery"
          value={cart.method ?? 'none'}
          options={[
            { value: 'none', words: 'no way chosen yet' },
            ...info.methods.map((method) => ({ value: method.id, words: method.name })),
          ]}
          onChange={(method) => change({ method: method === 'none' ? undefined : method })}
        />
      </p>
    </header>
  );
}

function Clock() {
  const { info, format } = useShopContext();
  const { cart, change } = useCart();
  const now = info.demoClock ? info.now : new Date().toISOString();
  const local = format.toLocal(cart.at ?? now);
  return (
    <span>
      <span className="head-word">clock </span>
      <WhenPopup
        label="Price the cart at"
        words={`${cart.at ? '' : 'now, '}${sayWhen(local, info.locale, 'start')}`}
        value={local}
        edge="start"
        locale={info.locale}
        zone={info.timeZone}
        clocksAt={format.clocksAt}
        now={format.toLocal(now)}
        empty="back to now"
        examples={['tomorrow', 'this weekend', 'in one week']}
        keep={() => {
          const old = cart.at;
          return () => change({ at: old });
        }}
        onChange={(chosen) => change({ at: chosen === undefined ? undefined : format.fromLocal(chosen) })}
      />
    </span>
  );
}

function Buyer() {
  const { info } = useShopContext();
  const { cart, who, letBuy } = useCart();
  const groups = cart.shopper?.groups ?? [];
  return (
    <Popup label="Shopper" words={`${who}${groups.length > 0 ? ` (${groups.join(', ')})` : ''}`} width={340}>
      {(close) => (
        <ShopperSearch
          groups={info.groups}
          onChoose={(shopper) => {
            letBuy(shopper);
            close();
          }}
        />
      )}
    </Popup>
  );
}

/** Finds a shopper by name, id or group; or nobody, who is a guest. */
export function ShopperSearch({ groups, onChoose }: { groups: string[]; onChoose: (shopper: ShopperInfo | null) => void }) {
  const [q, setQ] = useState('');
  const { format, info } = useShopContext();
  const { data: found = [] } = useShoppers(q, true);
  return (
    <Finder<ShopperInfo | null>
      placeholder="name, id or group"
      label="Find a shopper"
      value={q}
      onType={setQ}
      found={/^\s*(a )?guest\s*$/i.test(q) ? [null] : found}
      keyOf={(shopper) => shopper?.id ?? ''}
      onTake={onChoose}
      listClass="max-h-64 overflow-y-auto"
      note={
        <p className="my-1 flex gap-3">
          <button type="button" className="word" onClick={() => onChoose(null)}>
            a guest
          </button>
          {groups.map((group) => (
            <button type="button" className="word" key={group} onClick={() => setQ(group)}>
              {group}
            </button>
          ))}
        </p>
      }
      row={(shopper) =>
        shopper === null ? (
          'a guest'
        ) : (
          <>
            <span className="min-w-0 flex-1">
              {shopper.name} <span className="text-faded">{shopper.groups.join(', ')}</span>
            </span>
            <span className="shrink-0 text-faded">
              {shopper.orders === 0
                ? 'no orders'
                : `${shopper.orders} ${shopper.orders === 1 ? 'order' : 'orders'}, ${format.money(shopper.spent, info.currency)}`}
            </span>
          </>
        )
      }
    />
  );
}
