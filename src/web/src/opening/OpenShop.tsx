import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { useLocation } from 'wouter';
import { answered, api, type Problem, Refused, Unreachable } from '../api/client';
import { LISTS, useBringFile } from '../bringing/bringFile';
import { guessed } from '../shop/guesses';
import { Choice } from '../ui/Choice';
import { ChooseFile } from '../ui/ChooseFile';
import { toAmount, toNumber } from '../ui/numbers';
import { Sheet } from '../ui/Sheet';
import { Typed } from '../ui/Typed';
import { useTitle } from '../ui/useTitle';

type Item = { name: string; regular: string };

const MOST_TYPED = 5;

/** Items as they are written: what is typed here has no number of its own yet and gets one from its name. What is no price is told before anything is opened. */
function firstItems(items: Item[], currency: string) {
  const decimals = new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
  const taken = new Set<string>();
  return items.map((item, place) => {
    const regular = toAmount(item.regular) ?? '';
    const named = item.name.trim() || `item ${place + 1}`;
    if (!/^\d+(\.\d+)?$/.test(regular) || (regular.split('.')[1]?.length ?? 0) > decimals)
      throw new Error(`“${item.regular}” is not a price in ${currency}: say what ${named} costs.`);
    const bare =
      named
        .normalize('NFKD')
        .toUpperCase()
        .replace(/[^A-Z0-9]+/g, '-')
        .replace(/^-|-$/g, '') || 'ITEM';
    const sku = taken.has(bare) ? `${bare}-${place + 1}` : bare;
    taken.add(sku);
    return { sku, name: named, regular };
  });
}

