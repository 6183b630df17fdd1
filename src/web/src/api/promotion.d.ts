// Made by "make api" from promotion.schema.json.
export type paths = Record<string, never>;
export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        selection: {
            /** @description What is taken in: any of these. */
            in: components["schemas"]["term"][];
            /** @description What is left out of it. */
            out?: components["schemas"]["term"][];
            /** @description Only what is sold at its regular price. */
            fullPriceOnly?: boolean;
            /** @description Only what costs at least this, at current prices. */
            priceFrom?: string | {
                [key: string]: string;
            };
            /** @description Only what costs at most this, at current prices. */
            priceTo?: string | {
                [key: string]: string;
            };
        };
        term: {
            /** @description Everything. */
            all?: boolean;
            /** @description The id of a category. Categories in it belong to it. */
            category?: string;
            /** @description A brand's name. */
            brand?: string;
            /** @description The id of a product. */
            product?: string;
            /** @description The SKU of a variant. */
            sku?: string;
            /** @description A tag. */
            tag?: string;
            /** @description All variants with an option, of one product or of all, those to come too. */
            option?: {
                /** @description A name. */
                name: string;
                /** @description What it costs at current prices. */
                value: string;
                /** @description The id of a product. */
                product?: string;
            };
        };
        take: {
            /** @description Percent, 0 to 100. */
            percent?: number;
            /** @description So much comes off. */
            amount?: string | {
                [key: string]: string;
            };
            /** @description The price that is left. */
            price?: string | {
                [key: string]: string;
            };
        };
        places: {
            /** @description What is taken in: any of these. */
            in?: string[];
            /** @description What is left out of it. */
            out?: string[];
        };
        condition: {
            /** @description All of these must be true. */
            all?: components["schemas"]["condition"][];
            /** @description At least one of these must be true. */
            any?: components["schemas"]["condition"][];
            /** @description None of these may be true. */
            none?: components["schemas"]["condition"][];
            /** @description What the selection comes to is within these bounds. */
            spend?: {
                /** @description Which items. */
                of?: components["schemas"]["selection"];
                /** @description At least this. */
                from?: string | {
                    [key: string]: string;
                };
                /** @description At most this. */
                to?: string | {
                    [key: string]: string;
                };
                /**
                 * @description Whether prices count before or after what other promotions took off. Left out: before.
                 * @enum {unknown}
                 */
                basis?: "before" | "after";
            };
            /** @description How many units of the selection are in the cart. */
            quantity?: {
                /** @description Which items. */
                of?: components["schemas"]["selection"];
                /**
                 * @description How it is compared.
                 * @enum {unknown}
                 */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                /** @description With what number. */
                n: number;
            };
            /** @description How many different items of the selection are in the cart. */
            distinct?: {
                /** @description Which items. */
                of?: components["schemas"]["selection"];
                /**
                 * @description How it is compared.
                 * @enum {unknown}
                 */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                /** @description With what number. */
                n: number;
            };
            /** @description Nothing else is in the cart. */
            only?: components["schemas"]["selection"];
            /** @description What the cart weighs. */
            weight?: {
                /**
                 * @description How it is compared.
                 * @enum {unknown}
                 */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                /** @description Weight in grams. */
                grams: number;
            };
            /** @description Who buys: one of these. */
            shopper?: {
                /**
                 * @description Whether the shopper is known.
                 * @enum {unknown}
                 */
                is?: "guest" | "signedIn";
                /** @description Groups of shoppers. */
                groups?: string[];
                /** @description Ids of shoppers. */
                ids?: string[];
                /** @description How many orders the shopper has placed before. */
                orders?: {
                    /**
                     * @description How it is compared.
                     * @enum {unknown}
                     */
                    op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                    /** @description With what number. */
                    n: number;
                };
                /** @description What the shopper has spent before, in the store's currency. */
                spent?: {
                    /** @description At least this. */
                    from?: string | {
                        [key: string]: string;
                    };
                    /** @description At most this. */
                    to?: string | {
                        [key: string]: string;
                    };
                };
            };
            /** @description Where the cart is delivered. */
            destination?: components["schemas"]["places"];
            /** @description Through which channels it is bought. */
            channel?: string[];
            /** @description In which currencies it is paid (ISO 4217). */
            currency?: string[];
            /** @description By which methods it is delivered. */
            method?: string[];
        };
        reward: {
            /** @description What it takes from. */
            on: components["schemas"]["selection"];
            /** @description How the price comes down. */
            take: components["schemas"]["take"];
            /**
             * @description Whether each unit or the cart as a whole comes down.
             * @enum {unknown}
             */
            per: "unit" | "cart";
            /**
             * @description Which units go first where not all can.
             * @enum {unknown}
             */
            pick?: "cheapest" | "dearest";
            /** @description So many units at the most. */
            maxUnits?: number;
            /** @description So much at the most. */
            maxDiscount?: string | {
                [key: string]: string;
            };
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "discount";
        } | {
            /** @description What must be bought. */
            buy: {
                /** @description Which items. */
                of: components["schemas"]["selection"];
                /** @description How many units. */
                quantity?: number;
                /** @description What is spent. */
                spend?: string | {
                    [key: string]: string;
                };
            };
            /** @description What comes down for it. */
            get: {
                /** @description Which items. */
                of?: components["schemas"]["selection"];
                /** @description How many units. */
                quantity?: number;
                /** @description How the price comes down. */
                take: components["schemas"]["take"];
                /**
                 * @description Which units go first where not all can.
                 * @enum {unknown}
                 */
                pick?: "cheapest" | "dearest";
            };
            /**
             * @description Whether what is bought and got must be of the same item or product.
             * @enum {unknown}
             */
            same?: "sku" | "product";
            /** @description How many times in one cart. Left out: once. */
            repeat?: ("once" | "every") | {
                /** @description So many times or units at the most. */
                atMost?: number;
                /** @description By how many units are bought, how many come down. */
                schedule?: {
                    /** @description From so many units bought. */
                    buy: number;
                    /** @description So many units come down. */
                    get: number;
                }[];
            };
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "buyGet";
        } | {
            /**
             * @description What counts: units or what they come to.
             * @enum {unknown}
             */
            measure: "quantity" | "spend";
            /** @description Which items. */
            of: components["schemas"]["selection"];
            /**
             * @description Only the highest step that is reached, all of them, or each on what lies beyond its threshold.
             * @enum {unknown}
             */
            apply: "highest" | "all" | "beyond";
            /** @description The thresholds, rising. */
            steps: {
                /** @description At least this. */
                from: number | (string | {
                    [key: string]: string;
                });
                /** @description What it gives. */
                rewards: components["schemas"]["stepReward"][];
            }[];
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "ladder";
        } | {
            /** @description The places of one set. */
            slots: {
                /** @description Which items. */
                of: components["schemas"]["selection"];
                /** @description How many units. */
                quantity: number;
                /** @description How the price comes down. */
                take?: components["schemas"]["take"];
            }[];
            /** @description How the price comes down. */
            take?: components["schemas"]["take"];
            /** @description How many times in one cart. Left out: once. */
            repeat?: ("once" | "every") | {
                /** @description So many times or units at the most. */
                atMost: number;
            };
            /**
             * @description Which units fill the sets. Left out: dearest.
             * @enum {unknown}
             */
            fill?: "cheapest" | "dearest";
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "bundle";
        } | {
            /** @description What is given. */
            give: {
                /** @description SKUs, those first that come first. */
                skus?: string[];
                /** @description The same as what is in the cart of this selection. */
                sameAs?: components["schemas"]["selection"];
            };
            /** @description How many units. */
            quantity?: number;
            /** @description How often it is given. Left out: once. */
            times?: "once" | {
                /** @description Once for each so many units or so much spent. */
                per: {
                    /** @description Which items. */
                    of?: components["schemas"]["selection"];
                    /** @description How many units. */
                    quantity?: number;
                    /** @description What is spent. */
                    spend?: string | {
                        [key: string]: string;
                    };
                };
            };
            /** @description So many times or units at the most. */
            atMost?: number;
            /** @description Whether the shopper picks. */
            picked?: boolean;
            /** @description How the price comes down. */
            take?: components["schemas"]["take"];
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "gift";
        } | {
            /** @description What is marked down, and how far; the first that fits an item counts. */
            levels: {
                /** @description What it takes from. */
                on: components["schemas"]["selection"];
                /** @description How the price comes down. */
                take: components["schemas"]["take"];
            }[];
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "markdown";
        } | {
            /** @description Only these delivery methods. Left out: all. */
            methods?: string[];
            /** @description How the price comes down. */
            take: components["schemas"]["take"];
            /** @description So much at the most. */
            maxDiscount?: string | {
                [key: string]: string;
            };
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "shipping";
        } | {
            /** @description So many points. */
            fixed?: number;
            /** @description Points for each so much spent. */
            each?: string | {
                [key: string]: string;
            };
            /** @description Points. */
            points?: number;
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "points";
        } | {
            /** @description What the code is good for. */
            amount: string | {
                [key: string]: string;
            };
            /** @description Whether what is not used stays on the code. */
            keepRest: boolean;
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "credit";
        };
        stepReward: {
            /** @description What it takes from. */
            on?: components["schemas"]["selection"];
            /** @description How the price comes down. */
            take: components["schemas"]["take"];
            /**
             * @description Whether each unit or the cart as a whole comes down.
             * @enum {unknown}
             */
            per: "unit" | "cart";
            /**
             * @description Which units go first where not all can.
             * @enum {unknown}
             */
            pick?: "cheapest" | "dearest";
            /** @description So many units at the most. */
            maxUnits?: number;
            /** @description So much at the most. */
            maxDiscount?: string | {
                [key: string]: string;
            };
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "discount";
        } | {
            /** @description What is given. */
            give: {
                /** @description SKUs, those first that come first. */
                skus?: string[];
                /** @description The same as what is in the cart of this selection. */
                sameAs?: components["schemas"]["selection"];
            };
            /** @description How many units. */
            quantity?: number;
            /** @description How often it is given. Left out: once. */
            times?: "once" | {
                /** @description Once for each so many units or so much spent. */
                per: {
                    /** @description Which items. */
                    of?: components["schemas"]["selection"];
                    /** @description How many units. */
                    quantity?: number;
                    /** @description What is spent. */
                    spend?: string | {
                        [key: string]: string;
                    };
                };
            };
            /** @description So many times or units at the most. */
            atMost?: number;
            /** @description Whether the shopper picks. */
            picked?: boolean;
            /** @description How the price comes down. */
            take?: components["schemas"]["take"];
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "gift";
        } | {
            /** @description Only these delivery methods. Left out: all. */
            methods?: string[];
            /** @description How the price comes down. */
            take: components["schemas"]["take"];
            /** @description So much at the most. */
            maxDiscount?: string | {
                [key: string]: string;
            };
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "shipping";
        } | {
            /** @description So many points. */
            fixed?: number;
            /** @description Points for each so much spent. */
            each?: string | {
                [key: string]: string;
            };
            /** @description Points. */
            points?: number;
            /**
             * @description Which kind of reward.
             * @constant
             */
            kind: "points";
        };
        promotion: {
            /** @description An id of its own. */
            id: string;
            /** @description What the merchant calls it. Left out: the id. */
            name?: string;
            /** @description What the shopper reads: a text, or texts by language (BCP 47). */
            label?: string | {
                [key: string]: string;
            };
            /** @description Why it exists, for the merchant. */
            note?: string;
            /**
             * @description Only live promotions apply. Left out: live.
             * @enum {unknown}
             */
            state?: "draft" | "live" | "paused" | "archived";
            /** @description The order of application, lower first; then by id. Left out: 100. */
            rank?: number;
            /** @description How it starts: by itself, or by a code. Left out: by itself. */
            trigger?: {
                /** @description It starts by itself. */
                automatic: boolean;
            } | {
                /** @description Codes that start it; letters in either case, without spaces. */
                codes?: string[];
                /** @description Ids of batches whose codes start it. */
                batches?: string[];
            };
            /** @description From when to when it runs. Left out: always. */
            window?: {
                /** @description The first moment, local time in the store's zone. */
                start?: string;
                /** @description The first moment at which it runs no more, local time in the store's zone. */
                end?: string;
                /** @description So many minutes before the start and after the end it still applies, for carts that are under way. */
                graceMinutes?: number;
                /** @description Which times within the window it runs: a recurrence rule (RFC 5545). */
                repeat?: string;
                /** @description How long each occurrence lasts (ISO 8601 duration). */
                lasts?: string;
            };
            /** @description What must be true of the cart. Left out: nothing. */
            when?: components["schemas"]["condition"];
            /** @description What it gives. */
            rewards: components["schemas"]["reward"][];
            /** @description How often it may be used. Left out: as often as anybody likes. */
            limits?: {
                /** @description Uses in all. */
                total?: number;
                /** @description Uses by one shopper. */
                perShopper?: number;
                /** @description Uses in one day of the store's zone. */
                perDay?: number;
                /** @description What it may take off in all. */
                budget?: string;
            };
            /** @description Which others it may meet in one cart. Left out: any. */
            stacking?: {
                /**
                 * @description Any other, none, only those named, or all except those named.
                 * @enum {unknown}
                 */
                allow?: "any" | "none" | "only" | "except";
                /** @description Ids of promotions, or families, that are meant. */
                with?: string[];
                /** @description The family that it belongs to. */
                family?: string;
            };
            /** @description What the shopper reads of it beside its label, and where. */
            says?: {
                /** @description While something is missing. Parts in braces are filled in: {label} {missing} {reward} {saved} {ends} {left}. */
                near?: string | {
                    [key: string]: string;
                };
                /** @description Once it applies. */
                reached?: string | {
                    [key: string]: string;
                };
                /** @description When its code is not good. */
                refused?: string | {
                    [key: string]: string;
                };
                /** @description Where it is offered: beside an item, in the basket, among the offers of today. */
                show?: ("item" | "basket" | "today")[];
            };
        };
    };
    responses: never;
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export type operations = Record<string, never>;

