type Option = { value: string; words: string };

/** What is guessed of a shop before it is opened, and what it may be instead. */
export type Guess = {
  currency: string;
  country: string;
  zone: string;
  language: string;
  /** Where the guesses come from, in words. */
  from: string;
  currencies: Option[];
  countries: Option[];
  zones: Option[];
};

// The currency of a country (ISO 4217, as countries use it in 2026; from memory). Others are chosen by hand.
const EURO = ['AT', 'BE', 'BG', 'CY', 'DE', 'EE', 'ES', 'FI', 'FR', 'GR', 'HR', 'IE', 'IT', 'LT', 'LU', 'LV', 'MT', 'NL', 'PT', 'SI', 'SK'];
const CURRENCIES: Record<string, string> = {
  AU: 'AUD',
  BR: 'BRL',
  CA: 'CAD',
  CH: 'CHF',
  CL: 'CLP',
  CN: 'CNY',
  CZ: 'CZK',
  DK: 'DKK',
  GB: 'GBP',
  HU: 'HUF',
  IN: 'INR',
  IS: 'ISK',
  JP: 'JPY',
  KR: 'KRW',
  KW: 'KWD',
  LI: 'CHF',
  MX: 'MXN',
  NO: 'NOK',
  NZ: 'NZD',
  PL: 'PLN',
  RO: 'RON',
  SE: 'SEK',
  SG: 'SGD',
  TR: 'TRY',
  US: 'USD',
  ZA: 'ZAR',
};
const COUNTRIES = [...new Set([...EURO, ...Object.keys(CURRENCIES)])];

/** Guesses from the browser's language and zone. */
export function guessed(
  languages: readonly string[] = navigator.languages,
  zone = Intl.DateTimeFormat().resolvedOptions().timeZone,
): Guess {
  const locale = new Intl.Locale(languages.find((one) => new Intl.Locale(one).region) ?? languages[0] ?? 'en-GB');
  const language = locale.language;
  const names = (type: 'region' | 'currency') => new Intl.DisplayNames(['en'], { type });
  const [regions, currencies] = [names('region'), names('currency')];
  const country = locale.region && COUNTRIES.includes(locale.region) ? locale.region : 'DE';
  const sorted = (codes: string[], say: (code: string) => string) =>
    codes.map((value) => ({ value, words: say(value) })).sort((one, other) => one.words.localeCompare(other.words, 'en'));
  const zones = Intl.supportedValuesOf('timeZone');
  const known = zones.includes(zone) ? zone : zone === 'UTC' || zone === '' ? 'UTC' : zone;
  return {
    currency: EURO.includes(country) ? 'EUR' : (CURRENCIES[country] ?? 'EUR'),
    country,
    zone: known,
    language,
    from: `${languages[0] ?? 'no language'}, ${known}`,
    currencies: sorted(Intl.supportedValuesOf('currency'), (code) => `${code}, ${currencies.of(code)}`),
    countries: sorted(COUNTRIES, (code) => regions.of(code) ?? code),
    zones: [...new Set([known, ...zones])].sort().map((value) => ({ value, words: value.replaceAll('_', ' ') })),
  };
}
