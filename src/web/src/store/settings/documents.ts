/** Where something is delivered or taxed. */
export type Places = { in?: string[]; out?: string[] };

export type Band = { toGrams?: number | string; price?: unknown };

export type Method = {
  id: string;
  name?: string;
  carrier?: string;
  places?: Places;
  price?: unknown;
  bands?: Band[];
  cost?: unknown;
};

export type TaxRate = { class: string; place: string; percent?: number | string };

export type Tax = { mode: string; shippingClass?: string; rates?: TaxRate[] };

export type Family = { name: string; onePerCart?: boolean };

/** What pricing needs of the settings, as in a case. */
export type Store = {
  currency: string;
  timeZone?: string;
  rounding?: string;
  policy?: string;
  rates?: Record<string, string>;
  families?: Family[];
  shipping?: Method[];
  tax?: Tax;
  marginFloor?: number | string;
  language?: string;
};

export type NamedPlace = { code: string; name: string };

/** What pricing does not need of the settings. */
export type Words = {
  name: string;
  locale: string;
  channels?: string[];
  places?: NamedPlace[];
  link?: string;
  effort?: number | string;
  holdMinutes?: number | string;
};
