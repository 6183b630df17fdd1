/** The comparisons, in the words in which people say them. */
export const COMPARISONS = [
  { value: '>=', words: 'at least' },
  { value: '>', words: 'more than' },
  { value: '=', words: 'exactly' },
  { value: '!=', words: 'anything but' },
  { value: '<', words: 'fewer than' },
  { value: '<=', words: 'at most' },
];