/** The name of any member of a promotion's document. */
export type MemberName =
  | 'all'
  | 'allow'
  | 'amount'
  | 'any'
  | 'apply'
  | 'atMost'
  | 'automatic'
  | 'basis'
  | 'batches'
  | 'brand'
  | 'budget'
  | 'buy'
  | 'category'
  | 'channel'
  | 'codes'
  | 'currency'
  | 'destination'
  | 'distinct'
  | 'each'
  | 'end'
  | 'family'
  | 'fill'
  | 'fixed'
  | 'from'
  | 'fullPriceOnly'
  | 'get'
  | 'give'
  | 'graceMinutes'
  | 'grams'
  | 'groups'
  | 'id'
  | 'ids'
  | 'in'
  | 'is'
  | 'keepRest'
  | 'kind'
  | 'label'
  | 'lasts'
  | 'levels'
  | 'limits'
  | 'maxDiscount'
  | 'maxUnits'
  | 'measure'
  | 'method'
  | 'methods'
  | 'n'
  | 'name'
  | 'near'
  | 'none'
  | 'note'
  | 'of'
  | 'on'
  | 'only'
  | 'op'
  | 'option'
  | 'orders'
  | 'out'
  | 'per'
  | 'perDay'
  | 'perShopper'
  | 'percent'
  | 'pick'
  | 'picked'
  | 'points'
  | 'price'
  | 'priceFrom'
  | 'priceTo'
  | 'product'
  | 'quantity'
  | 'rank'
  | 'reached'
  | 'refused'
  | 'repeat'
  | 'rewards'
  | 'same'
  | 'sameAs'
  | 'says'
  | 'schedule'
  | 'shopper'
  | 'show'
  | 'sku'
  | 'skus'
  | 'slots'
  | 'spend'
  | 'spent'
  | 'stacking'
  | 'start'
  | 'state'
  | 'steps'
  | 'tag'
  | 'take'
  | 'times'
  | 'to'
  | 'total'
  | 'trigger'
  | 'value'
  | 'weight'
  | 'when'
  | 'window'
  | 'with';
