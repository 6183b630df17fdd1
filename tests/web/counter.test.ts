import { describe, expect, test } from 'vitest';
import { LANGUAGES, wordsIn } from '../../src/web/src/counter/words';
import { pathOfText, textOf } from '../../src/web/src/shop/document';

describe('the words of the counter', () => {
  test('stand in every language, none empty, none left in another', () => {
    const [english, ...others] = LANGUAGES;
    for (const words of others)
      for (const [name, value] of Object.entries(words)) {
        const theirs = english?.[name as keyof typeof english];
        const said = typeof value === 'function' ? value(3) : value;
        expect(said, `${words.tag} ${name}`).not.toBe('');
        if (name !== 'tag') expect(said, `${words.tag} ${name}`).not.toBe(typeof theirs === 'function' ? theirs(3) : theirs);
      }
  });

  test.each([
    ['de', 'de'],
    ['de-AT', 'de'],
    ['en-US', 'en'],
    ['fr', 'en'],
    [undefined, 'en'],
  ])('%s is read in %s', (asked, told) => {
    expect(wordsIn(asked).tag).toBe(told);
  });

  test('count one and many', () => {
    expect(LANGUAGES.map((words) => [words.points(1), words.points(2)])).toEqual([
      ['1 point for you', '2 points for you'],
      ['1 Punkt für Sie', '2 Punkte für Sie'],
    ]);
  });
});

describe('a text, or texts by language', () => {
  test.each([
    ['Ten', 'Ten', ['label']],
    [{ en: 'Ten', de: 'Zehn' }, 'Ten', ['label', 'en']],
    [{ de: 'Zehn' }, 'Zehn', ['label', 'de']],
    [undefined, '', ['label']],
    [{}, '', ['label']],
  ])('%o is read as %s and written at %o', (value, text, path) => {
    expect(textOf(value)).toBe(text);
    expect(pathOfText(value, ['label'])).toEqual(path);
  });
});
