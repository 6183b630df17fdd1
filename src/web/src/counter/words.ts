/** The shop's own words, in the languages its shoppers read. A further language is one more of these. */
export type Words = {
  tag: string;
  name: string;
  list: string;
  basket: string;
  find: string;
  all: string;
  today: string;
  none: string;
  from: string;
  gone: string;
  few: (left: number) => string;
  add: string;
  units: (count: number) => string;
  empty: string;
  less: string;
  more: string;
  out: string;
  goods: string;
  delivery: string;
  tax: string;
  taxIn: string;
  credit: string;
  due: string;
  points: (count: number) => string;
  free: string;
  choose: (count: number) => string;
  code: string;
  enter: string;
  take: string;
  to: string;
  by: string;
  who: string;
  guest: string;
  unavailable: string;
  place: string;
  thanks: string;
  number: string;
  cancel: string;
  cancelled: string;
  again: string;
  rehearsal: string;
  changed: string;
  away: string;
  old: string;
  saved: string;
  until: string;
  withCode: string;
};

export const LANGUAGES: Words[] = [
  {
    tag: 'en',
    name: 'English',
    list: 'price list',
    basket: 'basket',
    find: 'What do you need?',
    all: 'everything',
    today: 'Today',
    none: 'Nothing of that name.',
    from: 'from',
    gone: 'sold out',
    few: (left) => `only ${left} left`,
    add: 'take one',
    units: (count) => (count === 1 ? 'for 1' : `for ${count}`),
    empty: 'Your basket is empty.',
    less: 'One less',
    more: 'One more',
    out: 'put back',
    goods: 'Goods',
    delivery: 'Delivery',
    tax: 'Tax',
    taxIn: 'includes tax',
    credit: 'Paid by credit',
    due: 'To pay',
    points: (count) => (count === 1 ? '1 point for you' : `${count} points for you`),
    free: 'free',
    choose: (count) => (count === 1 ? 'Choose one' : `Choose ${count}`),
    code: 'Do you have a code?',
    enter: 'enter',
    take: 'without it',
    to: 'goes to',
    by: 'by',
    who: 'for',
    guest: 'a guest',
    unavailable: 'This way of delivery does not go there with this basket.',
    place: 'Order and pay',
    thanks: 'Thank you.',
    number: 'order',
    cancel: 'take the order back',
    cancelled: 'The order was taken back.',
    again: 'back to the price list',
    rehearsal: 'A rehearsal at another time: it uses nothing up.',
    changed: 'Something has changed since you looked. Please look again.',
    away: 'The shop cannot be reached, and whether your order arrived is not known. Press again: it is never placed twice.',
    old: 'The shop cannot be reached. These prices may be old.',
    saved: 'You save',
    until: 'until',
    withCode: 'with the code',
  },
  {
    tag: 'de',
    name: 'Deutsch',
    list: 'Preisliste',
    basket: 'Korb',
    find: 'Was suchen Sie?',
    all: 'alles',
    today: 'Heute',
    none: 'Nichts dieses Namens.',
    from: 'ab',
    gone: 'ausverkauft',
    few: (left) => `nur noch ${left}`,
    add: 'eins nehmen',
    units: (count) => `${count} Stück`,
    empty: 'Ihr Korb ist leer.',
    less: 'Eins weniger',
    more: 'Eins mehr',
    out: 'zurücklegen',
    goods: 'Ware',
    delivery: 'Lieferung',
    tax: 'Steuer',
    taxIn: 'darin Steuer',
    credit: 'Mit Guthaben bezahlt',
    due: 'Zu zahlen',
    points: (count) => (count === 1 ? '1 Punkt für Sie' : `${count} Punkte für Sie`),
    free: 'gratis',
    choose: (count) => (count === 1 ? 'Wählen Sie eins' : `Wählen Sie ${count}`),
    code: 'Haben Sie einen Code?',
    enter: 'einlösen',
    take: 'ohne ihn',
    to: 'geht nach',
    by: 'mit',
    who: 'für',
    guest: 'einen Gast',
    unavailable: 'Diese Lieferart geht mit diesem Korb nicht dorthin.',
    place: 'Bestellen und bezahlen',
    thanks: 'Vielen Dank.',
    number: 'Bestellung',
    cancel: 'Bestellung zurückgeben',
    cancelled: 'Die Bestellung wurde zurückgegeben.',
    again: 'zurück zur Preisliste',
    rehearsal: 'Eine Probe zu anderer Zeit: Sie verbraucht nichts.',
    changed: 'Seit Ihrem letzten Blick hat sich etwas geändert. Bitte sehen Sie noch einmal hin.',
    away: 'Der Laden ist nicht zu erreichen, und ob Ihre Bestellung ankam, ist nicht bekannt. Drücken Sie noch einmal: bestellt wird nie zweimal.',
    old: 'Der Laden ist nicht zu erreichen. Diese Preise können alt sein.',
    saved: 'Sie sparen',
    until: 'bis',
    withCode: 'mit dem Code',
  },
];

export const wordsIn = (tag: string | undefined) => LANGUAGES.find((words) => words.tag === tag?.split('-')[0]) ?? (LANGUAGES[0] as Words);
