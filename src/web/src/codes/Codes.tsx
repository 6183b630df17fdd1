import { useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useSearchParams } from 'wouter';
import { answered, api, type BatchRow, type FoundCodes } from '../api/client';
import { useBatches, useCodes } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Find } from '../ui/Find';
import { Selected } from '../ui/Selected';
import { useHistory } from '../ui/undo';
import { Bring } from './Bring';
import { MakeBatch } from './MakeBatch';
import { Story } from './Story';

/** Every code with its promotion, state and uses; batches folded to a line. A code that is typed finds its story. */
export function Codes() {
  const [typed, setTyped] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const [query, setQuery] = useSearchParams();
  const chosen = query.get('code');
  const setChosen = (code: string | null) => setQuery(code ? { code } : {}, { replace: true });
  const q = useDeferredValue(typed.trim());
  const { data: batches = [] } = useBatches();
  const { data: found, error } = useCodes(q, undefined);
  return (
    <section aria-label="Codes" className="flex h-full flex-col" data-testid="codes">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 pt-2 pb-1.5">
        <h1 className="text-[17px] font-medium">Codes</h1>
        <Find
          label="Find a code"
          placeholder="type a code, or how it begins"
          className="min-w-0 flex-1 font-mono uppercase placeholder:normal-case"
          value={typed}
          onType={(text) => {
            setTyped(text);
            setChosen(null);
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            setChosen(found?.own[0]?.code ?? found?.ofBatches[0]?.code ?? (typed.trim() || null));
          }}
        />
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {error && <p className="px-4 py-2 text-doubt">{error.message}</p>}
        {chosen && <Story code={chosen} onClose={() => setChosen(null)} />}
        {q !== '' && found && found.own.length + found.ofBatches.length === 0 && (
          <p className="px-4 py-3 text-faded">No code begins like that. Codes of batches are found with or without hyphens.</p>
        )}
        {found && found.own.length > 0 && <Own own={found.own} onChoose={setChosen} />}
        {q !== '' && found && found.ofBatches.length > 0 && <OfBatches codes={found.ofBatches} onChoose={setChosen} />}
        {q === '' && (
          <section aria-label="Batches">
            <h2 className="head-word px-4 pt-3">batches</h2>
            <MakeBatch />
            <Bring />
            {batches.length === 0 && (
              <p className="px-4 text-faded">No batches yet: many codes, made or brought at once, for one promotion.</p>
            )}
            {batches.map((batch) => (
              <Batch
                key={batch.id}
                batch={batch}
                isOpen={open === batch.id}
                onOpen={() => setOpen(open === batch.id ? null : batch.id)}
                onChoose={setChosen}
              />
            ))}
          </section>
        )}
      </div>
    </section>
  );
}

