// Made by "make api" from promotion.schema.json.
export type paths = Record<string, never>;
export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        selection: {
            in: components["schemas"]["term"][];
            out?: components["schemas"]["term"][];
            fullPriceOnly?: boolean;
            priceFrom?: string | {
                [key: string]: string;
            };
            priceTo?: string | {
                [key: string]: string;
            };
        };
        term: {
            all?: boolean;
            category?: string;
            brand?: string;
            product?: string;
            sku?: string;
            tag?: string;
        };
        take: {
            percent?: number;
            amount?: string | {
                [key: string]: string;
            };
            price?: string | {
                [key: string]: string;
            };
        };
        places: {
            in?: string[];
            out?: string[];
        };
        condition: {
            all?: components["schemas"]["condition"][];
            any?: components["schemas"]["condition"][];
            none?: components["schemas"]["condition"][];
            spend?: {
                of?: components["schemas"]["selection"];
                from?: string | {
                    [key: string]: string;
                };
                to?: string | {
                    [key: string]: string;
                };
                /** @enum {unknown} */
                basis?: "before" | "after";
            };
            quantity?: {
                of?: components["schemas"]["selection"];
                /** @enum {unknown} */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                n: number;
            };
            distinct?: {
                of?: components["schemas"]["selection"];
                /** @enum {unknown} */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                n: number;
            };
            only?: components["schemas"]["selection"];
            weight?: {
                /** @enum {unknown} */
                op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                grams: number;
            };
            shopper?: {
                /** @enum {unknown} */
                is?: "guest" | "signedIn";
                groups?: string[];
                ids?: string[];
                orders?: {
                    /** @enum {unknown} */
                    op: ">=" | ">" | "=" | "!=" | "<" | "<=";
                    n: number;
                };
                spent?: {
                    from?: string | {
                        [key: string]: string;
                    };
                    to?: string | {
                        [key: string]: string;
                    };
                };
            };
            destination?: components["schemas"]["places"];
            channel?: string[];
            currency?: string[];
            method?: string[];
        };
        reward: {
            on: components["schemas"]["selection"];
            take: components["schemas"]["take"];
            /** @enum {unknown} */
            per: "unit" | "cart";
            /** @enum {unknown} */
            pick?: "cheapest" | "dearest";
            maxUnits?: number;
            maxDiscount?: string | {
                [key: string]: string;
            };
            /** @constant */
            kind: "discount";
        } | {
            buy: {
                of: components["schemas"]["selection"];
                quantity?: number;
                spend?: string | {
                    [key: string]: string;
                };
            };
            get: {
                of?: components["schemas"]["selection"];
                quantity?: number;
                take: components["schemas"]["take"];
                /** @enum {unknown} */
                pick?: "cheapest" | "dearest";
            };
            /** @enum {unknown} */
            same?: "sku" | "product";
            repeat?: ("once" | "every") | {
                atMost?: number;
                schedule?: {
                    buy: number;
                    get: number;
                }[];
            };
            /** @constant */
            kind: "buyGet";
        } | {
            /** @enum {unknown} */
            measure: "quantity" | "spend";
            of: components["schemas"]["selection"];
            /** @enum {unknown} */
            apply: "highest" | "all" | "beyond";
            steps: {
                from: number | (string | {
                    [key: string]: string;
                });
                rewards: components["schemas"]["stepReward"][];
            }[];
            /** @constant */
            kind: "ladder";
        } | {
            slots: {
                of: components["schemas"]["selection"];
                quantity: number;
                take?: components["schemas"]["take"];
            }[];
            take?: components["schemas"]["take"];
            repeat?: ("once" | "every") | {
                atMost: number;
            };
            /** @enum {unknown} */
            fill?: "cheapest" | "dearest";
            /** @constant */
            kind: "bundle";
        } | {
            give: {
                skus?: string[];
                sameAs?: components["schemas"]["selection"];
            };
            quantity?: number;
            times?: "once" | {
                per: {
                    of?: components["schemas"]["selection"];
                    quantity?: number;
                    spend?: string | {
                        [key: string]: string;
                    };
                };
            };
            atMost?: number;
            picked?: boolean;
            take?: components["schemas"]["take"];
            /** @constant */
            kind: "gift";
        } | {
            levels: {
                on: components["schemas"]["selection"];
                take: components["schemas"]["take"];
            }[];
            /** @constant */
            kind: "markdown";
        } | {
            methods?: string[];
            take: components["schemas"]["take"];
            maxDiscount?: string | {
                [key: string]: string;
            };
            /** @constant */
            kind: "shipping";
        } | {
            fixed?: number;
            each?: string | {
                [key: string]: string;
            };
            points?: number;
            /** @constant */
            kind: "points";
        } | {
            amount: string | {
                [key: string]: string;
            };
            keepRest: boolean;
            /** @constant */
            kind: "credit";
        };
        stepReward: {
            on?: components["schemas"]["selection"];
            take: components["schemas"]["take"];
            /** @enum {unknown} */
            per: "unit" | "cart";
            /** @enum {unknown} */
            pick?: "cheapest" | "dearest";
            maxUnits?: number;
            maxDiscount?: string | {
                [key: string]: string;
            };
            /** @constant */
            kind: "discount";
        } | {
            give: {
                skus?: string[];
                sameAs?: components["schemas"]["selection"];
            };
            quantity?: number;
            times?: "once" | {
                per: {
                    of?: components["schemas"]["selection"];
                    quantity?: number;
                    spend?: string | {
                        [key: string]: string;
                    };
                };
            };
            atMost?: number;
            picked?: boolean;
            take?: components["schemas"]["take"];
            /** @constant */
            kind: "gift";
        } | {
            methods?: string[];
            take: components["schemas"]["take"];
            maxDiscount?: string | {
                [key: string]: string;
            };
            /** @constant */
            kind: "shipping";
        } | {
            fixed?: number;
            each?: string | {
                [key: string]: string;
            };
            points?: number;
            /** @constant */
            kind: "points";
        };
        promotion: {
            id: string;
            name?: string;
            label?: string | {
                [key: string]: string;
            };
            note?: string;
            /** @enum {unknown} */
            state?: "draft" | "live" | "paused" | "archived";
            rank?: number;
            trigger?: {
                automatic: boolean;
            } | {
                codes: string[];
                batches?: string[];
            } | {
                batches: string[];
            };
            window?: {
                start?: string;
                end?: string;
                graceMinutes?: number;
                repeat?: string;
                lasts?: string;
            };
            when?: components["schemas"]["condition"];
            rewards: components["schemas"]["reward"][];
            limits?: {
                total?: number;
                perShopper?: number;
                perDay?: number;
                budget?: string;
            };
            stacking?: {
                /** @enum {unknown} */
                allow?: "any" | "none" | "only" | "except";
                with?: string[];
                family?: string;
            };
            says?: {
                near?: string | {
                    [key: string]: string;
                };
                reached?: string | {
                    [key: string]: string;
                };
                refused?: string | {
                    [key: string]: string;
                };
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
  | 'weight'
  | 'when'
  | 'window'
  | 'with';
