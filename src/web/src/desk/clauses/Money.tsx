import type { ReactNode } from 'react';
import type { Json } from '../../api/client';
import { useAmounts } from '../../api/queries';
import { type Draft, given, type Path, pointerOf } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { toAmount, toText } from '../../ui/numbers';
import { Popup } from '../../ui/Popup';
import { Typed } from '../../ui/Typed';

type Props = {
  draft: Draft;
  label: string;
  value: unknown;
  path: Path;
  placeholder?: string;
  wanting?: boolean;
  /** What follows the amount of the base currency: its code. */
  children?: ReactNode;
};

// The amounts that give more or less.
const gives = ['amount', 'price', 'from'];

/** An amount of the base currency, and of every other one the shop sells in: converted until it is said. */
export function Money({ children, ...amount }: Props) {
  return (
    <>
      <BaseAmount {...amount} />
      {children && <> {children}</>}
      <OtherCurrencies {...amount} />
    </>
  );
}

/** An amount of the base currency alone. */
export function BaseAmount({ draft, label, value, path, placeholder = 'any', wanting }: Omit<Props, 'children'>) {
  const { info } = useShopContext();
  return (
    <Typed
      label={label}
      placeholder={placeholder}
      inputMode="decimal"
      data-at={
        gives.includes(String(path.at(-1)))
          ? pointerOf(typeof value === 'object' && value !== null ? [...path, given(info.currency)] : path)
          : undefined
      }
      wanting={wanting}
      value={baseOf(value, info.currency)}
      onType={(text) => draft.change(path, withAmount(value, info.currency, info.currency, toAmount(text)))}
    />
  );
}

/** The same amount in the other currencies that the shop sells in: what was written, else that it is converted. */
export function OtherCurrencies({ draft, label, value, path }: Pick<Props, 'draft' | 'label' | 'value' | 'path'>) {
  const { info } = useShopContext();
  const by = byCurrency(value, info.currency);
  const others = info.currencies.filter((currency) => currency.code !== info.currency);
  if (others.length === 0 || by[info.currency] === undefined) return null;
  const said = others.filter((currency) => by[currency.code] !== undefined);
  return (
    <>
      {' '}
      <Popup
        label={`${label}, in other currencies`}
        words={said.length > 0 ? `(${said.map((currency) => `${by[currency.code]} ${currency.code}`).join(', ')})` : 'other currencies'}
        className="word whitespace-nowrap"
        width={260}
      >
        {() => (
          <Others
            by={by}
            base={toText(by[info.currency])}
            codes={others.map((currency) => currency.code)}
            onSet={(code, amount) => draft.change(path, withAmount(value, info.currency, code, amount))}
          />
        )}
      </Popup>
    </>
  );
}

type OthersProps = {
  by: Record<string, string | undefined>;
  base: string;
  codes: string[];
  onSet: (code: string, amount: string | undefined) => void;
};

function Others({ by, base, codes, onSet }: OthersProps) {
  const { data: converted = [] } = useAmounts(base);
  return (
    <div>
      <p className="text-faded">Converted at the shop’s rate until you say another amount.</p>
      {codes.map((code) => (
        <p key={code} className="flex items-baseline justify-between gap-3 odd:bg-band">
          {code}
          <Typed
            label={`In ${code}`}
            className="part fitted text-right"
            inputMode="decimal"
            placeholder={converted.find((one) => one.currency === code)?.amount ?? 'no rate'}
            value={by[code] ?? ''}
            onType={(text) => onSet(code, toAmount(text))}
          />
        </p>
      ))}
    </div>
  );
}

function byCurrency(value: unknown, base: string): Record<string, string | undefined> {
  if (value !== null && typeof value === 'object') return value as Record<string, string>;
  return value === undefined || value === null ? {} : { [base]: String(value) };
}

/** The amount of the base currency, as a text. */
export const baseOf = (value: unknown, base: string) => toText(byCurrency(value, base)[base]);

/** An amount with another one for a currency: one of the base currency alone stands as it is, several by their currencies. */
export function withAmount(value: unknown, base: string, code: string, amount: string | undefined): unknown {
  const by = { ...byCurrency(value, base), [code]: amount };
  const said = Object.fromEntries(Object.entries(by).filter(([, amount]) => amount !== undefined)) as Json;
  const codes = Object.keys(said);
  if (codes.length === 0) return undefined;
  return codes.length === 1 && codes[0] === base ? said[base] : said;
}