function Own({ own, onChoose }: { own: FoundCodes['own']; onChoose: (code: string) => void }) {
  return (
    <section aria-label="Codes of promotions">
      <h2 className="head-word px-4 pt-3">shared codes</h2>
      <ul>
        {own.map((code) => (
          <li
            key={`${code.code} ${code.promotion}`}
            className="flex items-baseline gap-3 px-4 py-0.5 leading-6 odd:bg-band"
            data-testid="own-code"
          >
            <button
              type="button"
              className="w-40 truncate text-left font-mono font-medium hover:underline"
              onClick={() => onChoose(code.code)}
            >
              {code.code}
            </button>
            <Link href={`/promotions/${code.promotion}`} className="min-w-0 flex-1 truncate hover:underline">
              {code.promotionName}
            </Link>
            <span className="text-faded">{code.state === 'archived' ? 'retired' : code.state}</span>
            <span className="w-36 text-right">
              {code.limit != null
                ? `${code.uses} of ${code.limit} used`
                : code.uses === 0
                  ? 'not used'
                  : code.uses === 1
                    ? 'used once'
                    : `used ${code.uses} times`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function OfBatches({
  codes,
  onChoose,
  inBatch = false,
}: {
  codes: FoundCodes['ofBatches'];
  onChoose: (code: string) => void;
  inBatch?: boolean;
}) {
  const { format } = useShopContext();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const toggle = (code: string) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(code)) next.add(code);
      return next;
    });
  const rows = codes.filter((code) => chosen.has(code.code));
  return (
    <>
      <ul>
        {codes.map((code) => (
          <li
            key={code.code}
            className={`flex items-baseline gap-3 px-4 leading-6 ${chosen.has(code.code) ? 'bg-stamped' : 'odd:bg-band'}`}
            data-testid="batch-code"
          >
            <input
              type="checkbox"
              className="accent-[var(--stamp)]"
              aria-label={`Select ${code.code}`}
              checked={chosen.has(code.code)}
              onChange={() => toggle(code.code)}
            />
            <button type="button" className="w-52 truncate text-left font-mono hover:underline" onClick={() => onChoose(code.code)}>
              {code.code}
            </button>
            {!inBatch && <span className="text-faded">{code.batch}</span>}
            <span className={`min-w-0 flex-1 truncate ${code.void ? 'text-doubt' : 'text-faded'}`}>
              {code.void ? 'void' : (code.note ?? '')}
            </span>
            <span className="w-44 text-right">
              {code.used === 0
                ? 'not used'
                : `used${code.used > 1 ? ` ${code.used} times` : ''}${code.lastUsedAt ? `, ${format.day(code.lastUsedAt)}` : ''}`}
            </span>
          </li>
        ))}
      </ul>
      {rows.length > 0 && <ManyCodes rows={rows} onDone={() => setChosen(new Set())} />}
    </>
  );
}

/** What can be done to several codes at once. */
function ManyCodes({ rows, onDone }: { rows: FoundCodes['ofBatches']; onDone: () => void }) {
  const queries = useQueryClient();
  const history = useHistory();
  const [failure, setFailure] = useState('');
  const mark = async (codes: string[], isVoid: boolean) => {
    await answered(api.POST('/api/codes/void/many', { body: { codes, void: isVoid } }));
    await queries.invalidateQueries({ queryKey: ['codes'] });
    await queries.invalidateQueries({ queryKey: ['batches'] });
  };
  const press = async (isVoid: boolean) => {
    const changed = rows.filter((row) => row.void !== isVoid).map((row) => row.code);
    if (changed.length === 0) return onDone();
    try {
      await mark(changed, isVoid);
    } catch (error) {
      return setFailure((error as Error).message);
    }
    history.push({
      words: `${changed.length === 1 ? changed[0] : `${changed.length} codes`} ${isVoid ? 'made void' : 'made valid again'}`,
      of: 'list',
      undo: () => mark(changed, !isVoid),
      redo: () => mark(changed, isVoid),
    });
    onDone();
  };
  return (
    <Selected count={rows.length} said={failure} onNone={onDone}>
      <button type="button" className="word" onClick={() => press(true)}>
        make void
      </button>
      <button type="button" className="word" onClick={() => press(false)}>
        make valid again
      </button>
    </Selected>
  );
}

type BatchProps = { batch: BatchRow; isOpen: boolean; onOpen: () => void; onChoose: (code: string) => void };

function Batch({ batch, isOpen, onOpen, onChoose }: BatchProps) {
  const queries = useQueryClient();
  const { format } = useShopContext();
  const { data: inside } = useCodes('', isOpen ? batch.id : undefined, isOpen);
  const [stopping, setStopping] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const making = batch.wanted != null && batch.wanted > batch.codes;
  const done = () => queries.invalidateQueries({ queryKey: ['batches'] });
  const setVoid = (isVoid: boolean) =>
    answered(api.POST('/api/batches/{id}/void', { params: { path: { id: batch.id }, query: { isVoid } } }))
      .then(done)
      .then(() => queries.invalidateQueries({ queryKey: ['codes'] }));
  const stop = (keep: boolean) =>
    answered(api.POST('/api/batches/{id}/stop', { params: { path: { id: batch.id } }, body: { keep } }))
      .then(done)
      .catch((error: Error) => setFault(error.message));
  return (
    <div className="border-b border-rule px-4 py-1 odd:bg-band" data-testid="batch" data-batch={batch.id}>
      <div className="flex items-baseline gap-3 leading-6">
        <button type="button" className="font-mono font-medium hover:underline" aria-expanded={isOpen} onClick={onOpen}>
          {isOpen ? '▾' : '▸'} {batch.id}
        </button>
        <span className="min-w-0 flex-1 truncate">{batch.note}</span>
        {batch.promotion ? (
          <Link href={`/promotions/${batch.promotion}`} className="truncate hover:underline">
            {batch.promotionName}
          </Link>
        ) : (
          <span className="text-doubt">no promotion has it yet</span>
        )}
      </div>
      <p className="flex flex-wrap items-baseline gap-x-4 text-faded">
        <span data-testid="batch-counts">
          {format.number(batch.codes)}
          {making ? ` of ${format.number(batch.wanted ?? 0)} made` : ' codes'}, {format.number(batch.used)} used
          {batch.voided > 0 && `, ${format.number(batch.voided)} void`}
        </span>
        <span>
          {batch.usesEach == null ? 'any number of orders each' : batch.usesEach === 1 ? 'one order each' : `${batch.usesEach} orders each`}
        </span>
        <span>{batch.lastDay ? `until ${format.day(batch.lastDay)}` : 'without end'}</span>
        {batch.void && <span className="text-doubt">⚠ all void</span>}
        <span className="flex-1" />
        {making && !stopping && (
          <button
            type="button"
            className="word"
            onClick={() => {
              setStopping(true);
              stop(true);
            }}
          >
            stop
          </button>
        )}
        {batch.used === 0 && !batch.promotion && !making && (
          <button type="button" className="word" onClick={() => stop(false)}>
            throw away
          </button>
        )}
        <a className="word" href={`/api/batches/${batch.id}.csv`} download={`${batch.id}.csv`}>
          as CSV
        </a>
        <button type="button" className="word" onClick={() => setVoid(!batch.void)}>
          {batch.void ? 'make valid again' : 'make all void'}
        </button>
      </p>
      {stopping && making && <p className="text-faded">Stopped: what was made is kept, or can be thrown away.</p>}
      {(fault || batch.fault) && <p className="text-doubt">⚠ {fault ?? batch.fault}</p>}
      {isOpen && inside && <OfBatches codes={inside.ofBatches} onChoose={onChoose} inBatch />}
      {isOpen && inside?.after && <p className="text-faded">… and more: type how a code begins, or take all as CSV.</p>}
    </div>
  );
}
