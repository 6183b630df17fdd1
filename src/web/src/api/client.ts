import createClient from 'openapi-fetch';
import { heard, unheard } from './reach';
import type { components, paths } from './schema';

type Schemas = components['schemas'];

export type ShopInfo = Schemas['ShopInfo'];
export type SampleCart = Omit<Schemas['SampleCart'], 'cart'> & { cart: Cart };
export type ShopperInfo = Schemas['ShopperInfo'];
export type PromotionRow = Schemas['PromotionRow'];
export type PromotionRows = Schemas['PromotionRows'];
export type RowFindings = Schemas['RowFindings'];
export type NextOpening = Schemas['NextOpening'];
export type CurrencyAmount = Schemas['CurrencyAmount'];
export type EditionRow = Schemas['EditionChanges'];
export type EditionRows = Schemas['EditionRows'];
export type EditionComparison = Schemas['EditionComparison'];
export type ClauseDifference = Schemas['ClauseDifference'];
export type PromotionHistory = Schemas['PromotionHistory'];
export type EditionPrices = Schemas['EditionPrices'];
export type NowLive = Schemas['NowLive'];
export type Finding = Schemas['FoundInDraft'];
export type Mend = NonNullable<Finding['mend']>;
export type PromotionPage = Omit<Schemas['PromotionPage'], 'document' | 'saved'> & { document: Json; saved: Json | null };
export type FoundTerm = Schemas['FoundTerm'];
export type ItemInfo = Schemas['ItemInfo'];
export type SelectionInfo = Schemas['SelectionInfo'];
export type Problem = Schemas['Problem'];
export type Clause = Schemas['Clause'];
export type TapeAnswer = Schemas['TapeAnswer'];
export type TapePrint = Schemas['TapePrint'];
export type PrintedLine = Schemas['PrintedLine'];
export type PrintedEntry = Schemas['PrintedEntry'];
export type PrintedAddition = Schemas['PrintedAddition'];
export type PrintedRemedy = Schemas['PrintedRemedy'];
export type CurveAnswer = Schemas['CurveAnswer'];
export type PlottedPoint = Schemas['PlottedPoint'];
export type PlottedMark = Schemas['PlottedMark'];
export type Shelf = Schemas['Shelf'];
export type StoreOffers = Schemas['ShopOffers'];
export type BatchRow = Schemas['BatchRow'];
export type KeyRow = components['schemas']['KeyRow'];
export type MadeKey = components['schemas']['MadeKey'];
export type GoodsItem = Schemas['GoodsItem'];
export type GoodsPage = Schemas['GoodsPage'];
export type GoodsCategory = Schemas['GoodsCategory'];
export type GoodsDetail = Schemas['GoodsDetail'];
export type GoodsWritten = Schemas['GoodsWritten'];
export type GoodsStep = Schemas['GoodsStep'];
export type StepTakenBack = Schemas['StepTakenBack'];
export type WordRow = Schemas['WordRow'];
export type WordRows = Schemas['WordRows'];
export type WordRenamed = Schemas['WordRenamed'];
export type MeetingsTable = Schemas['MeetingsTable'];
export type MeetingsRow = Schemas['MeetingsRow'];
export type MeetingsOf = Schemas['MeetingsOf'];
export type MeetingsCount = Schemas['MeetingsCount'];
export type MeetingPair = Schemas['MeetingPair'];
export type ChangedDraft = Schemas['ChangedDraft'];
export type TakingsTable = Schemas['TakingsTable'];
export type TakingsRowInfo = Schemas['TakingsRowInfo'];
export type TakingsFigures = Schemas['TakingsFigures'];
export type TakingsGlance = Schemas['TakingsGlance'];
export type PromotionTakings = Schemas['PromotionTakings'];
export type ImportState = Schemas['ImportState'];
export type PastOrdersLook = Schemas['PastOrdersLook'];
export type PastOrderRow = Schemas['PastOrderRow'];
export type PastOrderRows = Schemas['PastOrderRows'];
export type PastOrderPage = Schemas['PastOrderPage'];
export type ImportLook = Schemas['ImportLook'];
export type Effect = Schemas['Effect'];
export type ShopperPage = Schemas['ShopperPage'];
export type ShopperDetail = Schemas['ShopperDetail'];
export type SettingsLook = Schemas['SettingsLook'];
export type ShopDocuments = Schemas['ShopDocuments'];
export type FileColumn = Schemas['FileColumn'];
export type StockRow = components['schemas']['StockRow'];
export type StoreResult = components['schemas']['StoreResult'];
export type StoreQuote = components['schemas']['Quote'];
export type StoreOrder = components['schemas']['Order'];
export type OrderRow = Schemas['OrderRow'];
export type OrderRows = Schemas['OrderRows'];
export type OrderRules = Schemas['OrderRules'];
export type FoundCodes = Schemas['FoundCodes'];
export type CodeStory = Schemas['CodeStory'];
export type Hardness = Schemas['HardnessAnswer'];
export type SaidIn = Schemas['SaidIn'];
export type MostAnswer = Schemas['MostAnswer'];
export type LiveBeside = Schemas['LiveBeside'];

/** A document as it stands in files: anything JSON can hold. */
export type Json = { [name: string]: unknown };

/** The cart on the tape, as in a case. Without `at` it is priced now. */
export type Cart = {
  at?: string;
  currency?: string;
  channel?: string;
  method?: string;
  destination?: string;
  shopper?: { id?: string; groups?: string[]; orders?: number; spent?: string };
  codes: string[];
  picks?: Record<string, string[]>;
  language?: string;
  lines: { sku: string; quantity: number }[];
};

export const api = createClient<paths>({ baseUrl: '' });

/** The server refused: what is wrong, and where. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
    readonly theirs?: PromotionPage,
  ) {
    super(problems[0]?.message ?? 'The server refused this.');
  }
}

/** The server did not answer at all. */
export class Unreachable extends Error {
  constructor() {
    super('The server does not answer.');
  }
}

/** The data of an answer; throws Refused or Unreachable. */
export async function answered<T>(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<T> {
  const result = await call.catch((error: unknown) => {
    // What was given up here says nothing of the server.
    if (!(error instanceof DOMException && error.name === 'AbortError')) unheard();
    throw new Unreachable();
  });
  heard();
  if (result.response.ok) return result.data as T;
  const body = (result.error ?? {}) as { problems?: Problem[]; detail?: string; theirs?: PromotionPage };
  const problems = body.problems ?? [{ at: '', code: 'failed', message: body.detail ?? `The server answered ${result.response.status}.` }];
  throw new Refused(result.response.status, problems, body.theirs);
}
