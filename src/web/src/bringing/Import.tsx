import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type FileColumn, type ImportLook, type ImportState, type PastOrdersLook, Refused } from '../api/client';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Typed } from '../ui/Typed';

const GOODS: [field: string, words: string][] = [
  ['sku', 'SKU'],
  ['product', 'product'],
  ['name', 'name'],
  ['category', 'category'],
  ['brand', 'brand'],
  ['tags', 'tags'],
  ['taxClass', 'tax class'],
  ['regular', 'regular price'],
  ['price', 'reduced price'],
  ['cost', 'cost'],
  ['stock', 'stock'],
  ['grams', 'weight in grams'],
  ['kg', 'weight in kilograms'],
  ['options', 'options'],
];
const SHOPPERS: [field: string, words: string][] = [
  ['id', 'id'],
  ['name', 'name'],
  ['groups', 'groups'],
  ['orders', 'orders'],
  ['spent', 'spent'],
  ['place', 'place'],
  ['language', 'language'],
];
const ORDERS: [field: string, words: string][] = [
  ['order', 'order number'],
  ['at', 'day and time'],
  ['sku', 'SKU'],
  ['quantity', 'quantity'],
  ['paid', 'paid for the line'],
  ['delivery', 'delivery'],
  ['shopper', 'shopper'],
  ['code', 'codes'],
  ['place', 'place'],
  ['channel', 'channel'],
  ['currency', 'currency'],
  ['method', 'delivery method'],
];
const FIELDS: Record<string, [field: string, words: string][]> = { goods: GOODS, shoppers: SHOPPERS, orders: ORDERS };
const MEMBERS = new Map([...GOODS, ...SHOPPERS, ...ORDERS]);

// What a row of the file is, and what comes of it.
const ROWS: Record<string, string> = { goods: 'items', shoppers: 'shoppers', orders: 'lines' };
const THINGS: Record<string, string> = { goods: 'items', shoppers: 'shoppers', orders: 'orders' };
const DONE: Record<string, string> = {
  goods: 'Prices are those of the file from now on.',
  shoppers: 'They can be found in Shoppers.',
  orders: 'They can be found in Orders, “brought in”; they use nothing up.',
};

/** A file that comes in: how it is read, what it would do, and the stamp that writes it. Every window shows the same. */
export function Import({ incoming }: { incoming: ImportState }) {
  const queries = useQueryClient();
  const { format } = useShopContext();
  const [takeOut, setTakeOut] = useState('keep');
  const [confirmed, setConfirmed] = useState('');
  const [failure, setFailure] = useState('');
  const path = { id: incoming.id };
  const run = async (work: () => Promise<unknown>) => {
    setFailure('');
    try {
      await work();
    } catch (error) {
      setFailure((error as Error).message);
      if (error instanceof Refused && error.status === 404) queries.setQueryData(['import'], null);
    }
    await queries.invalidateQueries({ queryKey: ['import'] });
  };
  const look = (fields: string[], marks: string[], sheet = incoming.sheet) =>
    run(async () =>
      queries.setQueryData(
        ['import'],
        await answered<ImportState>(
          api.POST('/api/imports/{id}/look', { params: { path }, body: { what: incoming.what, sheet, fields, marks } }),
        ),
      ),
    );
  const columns = incoming.columns;
  const fields = columns.map((column) => column.field);
  const marks = columns.map((column) => (column.marks === 'either' ? '' : column.marks));
  const close = () => run(() => answered(api.DELETE('/api/imports/{id}', { params: { path } })));
  const write = () =>
    run(() =>
      answered(
        api.POST('/api/imports/{id}/write', {
          params: { path },
          body: { takeOut: takeOut === 'out', confirmed: confirmed.trim() ? Number(confirmed) : null },
        }),
      ),
    );
  const rows = ROWS[incoming.what] ?? 'items';
  const asks =
    incoming.look && takeOut === 'out' && incoming.look.missing * 10 > incoming.look.missing + incoming.look.same + incoming.look.changed;
  return (
    <section
      aria-label={`The file ${incoming.name}`}
      className="max-h-[62%] overflow-y-auto border-b-2 border-ink bg-paper pb-2"
      data-testid="import"
    >
      <p className="px-4 pt-1 leading-[26px]">
        <strong className="font-medium">{incoming.name}</strong>
        <span className="text-faded">
          , {format.number(incoming.rows)} {rows}, {formOf(incoming)}
        </span>
        {incoming.sheets.length > 1 && incoming.state === 'looked' && (
          <>
            , sheet{' '}
            <Choice
              label="Sheet"
              value={String(incoming.sheet)}
              options={incoming.sheets.map((name, at) => ({ value: String(at), words: name }))}
              onChange={(sheet) => look([], [], Number(sheet))}
            />
          </>
        )}
      </p>
      {incoming.state === 'looked' && columns.length > 0 && (
        <Rows
          incoming={incoming}
          onField={(at, field) =>
            look(
              fields.map((one, place) => (place === at ? field : one)),
              marks,
            )
          }
          onMarks={(at, mark) =>
            look(
              fields,
              marks.map((one, place) => (place === at ? mark : one)),
            )
          }
        />
      )}
      {incoming.open.map((one) => (
        <p key={one} className="px-4 text-doubt">
          ⚠ {one}
        </p>
      ))}
      {incoming.look && incoming.state === 'looked' && <Look look={incoming.look} what={incoming.what} id={incoming.id} />}
      <div role="status" className="px-4">
        {incoming.state === 'writing' && (
          <p data-testid="import-progress">
            Writing {format.number(incoming.done)} of {format.number(incoming.rows)}. Orders go on meanwhile.
          </p>
        )}
        {incoming.state === 'done' && (
          <p data-testid="import-done">
            {format.number(incoming.done)} {rows} are in. {DONE[incoming.what]}
          </p>
        )}
        {(incoming.fault || failure) && <p className="text-doubt">⚠ {failure || incoming.fault}</p>}
      </div>
      <p className="flex flex-wrap items-baseline gap-x-4 px-4 leading-[28px]">
        {incoming.state === 'looked' && incoming.look && incoming.look.badCount === 0 && (
          <>
            {incoming.look.missing > 0 && (
              <span>
                The {format.number(incoming.look.missing)} items that are not in it{' '}
                <Choice
                  label="Items that are not in the file"
                  value={takeOut}
                  options={[
                    { value: 'keep', words: 'stay' },
                    { value: 'out', words: 'are taken out' },
                  ]}
                  onChange={setTakeOut}
                />
                {asks && (
                  <>
                    . To have it so, type their number:{' '}
                    <Typed
                      label="How many are taken out"
                      inputMode="numeric"
                      value={confirmed}
                      onType={setConfirmed}
                      placeholder="number"
                    />
                  </>
                )}
              </span>
            )}
            <button type="button" className="stamp" onClick={write}>
              bring them in
            </button>
          </>
        )}
        <button type="button" className="word" onClick={close}>
          {incoming.state === 'writing' ? 'stop' : incoming.state === 'looked' ? 'cancel' : 'close'}
        </button>
      </p>
    </section>
  );
}

