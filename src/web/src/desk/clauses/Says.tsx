import { useState } from 'react';
import type { Json } from '../../api/client';
import { useSaid } from '../../api/queries';
import { Clause } from '../../shop/Clause';
import { type Draft, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { useCart } from '../../tape/cart';
import { Choice } from '../../ui/Choice';
import { toText } from '../../ui/numbers';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';

const SITUATIONS = [
  { member: 'near', words: 'when something is missing', placeholder: 'the product’s own words' },
  { member: 'reached', words: 'when it applies', placeholder: 'the product’s own words' },
  { member: 'refused', words: 'when its code does not count', placeholder: 'the product’s own words' },
];

const PLACES = [
  { value: 'item', words: 'beside its items' },
  { value: 'basket', words: 'in the basket' },
  { value: 'today', words: 'among the offers of today' },
];

const names = new Intl.DisplayNames('en', { type: 'language' });

/** What the shopper reads, and where; the finished sentences stand below as they change. */
export function Says({ draft, isSound }: { draft: Draft; isSound: boolean }) {
  const { info } = useShopContext();
  const { cart } = useCart();
  const [language, setLanguage] = useState('en');
  const [open, setOpen] = useState(false);
  const says = (draft.document.says ?? {}) as Json;
  const { data: said } = useSaid({ document: { ...draft.document, state: 'live' }, cart }, open && isSound);
  const problems = problemsUnder(draft.problems, '/says');
  const quiet = draft.document.says === undefined && !open;
  const isFirst = language === info.languages[0];
  // A text for every language becomes one of its language as soon as another is written.
  const write = (member: string, text: string) => {
    const old = says[member];
    const byLanguage: Json = typeof old === 'object' && old !== null ? { ...(old as Json) } : old ? { en: old } : {};
    if (text) byLanguage[language] = text;
    else delete byLanguage[language];
    const [only, ...others] = Object.keys(byLanguage);
    const next = only === undefined ? undefined : others.length === 0 && only === 'en' ? byLanguage.en : byLanguage;
    put({ ...says, [member]: next });
  };
  const put = (next: Json) => {
    const kept = Object.fromEntries(
      Object.entries(next).filter(([, value]) => value !== undefined && !(Array.isArray(value) && value.length === 0)),
    );
    draft.change(['says'], Object.keys(kept).length > 0 ? kept : undefined);
  };
  const textIn = (member: string) => {
    const value = says[member];
    return typeof value === 'object' && value !== null ? toText((value as Json)[language]) : isFirst ? toText(value) : '';
  };
  const label = draft.document.label;
  const sentences = said?.find((one) => one.language === language)?.sentences ?? [];
  if (quiet)
    return (
      <Clause name="Says" problems={problems} quiet>
        <button type="button" className="part" onClick={() => setOpen(true)}>
          the usual sentences
        </button>
        , shown in the basket
      </Clause>
    );
  return (
    <Clause name="Says" problems={problems}>
      in{' '}
      <Choice
        label="Language"
        value={language}
        options={info.languages.map((tag) => ({ value: tag, words: names.of(tag) ?? tag }))}
        onChange={setLanguage}
      />
      {!isFirst && (
        <>
          , under the name{' '}
          <Typed
            label="Label in this language"
            placeholder={typeof label === 'string' ? label : 'the same'}
            className="part fitted"
            value={typeof label === 'object' && label !== null ? toText((label as Json)[language]) : ''}
            onType={(text) => {
              const old: Json = typeof label === 'object' && label !== null ? { ...(label as Json) } : { en: toText(label) };
              if (text) old[language] = text;
              else delete old[language];
              draft.change(['label'], Object.keys(old).length === 1 && old.en !== undefined ? old.en : old);
            }}
          />
        </>
      )}
      {SITUATIONS.map((situation) => (
        <p key={situation.member} className="flex gap-2">
          <span className="shrink-0">{situation.words}:</span>
          <Typed
            label={`Says ${situation.words}`}
            placeholder={situation.placeholder}
            prose
            className="min-w-0 flex-1 border-b border-rule bg-transparent"
            wanting={problemsUnder(draft.problems, `/says/${situation.member}`).length > 0}
            value={textIn(situation.member)}
            onType={(text) => write(situation.member, text)}
          />
        </p>
      ))}
      <p className="text-faded">
        {'{label} {missing} {reward} {saved} {ends} {left}'} are filled in. Shown{' '}
        <Ticks
          label="Shown"
          values={Array.isArray(says.show) ? (says.show as string[]) : ['basket']}
          options={PLACES}
          joint="and"
          onChange={(show) => put({ ...says, show })}
        />
      </p>
      {!open && (
        <button type="button" className="word" onClick={() => setOpen(true)}>
          the finished sentences
        </button>
      )}
      {open && sentences.length > 0 && (
        <dl className="mt-1 grid grid-cols-[9rem_1fr] border-t border-rule" data-testid="said">
          {sentences.map((one) => (
            <div key={one.situation} className="contents">
              <dt className="text-faded">{one.situation}</dt>
              <dd lang={language} data-situation={one.situation}>
                {one.sentence}
              </dd>
            </div>
          ))}
        </dl>
      )}
    </Clause>
  );
}
