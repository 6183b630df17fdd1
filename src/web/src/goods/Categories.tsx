import { type KeyboardEvent, useState } from 'react';
import { answered, api, type Effect, type GoodsCategory, type GoodsWritten } from '../api/client';
import { useGoodsCategories } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { useStep } from '../shop/useStep';
import { announce } from '../ui/announce';
import { Choice } from '../ui/Choice';
import { Typed } from '../ui/Typed';

const TOP = ' top';

/**
 * The tree of categories: one that is pressed holds the list to its items; each can be called something else, moved, and taken out while
 * it is empty.
 * @param shown the one whose items the list shows
 */
export function Categories({ shown, onShow }: { shown: string; onShow: (id: string) => void }) {
  const { data: categories = [], error } = useGoodsCategories();
  const { format } = useShopContext();
  const step = useStep();
  const [renaming, setRenaming] = useState<{ id: string; name: string } | null>(null);
  // Where it could lie is worked out for the one that moves: a large shop has thousands.
  const [moving, setMoving] = useState<string | null>(null);
  const [fresh, setFresh] = useState('');
  const [failure, setFailure] = useState('');
  const [effects, setEffects] = useState<Effect[]>([]);
  const tree = inTree(categories);

  const run = async (words: string, write: () => Promise<GoodsWritten>) => {
    try {
      const written = await step(words, write);
      setFailure('');
      setEffects(written.effects);
      announce(`${words}. Ctrl Z takes it back.`);
      return true;
    } catch (failed) {
      setFailure((failed as Error).message);
      return false;
    }
  };
  const put = (words: string, id: string | null, name: string, parent: string | null) =>
    run(words, () => answered<GoodsWritten>(api.PUT('/api/goods/categories', { body: { id, name, parent } })));
  const parents = new Set(categories.map((one) => one.parent));
  const isEmpty = (one: GoodsCategory) => one.items === 0 && !parents.has(one.id);

  return (
    <section aria-label="Categories" className="max-h-72 overflow-y-auto border-b border-rule pb-1" data-testid="categories">
      {error && <p className="px-4 text-doubt">⚠ {error.message}</p>}
      <div role="status">
        {failure && <p className="px-4 text-doubt">⚠ {failure}</p>}
        {effects.map((effect) => (
          <p key={effect.id + effect.what} className="px-4 text-doubt">
            ⚠ {effect.name}: {effect.what}
          </p>
        ))}
      </div>
      <ul>
        {tree.map(({ depth, ...one }) => (
          <li
            key={one.id}
            className={`flex items-baseline gap-3 px-4 leading-[26px] ${shown === one.id ? 'bg-press' : 'odd:bg-band'}`}
            data-testid="category"
          >
            {renaming?.id === one.id ? (
              <form
                className="min-w-0 flex-1"
                style={{ paddingLeft: `${depth * 1.25}em` }}
                onSubmit={async (event) => {
                  event.preventDefault();
                  const name = renaming.name.trim();
                  if (name === one.name || (await put(`${one.name} is ${name} now`, one.id, name, one.parent ?? null))) setRenaming(null);
                }}
                onKeyDownCapture={enterSubmits}
                onKeyDown={(event) => {
                  if (event.key !== 'Escape') return;
                  event.stopPropagation();
                  setRenaming(null);
                }}
              >
                <Typed
                  label={`What ${one.name} is called now`}
                  value={renaming.name}
                  onType={(name) => setRenaming({ id: one.id, name })}
                  prose
                  autoFocus
                />{' '}
                <button type="submit" className="word">
                  rename
                </button>
              </form>
            ) : (
              <button
                type="button"
                className="min-h-6 min-w-0 flex-1 truncate text-left hover:underline"
                style={{ paddingLeft: `${depth * 1.25}em` }}
                aria-pressed={shown === one.id}
                onClick={() => onShow(shown === one.id ? 'any' : one.id)}
              >
                {one.name}
              </button>
            )}
            <span className="w-16 text-right text-faded">{format.number(one.items)}</span>
            <button
              type="button"
              className="word"
              aria-label={`rename… ${one.name}`}
              onClick={() => setRenaming({ id: one.id, name: one.name })}
            >
              rename…
            </button>
            <span className="w-44 [&_button]:max-w-full [&_button]:truncate">
              {moving === one.id ? (
                <Choice
                  label={`Where ${one.name} lies`}
                  value={one.parent ?? TOP}
                  options={[
                    { value: TOP, words: 'at the top' },
                    ...without(one.id, tree).map((other) => ({ value: other.id, words: `in ${other.name}` })),
                  ]}
                  onChange={async (parent) => {
                    const words = parent === TOP ? `${one.name} moved to the top` : `${one.name} moved`;
                    if (await put(words, one.id, one.name, parent === TOP ? null : parent)) setMoving(null);
                  }}
                />
              ) : (
                <button type="button" className="word" aria-label={`move… ${one.name}`} onClick={() => setMoving(one.id)}>
                  move…
                </button>
              )}
            </span>
            <span className="w-16 text-right">
              {isEmpty(one) && (
                <button
                  type="button"
                  className="word"
                  aria-label={`take out ${one.name}`}
                  onClick={() =>
                    run(`${one.name} taken out`, () =>
                      answered<GoodsWritten>(api.DELETE('/api/goods/categories/{id}', { params: { path: { id: one.id } } })),
                    )
                  }
                >
                  take out
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <form
        className="px-4 leading-[28px]"
        onKeyDownCapture={enterSubmits}
        onSubmit={async (event) => {
          event.preventDefault();
          const parent = categories.some((one) => one.id === shown) ? shown : null;
          if (fresh.trim() === '') setFailure('Say what the new category is called.');
          else if (await put(`a new category ${fresh.trim()}`, null, fresh.trim(), parent)) setFresh('');
        }}
      >
        A new one, <Typed label="What the new category is called" placeholder="its name" value={fresh} onType={setFresh} prose />,{' '}
        {categories.find((one) => one.id === shown) ? `in ${categories.find((one) => one.id === shown)?.name}` : 'at the top'}.{' '}
        <button type="submit" className="word">
          make it
        </button>
      </form>
    </section>
  );
}

// There is no next part to go on to: Enter does it.
function enterSubmits(event: KeyboardEvent<HTMLFormElement>) {
  if (event.key !== 'Enter' || !(event.target instanceof HTMLInputElement)) return;
  event.preventDefault();
  event.stopPropagation();
  event.currentTarget.requestSubmit();
}

/** Each category below its parent, with how deep it lies. */
export function inTree<C extends { id: string; parent?: string | null }>(categories: C[]): (C & { depth: number })[] {
  const children = new Map<string | null, C[]>();
  for (const one of categories) {
    const beside = children.get(one.parent ?? null);
    if (beside) beside.push(one);
    else children.set(one.parent ?? null, [one]);
  }
  const below = (parent: string | null, depth: number): (C & { depth: number })[] =>
    (children.get(parent) ?? []).flatMap((one) => [{ ...one, depth }, ...below(one.id, depth + 1)]);
  return below(null, 0);
}

// A category cannot lie in itself, nor in what lies in it: that follows it in the tree, deeper down.
function without<C extends { id: string; depth: number }>(id: string, tree: C[]): C[] {
  const at = tree.findIndex((one) => one.id === id);
  const end = tree.findIndex((one, place) => place > at && one.depth <= (tree[at]?.depth ?? 0));
  return tree.filter((_, place) => place < at || (end !== -1 && place >= end));
}