function formOf({ form, encoding, divider }: ImportState): string {
  if (form === 'spreadsheet') return 'a spreadsheet';
  if (form === 'json') return 'JSON lines';
  const divided = divider === ';' ? 'semicolons' : divider === '\t' ? 'tabs' : divider === '|' ? 'bars' : 'commas';
  return `divided by ${divided}, ${encoding}`;
}

/** The first rows as they stand there, with what each column is. */
function Rows({
  incoming,
  onField,
  onMarks,
}: {
  incoming: ImportState;
  onField: (at: number, field: string) => void;
  onMarks: (at: number, marks: string) => void;
}) {
  const { info } = useShopContext();
  const others = info.currencies.slice(1).flatMap(({ code }) => [
    { value: `regular:${code}`, words: `regular price in ${code}` },
    { value: `price:${code}`, words: `reduced price in ${code}` },
  ]);
  const options = (column: FileColumn) => [
    { value: LEFT_OUT, words: 'left out' },
    ...(FIELDS[incoming.what] ?? GOODS).map(([value, words]) => ({ value, words })),
    ...(incoming.what !== 'goods' ? [] : [{ value: `option:${column.heading}`, words: `option “${column.heading}”` }, ...others]),
  ];
  return (
    <div className="mx-4 max-h-64 overflow-auto border border-rule">
      <table className="border-collapse text-[12px]" aria-label="The first rows of the file">
        <thead>
          <tr>
            <th className="sticky top-0 bg-paper px-1 font-normal text-faded">row</th>
            {incoming.columns.map((column, at) => (
              <th
                key={`${at} ${column.heading}`}
                scope="col"
                className="sticky top-0 border-l border-rule bg-paper px-2 text-left align-top font-normal whitespace-nowrap"
              >
                <span className="block text-faded">{column.heading || 'no heading'}</span>
                <Choice
                  label={`The column ${column.heading}`}
                  value={column.field || LEFT_OUT}
                  options={
                    options(column).some((one) => one.value === (column.field || LEFT_OUT))
                      ? options(column)
                      : [...options(column), { value: column.field, words: wordsOf(column.field) }]
                  }
                  onChange={(field) => onField(at, field === LEFT_OUT ? '' : field)}
                />
                {column.example && (
                  <span className="block">
                    {column.example} is{' '}
                    <Choice
                      label={`How ${column.field === 'at' ? 'dates' : 'numbers'} under ${column.heading} are written`}
                      value={column.marks}
                      options={[
                        ...column.readings.map((one) => ({ value: one.marks, words: one.reads })),
                        ...(column.marks === 'either' ? [{ value: 'either', words: 'which?', off: true }] : []),
                      ]}
                      onChange={(marks) => onMarks(at, marks)}
                    />
                  </span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {incoming.first.map((cells, row) => (
            <tr key={row} className="odd:bg-band">
              <td className="px-1 text-right text-faded">{row + 2}</td>
              {incoming.columns.map((column, at) => (
                <td
                  key={`${at} ${column.heading}`}
                  className={`max-w-56 truncate border-l border-rule px-2 whitespace-nowrap ${column.field ? '' : 'text-faded line-through'}`}
                >
                  {cells[at] ?? ''}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

// Not a field: a choice needs a value for none.
const LEFT_OUT = '\u2205';

const wordsOf = (field: string) =>
  field.startsWith('option:')
    ? `option “${field.slice(7)}”`
    : field.includes(':')
      ? field.replace(':', ' price in ')
      : (MEMBERS.get(field) ?? field);

/** What is to be known of past orders: they use nothing up, and what their file does not say. */
function PastOrders({ orders }: { orders: PastOrdersLook }) {
  const { format } = useShopContext();
  const { differing, assumed, unknown, unknownCount } = orders;
  return (
    <>
      <p className="text-faded">They use up no promotion, code, card or stock, and add nothing to a shopper.</p>
      {differing > 0 && <p>{format.number(differing)} of those that stand here have another day or time there.</p>}
      {assumed > 0 && (
        <p>
          In {assumed === 1 ? 'one' : format.number(assumed)} of them the price of a line is not said: it counts at today’s regular price,
          and the order is marked “price assumed”.
        </p>
      )}
      {unknownCount > 0 && (
        <p>
          {unknownCount === 1
            ? 'One SKU is not in the shop and stays as it is written: '
            : `${format.number(unknownCount)} SKUs are not in the shop and stay as they are written: `}
          {unknown.join(', ')}
          {unknownCount > unknown.length && ' …'}.
        </p>
      )}
    </>
  );
}

/** What it would do, before anything is written. */
function Look({ look, what, id }: { look: ImportLook; what: string; id: string }) {
  const { info, format } = useShopContext();
  const amount = (text: string | null | undefined) => (text == null ? 'none' : format.plain(text, info.currency));
  const things = THINGS[what] ?? 'items';
  return (
    <div className="px-4" data-testid="import-look">
      <p>
        <span>
          {format.number(look.new)} {things} are new, {what !== 'orders' && `${format.number(look.changed)} change, `}
          {format.number(look.same)} {what === 'orders' ? 'stand here already and stay as they are' : 'stay as they are'}
        </span>
        {look.members.length > 0 && (
          <span className="text-faded">
            {' '}
            ({look.members.map((one) => `${MEMBERS.get(one.member) ?? one.member} ${format.number(one.count)}×`).join(', ')})
          </span>
        )}
        .
      </p>
      {look.orders && <PastOrders orders={look.orders} />}
      {look.categories.length > 0 && <p>New categories: {look.categories.join(', ')}.</p>}
      {look.products > 0 && <p>Of {format.number(look.products)} products something changes for all their variants.</p>}
      {look.stocks > 0 && <p>The stock of {format.number(look.stocks)} known items is set to what the file says.</p>}
      {look.largest.length > 0 && (
        <p>
          The largest changes:{' '}
          {look.largest
            .map((one) => `${one.id} ${MEMBERS.get(one.member) ?? one.member} ${amount(one.from)} → ${amount(one.to)}`)
            .join('; ')}
          .
        </p>
      )}
      {look.promotions.map((one) => (
        <p key={`${one.id} ${one.what}`} className="text-doubt">
          ⚠ {one.name}: {one.what}
        </p>
      ))}
      {look.carts.map((one) => (
        <p key={one.id}>
          The cart “{one.name}”: {one.what}
        </p>
      ))}
      {look.badCount > 0 && (
        <>
          <p className="font-medium text-doubt">
            ⚠ {look.badCount === 1 ? 'One thing is wrong' : `${format.number(look.badCount)} things are wrong`}: nothing is written until
            they are mended.{' '}
            <a className="word" href={`/api/imports/${id}/bad.csv`} download={`to-mend-${id}.csv`}>
              as a file
            </a>
          </p>
          <ul className="max-h-40 overflow-y-auto">
            {look.bad.map((one) => (
              <li key={`${one.line} ${one.member} ${one.message}`}>
                row {one.line}
                {one.member && <span className="text-faded">, {MEMBERS.get(one.member) ?? one.member}</span>}: {one.message}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