/** Opens the shop of a zip. What comes back otherwise is what to ask, or that there is no whole shop in it. */
async function openWhole(file: File, usesBeginAnew: boolean): Promise<string> {
  const response = await fetch(`/api/opening/archive?usesBeginAnew=${usesBeginAnew}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: file,
  }).catch(() => {
    throw new Unreachable();
  });
  if (response.ok) return 'opened';
  const { problems = [] } = await response.json();
  if (response.status === 404) return 'no shop';
  if (problems[0]?.at === '/usesBeginAnew') return problems[0].message;
  throw new Refused(response.status, problems);
}

/** A file that holds no shop yet: left the sentences that open one, right how its goods come in. */
export function OpenShop() {
  useTitle('Open your shop');
  const queries = useQueryClient();
  const [, go] = useLocation();
  const bring = useBringFile();
  const guess = useMemo(() => guessed(), []);
  const [name, setName] = useState('');
  const [currency, setCurrency] = useState(guess.currency);
  const [zone, setZone] = useState(guess.zone);
  const [country, setCountry] = useState(guess.country);
  const [mode, setMode] = useState('inclusive');
  const [percent, setPercent] = useState('');
  const [problems, setProblems] = useState<Problem[]>([]);
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);
  const [dropping, setDropping] = useState(false);
  const [items, setItems] = useState<Item[]>([{ name: '', regular: '' }]);
  const [anew, setAnew] = useState<{ file: File; words: string } | null>(null);
  const wanting = (at: string) => problems.some((problem) => problem.at === at);
  const countryName = guess.countries.find((one) => one.value === country)?.words ?? country;

  // The page stays as long as its goods are refused, so that nothing typed is lost with it; what the sentences say holds by then.
  const opened = useRef(false);
  const [isOpened, setIsOpened] = useState(false);
  const open = async () => {
    if (opened.current) return;
    const rate = toNumber(percent);
    await answered(
      api.POST('/api/opening', {
        body: {
          name,
          currency,
          timeZone: zone,
          locale: `${guess.language}-${country}`,
          country,
          countryName,
          taxMode: mode,
          taxPercent: mode === 'none' ? null : typeof rate === 'number' ? rate : null,
        },
      }),
    );
    opened.current = true;
    setIsOpened(true);
  };
  const run = async (work: () => Promise<string | null>) => {
    if (busy) return;
    setBusy(true);
    setProblems([]);
    setFailure('');
    try {
      const to = await work();
      if (to) go(to);
      await queries.invalidateQueries();
    } catch (error) {
      if (error instanceof Refused) setProblems(error.problems);
      if (!opened.current) queries.invalidateQueries();
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const withFile = (list: File, usesBeginAnew = false) =>
    run(async () => {
      setAnew(null);
      // A zip may be a whole shop, which says all the sentences itself; in one that is open it is a list.
      if (!isOpened && list.name.toLowerCase().endsWith('.zip')) {
        const came = await openWhole(list, usesBeginAnew);
        if (came === 'opened') return '/promotions';
        if (came !== 'no shop') {
          setAnew({ file: list, words: came });
          return null;
        }
      }
      await open();
      await bring(list);
      return '/goods';
    });
  const typed = items.filter((item) => item.name.trim() !== '' || item.regular.trim() !== '');
  const withTyped = () =>
    run(async () => {
      const first = firstItems(typed, currency);
      await open();
      await answered(api.POST('/api/goods', { body: { items: first, what: 'the first goods' } }));
      return '/goods';
    });

  return (
    <main className="flex h-full flex-col" data-testid="opening">
      <header className="flex h-9 shrink-0 items-center border-b-[3px] border-double border-ink px-4 text-[15px] font-medium tracking-tight">
        Rapid Ledger
      </header>
      <div className="flex min-h-0 flex-1 max-[700px]:flex-col max-[700px]:overflow-y-auto">
        <section aria-label="Your shop" className="min-w-0 flex-1 border-r border-ink px-8 py-6 max-[700px]:border-r-0">
          <h1 className="text-[17px] font-medium">{isOpened ? 'Your shop is open' : 'Open your shop'}</h1>
          <p className="pb-3 text-faded">
            {isOpened
              ? 'Its goods are not in it yet. What these sentences say is changed in Store from now on.'
              : 'Complete these sentences. Everything else has a default and can be changed later.'}
          </p>
          <fieldset disabled={isOpened} className="text-[15px] leading-[30px]">
            <p>
              The shop is called{' '}
              <Typed
                label="The shop’s name"
                placeholder="its name"
                value={name}
                onType={setName}
                wanting={wanting('/name')}
                prose
                autoFocus
              />
              .
            </p>
            <p>
              It sells in <Choice label="Currency" value={currency} options={guess.currencies} onChange={setCurrency} />.
            </p>
            <p>
              Its days begin in <Choice label="Time zone" value={zone} options={guess.zones} onChange={setZone} />.
            </p>
            <p>
              Prices{' '}
              <Choice
                label="Tax"
                value={mode}
                options={[
                  { value: 'inclusive', words: 'include tax' },
                  { value: 'exclusive', words: 'come before tax' },
                  { value: 'none', words: 'know no tax' },
                ]}
                onChange={setMode}
              />
              {mode !== 'none' && (
                <>
                  {' '}
                  at{' '}
                  <Typed
                    label="Tax in percent"
                    placeholder="…"
                    inputMode="decimal"
                    value={percent}
                    onType={setPercent}
                    wanting={wanting('/taxPercent')}
                  />{' '}
                  %
                </>
              )}{' '}
              in <Choice label="Country" value={country} options={guess.countries} onChange={setCountry} />.
            </p>
          </fieldset>
          {!isOpened && (
            <p className="pt-2 text-faded">
              The currency, the country and the zone are guessed from this browser ({guess.from}). Press one to change it.
            </p>
          )}
          <p className="pt-4">
            <button
              type="button"
              className="stamp"
              aria-disabled={busy}
              onClick={() =>
                run(async () => {
                  await open();
                  return '/goods';
                })
              }
            >
              {isOpened ? 'go on without goods' : 'open it without goods'}
            </button>
          </p>
          <div role="alert">
            {failure && problems.length <= 1 && <p className="pt-3 text-doubt">⚠ {failure}</p>}
            {problems.length > 1 &&
              problems.map((problem) => (
                <p key={`${problem.at} ${problem.message}`} className="pt-1 text-doubt">
                  ⚠ {problem.message}
                </p>
              ))}
          </div>
        </section>
        <section aria-label="Its goods" className="min-w-0 flex-1 px-8 py-6">
          <h2 className="text-[17px] font-medium">Its goods</h2>
          <p className="pb-3 text-faded">
            A list from your shop or a spreadsheet: CSV, .xlsx or JSON lines, with a SKU and a price in each row.
          </p>
          <ChooseFile label="A list of goods" accept={LISTS} onFile={withFile}>
            {(choose) => (
              <button
                type="button"
                className={`w-full border-2 border-dashed px-4 py-10 text-center ${dropping ? 'border-stamp bg-stamped' : 'border-rule bg-band'}`}
                onClick={choose}
                onDragOver={(event) => {
                  event.preventDefault();
                  setDropping(true);
                }}
                onDragLeave={() => setDropping(false)}
                onDrop={(event) => {
                  event.preventDefault();
                  setDropping(false);
                  const list = event.dataTransfer.files[0];
                  if (list) withFile(list);
                }}
              >
                {busy ? 'Reading…' : 'Drop a list here, or press to choose one'}
              </button>
            )}
          </ChooseFile>
          <p className="pt-2 text-faded">
            Nothing of it is written before you have seen what it does.
            {!isOpened && ' A zip of a whole shop, saved in Store, opens as that shop.'}
          </p>
          {anew && (
            <p role="alert" className="pt-2">
              {anew.words}{' '}
              <button type="button" className="word" onClick={() => withFile(anew.file, true)}>
                that is meant, open it
              </button>
            </p>
          )}
          <h3 className="head-word pt-5">or type a few to begin with</h3>
          <Sheet<Item>
            label="The first items"
            row="item"
            rows={items}
            onRows={(rows) => setItems(rows.slice(0, MOST_TYPED))}
            fresh={() => ({ name: '', regular: '' })}
            columns={[
              { head: 'name', text: { get: (row) => row.name, set: (row, text) => ({ ...row, name: text }), placeholder: 'what it is' } },
              {
                head: `price in ${currency}`,
                text: {
                  get: (row) => row.regular,
                  set: (row, text) => ({ ...row, regular: text }),
                  placeholder: 'its price',
                  inputMode: 'decimal',
                },
              },
            ]}
          />
          {typed.length > 0 && (
            <p className="pt-2">
              <button type="button" className="stamp" aria-disabled={busy} onClick={withTyped}>
                {isOpened ? 'bring in' : 'open it with'} {typed.length === 1 ? 'this item' : `these ${typed.length} items`}
              </button>
            </p>
          )}
          {!isOpened && (
            <p className="pt-6">
              Or{' '}
              <button
                type="button"
                className="word"
                onClick={() =>
                  run(async () => {
                    await answered(api.POST('/api/opening/demo'));
                    return '/promotions';
                  })
                }
              >
                look around in the demo shop
              </button>
              , an invented bicycle shop with promotions of every kind.
            </p>
          )}
        </section>
      </div>
    </main>
  );
}
