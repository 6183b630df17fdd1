import { useState } from 'react';
import type { GoodsItem, Json } from '../api/client';
import { useGoodsCategories } from '../api/queries';
import { Ticks } from '../ui/Ticks';
import { Typed } from '../ui/Typed';
import { useWriteGoods } from './writing';

/** What an item is, as a sentence whose parts are typed over. Name, category, brand, tags and tax class are the whole product's. */
export function ItemFacts({ item }: { item: GoodsItem }) {
  const write = useWriteGoods();
  const { data: categories = [] } = useGoodsCategories();
  const [failure, setFailure] = useState('');
  const put = async (members: Json, what: string) => {
    setFailure('');
    try {
      await write([{ sku: item.sku, ...members }], `${item.name}: ${what}`);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  const path = pathOf(categories, item.categoryId);
  // A part that is left as it stood writes nothing.
  const part = (label: string, stands: string, placeholder: string, members: (text: string) => Json) => (
    <Typed
      label={label}
      prose
      value={stands}
      placeholder={placeholder}
      onType={() => {}}
      onBlur={(event) => {
        const text = event.target.value.trim();
        if (text !== stands) put(members(text), `${label.toLowerCase()} ${text || 'none'}`);
      }}
    />
  );
  return (
    <div className="px-4 pt-2 leading-[26px]" data-testid="item-facts">
      {part('Name', item.productName, 'its name', (name) => ({ name: name || item.productName }))}, in{' '}
      {part('Category', path.join(' > '), 'no category', (text) => ({
        category: text === '' ? null : text.split('>').map((name) => name.trim()),
      }))}
      , by {part('Brand', item.brand ?? '', 'no brand', (brand) => ({ brand: brand || null }))}, tagged{' '}
      <Ticks
        label="Tags"
        values={item.tags}
        options={item.tags.map((value) => ({ value, words: value }))}
        empty="nothing"
        orNone
        joint="and"
        free
        onChange={(tags) => put({ tags }, `tags ${tags.join(', ') || 'none'}`)}
      />
      , taxed as {part('Tax class', item.taxClass ?? '', 'no tax class', (taxClass) => ({ taxClass: taxClass || null }))}
      {item.options.map((option) => (
        <span key={option.name}>
          , {option.name}{' '}
          {part(option.name, option.value, 'none', (value) => ({
            options: Object.fromEntries(
              item.options
                .map((one) => [one.name, one.name === option.name ? value : one.value] as const)
                .filter(([, text]) => text !== ''),
            ),
          }))}
        </span>
      ))}
      , weighing{' '}
      {part('Weight in grams', String(item.grams), '0', (text) => ({ grams: /^\d+$/.test(text) ? Number(text) : (text as never) }))} g.
      {failure && (
        <p role="alert" className="text-doubt">
          ⚠ {failure}
        </p>
      )}
    </div>
  );
}

// The names from the top down to a category; a circle ends where it began.
function pathOf(categories: { id: string; name: string; parent?: string | null }[], id: string | null | undefined): string[] {
  const names: string[] = [];
  const seen = new Set<string>();
  for (let at = categories.find((one) => one.id === id); at && !seen.has(at.id); ) {
    const { parent, name } = at;
    seen.add(at.id);
    names.unshift(name);
    at = categories.find((one) => one.id === parent);
  }
  return names;
}
